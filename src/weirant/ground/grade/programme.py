"""The linear programme of a network's inverts: unknowns are the levels at the nodes, straight between them.

Rows read  coefficients · levels ≤ limit. Of the many stations of a length only those on the convex hull of the ground
bound can ever bind, so the others are left out; the solution is the same.
"""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy import sparse

from weirant.ground.grade.demands import Family, NetworkDemand, RunDemand
from weirant.records import dataclass

Array = NDArray[np.float64]
Terms = list[tuple[int, float]]
FAR = 100.0  # m, more than any level difference on a site: switches a demand off


class Row(NamedTuple):
    """Where a row comes from. ``give`` is what one unit of giving way adds to its limit (m for a level, m for a slope)."""

    family: Family
    run: str
    station: float
    name: str = ""
    give: float = 1.0


@dataclass
class Programme:
    """Rows, objective and bounds as they are gathered; ``first`` is the number of each run's first unknown."""

    demand: NetworkDemand
    first: dict[str, int] = field(default_factory=dict)
    nodes: dict[str, list[float]] = field(default_factory=dict)
    rows: list[Row] = field(default_factory=list)
    limits: list[float] = field(default_factory=list)
    entries: tuple[list[int], list[int], list[float]] = field(default_factory=lambda: ([], [], []))
    count: int = 0
    whole: list[int] = field(default_factory=list)
    dig: dict[int, float] = field(default_factory=dict)
    constant: float = 0.0
    lower: dict[int, float] = field(default_factory=dict)

    def unknown(self, low: float | None = None, *, whole: bool = False) -> int:
        """A further unknown; ``whole`` for a choice of 0 or 1."""
        index = self.count
        self.count += 1
        if low is not None:
            self.lower[index] = low
        if whole:
            self.whole.append(index)
        return index

    def at_most(self, terms: Terms, limit: float, row: Row) -> None:
        """Add a row."""
        number = len(self.rows)
        for column, value in terms:
            self.entries[0].append(number)
            self.entries[1].append(column)
            self.entries[2].append(value)
        self.rows.append(row)
        self.limits.append(limit)

    def matrix(self, more: int = 0) -> sparse.csr_array:
        """The rows as a sparse matrix, with room for further unknowns."""
        rows, columns, values = self.entries
        return sparse.csr_array((values, (rows, columns)), shape=(len(self.rows), self.count + more))

    def invert(self, run: RunDemand, station: float) -> Terms:
        """The invert at a station as a sum over unknowns."""
        nodes = self.nodes[run.name]
        above = min(max(bisect_right(nodes, station), 1), len(nodes) - 1)
        low, high = nodes[above - 1], nodes[above]
        share = min(max((station - low) / (high - low), 0.0), 1.0)
        at = self.first[run.name] + above - 1
        return [(at, 1 - share), (at + 1, share)]


def build(demand: NetworkDemand) -> Programme:
    """Gather every demand of a network."""
    programme = Programme(demand)
    for run in demand.runs:
        programme.first[run.name], programme.nodes[run.name] = programme.count, run.nodes.tolist()
        for _ in run.nodes:
            programme.unknown()
    for run in demand.runs:
        _slopes(programme, run)
        _ground(programme, run)
        _low_end(programme, run)
        _dig(programme, run)
        for station, level in run.held:
            terms = programme.invert(run, station)
            programme.at_most(terms, level, Row(Family.HELD, run.name, station))
            programme.at_most(_minus(terms), -level, Row(Family.HELD, run.name, station))
        for crossing in run.crossings:
            here = programme.invert(run, crossing.station)
            row = Row(Family.CROSSING, run.name, crossing.station, crossing.name)
            _pass(programme, (_minus(here), -(crossing.top + run.here(run.wall, crossing.station))), (here, crossing.bottom - run.here(run.above, crossing.station)), crossing.way, row)
    for joint in demand.joints:
        upper, lower = (programme.invert(demand.run(r), s) for r, s in ((joint.upper, joint.upper_station), (joint.lower, joint.lower_station)))
        row = Row(Family.JOINT, joint.upper, joint.upper_station, joint.lower)
        programme.at_most(lower + _minus(upper), -joint.lift, row)
        programme.at_most(upper + _minus(lower), joint.lift + joint.drop, row)
    for meeting in demand.meetings:
        a, b = demand.run(meeting.first), demand.run(meeting.second)
        za, zb = programme.invert(a, meeting.first_station), programme.invert(b, meeting.second_station)
        row = Row(Family.CROSSING, a.name, meeting.first_station, b.name)
        above_a, wall_a = (a.here(figure, meeting.first_station) for figure in (a.above, a.wall))
        above_b, wall_b = (b.here(figure, meeting.second_station) for figure in (b.above, b.wall))
        _pass(programme, (zb + _minus(za), -(above_b + wall_a + demand.clearance)), (za + _minus(zb), -(above_a + wall_b + demand.clearance)), "best", row)
    return programme


def _minus(terms: Terms) -> Terms:
    return [(column, -value) for column, value in terms]


def _slopes(programme: Programme, run: RunDemand) -> None:
    start = programme.first[run.name]
    for k, length in enumerate(np.diff(run.nodes).tolist()):
        rise: Terms = [(start + k, -1.0), (start + k + 1, 1.0)]
        station = float(run.nodes[k])
        programme.at_most(_minus(rise), -float(run.least_slopes[k]) * length, Row(Family.SLOPE, run.name, station, "", length))
        programme.at_most(rise, run.most_slope * length, Row(Family.STEEP, run.name, station, "", length))


def _ground(programme: Programme, run: RunDemand) -> None:
    """Cover, depth to collect at, soil over the stone, and depth of the trench, at the stations where they can bind."""
    highest = run.ground - run.above - run.cover
    deepest = run.ground + run.below - run.most_depth
    caps = run.cap_levels if run.cap_levels is not None else np.full(len(run.stations), np.inf)
    for which, bound, sign, family in ((run.covered, highest, 1.0, Family.COVER), (np.isfinite(run.collect_levels), run.collect_levels, 1.0, Family.COLLECT),
                                       (np.isfinite(caps), caps, 1.0, Family.CAP),
                                       (np.ones(len(run.stations), dtype=bool), deepest, -1.0, Family.DEPTH)):  # fmt: skip
        asked = np.nonzero(which)[0]
        starts, stops = (np.searchsorted(run.stations[asked], edge) for edge in (run.nodes[:-1] - 1e-9, run.nodes[1:] + 1e-9))
        for start, stop in zip(starts.tolist(), stops.tolist(), strict=True):
            inside = asked[start:stop]
            for index in _hull(run.stations[inside], sign * bound[inside]):
                at = inside[index]
                station = float(run.stations[at])
                terms = [(column, sign * value) for column, value in programme.invert(run, station)]
                programme.at_most(terms, sign * float(bound[at]), Row(family, run.name, station))


def _hull(x: Array, y: Array) -> list[int]:
    """Numbers of the points on the lower convex hull, x rising."""
    keep: list[int] = []
    xs, ys = x.tolist(), y.tolist()
    for i in range(len(xs)):
        while len(keep) > 1:
            a, b = keep[-2], keep[-1]
            if (ys[b] - ys[a]) * (xs[i] - xs[a]) >= (ys[i] - ys[a]) * (xs[b] - xs[a]):
                keep.pop()
            else:
                break
        keep.append(i)
    return keep


def _low_end(programme: Programme, run: RunDemand) -> None:
    start = programme.first[run.name]
    if run.outlet_least is not None:
        programme.at_most([(start, -1.0)], -run.outlet_least, Row(Family.OUTLET, run.name, 0.0))


def _dig(programme: Programme, run: RunDemand) -> None:
    """Volume of an upright trench by trapezia; where the pipe may stand out of the ground, nothing is dug there."""
    if not run.dug:
        return
    half = np.diff(run.stations) / 2
    weights = run.width * (np.concatenate([half, [0.0]]) + np.concatenate([[0.0], half]))
    sure = run.covered
    programme.constant += float(np.sum((weights * (run.ground + run.below))[sure]))
    above = np.clip(np.searchsorted(run.nodes, run.stations[sure], side="right"), 1, len(run.nodes) - 1)
    share = (run.stations[sure] - run.nodes[above - 1]) / (run.nodes[above] - run.nodes[above - 1])
    lifts = np.bincount(above - 1, weights[sure] * (1 - share), len(run.nodes)) + np.bincount(above, weights[sure] * share, len(run.nodes))
    for k, lift in enumerate(lifts.tolist()):
        programme.dig[programme.first[run.name] + k] = -lift
    for index in np.nonzero(~sure)[0].tolist():
        station, weight = float(run.stations[index]), float(weights[index])
        cut = programme.unknown(0.0)
        programme.dig[cut] = weight
        programme.at_most([*_minus(programme.invert(run, station)), (cut, -1.0)], -float((run.ground + run.below)[index]),
                          Row(Family.DEPTH, "", station, "", 0.0))  # fmt: skip


def _pass(programme: Programme, over: tuple[Terms, float], under: tuple[Terms, float], way: str, row: Row) -> None:
    """One of two demands holds: over the thing, or under it."""
    if way != "best":
        terms, limit = over if way == "over" else under
        programme.at_most(terms, limit, row)
        return
    choice = programme.unknown(0.0, whole=True)  # 0 over, 1 under
    programme.at_most([*over[0], (choice, -FAR)], over[1], row)
    programme.at_most([*under[0], (choice, FAR)], under[1] + FAR, row)
