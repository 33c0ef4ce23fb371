"""Inverts as they were built against the grade line, and what an odd one does to the rest of the run."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from weirant.ground.inverts import grade_nodes, invert_at
from weirant.ground.network import LaidRun
from weirant.job.network import AsBuilt
from weirant.records import dataclass

Array = NDArray[np.float64]
TOP_KEPT, KEPT = "top end kept", "kept as built"  # ways on from an odd reading


@dataclass(frozen=True)
class BuiltReading:
    """A reading beside the grade line: m, off is positive where the pipe lies too high. ``first`` is what was planned when it was taken."""

    station: float
    level: float
    planned: float
    within: bool
    first: float

    @property
    def off(self) -> float:
        """How far the pipe lies above the grade line, m."""
        return self.level - self.planned

    @property
    def off_first(self) -> float:
        """How far the pipe lies above what was planned when it was measured, m: what a later change of the grade does not hide."""
        return self.level - self.first


@dataclass(frozen=True, eq=False)
class BuiltProfile:
    """The run as built: stations rising, inverts, each (n,), m; as planned where nothing is measured yet.

    ``slopes`` (n − 1,) are those between neighbours; nought or less is a belly or a reverse grade.
    """

    readings: tuple[BuiltReading, ...]
    stations: Array
    inverts: Array

    @property
    def slopes(self) -> Array:
        """Slope of each length between neighbouring stations, m/m."""
        return np.asarray(np.diff(self.inverts) / np.diff(self.stations))


def moved_instrument(profile: BuiltProfile, tolerance: float) -> float | None:
    """How far every reading is off alike, m, where that looks like an instrument that was moved: three readings or more, all off by more than
    the tolerance and by the same, but for as much as the tolerance. None where not.
    """
    offs = [reading.off for reading in profile.readings]
    if len(offs) < 3 or min(map(abs, offs)) <= tolerance or max(offs) - min(offs) > tolerance:
        return None
    return float(np.mean(offs))


@dataclass(frozen=True)
class Regrade:
    """The run from a station on, with the invert there taken as it is: slopes m/m above and below, lift of the top end m."""

    name: str
    stations: tuple[float, ...]
    levels: tuple[float, ...]
    slope_above: float
    slope_below: float
    lift: float


def built_profile(run: LaidRun, built: tuple[AsBuilt, ...], tolerance: float) -> BuiltProfile:
    """Readings of one run beside its grade line; of two at one station the later counts."""
    mine = {round(b.station, 3): b for b in built if b.run == run.id and b.station <= run.length + 1e-6}
    levels = {station: b.level for station, b in mine.items()}
    at = np.array(sorted(levels))
    planned = invert_at(run, at)
    readings = tuple(BuiltReading(float(s), levels[float(s)], float(p), abs(levels[float(s)] - float(p)) <= tolerance + 1e-9,
                                  float(p) if (first := mine[float(s)].planned) is None else first)
                     for s, p in zip(at, planned, strict=True))  # fmt: skip
    nodes, inverts = grade_nodes(run)
    merged = {round(float(s), 3): float(z) for s, z in zip(nodes, inverts, strict=True)} | {r.station: r.level for r in readings}
    stations = np.array(sorted(merged))
    return BuiltProfile(readings, stations, np.array([merged[float(s)] for s in stations]))


def regrades(run: LaidRun, station: float, level: float, below: float = 0.0) -> list[Regrade]:
    """Two ways to go on from an invert that cannot be changed: hold the top end, or lift (or lower) all that lies above.

    ``below`` is the last station already built beneath, m; the run up to it stays. At the low end itself there is nothing
    beneath, and the slope below is that above.
    """
    nodes, levels = grade_nodes(run)
    off = level - float(invert_at(run, np.array(station)))
    under = nodes < max(below, 1e-9) - 1e-6
    start = (below, float(invert_at(run, np.array(below))))
    kept = [*zip(nodes[under].tolist(), levels[under].tolist(), strict=True), start, (station, level)]
    if station - below < 1e-6:
        kept = [*kept[:-2], (station, level)]
    above = [(s, z) for s, z in zip(nodes.tolist(), levels.tolist(), strict=True) if s > station + 1e-6]
    slope_below = (level - start[1]) / (station - start[0]) if station - below >= 1e-6 else None
    ways = []
    if above:
        top = above[-1]
        straight = (top[1] - level) / (top[0] - station)
        ways.append(_way(TOP_KEPT, [*kept, top], straight, slope_below, 0.0))
        lifted = [(s, z + off) for s, z in above]
        ways.append(_way("lifted" if off > 0 else "lowered", [*kept, *lifted], (lifted[0][1] - level) / (lifted[0][0] - station), slope_below, off))
    else:
        end = slope_below if slope_below is not None else run.slope
        ways.append(_way(KEPT, kept, end, end, off))
    return ways


def _way(name: str, points: list[tuple[float, float]], above: float, below: float | None, lift: float) -> Regrade:
    return Regrade(name, tuple(s for s, _ in points), tuple(z for _, z in points), above, above if below is None else below, lift)
