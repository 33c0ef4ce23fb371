"""A trench beside a footing."""

from __future__ import annotations

from weirant.language import tr
from weirant.methods.domain import not_negative
from weirant.methods.registry import method
from weirant.units.dimension import LENGTH


@method("footing-clearance", keys={"trench_depth": LENGTH, "footing_depth": LENGTH, "distance": LENGTH},
        results={"clearance": LENGTH}, formula="clearance = distance − (trench depth − footing depth), from a 45° line",
        sources="cp", valid=tr("level ground, footing on firm soil; soft ground and heavy walls want an engineer"))  # fmt: skip
def footing_clearance(trench_depth: float, footing_depth: float, distance: float) -> float:
    """How far the trench bottom stays outside the 45° line that falls from the footing's edge.

    depths m below the same ground (0 or more), distance m from footing to trench wall (0 or more); negative where
    the trench cuts into the ground that carries the footing. Common practice, no source.
    """
    not_negative(trench_depth=trench_depth, footing_depth=footing_depth, distance=distance)
    return distance - max(0.0, trench_depth - footing_depth)
