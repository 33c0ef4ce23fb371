"""What rows of holes drilled along a pipe come to."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

from weirant.job.products import ALL_ROUND, DOWN, HoleRow

FACES_DOWN = 75.0  # degrees from the bottom up to which a row is one that faces down (common practice, no source)


class Drilled(NamedTuple):
    """Largest hole m, open area m² in a metre, holes in a metre, and where they are."""

    opening: float
    open_area: float
    holes: float
    where: str


def drilled(rows: Sequence[HoleRow]) -> Drilled:
    """What some rows come to together (one at least). Geometry."""
    area = sum(row.holes * math.pi * row.diameter**2 / 4 for row in rows)
    where = DOWN if all(row.angle <= FACES_DOWN for row in rows) else ALL_ROUND
    return Drilled(max(row.diameter for row in rows), area, sum(row.holes for row in rows), where)
