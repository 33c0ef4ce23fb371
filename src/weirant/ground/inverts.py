"""Invert levels of a run from its lengths of even grade, and back."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
from numpy.typing import NDArray

from weirant.errors import InputError
from weirant.ground.network import LaidRun, laid_run
from weirant.job import Job
from weirant.job.network import GradeBreak, Run
from weirant.job.run_edits import with_run
from weirant.language import tr
from weirant.units.display import STATION, in_both

Array = NDArray[np.float64]
SAME_SLOPE = 1e-6
FLATTEST, STEEPEST = 1e-4, 0.5  # m/m that a hand may drag a pipe to
LEVEL = -1e-9  # m/m: what is level to the last digit is level


def grade_nodes(run: LaidRun) -> tuple[Array, Array]:
    """Stations m and invert levels m where the grade begins, changes and ends; both of shape (n,)."""
    return run.grade


def invert_at(run: LaidRun, stations: Array) -> Array:
    """Invert levels m at stations m of any shape; beyond its ends the run goes on at the slope it has there."""
    nodes, levels = grade_nodes(run)
    last = (levels[-1] - levels[-2]) / (nodes[-1] - nodes[-2])
    inside = np.interp(stations, nodes, levels)
    beyond = np.maximum(stations - nodes[-1], 0.0) * last + np.minimum(stations, 0.0) * run.slope
    return np.asarray(inside + beyond)


def slope_at(run: LaidRun, stations: Array) -> Array:
    """Slope m/m at stations m of shape (n,); at a grade break that of the length below it, towards the outlet."""
    breaks = sorted(run.breaks, key=lambda b: b.station)
    slopes = np.array([run.slope, *(b.slope for b in breaks)])
    return np.asarray(slopes[np.searchsorted(np.array([b.station for b in breaks]), stations - 1e-9, side="right")])


def least_slope(run: LaidRun, low: float = 0.0, high: float = math.inf) -> tuple[float, float]:
    """The flattest slope of the run between two stations, m/m, and the station where it begins."""
    starts = [(run.slope, 0.0), *((b.slope, b.station) for b in sorted(run.breaks, key=lambda b: b.station) if b.station < run.length)]
    ends = [*(station for _, station in starts[1:]), run.length]
    found = [(slope, max(start, low)) for (slope, start), end in zip(starts, ends, strict=True) if start < high - 1e-9 and end > low + 1e-9]
    return min(found, default=(run.slope, 0.0))


def laid_through(job: Job, run: str, stations: list[float] | Array, levels: list[float] | Array) -> Job:
    """The job with a run laid through invert levels m at stations m; see ``with_inverts``."""
    return with_run(job, with_inverts(laid_run(job, run), stations, levels))


def with_inverts(run: LaidRun, stations: list[float] | Array, levels: list[float] | Array) -> Run:
    """The run laid through invert levels at rising stations from 0 to its length; lengths of one slope are joined.

    Raises InputError where it would run backwards, or steeper than 1 in 2, or where two stations are one.
    """
    at, z = np.asarray(stations, dtype=float), np.asarray(levels, dtype=float)
    if np.diff(at).min() <= 0:
        raise InputError("grade", tr("cannot change twice at one station"))
    slopes = np.diff(z) / np.diff(at)
    if slopes.min() < LEVEL or slopes.max() > STEEPEST:
        index = int(np.argmin(slopes) if slopes.min() < LEVEL else np.argmax(slopes))
        what = tr("must not rise towards its low end") if slopes[index] < LEVEL else tr("must not be steeper than 1 in 2")
        raise InputError("grade", tr("{what} between stations {at} and {at_2}", what=what, at=in_both(at[index], STATION), at_2=in_both(at[index + 1], STATION)))
    breaks: list[GradeBreak] = []
    slopes = np.maximum(slopes, 0.0)
    slope = float(slopes[0])
    for station, after in zip(at[1:-1].tolist(), slopes[1:].tolist(), strict=True):
        if abs(after - (breaks[-1].slope if breaks else slope)) > SAME_SLOPE:
            breaks.append(GradeBreak(round(station, 6), after))
    return dataclasses.replace(run.run, invert=float(z[0]), slope=slope, breaks=tuple(breaks))
