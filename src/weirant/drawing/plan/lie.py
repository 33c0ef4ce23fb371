"""How the place to keep dry lies in plan beside a run."""

from __future__ import annotations

import math

from weirant.drawing.primitives import Point
from weirant.ground.collecting import Collecting
from weirant.ground.network import LaidRun
from weirant.job.beside import NOUGHT


def ahead(point: Point, bearing: float, distance: float) -> Point:
    """A point from another on a bearing, m."""
    return point[0] + distance * math.cos(bearing), point[1] + distance * math.sin(bearing)


def nearest_edge(run: LaidRun, part: Collecting) -> tuple[Point, Point] | None:
    """Foot on a run and point on the near edge of the place that it keeps dry, square to it; None where there is none there, or the run goes
    through it.
    """
    lie = part.lie
    if lie is None:
        return None
    up = min(max(lie.low + 0.75 * (lie.high - lie.low), part.spans[0][0]), part.spans[-1][1])  # beside its name rather than on it
    for at in (up, part.station):
        foot, bearing = run.alignment.point(at), run.alignment.bearing(at)
        edges = lie.across(foot, bearing)
        if edges is not None and edges[0] > NOUGHT:
            return foot, ahead(foot, bearing + lie.sign * math.pi / 2, edges[0])
    return None


def middle_of(points: tuple[Point, ...]) -> Point:
    """The mean of some points."""
    return sum(x for x, _ in points) / len(points), sum(y for _, y in points) / len(points)
