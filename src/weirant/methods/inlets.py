"""Grates over inlets."""

from __future__ import annotations

import math
from typing import NamedTuple

from weirant.language import tr
from weirant.methods.domain import positive, share
from weirant.methods.intake import GRAVITY
from weirant.methods.registry import method
from weirant.units.dimension import AREA, DISCHARGE, LENGTH, NUMBER

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
