"""Invert levels of a line from its lengths of even grade, and back."""

from __future__ import annotations

import dataclasses

import numpy as np
from numpy.typing import NDArray

from weirant.errors import InputError
from weirant.job.line import GradeBreak, Line

Array = NDArray[np.float64]
SAME_SLOPE = 1e-6
FLATTEST, STEEPEST = 1e-4, 0.5


def grade_nodes(line: Line) -> tuple[Array, Array]:
    """Stations m and invert levels m where the grade begins, changes and ends; both of shape (n,)."""
    breaks = [b for b in sorted(line.breaks, key=lambda b: b.station) if 0 < b.station < line.length]
    stations = np.array([0.0, *(b.station for b in breaks), line.length])
    slopes = np.array([line.slope, *(b.slope for b in breaks)])
    return stations, line.outlet_invert + np.concatenate([[0.0], np.cumsum(slopes * np.diff(stations))])


def invert_at(line: Line, stations: Array) -> Array:
    """Invert levels m at stations m of any shape; beyond its ends the line goes on at the slope it has there."""
    nodes, levels = grade_nodes(line)
    last = (levels[-1] - levels[-2]) / (nodes[-1] - nodes[-2])
    inside = np.interp(stations, nodes, levels)
    beyond = np.maximum(stations - nodes[-1], 0.0) * last + np.minimum(stations, 0.0) * line.slope
    return np.asarray(inside + beyond)


def slope_at(line: Line, stations: Array) -> Array:
    """Slope m/m at stations m of shape (n,); at a grade break that of the length below it, towards the outlet."""
    breaks = sorted(line.breaks, key=lambda b: b.station)
    slopes = np.array([line.slope, *(b.slope for b in breaks)])
    return np.asarray(slopes[np.searchsorted(np.array([b.station for b in breaks]), stations - 1e-9, side="right")])


def least_slope(line: Line) -> tuple[float, float]:
    """The flattest slope of the line, m/m, and the station where it begins."""
    found = [(line.slope, 0.0), *((b.slope, b.station) for b in line.breaks if b.station < line.length)]
    return min(found)


def with_inverts(line: Line, stations: list[float] | Array, levels: list[float] | Array) -> Line:
    """The line laid through invert levels at rising stations from 0 to its length; lengths of one slope are joined.

    Raises InputError where it would run level or backwards, or steeper than 1 in 2.
    """
    at, z = np.asarray(stations, dtype=float), np.asarray(levels, dtype=float)
    slopes = np.diff(z) / np.diff(at)
    if slopes.min() < FLATTEST or slopes.max() > STEEPEST:
        index = int(np.argmin(slopes) if slopes.min() < FLATTEST else np.argmax(slopes))
        what = "must fall towards the outlet" if slopes[index] < FLATTEST else "must not be steeper than 1 in 2"
        raise InputError("grade", f"{what} between stations {at[index]:.2f} m and {at[index + 1]:.2f} m")
    breaks: list[GradeBreak] = []
    slope = float(slopes[0])
    for station, after in zip(at[1:-1].tolist(), slopes[1:].tolist(), strict=True):
        if abs(after - (breaks[-1].slope if breaks else slope)) > SAME_SLOPE:
            breaks.append(GradeBreak(round(station, 6), after))
    return dataclasses.replace(line, outlet_invert=float(z[0]), slope=slope, breaks=tuple(breaks))
