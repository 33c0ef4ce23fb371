"""Settles what each way takes where water has several, or lies level: the parts of a network that adding up leaves undecided, as meshes of sections."""

from __future__ import annotations

import dataclasses
from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from weirant.errors import SolverError
from weirant.ground.network import Network
from weirant.hydraulics.accumulate import Accumulated, Piece, Steady, Sums, carried_by
from weirant.hydraulics.mesh_sketch import MeshSketch, Undecided, ends_of
from weirant.hydraulics.parting import Parted, PipeMesh, part

Array = NDArray[np.float64]
FEWEST, MOST, LONGEST = 3, 8, 15.0  # reaches of a piece at the least and at the most, and m of a reach at the most between them


def settled(given: Undecided, solve: Callable[[PipeMesh, Piece], Parted] = lambda mesh, _: part(mesh)) -> Accumulated:
    """The flows with what was undecided settled, and the level at each node of it; as they were where something that comes in there is not known,
    or where no balance is found. ``solve``, given a mesh and a piece of it, may keep what it found.
    """
    total = given.total
    tops, gained = dict(total.sums.tops), total.sums.gained
    nodes, exits, levels, touched = dict(total.nodes), dict(total.exits), dict[str, float](), set[str]()
    undecided = {piece for piece, top in tops.items() if top.shared}
    asked = list(tops) if given.plugged else _with_ways_down(total.sums, undecided)
    for pieces in hanging_together(given.network, asked):
        is_plugged = not given.plugged.isdisjoint(node for piece in pieces for node in ends_of(given.network, piece))
        if not is_plugged and undecided.isdisjoint(pieces):
            continue
        if any(tops[piece].missing or gained[piece].missing for piece in pieces):
            continue
        sketch = MeshSketch(given)
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
            if node in sketch.outs:
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


def hanging_together(network: Network, pieces: Sequence[Piece]) -> list[list[Piece]]:
    """The parts of a network: pieces that hang together, in the order of the job."""
    group: dict[str, int] = {}
    found: dict[int, list[Piece]] = {}
    for number, piece in enumerate(pieces):
        low, high = ends_of(network, piece)
        joined = [found.pop(old) for old in {group[node] for node in (low, high) if node in group}]
        found[number] = [*(other for others in joined for other in others), piece]
        for other in found[number]:
            group.update(dict.fromkeys(ends_of(network, other), number))
    return list(found.values())


def _at_nodes(given: Undecided, outside: Mapping[str, float], pieces: Sequence[Piece], tops: Mapping[Piece, Steady]) -> tuple[dict[str, float], dict[str, float]]:
    """What comes to each node of some pieces, from ``outside`` and in them, and what goes on from it in them, m³/s."""
    comes, goes = dict(outside), defaultdict[str, float](float)
    for piece in pieces:
        (low, high), top = ends_of(given.network, piece), tops[piece].discharge
        bottom = top + given.total.sums.gained[piece].discharge
        for node, leaves in ((high, top), (low, -bottom)):
            comes[node] -= min(leaves, 0.0)
            goes[node] += max(leaves, 0.0)
    return comes, goes
