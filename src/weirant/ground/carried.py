"""What kinds of water go through each run: told from where sources are led, from inlets that nothing is led to, and from what collects, all the way
down.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from weirant.ground.network import LaidRun, Network
from weirant.job.network import INLET
from weirant.job.water import CARRIED_AS, GROUND, PUMP, ROOF, SURFACE, Source

KINDS = (GROUND, SURFACE, ROOF, PUMP)
NOUGHT = 1e-6  # m of length, or of fall, that is none

Kinds = frozenset[str]


def carried(network: Network, sources: Iterable[Source]) -> Mapping[str, tuple[str, ...]]:
    """By run the kinds of water that go through some of it, in the order ground, surface, roof, pump; none where nothing is led into it.

    Water goes down every piece, and either way through a level one.
    """
    at: dict[str, Kinds] = dict.fromkeys(network.at_node, frozenset())
    for source in sources:
        if source.node in at:
            at[source.node] |= {CARRIED_AS[source.kind]}
    fed = {node for node, kinds in at.items() if kinds}
    down: dict[str, list[tuple[str, Kinds]]] = {node: [] for node in at}
    for run in network.runs:
        at |= {node.id: frozenset({SURFACE}) for node, _ in run.nodes if node.kind == INLET and node.id not in fed}
        for (low, _), (high, _), fall, length in zip(run.nodes, run.nodes[1:], run.falls, run.collecting_pieces, strict=False):
            gains: Kinds = frozenset({GROUND} if length > NOUGHT else ())
            down[high.id].append((low.id, gains))
            if fall <= NOUGHT:
                down[low.id].append((high.id, gains))
    waiting = list(at)
    while waiting:
        node = waiting.pop()
        for below, gains in down[node]:
            if not at[node] | gains <= at[below]:
                at[below] |= at[node] | gains
                waiting.append(below)
    return {run.id: _through(run, at) for run in network.runs}


def _through(run: LaidRun, at: Mapping[str, Kinds]) -> tuple[str, ...]:
    """What goes through the pieces of a run: what is at their upper ends, at both of a level one, and what they collect."""
    found: set[str] = set()
    for (low, _), (high, _), fall, length in zip(run.nodes, run.nodes[1:], run.falls, run.collecting_pieces, strict=False):
        found |= at[high.id] | (at[low.id] if fall <= NOUGHT else frozenset())
        found |= {GROUND} if length > NOUGHT else set()
    return tuple(kind for kind in KINDS if kind in found)
