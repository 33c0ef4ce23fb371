"""A pit of stone or rings that soaks water away."""

from __future__ import annotations

import math
from typing import NamedTuple

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.domain import not_negative, positive, share
from weirant.methods.registry import method
from weirant.units.dimension import LENGTH, NUMBER, SPEED, TIME, VOLUME
from weirant.units.display import in_both


class DryWell(NamedTuple):
    """Water it holds between two depths, m³, and the time in which that soaks away, s."""

    volume: float
    time: float


@method("dry-well", keys={"radius": LENGTH, "full_depth": LENGTH, "end_depth": LENGTH, "conductivity": SPEED, "voids": NUMBER},
        results={"volume": VOLUME, "time": TIME}, formula="V = φ π r² (h₀ − h_t),  t = φ (r/2K) · ln((h₀ + r/2)/(h_t + r/2))", sources="ilri16",
        valid=tr("round pit well above the water table, soaking through its sides and its floor; depths of water over the floor"))  # fmt: skip
def dry_well(radius: float, full_depth: float, end_depth: float, conductivity: float, voids: float) -> DryWell:
    """Water a dry well holds, and how long it takes to soak away.

    radius m, full_depth m (> end_depth), end_depth m (0 or more), conductivity of the soil m/s, voids of what fills it (1 where it is open).
    Source: the inverse auger-hole method of ILRI Publication 16 (1994) §12, for a pit of which only the voids hold water.
    """
    positive(radius=radius, full_depth=full_depth, conductivity=conductivity, voids=voids)
    not_negative(end_depth=end_depth)
    share(voids=voids)
    if end_depth >= full_depth:
        raise InputError("end_depth", tr("must be less than full_depth: the water falls"), in_both(end_depth))
    half = radius / 2
    return DryWell(voids * math.pi * radius**2 * (full_depth - end_depth), voids * half * math.log((full_depth + half) / (end_depth + half)) / conductivity)
