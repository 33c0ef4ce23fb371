"""Stone where a pipe lets its water go, so that it does not dig."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from weirant.language import tr
from weirant.methods.domain import positive
from weirant.methods.intake import GRAVITY
from weirant.methods.registry import method
from weirant.units.dimension import DISCHARGE, LENGTH

SIZES, LENGTHS = (0.127, 0.152, 0.254, 0.356, 0.508, 0.559), (4.0, 4.0, 5.0, 6.0, 7.0, 8.0)  # m of stone (5 in to 22 in), and pipe widths that the apron is long
SHALLOW, DEEP = 0.4, 1.0  # pipe heights between which the water beyond counts


class Apron(NamedTuple):
    """Middle size of the stone, and the apron's length and its width at its end, all m."""

    stone: float
    length: float
    width: float


@method("erosion-stone", keys={"discharge": DISCHARGE, "diameter": LENGTH, "tailwater": LENGTH}, results={"stone": LENGTH, "length": LENGTH, "width": LENGTH},
        formula="d50 = 0.2 D (Q / (√g D^2.5))^(4/3) (D / TW);  length 4 to 8 D by d50,  width 3 D + 2/3 length", sources="hec14",
        valid=tr("round pipe on a flat bed; water beyond taken as 0.4 to 1 D deep; grass stands a slow trickle by itself"))  # fmt: skip
def erosion_stone(discharge: float, diameter: float, tailwater: float) -> Apron:
    """Riprap apron below the end of a pipe.

    discharge m³/s, diameter m, tailwater m over the invert beyond the pipe (all > 0; held between 0.4 and 1 diameters).
    Source: FHWA HEC-14 (2006), eq. 10.4 and table 10.1 (recalled).
    """
    positive(discharge=discharge, diameter=diameter, tailwater=tailwater)
    beyond = min(max(tailwater, SHALLOW * diameter), DEEP * diameter)
    stone = 0.2 * diameter * (discharge / (math.sqrt(GRAVITY) * diameter**2.5)) ** (4 / 3) * diameter / beyond
    length = float(np.interp(stone, SIZES, LENGTHS)) * diameter
    return Apron(stone, length, 3 * diameter + 2 / 3 * length)
