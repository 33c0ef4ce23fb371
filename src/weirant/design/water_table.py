"""The water table across the slope, for drawing: the same line as the verdict's."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from weirant.design.across import stand_at
from weirant.design.water import line_at, missing_input
from weirant.errors import InputError
from weirant.outcome.outcome import Outcome

Array = NDArray[np.float64]


def table_profile(outcome: Outcome, station: float, places: Array, run: str = "") -> tuple[Array, Array, Array] | None:
    """Depth to water m at places (m across, uphill negative) for low, best and high soil; None where not known.

    Each array has the shape of ``places``; beyond the ends of the section the table goes on as there.
    """
    stand = stand_at(outcome, station, run)
    found, part = stand.found, stand.part
    if found.grade is None or found.flow_high is None or missing_input(part.soil, part.situation.source):
        return None
    try:
        line = line_at(outcome.job, outcome.library, stand, outcome.soil(part.soil).conductivity, found.flow_high.at_station(found.grade, stand.station))
    except InputError:
        return None  # no trench is there
    best, *ends = line.depth(places)
    return np.minimum(best, np.min(ends, axis=0)), best, np.maximum(best, np.max(ends, axis=0))
