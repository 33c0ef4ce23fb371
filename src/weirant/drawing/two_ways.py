"""The trench sections of two ways to build, to be drawn at one scale."""

from __future__ import annotations

import dataclasses

from weirant.design.two_ways import WayBuilt
from weirant.design.variants import VARIANTS
from weirant.drawing.primitives import Drawing
from weirant.drawing.section import section_drawing
from weirant.language import capital
from weirant.outcome.site import RunOutcome


def two_sections(ways: tuple[WayBuilt, WayBuilt], found: RunOutcome) -> tuple[Drawing, Drawing]:
    """Both with the bounds of the two: where they are shown as large as each other, one scale is that of the other. Without handles."""
    drawn = [section_drawing(way.outcome, found.part.station, found.id) for way in ways]
    left, bottom, right, top = (pick(d.bounds[i] for d in drawn) for i, pick in enumerate((min, min, max, max)))
    one, other = (dataclasses.replace(d, bounds=(left, bottom, right, top), handles=(), title=capital(VARIANTS[way.key].name)) for d, way in zip(drawn, ways, strict=True))
    return one, other
