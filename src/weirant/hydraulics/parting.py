"""Where water has several ways: every node of a mesh worked out at once, so that each way takes what it takes.

The level at each node and along each way is found at which what comes in goes out again: along each reach water flows by the fall of its surface
(Manning), at the depth of its upper end, either way, and where a way lies too high, not at all. It is the steady end of filling the mesh from dry
with ever longer steps, which is why it does not fail where a direct solution may: each step is a small change of one that is known.
"""

from __future__ import annotations

import math
from dataclasses import fields
from heapq import heapify, heappop, heappush

import numpy as np
from numpy.typing import NDArray

from weirant.errors import SolverError
from weirant.hydraulics.kernel.kinds import ONE_WAY
from weirant.hydraulics.outlet_relation import SOAKS_WITHIN
from weirant.hydraulics.round_pipe import passed
from weirant.language import tr
from weirant.records import dataclass

Array = NDArray[np.float64]
Whole = NDArray[np.intp]
LEAST = 1e-7  # of the throughput: a flow under which a change of friction is taken as no less
FLAT = 1e-3  # slope of a way that lies level, for a first guess
STORES = 0.02  # m² of surface at every section while the mesh fills: tells only how soon it is full
FIRST, LAST, GROWS = 500.0, 1e13, 6.0  # s: the first and the last step of filling, and by how much the next is longer
TURNS, STEPS = 40, 300  # of Newton within a step; of filling
NEAR = 1e-9  # of the throughput, by which the last turn may still change a flow
REACH = 0.5  # m by which no level changes more at once
EXACT, ENOUGH = 1e-9, 5e-7  # of what comes in or flows, by which the balance at a section may be off: looked for, and taken where no more is found


@dataclass(frozen=True, eq=False)
class PipeMesh:
    """Sections joined by reaches, arrays of shape (s,) and (r,).

    ``low`` m is the lowest invert at each section, ``inflow`` m³/s what comes in there, ``held`` the level m that is given there (NaN: none).
    Each reach leads from section ``above`` to section ``below``, with inverts m at both ends, length m, diameter m, and ``full`` m³/s, the
    conveyance of all its pipes together when full. Water may flow in it either way, but where its ``kind`` says that it does not (``round_pipe``). What
    ``soaks`` m, m³/s and m²/s, shape (3, s), is from which level on water soaks away at each section, how much at once, and how much more with each metre.
    """

    low: Array
    inflow: Array
    held: Array
    above: Whole
    below: Whole
    invert_above: Array
    invert_below: Array
    length: Array
    diameter: Array
    full: Array
    kind: Whole
    soaks: Array

    @property
    def key(self) -> bytes:
        """All of it, to tell whether another is the same."""
        return b"".join(np.ascontiguousarray(getattr(self, f.name)).tobytes() for f in fields(self))


@dataclass(frozen=True, eq=False)
class Parted:
    """Level m at each section, shape (s,), and flow m³/s in each reach from above to below, shape (r,); ``off`` is the greatest imbalance, m³/s."""

    level: Array
    flow: Array
    off: float


def part(mesh: PipeMesh) -> Parted:
    """The steady flow in a mesh. Raises SolverError where the balance cannot be closed: where there is no way out."""
    throughput, is_free, standing = float(mesh.inflow.sum()), np.isnan(mesh.held), standing_in(mesh)
    if throughput <= 0:
        return Parted(standing, np.zeros(len(mesh.above)), 0.0)
    if is_free.all() and not (mesh.soaks[2] > 0).any():
        raise SolverError(tr("flow in the mesh of pipes"), np.inf)
    try:
        return _settled(mesh, is_free, throughput, guessed(mesh, standing), FIRST)
    except SolverError:  # seldom: slowly, from where nothing flows
        return _settled(mesh, is_free, throughput, standing, FIRST / GROWS**3)


def _settled(mesh: PipeMesh, is_free: NDArray[np.bool_], throughput: float, level: Array, step: float) -> Parted:
    flow = np.zeros(len(mesh.above))
    for _ in range(STEPS):
        found = _filled(mesh, is_free, level, step, throughput)
        if found is None:
            step /= GROWS**2
            continue
        level, flow = found
        off = float(np.abs((_open(mesh, flow) - soaked(mesh, level)[0])[is_free]).max())
        if off <= EXACT * (throughput + float(np.abs(flow).max())):  # nothing is stored any more
            return Parted(level, flow, off)
        step = min(step * GROWS, LAST)
    off = float(np.abs((_open(mesh, flow) - soaked(mesh, level)[0])[is_free]).max())
    if off <= ENOUGH * (throughput + float(np.abs(flow).max())):
        return Parted(level, flow, off)
    raise SolverError(tr("flow in the mesh of pipes"), off / throughput)


def standing_in(mesh: PipeMesh) -> Array:
    """The level at which water stands in each section when nothing comes in any more: at the lowest crest that it must go over to get out.

    From the ways out inwards, the lowest first (flooding by priority; Barnes et al. 2014). Where there is no way out, the section's own invert.
    """
    level = np.full(len(mesh.low), np.inf)
    beside: list[list[tuple[int, float]]] = [[] for _ in mesh.low]
    for above, below, crest in zip(mesh.above.tolist(), mesh.below.tolist(), np.maximum(mesh.invert_above, mesh.invert_below).tolist(), strict=True):
        beside[above].append((below, crest))
        beside[below].append((above, crest))
    waiting = [(max(float(mesh.held[k]), float(mesh.low[k])), k) for k in np.nonzero(~np.isnan(mesh.held))[0].tolist()]
    waiting += [(max(float(mesh.soaks[0, k]), float(mesh.low[k])), k) for k in np.nonzero(mesh.soaks[2] > 0)[0].tolist()]
    heapify(waiting)
    while waiting:
        here, section = heappop(waiting)
        if here < level[section]:
            level[section] = here
            for other, crest in beside[section]:
                if level[other] == np.inf:
                    heappush(waiting, (max(here, crest, float(mesh.low[other])), other))
    level = np.where(np.isinf(level), mesh.low, level)
    return np.where(np.isnan(mesh.held), level, np.maximum(mesh.held, mesh.low))  # what is held stands, also where lower water is near


def guessed(mesh: PipeMesh, standing: Array | None = None) -> Array:
    """About the level m at each section (s,): that of uniform flow where water parts evenly into all the ways that lead down."""
    standing = standing_in(mesh) if standing is None else standing
    level, comes = standing.tolist(), mesh.inflow.tolist()
    leading: list[list[tuple[int, float, float, float]]] = [[] for _ in level]
    for above, below, high, low, length, diameter, full in zip(*(column.tolist() for column in (
            mesh.above, mesh.below, mesh.invert_above, mesh.invert_below, mesh.length, mesh.diameter, mesh.full)), strict=True):  # fmt: skip
        top, end = (above, below) if high >= low else (below, above)
        leading[top].append((end, max(high, low), diameter, full * math.sqrt(max(abs(high - low) / length, FLAT))))
    for section in np.argsort(-mesh.low, kind="stable").tolist():
        ways = leading[section]
        for end, invert, diameter, carries in ways:
            part = max(comes[section], 0.0) / len(ways)
            level[section] = max(level[section], invert + diameter * min(0.65 * (part / carries) ** 0.48, 1.0))
            comes[end] += part
    return np.where(np.isnan(mesh.held), level, standing)


def _open(mesh: PipeMesh, flow: Array) -> Array:
    """What comes in and does not go out through reaches at each section, m³/s."""
    count = len(mesh.low)
    return np.asarray(mesh.inflow - np.bincount(mesh.above, flow, count) + np.bincount(mesh.below, flow, count))


def soaked(mesh: PipeMesh, level: Array) -> tuple[Array, Array]:
    """What soaks away at levels m (s,), m³/s, and its growth with the level, m²/s; over the first centimetre it comes on evenly."""
    since, at_once, more = mesh.soaks
    depth = np.maximum(level - since, 0.0)
    begins = np.minimum(depth / SOAKS_WITHIN, 1.0)
    return (at_once + more * depth) * begins, np.where(depth > 0, more * begins + np.where(begins < 1, (at_once + more * depth) / SOAKS_WITHIN, 0.0), 0.0)


def _filled(mesh: PipeMesh, is_free: NDArray[np.bool_], before: Array, step: float, throughput: float) -> tuple[Array, Array] | None:
    """Levels and flows a step s later; None where the step is too long.

    By Newton's method on levels and flows together, friction written as the square of the flow, which has no corner at rest (the gradient
    method of Todini and Pilati 1988, for pipes that may be part full).
    """
    level, stores, flow, crest = before, STORES / step, np.empty(0), np.maximum(mesh.invert_above, mesh.invert_below)
    for turn in range(TURNS):
        high, low = level[mesh.above], level[mesh.below]
        fall = np.maximum(high, mesh.invert_above) - np.maximum(low, mesh.invert_below)
        carries, growth = passed(np.maximum(high, low) - crest, mesh.diameter, mesh.full, mesh.kind)
        shut = (mesh.kind & ONE_WAY > 0) & (fall < 0)
        carries, growth = np.where(shut, 0.0, carries), np.where(shut, 0.0, growth)
        if turn == 0:
            flow = carries * np.sign(fall) * np.sqrt(np.abs(fall) / mesh.length)
            scale = throughput + np.abs(flow).max()
            least = LEAST * scale
        drag = 2 * mesh.length * np.maximum(np.abs(flow), least)
        pull, wider = carries**2, 2 * carries * growth * fall
        by_above = (np.where(high > mesh.invert_above, pull, 0.0) + np.where(high >= low, wider, 0.0)) / drag
        by_below = (np.where(low > mesh.invert_below, pull, 0.0) - np.where(high >= low, 0.0, wider)) / drag
        ahead = (pull * fall - mesh.length * flow * np.abs(flow)) / drag
        soaks, soaks_more = soaked(mesh, level)
        wanted = np.where(is_free, _open(mesh, flow + ahead) - soaks - stores * (level - before), 0.0)
        reach = np.maximum(REACH, level - mesh.low)
        try:
            change = np.clip(_turn(mesh, is_free, wanted, by_above, by_below, stores + soaks_more), -reach, reach)
        except np.linalg.LinAlgError:
            return None
        more = ahead + by_above * change[mesh.above] - by_below * change[mesh.below]
        level, flow = level + change, flow + more
        if np.abs(more).max() <= NEAR * scale and (np.abs(change) <= 1e-9 + 1e-12 * np.abs(level)).all():
            return level, flow
        if not np.isfinite(level).all():
            return None
    return None


def _turn(mesh: PipeMesh, is_free: NDArray[np.bool_], wanted: Array, by_above: Array, by_below: Array, stores: Array) -> Array:
    """The change of the levels by which what is wanted at each section comes to nought."""
    count = len(mesh.low)
    matrix = np.zeros((count, count))
    np.add.at(matrix, (mesh.above, mesh.above), by_above)
    np.add.at(matrix, (mesh.above, mesh.below), -by_below)
    np.add.at(matrix, (mesh.below, mesh.above), -by_above)
    np.add.at(matrix, (mesh.below, mesh.below), by_below)
    matrix[np.arange(count), np.arange(count)] += stores
    matrix[~is_free] = 0.0
    matrix[~is_free, ~is_free] = 1.0
    return np.asarray(np.linalg.solve(matrix, wanted))
