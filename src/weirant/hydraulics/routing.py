"""Storms through a network of pipes: what comes in at each moment, what is stored in pipes, stone and boxes, what leaves, and what comes over the rims.

Level-pool storage at every section, joined by reaches in which water flows by the fall of its surface, either way: the equations of ``parting`` in
time, implicit, so that a step may be as long as the storm changes evenly. What one turn leaves open is made up for in the next: nothing is lost.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from weirant.errors import SolverError
from weirant.hydraulics.elimination import eliminated
from weirant.hydraulics.parting import PipeMesh, guessed, standing_in
from weirant.language import tr

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
class Brings:
    """What a source has brought, in its own measure, at moments s, both (t,), from nought on and never falling; and what share of it comes in at which sections."""

    moments: Array
    volumes: Array
    into: tuple[tuple[int, float], ...]


@dataclass(frozen=True, eq=False)
class Routed:
    """A network through a storm. ``level`` m (f, s) and ``flow`` m³/s (f, r) at the moments ``kept`` s (f,); the highest level (s,) and the most flow
    (r,) with their times; what came over each rim, m³ (s,), at the most m³/s and when; at the ends of the steps ``times`` s (n,) of ``lengths`` s what is stored, ``holds``
    m³ (n,), and what left by each of the ``exits``, m³/s (n, e). ``came`` m³ in all, ``left``, ``spilled`` over the ground, ``before`` and ``after`` stored.
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
    came: float
    left: float
    spilled: float
    before: float
    after: float

    @property
    def off(self) -> float:
        """What the balance lacks, as a share of what came or went; 0 where nothing did."""
        through = max(self.came, abs(self.left), self.spilled, 1e-12)
        return abs(self.came - self.left - self.spilled - (self.after - self.before)) / through


def route(mesh: PipeMesh, stores: Stores, brings: Sequence[Brings], until: float, even: float = EVEN) -> Routed:
    """A mesh through a storm of ``until`` s, from the steady state in what its ``inflow`` brings, which goes on beside what the sources bring.

    Raises SolverError where no balance is found. Sources: storage by level-pool routing, Chow, Maidment and Mays 1988, ch. 8; flow as in
    ``parting``; water over a rim as over a weir, FHWA HEC-22.
    """
    from weirant.hydraulics.kernel.route import DONE, route as run  # noqa: I001

    count, pieces = len(mesh.low), len(mesh.above)
    held = ~np.isnan(mesh.held)
    free = ~held
    spilling = [(k, int(to)) for k, to in enumerate(stores.leads.tolist()) if to >= 0 and free[k] and free[to]]
    joined = [(a, b) for a, b in zip(mesh.above.tolist(), mesh.below.tolist(), strict=True) if free[a] and free[b]]
    way = eliminated(count, (*joined, *spilling))
    row_of, column_of = np.full(pieces, -1, dtype=np.intp), np.full(pieces, -1, dtype=np.intp)
    for r, (a, b) in enumerate(zip(mesh.above.tolist(), mesh.below.tolist(), strict=True)):
        if (a, b) in way.at and a != b:
            row_of[r], column_of[r] = way.at[a, b], way.at[b, a]
    spills_at = np.full(count, -1, dtype=np.intp)
    for k, to in spilling:
        spills_at[k] = way.at[to, k]
    sections = (mesh.low, np.maximum(stores.plan, LEAST_PLAN), np.where(held, np.inf, stores.rim), stores.edge, stores.leads, free)
    reaches = (mesh.above, mesh.below, mesh.invert_above, mesh.invert_below, mesh.length, mesh.diameter, mesh.full, stores.pipes, stores.pores, stores.stone)
    ways = (row_of, column_of, spills_at, way.order, way.start, way.neighbour, way.row, way.column, way.meets_from, way.meets)
    exits = np.nonzero(held)[0].astype(np.intp)
    level = np.empty(count)
    steady = _brings([], mesh.inflow, SETTLES)

    def followed(duration: float, first: float, longest: float, share: float, sections: tuple[Array, ...], given: tuple[Array, ...], most_steps: int, frames: int) -> tuple[object, ...]:
        kept = np.linspace(0.0, duration, frames)
        shown = np.zeros((frames, count), dtype=np.float32), np.zeros((frames, pieces), dtype=np.float32)
        tops = (level.copy(), *(np.zeros(count) if k in {1, 4, 5, 6} else np.zeros(pieces) for k in range(1, 7)))
        course = *(np.zeros(most_steps) for _ in range(3)), np.zeros((most_steps, len(exits)))
        totals = np.zeros(6)
        status, steps = run(duration, first, longest, share, sections, reaches, ways, given, exits, level, np.empty(way.size), kept, shown, tops, course, totals)
        if status != DONE:
            raise SolverError(tr("flow in the pipes through the storm"), float(totals[5]))
        return kept, shown, tops, course, totals, steps

    filling = (mesh.low, np.maximum(stores.plan, SETTLING_PLAN), *sections[2:])
    level[:] = guessed(mesh)
    try:
        followed(SETTLES, 1.0, SETTLES / 30, np.inf, filling, steady, 1, 0)
    except SolverError:  # seldom: from where nothing flows
        level[:] = standing_in(mesh)
        followed(SETTLES, 500.0, SETTLES / 30, np.inf, filling, steady, 1, 0)
    kept, shown, tops, course, totals, steps = followed(until, 1.0, LONGEST, even, sections, _brings(brings, mesh.inflow, until), MOST_STEPS, FRAMES)
    highest, highest_at, most, most_at, over, over_most, over_at = tops  # type: ignore[misc]
    times, lengths, holds, leaves = (part[: min(steps, MOST_STEPS)] for part in course)  # type: ignore[attr-defined, type-var, call-overload]
    came, left, spilled, before, after, _ = totals.tolist()  # type: ignore[attr-defined]
    return Routed(kept, *shown, highest, highest_at, most, most_at, over, over_most, over_at, times, lengths, holds, exits, leaves, came, left, spilled, before, after)  # type: ignore[arg-type, misc]


def _brings(brings: Sequence[Brings], inflow: Array, until: float) -> tuple[Array, ...]:
    """Moments (t,), what each source has brought by then (k, t), and into which sections which share of it comes; the steady inflow is the first."""
    moments = np.unique(np.concatenate(([0.0, until], *(b.moments for b in brings))))
    volumes = np.array([moments, *(np.interp(moments, b.moments, b.volumes) for b in brings)])
    shares = [(0, k, float(flow)) for k, flow in enumerate(inflow) if flow]
    shares += [(number, section, share) for number, b in enumerate(brings, 1) for section, share in b.into]
    source, into, weight = zip(*shares, strict=True) if shares else ((), (), ())
    stops = np.unique(np.concatenate([np.zeros(0), *(_stops(b) for b in brings)]))
    apart = np.concatenate(([True], np.diff(stops) > CLOSE)) if len(stops) else np.zeros(0, dtype=bool)
    return moments, volumes, np.array(source, dtype=np.intp), np.array(into, dtype=np.intp), np.array(weight, dtype=float), stops[apart]


def _stops(brings: Brings) -> Array:
    """Moments s at which a step must end, or it would pass over what a source brings: wherever its rate has changed by a share ``SEEN`` of its most."""
    rates = np.diff(brings.volumes) / np.diff(brings.moments)
    most, last, found = float(np.abs(rates).max(initial=0.0)), 0.0, []
    for moment, rate in zip(brings.moments.tolist(), rates.tolist(), strict=False):
        if abs(rate - last) > SEEN * most:
            found.append(moment)
            last = rate
    return np.array(found)
