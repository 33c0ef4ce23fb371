"""Water through the perforations of a drain pipe."""

from __future__ import annotations

import math
from typing import NamedTuple

from weirant.language import tr
from weirant.methods.domain import between, not_negative, positive, share, whole
from weirant.methods.registry import method
from weirant.units.dimension import DISCHARGE_PER_LENGTH, LENGTH, NUMBER, PER_LENGTH

GRAVITY = 9.80665
ORIFICE_COEFFICIENT = 0.6


class DrilledPattern(NamedTuple):
    """Open area in m² per metre of pipe and holes per metre."""

    open_area_per_length: float
    holes_per_length: float


@method("perforation-intake", keys={"open_area_per_length": LENGTH, "head": LENGTH, "blocked_fraction": NUMBER},
        results={"inflow_per_length": DISCHARGE_PER_LENGTH}, formula="q = 0.6 · a · (1 − blocked) · √(2 g h)",
        sources="hec22", valid=tr("free orifices in clean stone; the head stands over the openings"))  # fmt: skip
def perforation_intake(open_area_per_length: float, head: float, blocked_fraction: float) -> float:
    """Most water the openings let in per length of pipe, as sharp-edged orifices.

    open_area_per_length m²/m (> 0), head m over the openings (0 or more), blocked_fraction 0 to 1; gives m²/s.
    Source: FHWA HEC-22 (2009) §8.4, orifice with coefficient 0.6.
    """
    positive(open_area_per_length=open_area_per_length)
    not_negative(head=head)
    share(blocked_fraction=blocked_fraction)
    return ORIFICE_COEFFICIENT * open_area_per_length * (1 - blocked_fraction) * math.sqrt(2 * GRAVITY * head)


@method("drilled-pattern", keys={"hole_diameter": LENGTH, "rows": NUMBER, "spacing": LENGTH},
        results={"open_area_per_length": LENGTH, "holes_per_length": PER_LENGTH},
        formula="holes = rows / spacing,  a = holes · π d²/4", sources="geometry", valid=tr("round holes that do not touch"))  # fmt: skip
def drilled_pattern(hole_diameter: float, rows: float, spacing: float) -> DrilledPattern:
    """Open area of holes drilled in rows along a pipe.

    hole_diameter m (> 0), rows a whole number, spacing m between holes of a row (more than the diameter).
    """
    positive(hole_diameter=hole_diameter, spacing=spacing)
    whole(rows=rows)
    positive(**{"spacing less hole_diameter": spacing - hole_diameter})
    holes = rows / spacing
    return DrilledPattern(holes * math.pi * hole_diameter**2 / 4, holes)


class RowIntake(NamedTuple):
    """What a row takes in, m²/s, and how high over the inside bottom of the pipe it begins to, m."""

    inflow_per_length: float
    begins: float


def row_height(diameter: float, angle: float) -> float:
    """How high m over the inside bottom of a pipe a row sits, at an angle in degrees from there. Geometry."""
    return diameter / 2 * (1 - math.cos(math.radians(angle)))


@method("row-intake", keys={"diameter": LENGTH, "angle": NUMBER, "open_area_per_length": LENGTH, "level": LENGTH, "blocked_fraction": NUMBER},
        results={"inflow_per_length": DISCHARGE_PER_LENGTH, "begins": LENGTH}, formula="h = level − (D/2)(1 − cos angle),  q = 0.6 · a · (1 − blocked) · √(2 g h)",
        sources="hec22", valid=tr("a row at an angle in degrees from the bottom of the pipe; water stands at a level over its inside bottom, and falls free within"))  # fmt: skip
def row_intake(diameter: float, angle: float, open_area_per_length: float, level: float, blocked_fraction: float) -> RowIntake:
    """Flow into a metre of pipe through a row of holes at an angle, by the level of the water in the trench.

    diameter m inside and open_area_per_length m (both > 0), angle 0 to 180 degrees from the bottom, level m over the inside bottom (0 or more), blocked_fraction
    0 to 1. Source: orifice, FHWA HEC-22 (2009), coefficient 0.6 (recalled from memory); geometry.
    """
    positive(diameter=diameter, open_area_per_length=open_area_per_length)
    between(0, 180, angle=angle)
    not_negative(level=level)
    share(blocked_fraction=blocked_fraction)
    begins = row_height(diameter, angle)
    return RowIntake(perforation_intake(open_area_per_length, level - begins, blocked_fraction) if level > begins else 0.0, begins)
