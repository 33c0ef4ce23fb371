"""Grain sizes by how quickly they sink: readings of a soil hydrometer."""

from __future__ import annotations

import math
from typing import NamedTuple

from weirant.language import tr
from weirant.methods.domain import between, positive
from weirant.methods.intake import GRAVITY
from weirant.methods.registry import method
from weirant.methods.soil_tests import water_viscosity
from weirant.units.dimension import LENGTH, NUMBER, TEMPERATURE, TIME

ZERO, FALLS = 0.163, 0.00164  # m of effective depth at a reading of nought, and less for each g/L: 152H in a jar of 1 L (ASTM D7928, D422 table 2; recalled)
USUAL_GRAVITY = 2.65


class HydrometerPoint(NamedTuple):
    """A grain size m, and the percent of the soil in the jar that is finer."""

    size: float
    percent: float


@method("hydrometer-point",
        keys={"reading": NUMBER, "correction": NUMBER, "time": TIME, "temperature": TEMPERATURE, "specific_gravity": NUMBER, "dry_grams": NUMBER},
        results={"size": LENGTH, "percent": NUMBER},
        formula="D = √(18 ν L / ((G − 1) g t)),  L = 16.3 cm − 0.164 R;  N = 100 (R − c) a / W,  a = 1.65 G / (2.65 (G − 1))",
        sources="astm_d7928", valid=tr("hydrometer 152H in a jar of one litre; grains of 0.001 to 0.075 mm"))  # fmt: skip
def hydrometer_point(reading: float, correction: float, time: float, temperature: float, specific_gravity: float, dry_grams: float) -> HydrometerPoint:
    """A point of the gradation from one reading.

    reading g/L at the top of the meniscus (0 to 60), correction g/L that it shows in the clear solution (-10 to 20), time s since the jar was shaken (> 0), temperature °C
    (0 to 60), specific_gravity of the grains (2 to 5), dry_grams of soil in the jar (> 0). Source: ASTM D7928 and D422, Stokes' law (constants recalled).
    """
    positive(time=time, dry_grams=dry_grams)
    between(0, 60, reading=reading)
    between(-10, 20, correction=correction)
    between(2, 5, specific_gravity=specific_gravity)
    depth = ZERO - FALLS * reading
    size = math.sqrt(18 * water_viscosity(temperature) * depth / ((specific_gravity - 1) * GRAVITY * time))
    heavier = 1.65 * specific_gravity / (2.65 * (specific_gravity - 1))
    return HydrometerPoint(size, min(max(100 * (reading - correction) * heavier / dry_grams, 0.0), 100.0))
