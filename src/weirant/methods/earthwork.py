"""Volumes of a trench, its stone, its wrap and its spoil."""

from __future__ import annotations

import math
from typing import NamedTuple

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.domain import not_negative, positive, whole
from weirant.methods.registry import method
from weirant.units.dimension import AREA, LENGTH, NUMBER, VOLUME
from weirant.units.display import in_both


class TrenchVolumes(NamedTuple):
    """Solid ground dug m³, stone in place m³, fabric of a full wrap m², spoil as it lies loose m³."""

    excavation: float
    stone: float
    fabric_area: float
    spoil_loose: float


@method("trench-volumes",
        keys={"length": LENGTH, "bottom_width": LENGTH, "depth": LENGTH, "bedding": LENGTH, "stone_cover": LENGTH,
              "pipe_outer_diameter": LENGTH, "pipe_count": NUMBER, "side_slope": NUMBER, "overlap": LENGTH, "swell": NUMBER},
        results={"excavation": VOLUME, "stone": VOLUME, "fabric_area": AREA, "spoil_loose": VOLUME},
        formula="A = (b + m t) t;  stone = A(bedding + D + cover) − n π D²/4;  fabric = girth of the stone + overlap;  "
                "loose = dug · (1 + swell)",
        sources="geometry", valid=tr("constant depth; straight sides, upright or laid back"))  # fmt: skip
def trench_volumes(*, length: float, bottom_width: float, depth: float, bedding: float, stone_cover: float,
                   pipe_outer_diameter: float, pipe_count: float, side_slope: float, overlap: float,
                   swell: float) -> TrenchVolumes:  # fmt: skip
    """Quantities of a trench of constant depth.

    lengths m; length, bottom_width, depth and pipe_outer_diameter > 0; bedding, stone_cover, overlap, side_slope
    (horizontal per vertical) and swell (share) 0 or more; pipe_count whole. All the ground dug counts as spoil.
    Raises InputError where the stone is higher than the trench or the pipes wider than it. Geometry.
    """
    positive(length=length, bottom_width=bottom_width, depth=depth, pipe_outer_diameter=pipe_outer_diameter)
    not_negative(bedding=bedding, stone_cover=stone_cover, side_slope=side_slope, overlap=overlap, swell=swell)
    whole(pipe_count=pipe_count)
    stone_height = bedding + pipe_outer_diameter + stone_cover
    if stone_height > depth + 1e-9:
        raise InputError("depth", tr("must be at least bedding, pipe and stone cover together, {stone_height}", stone_height=in_both(stone_height)), in_both(depth))
    if pipe_count * pipe_outer_diameter > bottom_width + 2 * side_slope * bedding + 1e-9:
        raise InputError("bottom_width", tr("is too narrow for the pipes side by side"), in_both(bottom_width))
    dug = length * section_area(bottom_width, side_slope, depth)
    pipes = pipe_count * math.pi * pipe_outer_diameter**2 / 4
    stone = length * (section_area(bottom_width, side_slope, stone_height) - pipes)
    fabric = length * (stone_girth(bottom_width, side_slope, stone_height) + overlap)
    return TrenchVolumes(dug, stone, fabric, dug * (1 + swell))


def section_area(bottom_width: float, side_slope: float, height: float) -> float:
    """Area m² of a trench section from its bottom up to a height, all m."""
    return (bottom_width + side_slope * height) * height


def stone_girth(bottom_width: float, side_slope: float, height: float) -> float:
    """Way round the stone: bottom, both sides and top, m."""
    return 2 * bottom_width + 2 * side_slope * height + 2 * height * math.hypot(1, side_slope)
