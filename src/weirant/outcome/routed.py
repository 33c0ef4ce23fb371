"""A storm that was followed through the pipes: of every part of the network that could be, and why not of the rest."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from weirant.hydraulics.pit_cycles import PitCycles
from weirant.hydraulics.routing import Routed
from weirant.hydraulics.run_flow import DROP, full_fraction
from weirant.job.doubt import Doubt
from weirant.job.rain import Storm
from weirant.outcome.site import RunOutcome
from weirant.outcome.standing import Standing, standing_at

Array = NDArray[np.float64]
LEAST = 1e-4  # m³ over the ground that is told
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


@dataclass(frozen=True, eq=False)
class RoutedPart:
    """A part of the network that hangs together, through the storm: its runs, the section of each of its nodes, the cycles of the pumps in its pits by
    their nodes (None: one that lifts nothing), and by section to which other one water from its rim runs over land.
    """

    routed: Routed
    runs: Mapping[str, Along]
    nodes: Mapping[str, int]
    pumps: Mapping[str, PitCycles | None] = field(default_factory=dict)
    leads: Mapping[int, int] = field(default_factory=dict)

    def left_by(self, node: str) -> Array | None:
        """What leaves by a node at the ends of the steps, m³/s, shape (n,); None where it is no exit."""
        found = np.nonzero(self.routed.exits == self.nodes[node])[0]
        return self.routed.leaves[:, found[0]] if len(found) else None

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
        by_section = {section: node for node, section in self.nodes.items()}
        named: dict[int, str | None] = dict(by_section)
        found = []
        for run, along in self.runs.items():
            for station, section in zip(along.stations.tolist(), along.sections.tolist(), strict=True):
                node = named.get(section, "")
                if routed.over[section] > LEAST and node is not None:
                    found.append(Spill(run, station, node, float(routed.over[section]), float(routed.over_most[section]), float(routed.over_at[section]),
                                       by_section.get(self.leads.get(section, -1), "")))  # fmt: skip
                    named[section] = None  # told once, on the first of the runs that meet there
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
