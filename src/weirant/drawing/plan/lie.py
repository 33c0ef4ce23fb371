"""How the protected place lies in plan beside the run that serves it."""

from __future__ import annotations

import math

from weirant.drawing.primitives import Point
from weirant.ground.network import LaidRun
from weirant.job import Job


def ahead(point: Point, bearing: float, distance: float) -> Point:
    """A point from another on a bearing, m."""
    return point[0] + distance * math.cos(bearing), point[1] + distance * math.sin(bearing)


def protected_outline(job: Job, run: LaidRun) -> tuple[Point, ...]:
    """Outline of the protected place, laid off from the run that serves it at its middle."""
    place = job.protected
    low, high = sorted((place.from_station, place.to_station))
    if high - low < 0.1:
        low, high = run.solid_length, run.length
    middle = (low + high) / 2
    bearing, foot = run.alignment.bearing(middle), run.alignment.point(middle)
    side = bearing + (math.pi / 2 if place.on_left else -math.pi / 2)
    half = (high - low) / 2
    near, far = place.distance, place.distance + place.width
    return tuple(ahead(ahead(foot, side, out), bearing, along) for out, along in ((near, -half), (near, half), (far, half), (far, -half)))


def middle_of(points: tuple[Point, ...]) -> Point:
    """The mean of some points."""
    return sum(x for x, _ in points) / len(points), sum(y for _, y in points) / len(points)
