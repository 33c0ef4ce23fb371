"""The soils that a run meets along its way."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from weirant.ground.alignment import Alignment, Point
from weirant.job import Job
from weirant.job.geometry import NOUGHT, meets
from weirant.job.identity import by_id
from weirant.job.soil import Soil
from weirant.job.soils import everywhere, soil_at
from weirant.records import dataclass

Array = NDArray[np.float64]


@dataclass(frozen=True)
class SoilAlong:
    """A soil from and to a station m of a run."""

    low: float
    high: float
    soil: Soil


def soils_along(alignment: Alignment, job: Job) -> tuple[SoilAlong, ...]:
    """The soils along a run from its low end up, exactly parted where it enters an outline or comes nearer to another test hole."""
    if len(job.soils) == 1:
        return (SoilAlong(0.0, alignment.length, everywhere(job)),)
    ends = sorted({0.0, alignment.length, *_partings(alignment, job)})
    found: list[SoilAlong] = []
    for low, high in pairwise(ends):
        if high - low < NOUGHT:
            continue
        soil = soil_at(job, *alignment.point((low + high) / 2))
        if found and found[-1].soil is soil:
            found[-1] = SoilAlong(found[-1].low, high, soil)
        else:
            found.append(SoilAlong(low, high, soil))
    return tuple(found)


def at(soils: tuple[SoilAlong, ...], station: float) -> Soil:
    """The soil at a station m; where two meet, the one above."""
    return next((s.soil for s in reversed(soils) if station >= s.low - 1e-6), soils[0].soil)


def _partings(alignment: Alignment, job: Job) -> Iterator[float]:
    """Every station at which the soil may change."""
    outlines = [thing for soil in job.soils if soil.area and (thing := by_id(job.features, soil.area)) is not None and thing.is_outline]
    edges = [edge for thing in outlines for edge in thing.edges]
    holes = np.array([(hole.x, hole.y) for hole in job.holes], dtype=float) if any(soil.hole for soil in job.soils) else np.zeros((0, 2))
    points = [(float(x), float(y)) for x, y in alignment.points]
    for (s0, s1), (a, b) in zip(pairwise(alignment.stations.tolist()), pairwise(points), strict=True):
        step = (b[0] - a[0], b[1] - a[1])
        shares = [*(meets(a, step, *edge) for edge in edges), *_nearer(a, step, holes)]
        yield from (s0 + share * (s1 - s0) for share in shares if share is not None and 0 < share < 1)


def _nearer(a: Point, step: Point, holes: Array) -> Iterator[float]:
    """The shares of a leg at which another hole, of shape (n, 2) all, becomes the nearest: from one to the next, so that many holes cost no more than
    the few that the leg comes nearest to.
    """
    if len(holes) < 2:
        return
    here, along = np.array(a), np.array(step)
    nearest, share = int(np.argmin(((holes - here) ** 2).sum(axis=1))), 0.0
    while share < 1:
        away = holes - holes[nearest]
        speed = 2 * away @ along  # how fast a hole gains on the nearest one
        gap = ((holes - here) ** 2).sum(axis=1) - ((holes[nearest] - here) ** 2).sum()
        at = np.divide(gap, speed, out=np.full(len(holes), np.inf), where=speed > NOUGHT)
        at[at < share - NOUGHT] = np.inf
        share, nearest = float(at.min()), int(np.argmin(at))
        if share < 1:
            yield share
