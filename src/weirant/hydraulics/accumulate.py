"""Steady flow added up along a network: what comes in above, run by run and piece by piece, and where it cannot be told."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass as slotted_dataclass  # noqa: TID251
from dataclasses import field

import numpy as np
from numpy.typing import NDArray

from weirant.ground.collecting import Collecting
from weirant.ground.network import LEVEL, LaidRun, Network
from weirant.job.doubt import Doubt
from weirant.records import dataclass

Array = NDArray[np.float64]
NOUGHT = 1e-6  # m of length that is none
WAYS, EITHER_WAY = Doubt("ways"), Doubt("either-way")  # water has several ways down; or lies level


@dataclass(frozen=True)
class Seep:
    """What comes from the ground into a part of what collects of a run: m²/s; ``missing`` says what must be measured before it is known."""

    of: Collecting
    rate: float
    missing: Doubt | None = None


@dataclass(frozen=True)
class Inflow:
    """What comes into one run from the ground: m²/s all along what collects, and by spans; ``missing`` as above."""

    spread: float = 0.0
    missing: Doubt | None = None
    seeps: tuple[Seep, ...] = ()


NOTHING = Inflow()


@dataclass(frozen=True)
class Drop:
    """What comes in at a node from elsewhere: m³/s; ``missing`` as above."""

    discharge: float = 0.0
    missing: Doubt | None = None

    def __add__(self, other: Drop) -> Drop:
        """Both at one node; the first reason stands where something is not known."""
        return Drop(self.discharge + other.discharge, self.missing or other.missing)


@dataclass(frozen=True, eq=False)
class Carried:
    """Flow into the top of each piece of a run, m³/s, shape (k,), from the low end up.

    ``missing`` (first reason that something upstream is not known: the flow is at least this) and ``shared`` (why the way the water takes is
    not decided: the flow is at most this) are None where the flow is known.
    """

    tops: Array
    missing: tuple[Doubt | None, ...]
    shared: tuple[Doubt | None, ...]


@slotted_dataclass(slots=True)  # not frozen: made by the thousand, and a frozen one takes three times as long
class Steady:
    """A flow m³/s; at least this where something upstream is ``missing``, at most this where its way is ``shared``. Never changed once made."""

    discharge: float = 0.0
    missing: Doubt | None = None
    shared: Doubt | None = None

    def __add__(self, other: Steady) -> Steady:
        return Steady(self.discharge + other.discharge, self.missing or other.missing, self.shared or other.shared)


Piece = tuple[str, int]


@dataclass(frozen=True, eq=False)
class Sums:
    """What the flows were added up from, so that the next adding up follows only what differs: what was given, what each piece takes in and what
    comes into its top, what passes each pool.
    """

    network: Network
    ways: Ways
    drops: Mapping[str, Drop]
    inflows: Mapping[str, Inflow]
    gained: dict[Piece, Steady]
    tops: dict[Piece, Steady]
    passed: dict[int, Steady]


@dataclass(frozen=True, eq=False)
class Accumulated:
    """Flow of every run; by node what passes it, and what leaves the network at each of its ends; ``levels`` m at the nodes where water had several
    ways and what each takes was settled.
    """

    runs: Mapping[str, Carried]
    nodes: Mapping[str, Steady]
    exits: Mapping[str, Steady]
    sums: Sums = field(repr=False)
    levels: Mapping[str, float] = field(default_factory=dict)

    def discharge(self, run: LaidRun, inflow: Inflow, stations: Array) -> Array:
        """Flow m³/s at stations, shape (n,); at a joint what flows on below it."""
        carried, ends = self.runs[run.id], run.node_stations
        piece = np.clip(np.searchsorted(ends, stations - 1e-9, side="left") - 1, 0, len(ends) - 2)
        found = np.array(carried.tops[piece])
        along = [(inflow.spread, run.collecting_above(stations), run.collecting_above_nodes)] if inflow.spread else []
        for rate, here, at_nodes in (*along, *((s.rate, s.of.above(stations), s.of.above_nodes) for s in inflow.seeps if s.rate)):
            collects = here - at_nodes[1:][piece]
            found += rate * np.where(collects > NOUGHT, collects, 0.0)
        return found

    def doubt(self, run: LaidRun) -> tuple[Doubt | None, Doubt | None]:
        """Why the flow of a run is not known for sure: what is missing, and where its way is not decided; both None where it is known."""
        carried = self.runs[run.id]
        return next((m for m in carried.missing if m), None), next((s for s in carried.shared if s), None)


@dataclass(frozen=True, eq=False)
class Ways:
    """How water can go through a network: pools (nodes that hang together level or go round) by number, the pieces that lead out of each, come down
    into it and lie within it, in the order in which they can be added up.
    """

    pools: Mapping[str, int]
    names: Mapping[int, str]
    order: tuple[int, ...]
    out: Mapping[int, tuple[Piece, ...]]
    within: Mapping[int, tuple[Piece, ...]]
    arriving: Mapping[int, tuple[Piece, ...]]
    ends: Mapping[Piece, tuple[int, int]]  # the pools at the low and the high end of a piece


def ways_of(network: Network) -> Ways:
    """Work out the ways of a network; linear in pieces and nodes."""
    pools = _pools(network)
    waiting: dict[int, int] = defaultdict(int)  # pieces that still have to come down into a pool
    out: dict[int, list[Piece]] = defaultdict(list)
    within: dict[int, list[Piece]] = defaultdict(list)
    ends: dict[Piece, tuple[int, int]] = {}
    for run in network.runs:
        for index in range(len(run.nodes) - 1):
            low, high = pools[run.nodes[index][0].id], pools[run.nodes[index + 1][0].id]
            ends[run.id, index] = low, high
            if low == high:
                within[low].append((run.id, index))
            else:
                waiting[low] += 1
                out[high].append((run.id, index))
    order, ready, arriving = [], sorted({pool for pool in pools.values() if not waiting[pool]}), defaultdict(list)
    while ready:
        pool = ready.pop()
        order.append(pool)
        for piece in out[pool]:
            low, _ = ends[piece]
            arriving[low].append(piece)
            waiting[low] -= 1
            if not waiting[low]:
                ready.append(low)
    leading, lying, coming = ({pool: tuple(pieces) for pool, pieces in found.items()} for found in (out, within, arriving))
    return Ways(pools, _names(pools, network), tuple(order), leading, lying, coming, ends)


def accumulate(network: Network, inflows: Mapping[str, Inflow], drops: Mapping[str, Drop], ways: Ways | None = None, before: Accumulated | None = None) -> Accumulated:
    """Add the steady flow up from the tops down. Linear in pieces and nodes; ``ways`` are those of the network where they are known. Of what was
    added up ``before`` along the same ways only what lies below another inflow is added up again; the rest is the very same.

    Water goes down each piece. Where level pieces hang together, or pieces go round in a circle, or a node has several ways down, each way is
    given all of it, which is the most it can carry, and is marked as shared. A known flow is exact: the sum of everything upstream.
    """
    ways = ways or ways_of(network)
    last = before.sums if before is not None and before.sums.ways is ways and before.sums.drops == drops else None
    changed = [run for run in network.runs
               if last is None or last.network.run(run.id) is not run or last.inflows.get(run.id, NOTHING) != inflows.get(run.id, NOTHING)]  # fmt: skip
    gained, tops, passed = ({}, {}, {}) if last is None else (dict(last.gained), dict(last.tops), dict(last.passed))
    stirred = set(ways.order) if last is None else set()  # pools that are looked at again
    for run in changed:
        for index, gain in enumerate(_gains(run, inflows.get(run.id, NOTHING))):
            gained[run.id, index] = gain
            stirred |= {*ways.ends[run.id, index]}
    dropped: dict[int, list[Steady]] = defaultdict(list)
    for node, drop in drops.items():
        if node in ways.pools:
            dropped[ways.pools[node]].append(Steady(drop.discharge, drop.missing))
    touched = {run.id for run in changed}
    for pool in ways.order:
        if pool not in stirred:
            continue
        within, down = ways.within.get(pool, ()), ways.out.get(pool, ())
        here = sum((*dropped.get(pool, ()), *(gained[piece] for piece in within), *(passed[ways.ends[piece][1]] + gained[piece] for piece in ways.arriving.get(pool, ()))), Steady())
        if len(down) > 1 and (here.discharge > 0 or here.missing):
            here += Steady(shared=WAYS)
        passed[pool] = here
        for piece in within:
            tops[piece] = Steady(0.0, gained[piece].missing, EITHER_WAY) + here
        for piece in down:
            tops[piece] = here if here.missing or not gained[piece].missing else here + Steady(0.0, gained[piece].missing)
            stirred.add(ways.ends[piece][0])
        touched |= {run for run, _ in (*within, *down)}
    runs = {run.id: carried_by(run, tops) if run.id in touched or before is None else before.runs[run.id] for run in network.runs}
    ends = {ways.names[pool]: passed[pool] for pool in ways.order if not ways.out.get(pool)}
    return Accumulated(runs, {node: passed[pool] for node, pool in ways.pools.items()}, ends, Sums(network, ways, drops, inflows, gained, tops, passed))


def carried_by(run: LaidRun, found: Mapping[Piece, Steady]) -> Carried:
    """What a run carries, of the flow into the top of each piece of the network."""
    water = [found[run.id, i] for i in range(len(run.nodes) - 1)]
    return Carried(np.array([w.discharge for w in water]), tuple(w.missing for w in water), tuple(w.shared for w in water))


def _gains(run: LaidRun, inflow: Inflow) -> list[Steady]:
    """What each piece of a run takes in from the ground."""
    gained, missing = [inflow.spread * length for length in run.collecting_pieces], [inflow.missing if length > LEVEL else None for length in run.collecting_pieces]
    for seep in inflow.seeps:
        for index, length in enumerate(seep.of.pieces):
            gained[index] += seep.rate * length
            if seep.missing and length > LEVEL:
                missing[index] = missing[index] or seep.missing
    return [Steady(*found) for found in zip(gained, missing, strict=True)]


def _pools(network: Network) -> dict[str, int]:
    """A number for every node; nodes joined by level pieces, or by pieces that go round, have one number."""
    falls: dict[str, list[str]] = {node: [] for node in network.at_node}
    back: dict[str, list[str]] = {node: [] for node in network.at_node}
    for run in network.runs:
        for (low, _), (high, _), fall in zip(run.nodes, run.nodes[1:], run.falls, strict=False):
            pairs = [(high.id, low.id)] if fall > LEVEL else [(high.id, low.id), (low.id, high.id)]
            for a, b in pairs:
                falls[a].append(b)
                back[b].append(a)
    return _strong(falls, back)


def _strong(ahead: Mapping[str, list[str]], back: Mapping[str, list[str]]) -> dict[str, int]:
    """Numbers of the strongly connected parts (Kosaraju's two walks, without recursion). Source: any textbook of algorithms."""
    order: list[str] = []
    seen: set[str] = set()
    for start in ahead:
        stack = [(start, iter(ahead[start]))] if start not in seen else []
        seen.add(start)
        while stack:
            node, following = stack[-1]
            after = next((n for n in following if n not in seen), None)
            if after is None:
                order.append(node)
                stack.pop()
            else:
                seen.add(after)
                stack.append((after, iter(ahead[after])))
    number: dict[str, int] = {}
    for count, start in enumerate(reversed(order)):
        if start in number:
            continue
        walk = [start]
        while walk:
            node = walk.pop()
            if node not in number:
                number[node] = count
                walk += [n for n in back[node] if n not in number]
    return number


def _names(pools: Mapping[str, int], network: Network) -> dict[int, str]:
    """The node by which each pool is called: its outlet, else its first."""
    outlets = {node.id for run in network.runs for node, _ in run.nodes if node.outlet is not None}
    return {pool: node for node, pool in sorted(pools.items(), key=lambda item: item[0] in outlets)}
