"""Settles what each way takes where water has several, or lies level: the parts of a network that adding up leaves undecided, as meshes of sections."""

from __future__ import annotations

import dataclasses
from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from weirant.errors import SolverError
from weirant.ground.inverts import invert_at
from weirant.ground.network import LaidRun, Network
from weirant.ground.stretches import LaidStretch, at
from weirant.hydraulics.accumulate import NOTHING, Accumulated, Drop, Inflow, Piece, Steady, Sums, carried_by
from weirant.hydraulics.parting import Parted, PipeMesh, part
from weirant.hydraulics.run_flow import full_conveyance

Array = NDArray[np.float64]
FEWEST, MOST, LONGEST = 3, 8, 15.0  # reaches of a piece at the least and at the most, and m of a reach at the most between them


@dataclass(frozen=True, eq=False)
class Undecided:
    """What a network is settled on: what was added up, what comes in along runs and at nodes, what runs are made of, and by ``held`` the level m that
    stands in what a node's outlet leads into (None: it falls free). With nodes that are ``plugged`` no water gets out there, and every piece that hangs
    together with one of them is settled anew.
    """

    network: Network
    total: Accumulated
    inflows: Mapping[str, Inflow]
    drops: Mapping[str, Drop]
    stretches: Mapping[str, Sequence[LaidStretch]]
    held: Callable[[str], float | None]
    plugged: frozenset[str] = frozenset()


def settled(given: Undecided, solve: Callable[[PipeMesh, Piece], Parted] = lambda mesh, _: part(mesh)) -> Accumulated:
    """The flows with what was undecided settled, and the level at each node of it; as they were where something that comes in there is not known,
    or where no balance is found. ``solve``, given a mesh and a piece of it, may keep what it found.
    """
    total = given.total
    tops, gained = dict(total.sums.tops), total.sums.gained
    nodes, exits, levels, touched = dict(total.nodes), dict(total.exits), dict[str, float](), set[str]()
    undecided = {piece for piece, top in tops.items() if top.shared}
    asked = list(tops) if given.plugged else _with_ways_down(total.sums, undecided)
    for pieces in _parts(given.network, asked):
        is_plugged = not given.plugged.isdisjoint(node for piece in pieces for node in _ends(given.network, piece))
        if not is_plugged and undecided.isdisjoint(pieces):
            continue
        if any(tops[piece].missing or gained[piece].missing for piece in pieces):
            continue
        sketch = _MeshSketch(given)
        for piece in pieces:
            sketch.draw(piece)
        mesh = sketch.mesh(pieces)
        try:
            found = solve(mesh, pieces[0])
        except SolverError:
            continue
        tops |= {piece: Steady(float(found.flow[top]) - sketch.half[piece]) for piece, top in sketch.tops.items() if is_plugged or piece in undecided}
        comes, goes = _at_nodes(given, sketch.outside, pieces, tops)
        for node, number in sketch.numbers.items():
            levels[node], nodes[node] = float(found.level[number]), Steady(comes[node])
            exits.pop(node, None)
            if not np.isnan(mesh.held[number]):
                exits[node] = Steady(comes[node] - goes[node])
        touched |= {run for run, _ in pieces}
    if not touched:
        return total
    runs = {run.id: carried_by(run, tops) if run.id in touched else total.runs[run.id] for run in given.network.runs}
    return dataclasses.replace(total, runs=runs, nodes=nodes, exits=exits, levels=levels)


def _with_ways_down(sums: Sums, undecided: set[Piece]) -> list[Piece]:
    """Pieces with all that lead on from them to where water gets out: the level there is what parts it above."""
    ways, found = sums.ways, dict.fromkeys(undecided)
    pools = {pool for piece in undecided for pool in ways.ends[piece]}
    waiting = list(pools)
    while waiting:
        for piece in ways.out.get(waiting.pop(), ()):
            found[piece] = None
            low, _ = ways.ends[piece]
            if low not in pools:
                pools.add(low)
                waiting.append(low)
    return [piece for piece in sums.tops if piece in found]


def _parts(network: Network, pieces: Sequence[Piece]) -> list[list[Piece]]:
    """Pieces that hang together, in the order of the job."""
    group: dict[str, int] = {}
    found: dict[int, list[Piece]] = {}
    for number, piece in enumerate(pieces):
        low, high = _ends(network, piece)
        joined = [found.pop(old) for old in {group[node] for node in (low, high) if node in group}]
        found[number] = [*(other for others in joined for other in others), piece]
        for other in found[number]:
            group.update(dict.fromkeys(_ends(network, other), number))
    return list(found.values())


def _ends(network: Network, piece: Piece) -> tuple[str, str]:
    nodes = network.run(piece[0]).nodes
    return nodes[piece[1]][0].id, nodes[piece[1] + 1][0].id


def _comes_to(given: Undecided, node: str, within: set[Piece]) -> float:
    """What comes in at a node from elsewhere and from the pieces whose flow is decided, m³/s."""
    sums, comes = given.total.sums, given.drops.get(node, Drop()).discharge
    for joint in given.network.at_node[node]:
        run = given.network.run(joint.run)
        index = next(i for i, (at_it, _) in enumerate(run.nodes) if at_it.id == node)
        if index < len(run.nodes) - 1 and (run.id, index) not in within:
            comes += sums.tops[run.id, index].discharge + sums.gained[run.id, index].discharge
    return comes


def _at_nodes(given: Undecided, outside: Mapping[str, float], pieces: Sequence[Piece], tops: Mapping[Piece, Steady]) -> tuple[dict[str, float], dict[str, float]]:
    """What comes to each node of some pieces, from ``outside`` and in them, and what goes on from it in them, m³/s."""
    comes, goes = dict(outside), defaultdict[str, float](float)
    for piece in pieces:
        (low, high), top = _ends(given.network, piece), tops[piece].discharge
        bottom = top + given.total.sums.gained[piece].discharge
        for node, leaves in ((high, top), (low, -bottom)):
            comes[node] -= min(leaves, 0.0)
            goes[node] += max(leaves, 0.0)
    return comes, goes


@dataclass(eq=False)
class _MeshSketch:
    """A mesh as it is drawn, piece by piece."""

    given: Undecided
    low: list[float] = field(default_factory=list)
    inflow: list[float] = field(default_factory=list)
    numbers: dict[str, int] = field(default_factory=dict)
    rows: list[tuple[float, ...]] = field(default_factory=list)
    tops: dict[Piece, int] = field(default_factory=dict)  # the highest reach of each piece
    half: dict[Piece, float] = field(default_factory=dict)  # what comes into the upper half of it, m³/s
    outside: dict[str, float] = field(default_factory=dict)  # what comes to each node from elsewhere, m³/s

    def draw(self, piece: Piece) -> None:
        """Add the reaches of a piece, from its low end up."""
        run = self.given.network.run(piece[0])
        stretches, inflow = self.given.stretches[run.id], self.given.inflows.get(run.id, NOTHING)
        (low, a), (high, b) = run.nodes[piece[1]], run.nodes[piece[1] + 1]
        stations = _sections(run, stretches, a, b)
        inverts = invert_at(run, stations).tolist()
        ends = [self._node(low.id, inverts[0]), *(self._section(level) for level in inverts[1:-1]), self._node(high.id, inverts[-1])]
        gains = _gains(run, inflow, stations)
        for k, gain in enumerate(gains):
            pipe = at(stretches, float(stations[k] + stations[k + 1]) / 2).make.pipe
            full = full_conveyance(pipe) * run.run.pipes
            self.rows.append((ends[k + 1], ends[k], inverts[k + 1], inverts[k], float(stations[k + 1] - stations[k]), pipe.inner_diameter, full))
            self.inflow[ends[k]] += gain / 2
            self.inflow[ends[k + 1]] += gain / 2
        self.tops[piece], self.half[piece] = len(self.rows) - 1, gains[-1] / 2

    def _node(self, node: str, level: float) -> int:
        if node not in self.numbers:
            self.numbers[node] = self._section(level)
        number = self.numbers[node]
        self.low[number] = min(self.low[number], level)
        return number

    def _section(self, level: float) -> int:
        self.low.append(level)
        self.inflow.append(0.0)
        return len(self.low) - 1

    def mesh(self, pieces: Sequence[Piece]) -> PipeMesh:
        """What was drawn, with what comes in at its nodes, held where water gets out."""
        held, within = np.full(len(self.low), np.nan), set(pieces)
        for node, number in self.numbers.items():
            self.outside[node] = _comes_to(self.given, node, within)
            self.inflow[number] += self.outside[node]
            if self._gets_out(node):
                stands = self.given.held(node)
                held[number] = self.low[number] if stands is None else stands
        above, below, *rest = (np.array(column) for column in zip(*self.rows, strict=True))
        return PipeMesh(np.array(self.low), np.array(self.inflow), held, above.astype(np.intp), below.astype(np.intp), *rest)

    def _gets_out(self, node: str) -> bool:
        """Whether there is an outlet, or the end of all ways."""
        if node in self.given.plugged:
            return False
        return node in self.given.total.exits or any(other.outlet is not None for joint in self.given.network.at_node[node]
                                                     for other, _ in self.given.network.run(joint.run).nodes if other.id == node)  # fmt: skip


def _sections(run: LaidRun, stretches: Sequence[LaidStretch], low: float, high: float) -> Array:
    """Stations m at which a piece is parted: evenly, and where its grade or its pipe changes."""
    even = np.linspace(low, high, int(np.clip(np.ceil((high - low) / LONGEST), FEWEST, MOST)) + 1)
    between = [s for s in (*run.grade[0], *(stretch.low for stretch in stretches)) if low + 0.01 < s < high - 0.01]
    return np.unique(np.round([*even, *between], 6)) if between else even


def _gains(run: LaidRun, inflow: Inflow, stations: Array) -> list[float]:
    """What comes from the ground between neighbouring stations, m³/s."""
    gains = -inflow.spread * np.diff(run.collecting_above(stations))
    for seep in inflow.seeps:
        gains = gains - seep.rate * np.diff(seep.of.above(stations))
    return gains.tolist()  # type: ignore[no-any-return]
