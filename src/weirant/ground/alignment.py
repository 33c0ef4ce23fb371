"""A run laid out in plan: from its low end along its first bearing, turned at each bend."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from weirant.errors import InputError
from weirant.job.line import Bend, Line

Array = NDArray[np.float64]
Point = tuple[float, float]


@dataclass(frozen=True)
class Alignment:
    """Corners of a run in plan: stations m, shape (n,), rising from 0; points m east and north, shape (n, 2)."""

    stations: Array
    points: Array

    @property
    def length(self) -> float:
        """Length of the run, m."""
        return float(self.stations[-1])

    def at(self, stations: Array) -> Array:
        """Points at stations of shape (k,); gives shape (k, 2)."""
        east, north = (np.interp(stations, self.stations, self.points[:, axis]) for axis in (0, 1))
        return np.column_stack([east, north])

    def point(self, station: float) -> Point:
        """The point at one station; a station beyond the ends gives the end."""
        index = self._length_of(station)
        start, stop = self.stations[index], self.stations[index + 1]
        share = min(max((station - start) / (stop - start), 0.0), 1.0)
        x, y = self.points[index] + share * (self.points[index + 1] - self.points[index])
        return float(x), float(y)

    def bearing(self, station: float) -> float:
        """Direction at a station, rad anticlockwise from east; at a corner that of the length above it."""
        index = self._length_of(station)
        east, north = self.points[index + 1] - self.points[index]
        return math.atan2(north, east)

    def _length_of(self, station: float) -> int:
        above = int(np.searchsorted(self.stations, station + 1e-9, side="right"))
        return min(max(above - 1, 0), len(self.stations) - 2)

    def nearest(self, point: Point) -> tuple[float, float]:
        """Station of the run nearest to a point, and the distance to it, m."""
        starts, steps = self.points[:-1], np.diff(self.points, axis=0)
        lengths = np.diff(self.stations)
        along = np.clip(np.sum((np.asarray(point) - starts) * steps, axis=1) / lengths**2, 0.0, 1.0)
        gaps = np.hypot(*(starts + along[:, None] * steps - np.asarray(point)).T)
        best = int(np.argmin(gaps))
        return float(self.stations[best] + along[best] * lengths[best]), float(gaps[best])


def alignment_of(line: Line, start: Point, bearing: float) -> Alignment:
    """Lay a line out from its low end at ``start``, on a bearing in degrees anticlockwise from east."""
    bends = sorted((b for b in line.bends if 0 < b.station < line.length), key=lambda b: b.station)
    stations, points, way = [0.0], [start], math.radians(bearing)
    for stop, turn in [*((b.station, b.angle) for b in bends), (line.length, 0.0)]:
        ahead = stop - stations[-1]
        if ahead > 1e-9:
            stations.append(stop)
            points.append((points[-1][0] + ahead * math.cos(way), points[-1][1] + ahead * math.sin(way)))
        way += math.radians(turn)
    return Alignment(np.array(stations), np.array(points))


def bends_of(corners: list[Point]) -> tuple[float, float, tuple[Bend, ...]]:
    """Length, bearing (degrees anticlockwise from east) and bends of a run through corners, from its low end up.

    Raises InputError where fewer than two corners stand apart.
    """
    apart = [corners[0]] if corners else []
    for corner in corners[1:]:
        if math.dist(corner, apart[-1]) > 1e-3:
            apart.append(corner)
    if len(apart) < 2:
        raise InputError("run", "needs two points that stand apart")
    ways = [math.atan2(b[1] - a[1], b[0] - a[0]) for a, b in zip(apart, apart[1:], strict=False)]
    station, bends = 0.0, []
    for index, (a, b) in enumerate(zip(apart, apart[1:], strict=False)):
        if index:
            turn = (math.degrees(ways[index] - ways[index - 1]) + 180) % 360 - 180
            if abs(turn) > 0.01:
                bends.append(Bend(round(station, 6), round(turn, 6)))
        station += math.dist(a, b)
    return round(station, 6), round(math.degrees(ways[0]), 6), tuple(bends)
