"""The runs of a site laid out in plan, and where they are joined: a mesh of runs through shared nodes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import field
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from weirant.errors import InputError, NoSuchRunError
from weirant.ground.alignment import Alignment, Point, alignment_of, turn_at
from weirant.job import Job
from weirant.job.geometry import nodes_by_id, points_of, spans_of
from weirant.job.network import GradeBreak, Held, Node, Outlet, Run
from weirant.language import tr
from weirant.records import dataclass

Array = NDArray[np.float64]
LEVEL = 1e-9  # m of fall between neighbouring nodes that is none
AT_END = 1e-6  # m: a station that near to an end is the end
IN_TRENCH = 2.0  # m in plan within which a run lies in the trench that it shares (common practice, no source)
STRAIGHT = 0.5  # degrees of turn that nobody lays a bend for
SLANTING = 67.5  # degrees by which water may turn into a joint that is a wye; over that it is a tee (common practice, no source)


@dataclass(frozen=True, eq=False)
class LaidRun:
    """A run with its place in plan: its nodes with their stations m, and its stretches.

    ``spans`` are the stretches by from and to station m and whether they are solid.
    """

    run: Run
    alignment: Alignment
    nodes: tuple[tuple[Node, float], ...]
    spans: tuple[tuple[float, float, bool], ...]

    @cached_property
    def id(self) -> str:
        """Identity of the run."""
        return self.run.id

    @cached_property
    def name(self) -> str:
        """Name of the run."""
        return self.run.name

    @cached_property
    def length(self) -> float:
        """Length, m."""
        return self.alignment.length

    @property
    def invert(self) -> float:
        """Invert at the low end, m."""
        return self.run.invert

    @property
    def slope(self) -> float:
        """Slope from the low end up to the first break, m/m."""
        return self.run.slope

    @property
    def breaks(self) -> tuple[GradeBreak, ...]:
        """Where the slope changes."""
        return self.run.breaks

    @property
    def held(self) -> tuple[Held, ...]:
        """Inverts that the user has fixed."""
        return self.run.held

    @property
    def outlet(self) -> Outlet | None:
        """The outlet at the low end, None where there is none."""
        return self.nodes[0][0].outlet

    @cached_property
    def solid_length(self) -> float:
        """Length of the solid pipe at the low end, m; the whole length where nothing collects."""
        low, high, is_solid = self.spans[0]
        return high - low if is_solid else 0.0

    @cached_property
    def collecting_length(self) -> float:
        """Length of all that collects, m."""
        return sum(high - low for low, high, is_solid in self.spans if not is_solid)

    def collects(self, stations: Array) -> NDArray[np.bool_]:
        """Which stations, shape (n,), lie on a stretch that collects, its ends with it."""
        found = np.zeros(len(stations), dtype=bool)
        for low, high, is_solid in self.spans:
            if not is_solid:
                found |= (stations >= low - 1e-9) & (stations <= high + 1e-9)
        return found

    def is_solid_at(self, station: float) -> bool:
        """Whether the pipe is solid at a station; where stretches meet, as above it."""
        return next((is_solid for low, high, is_solid in reversed(self.spans) if station >= low - 1e-6), self.spans[0][2])

    def collecting_above(self, stations: Array) -> Array:
        """Length m that collects above each station, shape (n,)."""
        found = np.zeros(len(stations))
        for low, high, is_solid in self.spans:
            if not is_solid:
                found += np.clip(high - stations, 0.0, high - low)
        return found

    @cached_property
    def grade(self) -> tuple[Array, Array]:
        """Stations m and invert levels m where the grade begins, changes and ends; both of shape (n,)."""
        breaks = [b for b in sorted(self.run.breaks, key=lambda b: b.station) if 0 < b.station < self.length]
        stations = np.array([0.0, *(b.station for b in breaks), self.length])
        slopes = np.array([self.run.slope, *(b.slope for b in breaks)])
        return stations, self.run.invert + np.concatenate([[0.0], np.cumsum(slopes * np.diff(stations))])

    @cached_property
    def node_stations(self) -> Array:
        """Stations of its nodes, m, shape (n,)."""
        return np.array([station for _, station in self.nodes])

    @cached_property
    def collecting_above_nodes(self) -> Array:
        """Length m that collects above each node, shape (n,)."""
        return self.collecting_above(self.node_stations)

    @cached_property
    def falls(self) -> list[float]:
        """Fall from each node but the first to the one below it, m."""
        return np.diff(np.interp(self.node_stations, *self.grade)).tolist()  # type: ignore[no-any-return]

    @cached_property
    def lead(self) -> str:
        """Which way water can go along it, in a word that is the same where that is: its own name, its nodes, where it lies level or rises between, and its outlets."""
        falls = [f"{self.id} ", *(">" if fall > LEVEL else "=" if fall >= -LEVEL else "<" for fall in self.falls)]
        return "\n".join(f"{fall}{node.id}{'!' if node.outlet is not None else ''}" for fall, (node, _) in zip(falls, self.nodes, strict=True))

    @cached_property
    def collecting_pieces(self) -> list[float]:
        """Length m that collects between each node and the one above it."""
        return (-np.diff(self.collecting_above_nodes)).tolist()  # type: ignore[no-any-return]

    @cached_property
    def box(self) -> tuple[float, float, float, float]:
        """West, south, east and north of it, m."""
        (west, south), (east, north) = self.alignment.points.min(axis=0).tolist(), self.alignment.points.max(axis=0).tolist()
        return west, south, east, north

    def may_be_near(self, point: Point, reach: float) -> bool:
        """Whether a point lies within a reach m of the box round it: told at once, before anything is measured."""
        west, south, east, north = self.box
        return west - reach <= point[0] <= east + reach and south - reach <= point[1] <= north + reach

    @cached_property
    def bends(self) -> list[tuple[float, float]]:
        """Station m and angle in degrees (left positive) of every bend."""
        found = ((float(s), turn_at(self.alignment, float(s))) for s in self.alignment.stations[1:-1])
        return [(s, turn) for s, turn in found if abs(turn) > STRAIGHT]


def lay_out(run: Run, nodes: dict[str, Node]) -> LaidRun:
    """A run laid through its nodes. Raises InputError where they are fewer than two places."""
    alignment = alignment_of(points_of(run, nodes))
    if len(alignment.stations) != len(run.nodes):
        raise InputError(run.name, tr("goes through two nodes at one place; take one of them out"))
    stationed = tuple((nodes[n], float(s)) for n, s in zip(run.nodes, alignment.stations, strict=True))
    return LaidRun(run, alignment, stationed, tuple(spans_of(run, alignment.length)))


@dataclass(frozen=True)
class Joint:
    """A run at a node: the run's identity and the station m of the node on it."""

    run: str
    station: float


@dataclass(frozen=True, eq=False)
class Network:
    """Every run laid out, and by node the runs that go through it."""

    runs: tuple[LaidRun, ...]
    at_node: dict[str, tuple[Joint, ...]] = field(repr=False)

    @cached_property
    def _by_id(self) -> dict[str, LaidRun]:
        return {run.id: run for run in self.runs}

    def run(self, identity: str) -> LaidRun:
        """The run of an identity; InputError where there is none."""
        found = self._by_id.get(identity)
        if found is None:
            raise NoSuchRunError(identity)
        return found

    def others_at(self, run: LaidRun, node: str) -> list[tuple[LaidRun, float]]:
        """The other runs at a node with its station on each."""
        return [(self._by_id[j.run], j.station) for j in self.at_node[node] if j.run != run.id]

    def drains_to(self, run: LaidRun) -> list[tuple[LaidRun, float]]:
        """The runs that take the water of a run at its low end, with the station of the joint; none at an outlet or a free end."""
        return [(other, station) for other, station in self.others_at(run, run.nodes[0][0].id) if station > AT_END]

    def joined_by(self, run: LaidRun) -> list[tuple[LaidRun, float]]:
        """The runs whose low end lies on a run above its own low end, with the station of the joint on it, from the low end up."""
        found = []
        for node, station in run.nodes[1:]:
            found += [(other, station) for other, at in self.others_at(run, node.id) if at < AT_END]
        return found

    def ends_in_the_open(self, run: LaidRun) -> bool:
        """Whether a run has an outlet of its own, or ends where no other run takes its water."""
        return run.outlet is not None or not self.drains_to(run)


def network_of(job: Job) -> Network:
    """Lay every run of a job out. The references of the job are sound (see the audit); it cannot fail then."""
    nodes = nodes_by_id(job)
    laid = tuple(lay_out(run, nodes) for run in job.runs)
    return joined(laid)


def joined(laid: Sequence[LaidRun]) -> Network:
    """A network of runs that are laid out."""
    at: dict[str, list[Joint]] = {}
    for run in laid:
        for node, station in run.nodes:
            at.setdefault(node.id, []).append(Joint(run.id, station))
    return Network(tuple(laid), {node: tuple(joints) for node, joints in at.items()})


def laid_run(job: Job, identity: str) -> LaidRun:
    """One run laid out. Raises InputError where there is none of that identity."""
    found = next((run for run in job.runs if run.id == identity), None)
    if found is None:
        raise NoSuchRunError(identity)
    return lay_out(found, nodes_by_id(job))


def run_called(job: Job, words: str) -> Run:
    """The run meant by a name or an identity. Raises InputError that lists what there is."""
    found = next((r for r in job.runs if r.id == words), None) or next((r for r in job.runs if r.name == words), None)
    if found is None:
        raise InputError("run", tr("is not on this site, which has {runs}", runs=", ".join(r.name for r in job.runs)), words)
    return found


@dataclass(frozen=True)
class Meeting:
    """Two runs that cross in plan without being joined there: their identities, their stations m, and the place."""

    first: str
    second: str
    first_station: float
    second_station: float
    at: Point


def meetings(network: Network) -> list[Meeting]:
    """Where runs cross in plan without being joined; runs in one trench are left out."""
    lines = [shapely.linestrings(r.alignment.points) for r in network.runs]
    tree = shapely.STRtree(lines)
    found = []
    for i, j in sorted(zip(*(pairs.tolist() for pairs in tree.query(lines, predicate="intersects")), strict=True)):
        if j >= i:
            continue
        first, second = network.runs[i], network.runs[j]
        if first.run.trench_of == second.id or second.run.trench_of == first.id:
            continue
        shared = [s for node, s in first.nodes if any(o is second for o, _ in network.others_at(first, node.id))]
        cut = shapely.intersection(lines[i], lines[j])
        for x, y in shapely.get_coordinates(shapely.centroid(shapely.get_parts(cut))).tolist():
            a, b = first.alignment.nearest((x, y))[0], second.alignment.nearest((x, y))[0]
            if not any(abs(a - s) < 0.05 for s in shared):
                found.append(Meeting(first.id, second.id, a, b, (x, y)))
    return found


def stations_every(run: LaidRun, step: float) -> Array:
    """Stations from 0 to the end at most ``step`` m apart, shape (n,)."""
    return np.linspace(0.0, run.length, max(2, int(np.ceil(run.length / step)) + 1))


def from_below(network: Network) -> tuple[str, ...]:
    """Every run, by identity, after those that take its water; where they go round, in the order of the job."""
    placed: dict[str, LaidRun] = {}
    waiting = list(network.runs)
    below = {run.id: {other.id for other, _ in network.drains_to(run)} for run in waiting}
    while waiting:
        ready = [run for run in waiting if below[run.id] <= placed.keys()] or waiting[:1]
        placed |= {run.id: run for run in ready}
        waiting = [run for run in waiting if run.id not in placed]
    return tuple(placed)
