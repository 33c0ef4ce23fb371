"""Steady flow added up along a network: what comes in above, run by run and piece by piece, and where it cannot be told."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from weirant.ground.inverts import invert_at
from weirant.ground.network import LaidRun, Network

Array = NDArray[np.float64]
LEVEL = 1e-9  # m of fall between neighbouring nodes that is none
NOUGHT = 1e-6  # m of length that is none


@dataclass(frozen=True)
class Inflow:
    """What comes into one run from the ground: m²/s per metre that collects; ``missing`` says what must be measured before it is known."""

    spread: float = 0.0
    missing: str = ""


@dataclass(frozen=True)
class Drop:
    """What comes in at a node from elsewhere: m³/s; ``missing`` as above."""

    discharge: float = 0.0
    missing: str = ""


@dataclass(frozen=True, eq=False)
class Carried:
    """Flow into the top of each piece of a run, m³/s, shape (k,), from the low end up.

    ``missing`` (first reason that something upstream is not known: the flow is at least this) and ``shared`` (why the way the water takes is
    not decided: the flow is at most this) are empty where the flow is known.
    """

    tops: Array
    missing: tuple[str, ...]
    shared: tuple[str, ...]


@dataclass(frozen=True)
class Steady:
    """A flow m³/s; at least this where something upstream is ``missing``, at most this where its way is ``shared``."""

    discharge: float = 0.0
    missing: str = ""
    shared: str = ""

    def __add__(self, other: Steady) -> Steady:
        return Steady(self.discharge + other.discharge, self.missing or other.missing, self.shared or other.shared)


Piece = tuple[str, int]


@dataclass(frozen=True, eq=False)
class Accumulated:
    """Flow of every run, and what leaves the network at each of its ends, by node."""

    runs: Mapping[str, Carried]
    exits: Mapping[str, Steady]

    def discharge(self, run: LaidRun, spread: float, stations: Array) -> Array:
        """Flow m³/s at stations, shape (n,); at a joint what flows on below it."""
        carried, ends = self.runs[run.id], np.array([s for _, s in run.nodes])
        piece = np.clip(np.searchsorted(ends, stations - 1e-9, side="left") - 1, 0, len(ends) - 2)
        above = run.collecting_above(ends)[1:]
        collects = run.collecting_above(stations) - above[piece]
        return np.asarray(carried.tops[piece] + spread * np.where(collects > NOUGHT, collects, 0.0))

    def doubt(self, run: LaidRun) -> tuple[str, str]:
        """Why the flow of a run is not known for sure: what is missing, and where its way is not decided; both empty where it is known."""
        carried = self.runs[run.id]
        return next((m for m in carried.missing if m), ""), next((s for s in carried.shared if s), "")


def accumulate(network: Network, inflows: Mapping[str, Inflow], drops: Mapping[str, Drop]) -> Accumulated:
    """Add the steady flow up from the tops down. Linear in pieces and nodes.

    Water goes down each piece. Where level pieces hang together, or pieces go round in a circle, or a node has several ways down, each way is
    given all of it, which is the most it can carry, and is marked as shared. A known flow is exact: the sum of everything upstream.
    """
    pools = _pools(network)
    waiting: dict[int, int] = defaultdict(int)  # pieces that still have to come down into a pool
    ways: dict[int, list[Piece]] = defaultdict(list)
    ends: dict[Piece, tuple[int, int]] = {}
    within: dict[int, list[Piece]] = defaultdict(list)
    for run in network.runs:
        for index in range(len(run.nodes) - 1):
            low, high = pools[run.nodes[index][0].id], pools[run.nodes[index + 1][0].id]
            ends[run.id, index] = low, high
            if low == high:
                within[low].append((run.id, index))
            else:
                waiting[low] += 1
                ways[high].append((run.id, index))
    water: dict[int, Steady] = defaultdict(Steady)
    for node, drop in drops.items():
        if node in pools:
            water[pools[node]] += Steady(drop.discharge, drop.missing)
    gained = {piece: _gain(network.run(piece[0]), piece[1], inflows.get(piece[0], Inflow())) for piece in ends}
    for pool, pieces in within.items():
        for piece in pieces:
            water[pool] += gained[piece]
    found: dict[Piece, Steady] = {}
    names = _names(pools, network)
    exits: dict[str, Steady] = {}
    ready = sorted({pool for pool in pools.values() if not waiting[pool]})
    while ready:
        pool = ready.pop()
        here, down = water[pool], ways[pool]
        if len(down) > 1 and (here.discharge > 0 or here.missing):
            here += Steady(shared="water has more than one way down here")
        for piece in within[pool]:
            found[piece] = Steady(0.0, gained[piece].missing, "it lies level, so water may flow either way") + here
        for piece in down:
            found[piece] = here + Steady(0.0, gained[piece].missing)
            low = ends[piece][0]
            water[low] += here + gained[piece]
            waiting[low] -= 1
            if not waiting[low]:
                ready.append(low)
        if not down:
            exits[names[pool]] = here
    runs = {run.id: _carried(run, found) for run in network.runs}
    return Accumulated(runs, exits)


def _carried(run: LaidRun, found: Mapping[Piece, Steady]) -> Carried:
    water = [found[run.id, i] for i in range(len(run.nodes) - 1)]
    return Carried(np.array([w.discharge for w in water]), tuple(w.missing for w in water), tuple(w.shared for w in water))


def _gain(run: LaidRun, index: int, inflow: Inflow) -> Steady:
    """What a piece takes in from the ground."""
    low, high = run.nodes[index][1], run.nodes[index + 1][1]
    lengths = run.collecting_above(np.array([low, high]))
    collects = float(lengths[0] - lengths[1])
    return Steady(inflow.spread * collects, inflow.missing if collects > LEVEL else "")


def _pools(network: Network) -> dict[str, int]:
    """A number for every node; nodes joined by level pieces, or by pieces that go round, have one number."""
    falls: dict[str, list[str]] = {node: [] for node in network.at_node}
    back: dict[str, list[str]] = {node: [] for node in network.at_node}
    for run in network.runs:
        levels = invert_at(run, np.array([s for _, s in run.nodes]))
        for (low, _), (high, _), fall in zip(run.nodes, run.nodes[1:], np.diff(levels).tolist(), strict=False):
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
