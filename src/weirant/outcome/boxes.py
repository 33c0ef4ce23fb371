"""Boxes that pipes go through, and the grates over them."""

from __future__ import annotations

import math

from weirant.hydraulics.outlet_relation import Passage, over_an_edge
from weirant.job.network import SQUARE, Basin, Grate, Node
from weirant.outcome.outcome import Outcome

USUAL_BOX = 0.3048  # m inside, of a box whose size is not said (cp)


def box(basin: Basin | None) -> tuple[float, float]:
    """Area m² inside a box and m round it."""
    size = basin.size if basin is not None and basin.size is not None else USUAL_BOX
    return (size * size, 4 * size) if basin is not None and basin.shape == SQUARE else (math.pi / 4 * size * size, math.pi * size)


def passage_of(node: Node, blocked: float) -> Passage:
    """The grate of an inlet, of which leaves cover a share, from all sides; that of the usual box where its size is not said."""
    grate, (area, edge) = node.grate or Grate(), box(node.basin)
    return over_an_edge(edge * (1 - blocked), area * grate.clear * (1 - blocked))


def rim_of(outcome: Outcome, node: Node) -> float | None:
    """The level m of a grate or a lid: as it is set, else at the ground; None where that is not known."""
    return node.rim if node.rim is not None else outcome.site.node(node).ground
