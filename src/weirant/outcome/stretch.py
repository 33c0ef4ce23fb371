"""What was found of one stretch of a run."""

from __future__ import annotations

import numpy as np

from weirant.ground.inverts import least_slope
from weirant.hydraulics.pipes_along import full_flow
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass


@dataclass(frozen=True)
class StretchOutcome:
    """Stations m, flattest slope m/m, what its pipes carry full there and the most that comes to it for the high end of the soil's band, m³/s; the
    deepest cut and the least cover, m. None where the ground or the flow is not known, or it lies level.
    """

    low: float
    high: float
    slope: float
    carries: float | None
    comes: float | None
    deepest: float | None
    least_cover: float | None


def stretch_outcomes(found: RunOutcome) -> tuple[StretchOutcome, ...]:
    """Each stretch of a run, from the low end up."""
    told = []
    for stretch in found.stretches:
        slope = least_slope(found.run, stretch.low, stretch.high)[0]
        carries = full_flow(found.run, stretch)[0] or None
        comes = deepest = cover = None
        if found.grade is not None:
            here = stretch.holds(found.grade.stations)
            deepest, cover = float(np.max(found.grade.cut[here])), float(np.min(found.grade.cover[here]))
            comes = float(np.max(np.abs(found.flow_high.discharge[here]))) if found.flow_high is not None else None
        told.append(StretchOutcome(stretch.low, stretch.high, slope, carries, comes, deepest, cover))
    return tuple(told)
