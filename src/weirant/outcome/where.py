"""Which piece of a run stands at a station, and where a piece lies: what leads from a drawing to the rows of an order, and back."""

from __future__ import annotations

from weirant.job.network import Node
from weirant.outcome.bill import Origin
from weirant.outcome.site import RunOutcome

NEAR = 0.25  # m by which a station may miss a node that it stands for


def origins_at(found: RunOutcome, station: float) -> frozenset[Origin]:
    """The node at a station; or where there is none, the stretch of pipe."""
    node = node_at(found, station)
    return frozenset({Origin(found.id, node.id if node is not None else found.stretch(station).id)})


def station_of(found: RunOutcome, origin: Origin) -> float:
    """Where a piece lies: a node at its station, a stretch in its middle; the low end where neither is there any more."""
    for node, station in found.run.nodes:
        if node.id == origin.piece:
            return station
    return next(((stretch.low + stretch.high) / 2 for stretch in found.stretches if stretch.id == origin.piece), 0.0)


def node_at(found: RunOutcome, station: float) -> Node | None:
    """The node of a run at a station; None where there is none."""
    near = [(abs(at - station), node.id, node) for node, at in found.run.nodes if abs(at - station) <= NEAR]
    return min(near)[2] if near else None
