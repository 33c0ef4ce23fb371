"""A part of a network drawn as a mesh of sections: its pieces cut into reaches, what comes in where, and the levels that are held."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import field
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from weirant.ground.inverts import invert_at
from weirant.ground.network import LaidRun, Network
from weirant.ground.stretches import LaidStretch, at
from weirant.hydraulics.accumulate import NOTHING, Accumulated, Drop, Inflow, Piece
from weirant.hydraulics.kernel.kinds import ONE_WAY, OPENING, PIPE
from weirant.hydraulics.losses import adaptor, as_length, losses_along
from weirant.hydraulics.outlet_relation import OutletRelation, Passage
from weirant.hydraulics.parting import PipeMesh
from weirant.hydraulics.pipes_along import full_conveyance
from weirant.job.network import Node
from weirant.methods.pipe_flow import pipe_full_flow
from weirant.records import dataclass

Array = NDArray[np.float64]
FEWEST, MOST, LONGEST = 3, 8, 15.0  # reaches of a piece at the least and at the most, and m of a reach at the most between them


@dataclass(frozen=True, eq=False)
class Undecided:
    """What a network is settled on: what was added up, what comes in along runs and at nodes, what runs are made of, and by ``outlet`` how
    water gets out at a node (None: it falls free). With nodes that are ``plugged`` no water gets out there, and every piece that hangs
    together with one of them is settled anew. Where it ``fills``, in a storm, pits
    that soak take no more than they can; else what comes.
    """

    network: Network
    total: Accumulated
    inflows: Mapping[str, Inflow]
    drops: Mapping[str, Drop]
    stretches: Mapping[str, Sequence[LaidStretch]]
    outlet: Callable[[str], OutletRelation | None]
    plugged: frozenset[str] = frozenset()
    fills: bool = False


def ends_of(network: Network, piece: Piece) -> tuple[str, str]:
    """The nodes at the low and the high end of a piece, by identity."""
    nodes = network.run(piece[0]).nodes
    return nodes[piece[1]][0].id, nodes[piece[1] + 1][0].id


class MeshReach(NamedTuple):
    """Where a reach of a mesh lies: its run, from a lower to a higher station m of it, within a stretch, and the sections at its low and its high end."""

    run: LaidRun
    stretch: LaidStretch
    low: float
    high: float
    below: int
    above: int


@dataclass(eq=False)
class MeshSketch:
    """A mesh as it is drawn, piece by piece."""

    given: Undecided
    low: list[float] = field(default_factory=list)
    inflow: list[float] = field(default_factory=list)
    numbers: dict[str, int] = field(default_factory=dict)
    rows: list[tuple[float, ...]] = field(default_factory=list)
    reaches: list[MeshReach] = field(default_factory=list)
    tops: dict[Piece, int] = field(default_factory=dict)  # the highest reach of each piece
    half: dict[Piece, float] = field(default_factory=dict)  # what comes into the upper half of it, m³/s
    outside: dict[str, float] = field(default_factory=dict)  # what comes to each node from elsewhere, m³/s
    beyond: list[tuple[float, ...]] = field(default_factory=list)  # rows of what is no reach of a run: openings, mains
    outs: dict[str, int] = field(default_factory=dict)  # the section at which water is gone that leaves at a node

    def draw(self, piece: Piece) -> None:
        """Add the reaches of a piece, from its low end up."""
        run = self.given.network.run(piece[0])
        stretches, inflow = self.given.stretches[run.id], self.given.inflows.get(run.id, NOTHING)
        (low, a), (high, b) = run.nodes[piece[1]], run.nodes[piece[1] + 1]
        stations = _sections(run, stretches, a, b)
        inverts = invert_at(run, stations).tolist()
        ends = [self._node(low.id, inverts[0]), *(self._section(level) for level in inverts[1:-1]), self._node(high.id, inverts[-1])]
        gains, lost = _gains(run, inflow, stations), losses_along(self.given.network, run)[piece[1]]
        for k, gain in enumerate(gains):
            stretch, low_end, high_end = at(stretches, float(stations[k] + stations[k + 1]) / 2), float(stations[k]), float(stations[k + 1])
            pipe = stretch.make.pipe
            full = full_conveyance(pipe)
            # what is lost at its low end, as so much more pipe
            more = as_length(lost if k == 0 else adaptor(pipe.inner_diameter, self.reaches[-1].stretch.make.pipe.inner_diameter), pipe, full)
            self.rows.append((ends[k + 1], ends[k], inverts[k + 1], inverts[k], high_end - low_end + more, pipe.inner_diameter, full * run.run.pipes))
            self.reaches.append(MeshReach(run, stretch, low_end, high_end, ends[k], ends[k + 1]))
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
        held, soaks, within = dict[int, float](), dict[int, tuple[float, float, float]](), set(pieces)
        for node, number in self.numbers.items():
            self.outside[node] = _comes_to(self.given, node, within)
            self.inflow[number] += self.outside[node]
            if self._gets_out(node):
                self._let_out(node, number, held, soaks)
        above, below, invert_above, invert_below, length, diameter, full, kind = (np.array(column) for column in zip(*((*row, PIPE) for row in self.rows), *self.beyond, strict=True))
        levels, soaking = np.full(len(self.low), np.nan), np.zeros((3, len(self.low)))
        for number, level in held.items():
            levels[number] = level
        for number, figures in soaks.items():
            soaking[:, number] = figures
        return PipeMesh(np.array(self.low), np.array(self.inflow), levels, above.astype(np.intp), below.astype(np.intp), invert_above, invert_below, length, diameter, full,
                        kind.astype(np.intp), soaking)  # fmt: skip

    def bowl(self, node: str, level: float, passage: Passage | None) -> int:
        """Add a bowl at a level m round the grate over a node, with the passage into it (None: it is plugged); the number of its section."""
        bowl = self._section(level)
        if passage is not None:
            self.join(bowl, self.numbers[node], level, passage)
        return bowl

    def join(self, above: int, below: int, crest: float, passage: Passage) -> None:
        """Join two sections by a passage over a level m, through which water goes either way."""
        self.beyond.append((above, below, crest, crest, 1.0, passage.deep, passage.full, OPENING))

    def node(self, identity: str) -> Node:
        """The node of an identity."""
        network = self.given.network
        return next(n for joint in network.at_node[identity] for n, _ in network.run(joint.run).nodes if n.id == identity)

    def _let_out(self, node: str, number: int, held: dict[int, float], soaks: dict[int, tuple[float, float, float]]) -> None:
        """Let water out at a node: hold the level there, or at a section beyond what it must go through; or let it soak away."""
        way = self.given.outlet(node)
        self.outs[node] = number
        if way is None or (way.passage is None and way.main is None and (way.soaks is None or not self.given.fills)):
            held[number] = self.low[number] if way is None or way.stands is None else way.stands
            return
        if way.soaks is not None:
            self.low[number] = min(self.low[number], way.soaks.floor)
            soaks[number] = way.soaks.since, way.soaks.at_once, way.soaks.more
        if way.passage is not None:
            stands = way.crest if way.stands is None else way.stands
            self.outs[node] = beyond = self._section(min(way.crest, stands))
            held[beyond] = stands
            self.beyond.append((number, beyond, way.crest, way.crest, 1.0, way.passage.deep, way.passage.full, OPENING | (ONE_WAY if way.is_one_way else 0)))
        if way.main is not None:
            main = way.main
            self.low[number] = min(self.low[number], main.invert)
            self.outs[node] = beyond = self._section(main.invert - main.length * main.slope)
            held[beyond] = self.low[beyond] + min(main.level(0.0) - main.invert, main.across)
            self.inflow[number] += main.own
            full = float(pipe_full_flow(main.across, main.roughness, 1.0).discharge)
            self.beyond.append((number, beyond, main.invert, self.low[beyond], main.length, main.across, full, PIPE))

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


def _comes_to(given: Undecided, node: str, within: set[Piece]) -> float:
    """What comes in at a node from elsewhere and from the pieces whose flow is decided, m³/s."""
    sums, comes = given.total.sums, given.drops.get(node, Drop()).discharge
    for joint in given.network.at_node[node]:
        run = given.network.run(joint.run)
        index = next(i for i, (at_it, _) in enumerate(run.nodes) if at_it.id == node)
        if index < len(run.nodes) - 1 and (run.id, index) not in within:
            comes += sums.tops[run.id, index].discharge + sums.gained[run.id, index].discharge
    return comes
