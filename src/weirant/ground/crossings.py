"""Where runs meet buried lines, root zones and the boundary."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

from weirant.ground.alignment import Alignment, Point
from weirant.job.site import OUTLINED, Feature
from weirant.records import dataclass

Array = NDArray[np.float64]
PASSED = ("walk", "slab", "fence")  # what is cut or taken down and made good where a trench passes it
DRAWN_AS_LINES = ("walk", "fence")
KEPT = 512  # answers about geometry that are kept: the same runs and things are asked about with every step of a drag


@dataclass(frozen=True)
class Crossing:
    """A buried line under or over a run: station m, place, level m of its top and underside (None: depth not known).

    ``hand_from`` and ``hand_to`` are the stations between which the trench is dug by hand.
    """

    feature: Feature
    station: float
    at: Point
    top: float | None
    bottom: float | None
    hand_from: float
    hand_to: float


@dataclass(frozen=True)
class Passed:
    """A thing on the ground that a run goes through: the station m where it comes in, and how far m it goes on in it (None: drawn as a line)."""

    feature: Feature
    station: float
    through: float | None


def passed(alignment: Alignment, feature: Feature) -> list[Passed]:
    """Where a run goes through a thing that lies on the ground, from the low end up."""
    if feature.kind in DRAWN_AS_LINES:
        return [Passed(feature, station, None) for station, _ in places_crossed(alignment, feature)]
    return [Passed(feature, low, high - low) for low, high in stretches_within(alignment, feature, 0.0, is_closed=True)]


def places_crossed(alignment: Alignment, feature: Feature) -> list[tuple[float, Point]]:
    """Stations and places where a run crosses a line in plan, from the low end up."""
    if len(feature.points) < 2:
        return []
    line = shapely.linestrings(alignment.points)
    cut = shapely.intersection(line, shapely.linestrings([(p.x, p.y) for p in feature.points]))
    found = [(alignment.nearest((x, y))[0], (x, y)) for x, y in shapely.get_coordinates(shapely.centroid(shapely.get_parts(cut))).tolist()]
    return sorted(found)


@lru_cache(KEPT)
def stretches_within(alignment: Alignment, feature: Feature, distance: float, *, is_closed: bool = False) -> tuple[tuple[float, float], ...]:
    """Stretches of stations where a run lies within a distance m of a feature; of a closed outline also inside it."""
    zone = shapely.buffer(shape_of(feature, is_closed=is_closed), max(distance, 1e-6))
    inside = shapely.get_parts(shapely.intersection(shapely.linestrings(alignment.points), zone))
    found = []
    for part in inside:
        ends = [alignment.nearest((float(x), float(y)))[0] for x, y in shapely.get_coordinates(part)]
        if len(ends) > 1:
            found.append((min(ends), max(ends)))
    return tuple(_joined(sorted(found)))


def _joined(stretches: list[tuple[float, float]]) -> list[tuple[float, float]]:
    joined: list[tuple[float, float]] = []
    for low, high in stretches:
        if joined and low <= joined[-1][1] + 1e-6:
            joined[-1] = (joined[-1][0], max(high, joined[-1][1]))
        else:
            joined.append((low, high))
    return joined


@lru_cache(KEPT)
def shape_of(feature: Feature, *, is_closed: bool = False) -> shapely.Geometry:
    """The feature in plan: a point, a line, or an outline where it is closed and has three corners."""
    points = [(p.x, p.y) for p in feature.points]
    if len(points) == 1:
        return shapely.points(points[0])
    if is_closed and len(points) >= 3:
        return shapely.make_valid(shapely.polygons(points))
    return shapely.linestrings(points)


@lru_cache(KEPT)
def length_outside(alignment: Alignment, land: Feature) -> float:
    """Length m of a run outside an outline."""
    return float(shapely.length(shapely.difference(shapely.linestrings(alignment.points), shape_of(land, is_closed=True))))


def shape_area(feature: Feature, width: float) -> float:
    """Area of a thing in plan, m²: within its outline, or of a line as wide as that, m."""
    if feature.kind in OUTLINED:
        return feature.area
    return width * float(shapely.length(shape_of(feature)))


def distance_to(alignment: Alignment, feature: Feature, stations: Array) -> Array:
    """Distance m from stations of a run, shape (k,), to a feature's outline; 0 inside it."""
    return _distances(alignment, feature, stations.tobytes())


@lru_cache(KEPT)
def _distances(alignment: Alignment, feature: Feature, stations: bytes) -> Array:
    away = np.asarray(shapely.distance(shapely.points(alignment.at(np.frombuffer(stations))), shape_of(feature, is_closed=True)))
    away.flags.writeable = False  # it is kept
    return away
