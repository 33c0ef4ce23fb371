"""The water table across the slope, for drawing: the same formulae as the verdict, at many places."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from weirant.design.water import missing_input, table_at
from weirant.job.water import HILLSIDE
from weirant.outcome.outcome import Outcome

Array = NDArray[np.float64]


def table_profile(outcome: Outcome, station: float, places: Array, run: str = "") -> tuple[Array, Array, Array] | None:
    """Depth to water m at places (m across, uphill negative) for low, best and high soil; None where not known.

    Each array has the shape of ``places``. Uphill of the drain on a slope the table comes down to it at 1 in 2 at the
    steepest, a drawing convention.
    """
    found = outcome.chosen(run)
    job, grade, flow = outcome.job, found.grade, found.flow_high
    part = found.part_at(station)
    if grade is None or flow is None or missing_input(part.soil, part.situation.source):
        return None
    depth = grade.at(grade.ground - flow.surface, station)
    radius = found.make(station).pipe.outer_diameter / 2
    low, best, high = np.empty_like(places), np.empty_like(places), np.empty_like(places)
    wet = part.soil.water_table_depth or 0.0
    for i, x in enumerate(map(float, places)):
        if x < 0 and part.situation.source == HILLSIDE:
            low[i] = best[i] = high[i] = max(wet, depth + x / 2)
            continue
        figure = table_at(part, job.water, outcome.soil(part.soil), depth, radius, max(abs(x), 1e-3))
        best[i] = figure.value
        low[i], high[i] = figure.band or (figure.value, figure.value)
    return low, best, high
