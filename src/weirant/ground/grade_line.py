"""The pipe's grade line under the ground, and where it comes to daylight."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from weirant.ground.inverts import grade_nodes, invert_at
from weirant.ground.levels import Ground
from weirant.ground.network import LaidRun
from weirant.ground.stretches import LaidStretch, largest
from weirant.records import dataclass

Array = NDArray[np.float64]
SAMPLE = 1.524  # m between stations where nothing else asks for one (5 ft)


@dataclass(frozen=True, eq=False)
class GradeLine:
    """The line at its stations, every array of shape (n,), m. cut is to the trench bottom, cover is over the pipe.

    Between stations ground, invert and so cut are straight. ``daylight`` is the station where the invert first
    meets the ground on the way down from the top end, None where it never does. Where two stretches meet, cut and cover are those of the
    one that lies deeper and reaches higher.
    """

    stations: Array
    ground: Array
    invert: Array
    trench_bottom: Array
    cut: Array
    cover: Array
    daylight: float | None
    beyond_survey: float

    def at(self, values: Array, station: float) -> float:
        """Any of the arrays at a station."""
        return float(np.interp(station, self.stations, values))


def are_like(one: GradeLine | None, other: GradeLine | None) -> bool:
    """Whether two grade lines have the same figures at the same stations."""
    if one is None or other is None:
        return one is other
    return (one.daylight, one.beyond_survey) == (other.daylight, other.beyond_survey) and all(
        np.array_equal(a, b) for a, b in ((one.stations, other.stations), (one.ground, other.ground), (one.invert, other.invert),
                                          (one.trench_bottom, other.trench_bottom), (one.cover, other.cover)))  # fmt: skip


def lay(ground: Ground, run: LaidRun, stretches: Sequence[LaidStretch]) -> GradeLine:
    """Lay the pipe at its grade from the outlet up under the ground, in its stretches."""
    wanted = [*np.arange(0.0, run.length, SAMPLE), *(s.high for s in stretches), *grade_nodes(run)[0],
              *ground.stations[(ground.stations > 0) & (ground.stations < run.length)]]  # fmt: skip
    stations = _in_order(wanted, 6)
    for below in dict.fromkeys(s.make.below for s in stretches):
        for height in (0.0, below):
            stations = _with_crossings(stations, ground.at(stations) - (invert_at(run, stations) - below) - height)
    for stretch in stretches:
        if not stretch.is_solid:  # round solid pipe there is no stone that could come to the ground
            top = invert_at(run, stations) - stretch.make.below + stretch.make.natural_stone
            stations = _with_crossings(stations, ground.at(stations) - top, stretch.low, stretch.high)
    invert = invert_at(run, stations)
    level = ground.at(stations)
    bottom = invert - largest(stretches, stations, lambda make: make.below)
    cover = level - (invert + largest(stretches, stations, lambda make: make.above))
    return GradeLine(stations, level, invert, bottom, level - bottom, cover, _daylight(stations, level - invert),
                     ground.beyond(0.0, run.length))  # fmt: skip


def _with_crossings(stations: Array, heights: Array, low: float = -np.inf, high: float = np.inf) -> Array:
    """Add the stations m between two of them where a piecewise straight line crosses nought, so that volumes are exact."""
    change = np.nonzero((heights[:-1] * heights[1:] < 0) & (stations[:-1] < high) & (stations[1:] > low))[0]
    if not len(change):
        return stations
    share = heights[change] / (heights[change] - heights[change + 1])
    return _in_order([*stations, *(stations[change] + share * np.diff(stations)[change])], 9)


def _in_order(stations: list[float], decimals: int) -> Array:
    """Stations rising, each once; np.unique would do, but costs the start of the program a tenth of a second."""
    return np.array(sorted({round(float(s), decimals) for s in stations}))


def _daylight(stations: Array, depth: Array) -> float | None:
    out = np.nonzero(depth <= 1e-9)[0]
    if len(out) == 0:
        return None
    highest = int(out[-1])
    if highest == len(stations) - 1:
        return float(stations[-1])
    return float(stations[highest])
