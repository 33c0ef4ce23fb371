"""How a place to keep dry lies in plan beside what collects of a run."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

from weirant.job.geometry import NOUGHT, Point, inside, meets
from weirant.job.site import Feature, Spot
from weirant.records import dataclass

Leg = tuple[float, Point, Point]  # a straight part of a run: its station at the low end m, its ends in plan m


@dataclass(frozen=True)
class Beside:
    """A place beside a run: the station m that each of its corners lies at (counted on along the last legs where it reaches beyond what collects),
    distance m of its nearest edge from the centre line (nought where the line goes through it) and of its farthest corner, and the side, looking
    uphill.
    """

    place: Feature
    feet: tuple[float, ...]
    distance: float
    farthest: float
    on_left: bool

    @property
    def low(self) -> float:
        """Station m from which on the place lies beside the run."""
        return min(self.feet)

    @property
    def high(self) -> float:
        """Station m up to which it does."""
        return max(self.feet)

    @property
    def judged(self) -> float:
        """Distance m at which the place is judged: of its near edge, or of its farthest corner where the line goes through it."""
        return self.distance if self.distance > NOUGHT else self.farthest

    @property
    def sign(self) -> int:
        """1 where it lies left, −1 where right."""
        return 1 if self.on_left else -1

    def across(self, at: Point, bearing: float) -> tuple[float, float] | None:
        """Distances m of its near and far edge, square to a run that has a bearing (rad) at a point; None where it does not lie there."""
        out = (-math.sin(bearing) * self.sign, math.cos(bearing) * self.sign)
        met = [t for a, b in self.place.edges if (t := meets(at, out, a, b)) is not None]
        ahead = [t for t in met if t > -NOUGHT]
        if not ahead:
            return None
        return (0.0 if min(met) < -NOUGHT and self.place.is_outline else max(min(ahead), 0.0)), max(ahead)


def legs_of(points: Sequence[Point], stations: Sequence[float], spans: Sequence[tuple[float, float]]) -> list[Leg]:
    """The straight parts of a run, given by its corners and their stations, within spans of it."""
    legs: list[Leg] = []
    for low, high in spans:
        for (s0, s1), (a, b) in zip(pairwise(stations), pairwise(points), strict=True):
            start, stop = max(low, s0), min(high, s1)
            if stop - start > NOUGHT:
                legs.append((start, _between(a, b, (start - s0) / (s1 - s0)), _between(a, b, (stop - s0) / (s1 - s0))))
    return legs


def beside(legs: Sequence[Leg], place: Feature) -> Beside | None:
    """How a place lies beside the legs; None where there are no legs, or the place has no point."""
    if not legs or not place.points:
        return None
    corners = [(p.x, p.y) for p in place.points]
    feet = [_foot(corner, legs) for corner in corners]
    near = _nearest(legs, place)
    _, _, side = _foot(place.middle, legs)
    return Beside(place, tuple(s for s, _, _ in feet), near, max(d for _, d, _ in feet), side >= 0)


def outline_beside(legs: Sequence[Leg], low: float, high: float, near: float, far: float, *, on_left: bool) -> tuple[Spot, ...]:
    """Corners of a rectangle beside a run, from and to station and from near to far m, laid off square from the middle of it; right or left of the
    run looking uphill.
    """
    at = (low + high) / 2
    station, a, b = next((leg for leg in reversed(legs) if at >= leg[0] - NOUGHT), legs[0])
    size = math.dist(a, b)
    along = ((b[0] - a[0]) / size, (b[1] - a[1]) / size)
    sign = 1 if on_left else -1
    out = (-along[1] * sign, along[0] * sign)
    return tuple(Spot(a[0] + (s - station) * along[0] + d * out[0], a[1] + (s - station) * along[1] + d * out[1])
                 for s, d in ((low, near), (high, near), (high, far), (low, far)))  # fmt: skip


def _between(a: Point, b: Point, share: float) -> Point:
    return a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])


def _foot(point: Point, legs: Sequence[Leg]) -> tuple[float, float, float]:
    """Station of the nearest point of the legs, carried on beyond their ends; distance to it; and the side, positive to the left."""
    best: tuple[float, float, float] | None = None
    for number, (station, a, b) in enumerate(legs):
        east, north = b[0] - a[0], b[1] - a[1]
        length = math.hypot(east, north)
        along = ((point[0] - a[0]) * east + (point[1] - a[1]) * north) / length
        side = (east * (point[1] - a[1]) - north * (point[0] - a[0])) / length
        held = min(max(along, 0.0), length)
        away = math.hypot(along - held, side)
        if best is None or away < best[1] - NOUGHT:
            beyond = (number == 0 and along < 0) or (number == len(legs) - 1 and along > length)
            best = station + (along if beyond else held), away, side
    assert best is not None
    return best


def _nearest(legs: Sequence[Leg], place: Feature) -> float:
    """Distance m from the legs to a place: nought where they touch it, cross it or lie in it."""
    edges = place.edges
    if place.is_outline and inside([a for a, _ in edges], *legs[0][1]):
        return 0.0
    return min(_apart(a, b, c, d) for _, a, b in legs for c, d in edges)


def _apart(a: Point, b: Point, c: Point, d: Point) -> float:
    """Distance m between two straight parts."""
    if _crosses(a, b, c, d):
        return 0.0
    return min(_gap(a, c, d), _gap(b, c, d), _gap(c, a, b), _gap(d, a, b))


def _crosses(a: Point, b: Point, c: Point, d: Point) -> bool:
    def side(p: Point, q: Point, r: Point) -> float:
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])

    return side(a, b, c) * side(a, b, d) < 0 and side(c, d, a) * side(c, d, b) < 0


def _gap(point: Point, a: Point, b: Point) -> float:
    east, north = b[0] - a[0], b[1] - a[1]
    size = east * east + north * north
    share = 0.0 if size == 0 else min(max(((point[0] - a[0]) * east + (point[1] - a[1]) * north) / size, 0.0), 1.0)
    return math.hypot(point[0] - a[0] - share * east, point[1] - a[1] - share * north)
