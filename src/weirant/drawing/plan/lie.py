"""How the main line and the protected place beside it lie in plan."""

from __future__ import annotations

import math

from weirant.drawing.primitives import Point
from weirant.ground.alignment import Alignment, alignment_of
from weirant.job import Job


def main_alignment(job: Job) -> Alignment:
    """The main line laid out from its outlet."""
    return alignment_of(job.line, (job.x, job.y), job.bearing)


def vertices(job: Job) -> list[tuple[float, Point]]:
    """Station and point of every corner of the main line, the ends with them."""
    lie = main_alignment(job)
    return [(float(s), (float(x), float(y))) for s, (x, y) in zip(lie.stations, lie.points, strict=True)]


def bearing_at(job: Job, station: float) -> float:
    """Bearing of the main line at a station, rad."""
    return main_alignment(job).bearing(station)


def point_at(job: Job, station: float) -> Point:
    """Where a station of the main line lies in plan."""
    return main_alignment(job).point(station)


def station_near(job: Job, point: Point) -> float:
    """The station of the main line nearest to a point in plan."""
    return main_alignment(job).nearest(point)[0]


def ahead(point: Point, bearing: float, distance: float) -> Point:
    """A point from another on a bearing, m."""
    return point[0] + distance * math.cos(bearing), point[1] + distance * math.sin(bearing)


def protected_outline(job: Job) -> tuple[Point, ...]:
    """Outline of the protected place, laid off from the main line at its middle."""
    place = job.protected
    low, high = sorted((place.from_station, place.to_station))
    if high - low < 0.1:
        low, high = job.line.solid_length, job.line.length
    middle = (low + high) / 2
    bearing, foot = bearing_at(job, middle), point_at(job, middle)
    side = bearing + (math.pi / 2 if place.on_left else -math.pi / 2)
    half = (high - low) / 2
    near, far = place.distance, place.distance + place.width
    return tuple(ahead(ahead(foot, side, out), bearing, along) for out, along in ((near, -half), (near, half), (far, half), (far, -half)))


def middle_of(points: tuple[Point, ...]) -> Point:
    """The mean of some points."""
    return sum(x for x, _ in points) / len(points), sum(y for _, y in points) / len(points)

