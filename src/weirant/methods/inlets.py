"""Grates over inlets."""

from __future__ import annotations

import math
from typing import NamedTuple

from weirant.language import tr
from weirant.methods.domain import not_negative, positive, share
from weirant.methods.intake import GRAVITY
from weirant.methods.registry import method
from weirant.units.dimension import AREA, DISCHARGE, LENGTH, NUMBER, SPEED

WEIR_COEFFICIENT = 1.66
GRATE_ORIFICE_COEFFICIENT = 0.67


class GrateCapacity(NamedTuple):
    """Discharge in m³/s and the regime that limits it, weir or orifice."""

    discharge: float
    regime: str


@method("grate-capacity", keys={"perimeter": LENGTH, "open_area": AREA, "depth": LENGTH, "blocked_fraction": NUMBER},
        results={"discharge": DISCHARGE, "regime": None},
        formula="weir Q = 1.66 P d^1.5,  orifice Q = 0.67 A √(2 g d),  the smaller counts", sources="hec22",
        valid=tr("grate in a sag, water from all sides; leave out of the perimeter the side at a curb"))  # fmt: skip
def grate_capacity(perimeter: float, open_area: float, depth: float, blocked_fraction: float) -> GrateCapacity:
    """Water a grate takes in at a depth of ponding, as a weir when shallow and as an orifice when deep.

    perimeter m, open_area m², depth m (all > 0), blocked_fraction 0 to 1 taken off both.
    Source: FHWA HEC-22 (2009) eq. 4-26 and 4-27, SI coefficients 1.66 and 0.67 (recalled from memory).
    """
    positive(perimeter=perimeter, open_area=open_area, depth=depth)
    share(blocked_fraction=blocked_fraction)
    clear = 1 - blocked_fraction
    weir = WEIR_COEFFICIENT * perimeter * clear * depth**1.5
    orifice = GRATE_ORIFICE_COEFFICIENT * open_area * clear * math.sqrt(2 * GRAVITY * depth)
    return GrateCapacity(weir, "weir") if weir <= orifice else GrateCapacity(orifice, "orifice")


@method("inlet-spacing", keys={"capacity": DISCHARGE, "runoff_coefficient": NUMBER, "intensity": SPEED, "width": LENGTH}, results={"spacing": LENGTH},
        formula="spacing = Q / (C i w)", sources="hec22", valid=tr("inlets of one kind along a swale or a gutter that an even strip drains to; each takes all that comes to it"))  # fmt: skip
def inlet_spacing(capacity: float, runoff_coefficient: float, intensity: float, width: float) -> float:
    """How far apart inlets may lie along a swale, so that each takes what comes to it by the rational method.

    capacity m³/s of one inlet, runoff_coefficient above 0 to 1, intensity m/s, width m of the strip that drains to the swale (all > 0); gives m.
    Source: FHWA HEC-22 (2009), ch. 4, spacing of inlets by continuity.
    """
    positive(capacity=capacity, runoff_coefficient=runoff_coefficient, intensity=intensity, width=width)
    share(runoff_coefficient=runoff_coefficient)
    return capacity / (runoff_coefficient * intensity * width)


@method("through-the-sod", keys={"conductivity": SPEED, "thickness": LENGTH, "ponding": LENGTH, "area": AREA}, results={"discharge": DISCHARGE},
        formula="Q = K A (h + L) / L", sources="darcy1856", valid=tr("saturated turf on stone that is drained under it; a film of fines on it takes far less"))  # fmt: skip
def through_the_sod(conductivity: float, thickness: float, ponding: float, area: float) -> float:
    """How much surface water gets through a turf that lies on open stone: to be set beside what inlets take.

    conductivity m/s of the turf and its soil, thickness m, area m² (all > 0), ponding m of water on it (0 or more); gives m³/s.
    Source: Darcy 1856, with no suction under the turf.
    """
    positive(conductivity=conductivity, thickness=thickness, area=area)
    not_negative(ponding=ponding)
    return conductivity * area * (ponding + thickness) / thickness
