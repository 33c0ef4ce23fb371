"""Every place where a run at a given slope could come out of the ground on the owner's land."""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray

from weirant.errors import InputError
from weirant.ground.alignment import Point
from weirant.ground.surface import Surface
from weirant.language import tr
from weirant.records import dataclass

Array = NDArray[np.float64]


@dataclass(frozen=True)
class DaylightPlace:
    """A place where the pipe would come out: point, level m, bearing rad, length of the run m and its dig m³."""

    at: Point
    level: float
    bearing: float
    length: float
    dig: float


@dataclass(frozen=True, eq=False)
class Land:
    """What the run must stay inside of (None: the surveyed ground) and what it must not run through."""

    inside: shapely.Geometry | None
    barred: tuple[shapely.Geometry, ...] = ()


def daylight_places(surface: Surface, start: Point, level: float, slope: float, width: float, below: float, land: Land, *,
                    farthest: float = 150.0, headings: int = 72, step: float = 0.75) -> list[DaylightPlace]:  # fmt: skip
    """Straight runs from a start at an invert level m, falling at slope m/m, to where the ground meets the invert.

    width m and below m (invert to trench bottom) give the dig. Of neighbouring directions the one with the least dig stays;
    the least dig comes first, then the shortest. Raises InputError where the slope is not more than 0 or the start is out
    of the ground already.
    """
    if slope <= 0:
        raise InputError("slope", tr("must be more than 0"), slope)
    over, known = surface.at(np.array([start]))
    if not known[0]:
        raise InputError("start", tr("lies outside the surveyed ground; shoot levels round it"))
    if over[0] <= level:
        raise InputError("start", tr("lies out of the ground already; nothing is left to bring to daylight"))
    west, south, east, north = surface.bounds
    farthest = min(farthest, math.hypot(east - west, north - south))
    along = np.arange(step, farthest + step, step)
    ways = np.linspace(0, 2 * math.pi, headings, endpoint=False)
    points = np.asarray(start) + np.stack([np.outer(np.cos(ways), along), np.outer(np.sin(ways), along)], axis=2)
    ground, inside = surface.at(points.reshape(-1, 2), nearest=False)
    cover = np.column_stack([np.full(headings, over[0] - level), ground.reshape(headings, -1) - (level - slope * along)])
    inside = inside.reshape(headings, -1)
    found = [place for i in range(headings) if (place := _along(start, level, slope, ways[i], along=np.concatenate([[0.0], along]), cover=cover[i],
                                                              inside=inside[i], width=width, below=below, land=land)) is not None]  # fmt: skip
    return sorted(_apart(found, 2 * math.pi / headings), key=lambda p: (p.dig, p.length))


def _along(start: Point, level: float, slope: float, way: float, *, along: Array, cover: Array, inside: NDArray[np.bool_], width: float,
           below: float, land: Land) -> DaylightPlace | None:  # fmt: skip
    out = np.nonzero(cover <= 0)[0]
    if not len(out) or not inside[: out[0]].all():
        return None
    i = int(out[0])
    length = float(along[i - 1] + (along[i] - along[i - 1]) * cover[i - 1] / (cover[i - 1] - cover[i]))
    end = (start[0] + length * math.cos(way), start[1] + length * math.sin(way))
    path = shapely.linestrings([start, end])
    if land.inside is not None and not shapely.covers(land.inside, path):
        return None
    if any(shapely.intersects(thing, path) for thing in land.barred):
        return None
    at = np.append(along[:i], length)
    heights = np.append(cover[:i], 0.0) + below
    return DaylightPlace(end, level - slope * length, float(way), length, float(width * np.trapezoid(heights, at)))


def _apart(places: list[DaylightPlace], step: float) -> list[DaylightPlace]:
    """Places that dig no more than both neighbouring directions."""
    kept = []
    for place in places:
        turns = [(abs((p.bearing - place.bearing + math.pi) % (2 * math.pi) - math.pi), p) for p in places if p is not place]
        if all(p.dig >= place.dig for turn, p in turns if turn < 1.5 * step):
            kept.append(place)
    return kept
