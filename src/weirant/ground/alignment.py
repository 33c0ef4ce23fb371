"""A run laid out in plan through its corners, from its low end up."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from weirant.errors import InputError
from weirant.job.geometry import APART, Point
from weirant.language import tr
from weirant.records import dataclass

Array = NDArray[np.float64]
__all__ = ["Alignment", "Point", "alignment_of", "turn_at"]


@dataclass(frozen=True, eq=False)
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


def alignment_of(points: Sequence[Point]) -> Alignment:
    """Lay a run through corners, from its low end up; corners that are one place count once. Raises InputError where fewer than two stand apart."""
    apart = list(points[:1])
    for corner in points[1:]:
        if math.dist(corner, apart[-1]) >= APART:
            apart.append(corner)
    if len(apart) < 2:
        raise InputError("run", tr("needs two points that stand apart"))
    stations = [0.0]
    for a, b in pairwise(apart):
        stations.append(stations[-1] + math.dist(a, b))
    return Alignment(np.array(stations), np.array(apart, dtype=float))


def turn_at(alignment: Alignment, station: float) -> float:
    """Angle by which a run turns at a station, degrees, positive to the left looking uphill; nought where it goes straight on and at its ends."""
    below, above = alignment.bearing(station - 2e-6), alignment.bearing(station + 2e-6)
    if station < 1e-6 or station > alignment.length - 1e-6:
        return 0.0
    return (math.degrees(above - below) + 180) % 360 - 180
