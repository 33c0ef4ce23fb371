"""The openings of a pipe by how high they sit, and how high water stands beside the pipe until they take what comes."""

from __future__ import annotations

import math
from typing import NamedTuple

from weirant.job import Job
from weirant.library import Pipe
from weirant.methods.intake import perforation_intake, row_height

ALL_ROUND = tuple(22.5 + 45.0 * k for k in range(4))  # degrees from the bottom: slots all round as four pairs of rows
FACING_DOWN = (60.0,)  # two rows of holes, each so far from the bottom (common practice, no source)
TURNS = 20  # of halving: to a hair


class Openings(NamedTuple):
    """A row, or a pair of them: its height m over the inside bottom of the pipe, and m² of openings in a metre of pipe."""

    height: float
    area: float


def rows_of(job: Job, pipe: Pipe) -> tuple[Openings, ...]:
    """The openings of a pipe, the lowest first: as it is drilled on the job, or else as its kind has them."""
    own = next((p for p in job.products.pipes if p.key == pipe.key), None)
    if own is not None and own.rows:
        found = [Openings(row_height(pipe.inner_diameter, row.angle), row.holes * math.pi / 4 * row.diameter**2) for row in own.rows]
    else:
        angles = FACING_DOWN if pipe.openings == "down" else ALL_ROUND
        found = [Openings(row_height(pipe.inner_diameter, angle), pipe.open_area_per_length / len(angles)) for angle in angles]
    return tuple(sorted(row for row in found if row.area > 0))


def takes(rows: tuple[Openings, ...], level: float, blocked: float) -> float:
    """What they take with water standing so many m over the inside bottom, m²/s, a share of them blocked; free into the pipe."""
    return sum(perforation_intake(row.area, level - row.height, blocked) for row in rows if level > row.height)


def level_for(rows: tuple[Openings, ...], inflow: float, blocked: float, most: float) -> float | None:
    """The level m over the inside bottom at which they take an inflow m²/s; None where that is over ``most`` m."""
    if not rows or takes(rows, most, blocked) < inflow:
        return None
    low, high = 0.0, most
    for _ in range(TURNS):
        middle = (low + high) / 2
        low, high = (middle, high) if takes(rows, middle, blocked) < inflow else (low, middle)
    return high
