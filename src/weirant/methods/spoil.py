"""Spoil that is spread beside the trench and feathered to nothing."""

from __future__ import annotations

from typing import NamedTuple

from weirant.language import tr
from weirant.methods.domain import positive
from weirant.methods.registry import method
from weirant.units.dimension import LENGTH, SLOPE, VOLUME


class SpoilSpread(NamedTuple):
    """Depth m at the trench, and by how much the ground falls more away from it, m/m."""

    depth: float
    fall: float


@method("spoil-spread", keys={"volume": VOLUME, "length": LENGTH, "width": LENGTH}, results={"depth": LENGTH, "fall": SLOPE},
        formula="depth = 2 V / (L w);  fall = depth / w", sources="geometry",
        valid=tr("one side of the trench, a wedge from its edge to nothing"))  # fmt: skip
def spoil_spread(volume: float, length: float, width: float) -> SpoilSpread:
    """How deep loose spoil m³ lies along a length m of trench when it is spread a width m to one side as a wedge, all > 0. Geometry.

    Where the ground fell towards the trench by less than ``fall``, water is kept from it by as much.
    """
    positive(volume=volume, length=length, width=width)
    depth = 2 * volume / (length * width)
    return SpoilSpread(depth, depth / width)
