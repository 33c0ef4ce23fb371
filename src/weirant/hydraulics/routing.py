"""Storms through a network of pipes: what comes in at each moment, what is stored in pipes, stone and boxes, what leaves, and what comes over the rims.

Level-pool storage at every section, joined by reaches in which water flows by the fall of its surface, either way: the equations of ``parting`` in
time, implicit, so that a step may be as long as the storm changes evenly. What one turn leaves open is made up for in the next: nothing is lost.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from types import MappingProxyType
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from weirant.errors import SolverError
from weirant.hydraulics.elimination import eliminated
from weirant.hydraulics.parting import PipeMesh, guessed, standing_in
from weirant.language import tr
from weirant.records import dataclass

Array = NDArray[np.float64]
Whole = NDArray[np.intp]
LEAST_PLAN = 1e-3  # m² of surface that every section has, also where it is dry
SETTLING_PLAN = 0.02  # the same while it settles, when steps are so long that digits would be lost
EVEN = 0.01  # of the most that comes in, by which what is stored may begin to change within a step
LONGEST = 1800.0  # s of a step
SETTLES = 3e7  # s in which what flows before the storm settles
MOST_STEPS = 40_000
SEEN, CLOSE = 0.05, 30.0  # of the most that a source brings; s between two ends of steps that it asks for
FRAMES = 361  # moments kept


@dataclass(frozen=True, eq=False)
class Stores:
    """What a mesh stores. By reach (r,): ``pipes`` side by side, ``pores`` m² in a metre of height and length of the stone round them, up to ``stone`` m over
    the invert. By section (s,): ``plan`` m² of a box, the ``rim`` m over which water comes out (infinite: none) along an ``edge`` m, and
    the section it ``leads`` to (−1: away over the ground).
    """

    pipes: Array
    pores: Array
    stone: Array
    plan: Array
    rim: Array
    edge: Array
    leads: Whole


@dataclass(frozen=True, eq=False)
class Stands:
    """What stands outside an exit at moments s from nought on, both (t,), level m."""

    moments: Array
    levels: Array


@dataclass(frozen=True, eq=False)
class Lift:
    """A pump in the pit at a section, to another (−1: away): the levels m at which it stops and starts, what it can lift at each, m³/s, and the times s
    between which it stands still.
    """

    at: int
    to: int
    stops: float
    starts: float
    least: float
    most: float
    idle: tuple[float, float] = (0.0, 0.0)


@dataclass(frozen=True, eq=False)
class Brings:
    """What a source has brought, in its own measure, at moments s, both (t,), from nought on and never falling; and what share of it comes in at which sections."""

    moments: Array
    volumes: Array
    into: tuple[tuple[int, float], ...]


@dataclass(frozen=True, eq=False)
class Routed:
    """A network through a storm. ``level`` m (f, s) and ``flow`` m³/s (f, r) at the moments ``kept`` s (f,); the highest level (s,) and the most flow
    (r,) with their times; what came over each rim, m³ (s,), at the most m³/s and when; at the ends of the steps ``times`` s (n,) of ``lengths`` s what is stored, ``holds``
    m³ (n,), what left by each of the ``exits``, m³/s (n, e), and to each pump what ``comes`` and what it ``lifts``, in the mean over its cycles, m³/s (n, p).
    ``came`` m³ in all, ``left`` by the exits, ``spilled`` over the ground, was ``lifted`` away, ``before`` and ``after`` stored.
    """

    kept: Array
    level: NDArray[np.float32]
    flow: NDArray[np.float32]
    highest: Array
    highest_at: Array
    most: Array
    most_at: Array
    over: Array
    over_most: Array
    over_at: Array
    times: Array
    lengths: Array
    holds: Array
    exits: Whole
    leaves: Array
    comes: Array
    lifts: Array
    came: float
    left: float
    spilled: float
    lifted: float
    before: float
    after: float

    @property
    def off(self) -> float:
        """What the balance lacks, as a share of what came, went or was lifted; 0 where nothing did."""
        through = max(self.came, abs(self.left), self.spilled, float(np.abs(self.lifts.T @ self.lengths).sum()), 1e-12)
        return abs(self.came - self.left - self.spilled - self.lifted - (self.after - self.before)) / through


def route(mesh: PipeMesh, stores: Stores, brings: Sequence[Brings], until: float, even: float = EVEN, lifts: Sequence[Lift] = (),
          outside: Mapping[int, Stands] = MappingProxyType({})) -> Routed:  # fmt: skip
    """A mesh through a storm of ``until`` s, from the steady state in what its ``inflow`` brings, which goes on beside what the sources bring. ``outside``
    tells of exits by their sections how the level there changes; else it is that at which they are held. What soaks away is told as ``lifts``.

    Raises SolverError where no balance is found. Sources: storage by level-pool routing, Chow, Maidment and Mays 1988, ch. 8; flow as in
    ``parting``; water over a rim as over a weir, FHWA HEC-22.
    """
    held = ~np.isnan(mesh.held)
    sections = (mesh.low, np.maximum(stores.plan, LEAST_PLAN), np.where(held, np.inf, stores.rim), stores.edge, stores.leads, ~held)
    filling = (mesh.low, np.maximum(stores.plan, SETTLING_PLAN), *sections[2:])
    reaches = (mesh.above, mesh.below, mesh.invert_above, mesh.invert_below, mesh.length, mesh.diameter, mesh.full, stores.pipes, stores.pores, stores.stone,
               mesh.kind)  # fmt: skip
    size, ways, pumps = _ways(mesh, stores, lifts, ~held)
    exits, steady = np.nonzero(held)[0].astype(np.intp), _brings([], mesh.inflow, SETTLES, ())
    net, always = _Net(size, reaches, ways), (*pumps[:-2], *(np.zeros(len(lifts)) for _ in range(2)))
    edges = [moment for moment in (*(m for lift in lifts for m in lift.idle), *(m for stands in outside.values() for m in stands.moments.tolist())) if 0 < moment < until]
    at_first = _outside(mesh, exits, {}, SETTLES)
    try:
        level = guessed(mesh)
        net.follow(level, _Course(filling, always, steady, at_first, SETTLES, (1.0, SETTLES / 30, np.inf)))
    except SolverError:  # seldom: from where nothing flows
        level = standing_in(mesh)
        net.follow(level, _Course(filling, always, steady, at_first, SETTLES, (500.0, SETTLES / 30, np.inf)))
    return net.follow(level, _Course(sections, pumps, _brings(brings, mesh.inflow, until, edges), _outside(mesh, exits, outside, until), until, (1.0, LONGEST, even)))


def _ways(mesh: PipeMesh, stores: Stores, lifts: Sequence[Lift], free: NDArray[np.bool_]) -> tuple[int, tuple[Whole, ...], tuple[NDArray[np.generic], ...]]:
    """How large the matrix is, where what belongs to each reach and to what spills from each section stands in it, and how it is eliminated; and the pumps."""
    reaches = list(zip(mesh.above.tolist(), mesh.below.tolist(), strict=True))
    spilling = [(k, to) for k, to in enumerate(stores.leads.tolist()) if to >= 0 and free[k] and free[to]]
    way = eliminated(len(mesh.low), (*((a, b) for a, b in reaches if free[a] and free[b]), *spilling, *((p.at, p.to) for p in lifts if p.to >= 0 and free[p.to])))
    row_of, column_of = (np.array([way.at.get(pair, -1) if a != b else -1 for a, b in reaches for pair in ((a, b)[::turn],)], dtype=np.intp) for turn in (1, -1))
    spills_at = np.full(len(mesh.low), -1, dtype=np.intp)
    for k, to in spilling:
        spills_at[k] = way.at[to, k]
    pumps = (np.array([p.at for p in lifts], dtype=np.intp), np.array([p.to for p in lifts], dtype=np.intp), *(np.array([getattr(p, name) for p in lifts], dtype=float)
             for name in ("stops", "starts", "least", "most")), np.array([way.at.get((p.to, p.at), -1) for p in lifts], dtype=np.intp),
             *(np.array([p.idle[end] for p in lifts], dtype=float) for end in (0, 1)))  # fmt: skip
    return way.size, (row_of, column_of, spills_at, way.order, way.start, way.neighbour, way.row, way.column, way.meets_from, way.meets), pumps


class _Course(NamedTuple):
    """What is followed: the sections, the pumps, what is brought, the exits with what stands outside them, until when s, and the first and the longest step s
    with by how much what is stored may begin to change.
    """

    sections: tuple[NDArray[np.generic], ...]
    pumps: tuple[NDArray[np.generic], ...]
    brings: tuple[NDArray[np.generic], ...]
    outside: tuple[NDArray[np.generic], ...]
    until: float
    steps: tuple[float, float, float]


@dataclass(frozen=True, eq=False)
class _Net:
    """What of a network stays the same however it is followed, as the kernel takes it."""

    size: int
    reaches: tuple[NDArray[np.generic], ...]
    ways: tuple[Whole, ...]

    def follow(self, level: Array, course: _Course) -> Routed:
        """Follow it from levels (s,), which are afterwards those that it ends with."""
        begins, settles = level.copy(), np.isinf(course.steps[2])
        found, taken = self._follow(level, course, 1 if settles else MOST_STEPS)
        if taken > MOST_STEPS and not settles:  # seldom, of weeks of showers: once more, with room for the whole course
            found, _ = self._follow(begins, course, taken + 1)
        return found

    def _follow(self, level: Array, course: _Course, most_steps: int) -> tuple[Routed, int]:
        """The same, with room for so many steps; and how many were taken."""
        from weirant.hydraulics.kernel.route import DONE
        from weirant.hydraulics.kernel.route import route as run

        (sections, pumps, brings, outside, until, steps), count, pieces = course, len(level), len(self.reaches[0])
        frames = 0 if most_steps == 1 else FRAMES
        kept, levels, flows = np.linspace(0.0, until, frames), np.zeros((frames, count), dtype=np.float32), np.zeros((frames, pieces), dtype=np.float32)
        highest, highest_at, most, most_at = level.copy(), np.zeros(count), np.zeros(pieces), np.zeros(pieces)
        over, over_most, over_at = np.zeros(count), np.zeros(count), np.zeros(count)
        times, lengths, holds, leaves = np.zeros(most_steps), np.zeros(most_steps), np.zeros(most_steps), np.zeros((most_steps, len(outside[0])))
        comes, lifts, totals = np.zeros((most_steps, len(pumps[0]))), np.zeros((most_steps, len(pumps[0]))), np.zeros(7)
        status, taken = run(until, *steps, sections, self.reaches, self.ways, pumps, brings, outside, level, np.empty(self.size), kept, (levels, flows),
                            (highest, highest_at, most, most_at, over, over_most, over_at), (times, lengths, holds, leaves, comes, lifts), totals)  # fmt: skip
        if status != DONE:
            raise SolverError(tr("flow in the pipes through the storm"), float(totals[5]))
        came, left, spilled, before, after, _, lifted = totals.tolist()
        shown = slice(0, min(taken, most_steps))
        routed = Routed(kept, levels, flows, highest, highest_at, most, most_at, over, over_most, over_at, times[shown], lengths[shown], holds[shown],
                      outside[0].astype(np.intp), leaves[shown], comes[shown], lifts[shown], came, left, spilled, lifted, before, after)  # fmt: skip
        return routed, taken


def _outside(mesh: PipeMesh, exits: Whole, outside: Mapping[int, Stands], until: float) -> tuple[NDArray[np.generic], ...]:
    """The exits (e,), moments s (t,), and the level m that stands at each exit then (e, t)."""
    moments = np.unique(np.concatenate(([0.0, until], *(stands.moments for stands in outside.values()))))
    levels = np.repeat(mesh.held[exits][:, None], len(moments), axis=1)
    for row, section in enumerate(exits.tolist()):
        if section in outside:
            levels[row] = np.interp(moments, outside[section].moments, outside[section].levels)
    return exits, moments, np.maximum(levels, mesh.low[exits][:, None])


def _brings(brings: Sequence[Brings], inflow: Array, until: float, edges: Sequence[float]) -> tuple[NDArray[np.generic], ...]:
    """Moments (t,), what each source has brought by then (k, t), into which sections which share of it comes, the steady inflow being the first, and the
    moments at which a step ends: the ``edges`` s, and those that the sources ask for.
    """
    moments = np.unique(np.concatenate(([0.0, until], *(b.moments for b in brings))))
    volumes = np.array([moments, *(np.interp(moments, b.moments, b.volumes) for b in brings)])
    shares = [(0, k, float(flow)) for k, flow in enumerate(inflow) if flow]
    shares += [(number, section, share) for number, b in enumerate(brings, 1) for section, share in b.into]
    source, into, weight = zip(*shares, strict=True) if shares else ((), (), ())
    stops = np.unique(np.concatenate([np.zeros(0), *(_stops(b) for b in brings)]))
    apart = np.concatenate(([True], np.diff(stops) > CLOSE)) if len(stops) else np.zeros(0, dtype=bool)
    ends = np.union1d(stops[apart], np.array(edges, dtype=float))
    return moments, volumes, np.array(source, dtype=np.intp), np.array(into, dtype=np.intp), np.array(weight, dtype=float), ends


def _stops(brings: Brings) -> Array:
    """Moments s at which a step must end, or it would pass over what a source brings: wherever its rate has changed by a share ``SEEN`` of its most."""
    rates = np.diff(brings.volumes) / np.diff(brings.moments)
    most, last, found = float(np.abs(rates).max(initial=0.0)), 0.0, []
    for moment, rate in zip(brings.moments.tolist(), rates.tolist(), strict=False):
        if abs(rate - last) > SEEN * most:
            found.append(moment)
            last = rate
    return np.array(found)
