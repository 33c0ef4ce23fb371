"""The layers of the soil that the stone of a run meets along its way."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from weirant.ground.grade_line import GradeLine
from weirant.ground.soils import SoilAlong
from weirant.ground.stretches import LaidStretch, Make
from weirant.job.soil import Soil
from weirant.records import dataclass

SKIN = 1e-3  # m of a layer that are not met
NOUGHT = 1e-6  # m along a run


@dataclass(frozen=True)
class MetLayers:
    """The numbers of the ``layers`` of a soil that a stretch meets, from the top down, and the station m from which on."""

    stretch: LaidStretch
    soil: Soil
    low: float
    layers: tuple[int, ...]


def layers_along(grade: GradeLine | None, stretches: Sequence[LaidStretch], soils: Sequence[SoilAlong]) -> Iterator[MetLayers]:
    """What each stretch meets in each soil that it lies in, from the low end of the run up."""
    for stretch in stretches:
        for along in soils:
            low, high = max(stretch.low, along.low), min(stretch.high, along.high)
            if high - low > NOUGHT:
                yield MetLayers(stretch, along.soil, low, _met(grade, stretch.make, along.soil, low, high))


def _met(grade: GradeLine | None, make: Make, soil: Soil, low: float, high: float) -> tuple[int, ...]:
    """The lowest alone where nothing is dug, or no levels are known."""
    lowest = len(soil.layers) - 1
    if not lowest or grade is None:
        return (lowest,)
    inside = grade.stations[(grade.stations > low) & (grade.stations < high)]
    cut = np.interp(np.array([low, *inside, high]), grade.stations, grade.cut)
    cut = cut[cut > 0]
    if not len(cut):
        return (lowest,)
    first = soil.layer_at(float((cut - make.stone(cut)).min()) + SKIN)
    return tuple(range(first, max(soil.layer_at(float(cut.max()) - SKIN), first) + 1))
