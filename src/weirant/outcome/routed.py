"""A storm that was followed through the pipes: of every part of the network that could be, and why not of the rest."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from weirant.hydraulics.outlet_relation import Soaking
from weirant.hydraulics.pipes_along import full_fraction
from weirant.hydraulics.pit_cycles import PitCycles
from weirant.hydraulics.routing import Routed
from weirant.hydraulics.run_flow import DROP
from weirant.job.doubt import Doubt
from weirant.job.rain import Storm
from weirant.outcome.filled import Filled
from weirant.outcome.site import RunOutcome
from weirant.outcome.standing import Standing, standing_at
from weirant.records import dataclass

Array = NDArray[np.float64]
LEAST = 1e-4  # m³ over the ground that is told
LEFT = 0.1  # of what a pit filled up by, which is left where it counts as empty
PONDS = 0.005  # m over a grate from which on water is said to stand there
GONE = 0.05  # of what it rose by, to which what is stored has fallen back where it counts as empty again


@dataclass(frozen=True, eq=False)
class Along:
    """A run in a routed part: the stations m of its sections, the sections (both (n,), from the low end up), and the reaches between them (n − 1,).
    Flow in a reach goes down the stations.
    """

    stations: Array
    sections: NDArray[np.intp]
    reaches: NDArray[np.intp]

    def most(self, routed: Routed, stations: Array) -> Array:
        """The most that flows at stations m, m³/s, shape (n,); below nought where that goes up the stations."""
        return np.asarray(routed.most[self._reach(stations)])

    def flow(self, routed: Routed, frame: int, stations: Array) -> Array:
        """Flow m³/s at stations m in a frame, shape (n,)."""
        return np.asarray(routed.flow[frame][self._reach(stations)], dtype=float)

    def highest(self, routed: Routed, stations: Array) -> Array:
        """The highest that the surface comes at stations, m, shape (n,)."""
        return np.asarray(np.interp(stations, self.stations, routed.highest[self.sections]))

    def surface(self, routed: Routed, frame: int, stations: Array) -> Array:
        """The surface at stations in a frame, m, shape (n,)."""
        return np.asarray(np.interp(stations, self.stations, routed.level[frame][self.sections].astype(float)))

    def _reach(self, stations: Array) -> NDArray[np.intp]:
        at = np.clip(np.searchsorted(self.stations, stations - 1e-9, side="left") - 1, 0, len(self.reaches) - 1)
        return np.asarray(self.reaches[at])


@dataclass(frozen=True)
class Spill:
    """Water that comes over the ground at a station m of a run, at a node where there is one (by identity): m³, the most m³/s, and when, s; ``leads``
    is the node that it runs to over land (empty: away).
    """

    run: str
    station: float
    node: str
    volume: float
    most: float
    at: float
    leads: str = ""


class Bowl(NamedTuple):
    """The section of the bowl round a grate, and the level m of the grate."""

    section: int
    rim: float


@dataclass(frozen=True, eq=False)
class RoutedPart:
    """A part of the network that hangs together, through the storm: its runs, the section of each of its nodes, the cycles of the pumps in its pits by
    their nodes (None: one that lifts nothing), by section to which other one water from its rim runs over land, the section at which water is gone that
    leaves at a node, those of the bowls round grates, and by node the row of ``lifts`` that tells what soaks away there.
    """

    routed: Routed
    runs: Mapping[str, Along]
    nodes: Mapping[str, int]
    pumps: Mapping[str, PitCycles | None] = field(default_factory=dict)
    leads: Mapping[int, int] = field(default_factory=dict)
    outs: Mapping[str, int] = field(default_factory=dict)
    bowls: Mapping[str, Bowl] = field(default_factory=dict)
    soaked: Mapping[str, int] = field(default_factory=dict)

    def left_by(self, node: str) -> Array | None:
        """What leaves by a node at the ends of the steps, m³/s, shape (n,), also into the ground; None where it is no exit."""
        if node not in self.outs:
            return None
        found = np.nonzero(self.routed.exits == self.outs[node])[0]
        leaves = self.routed.leaves[:, found[0]] if len(found) else np.zeros(len(self.routed.times))
        return leaves + self.soaks(node)

    def soaks(self, node: str) -> Array:
        """What of that soaks into the ground."""
        return self.routed.lifts[:, self.soaked[node]] if node in self.soaked else np.zeros(len(self.routed.times))

    def filled(self, node: str, soaks: Soaking, ends: float) -> Filled:
        """What the pit under a node came to, the rain having ended after so many s; after what was looked at it empties by soaking alone, in closed form."""
        section, routed = self.nodes[node], self.routed
        level, highest = routed.level[:, section].astype(float), float(routed.highest[section])
        left = level[0] + LEFT * (highest - level[0])
        high = np.nonzero(level > left)[0]
        if highest - level[0] < PONDS or not len(high):
            return Filled(highest, 0.0)
        if high[-1] < len(level) - 1:
            return Filled(highest, max(float(routed.kept[high[-1] + 1]) - ends, 0.0))
        before = soaks.takes(float(level[0]))
        now, then = soaks.takes(float(level[-1])) - before, soaks.takes(float(left)) - before
        more = soaks.holds / soaks.more * math.log(now / then) if then > 0 else math.inf
        return Filled(highest, float(routed.kept[-1]) - ends + more)

    def pond(self, node: str) -> tuple[float, float]:
        """How deep m water stands over the grate of an inlet at its highest, and for how long s it stands over it."""
        (bowl, rim), routed = self.bowls[node], self.routed
        stands = routed.level[:, bowl].astype(float) - rim > PONDS
        return max(float(routed.highest[bowl]) - rim, 0.0), float(stands.sum()) * float(routed.kept[1] - routed.kept[0])

    @property
    def empty_at(self) -> float | None:
        """When what is stored has fallen back to near what it was before, s; None: not within the time that was looked at, nought where it never rose."""
        routed = self.routed
        rises = routed.holds - routed.before
        over = np.nonzero(rises > max(GONE * float(rises.max(initial=0.0)), 1e-3))[0]
        if not len(over):
            return 0.0
        last = int(over[-1])
        return None if last == len(rises) - 1 else float(routed.times[last + 1])


    @property
    def spills(self) -> tuple[Spill, ...]:
        """Where water comes over the ground, the most first."""
        routed = self.routed
        by_section = {section: node for node, section in self.nodes.items()} | {bowl.section: node for node, bowl in self.bowls.items()}
        told, found = set[int](), []
        for run, along in self.runs.items():
            for station, section in zip(along.stations.tolist(), along.sections.tolist(), strict=True):
                node = by_section.get(section, "")
                over = self.bowls[node].section if node in self.bowls else section
                if routed.over[over] > LEAST and over not in told:
                    found.append(Spill(run, station, node, float(routed.over[over]), float(routed.over_most[over]), float(routed.over_at[over]),
                                       by_section.get(self.leads.get(over, -1), "")))  # fmt: skip
                    told.add(over)  # on the first of the runs that meet there
        return tuple(sorted(found, key=lambda spill: -spill.volume))

    def standing(self, found: RunOutcome, frame: int | None = None) -> Standing | None:
        """How water stands along a run of it: in a frame, or, where none is given, at its highest and with the most that flows; None where the ground is not known."""
        along, grade = self.runs[found.id], found.grade
        if grade is None:
            return None
        stations = grade.stations
        flow = along.most(self.routed, stations) if frame is None else along.flow(self.routed, frame, stations)
        surface = along.highest(self.routed, stations) if frame is None else along.surface(self.routed, frame, stations)
        flow = np.where(np.abs(flow) < DROP, 0.0, flow)
        return standing_at(found, grade, np.maximum(surface, grade.invert), flow, full_fraction(grade, found.run, found.stretches, flow))


@dataclass(frozen=True, eq=False)
class StormThrough:
    """A storm of so many seconds with what came of it: the parts that were routed, and by run why it was not."""

    storm: Storm
    ends: float
    until: float
    parts: tuple[RoutedPart, ...]
    missing: Mapping[str, Doubt]

    def part_of(self, run: str) -> RoutedPart | None:
        """The part that a run belongs to."""
        return next((part for part in self.parts if run in part.runs), None)
