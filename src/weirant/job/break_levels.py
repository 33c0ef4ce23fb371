"""The invert at a grade break as a figure of its own: it follows from the slopes, and moving it changes the slope on either side of it."""

from __future__ import annotations

import dataclasses

from weirant.errors import InputError
from weirant.job.geometry import length_of, nodes_by_id, run_of
from weirant.job.job import Job
from weirant.job.network import Run
from weirant.job.run_edits import with_run
from weirant.language import tr
from weirant.units.display import LEVEL, System, shown

STEEPEST = 0.5  # m/m that a pipe may be laid to


def level_at_break(job: Job, identity: str, number: int) -> float:
    """Invert level m at a grade break of a run, by its number among them. Raises KeyError where there is none."""
    run = run_of(job, identity)
    stations, levels = _nodes(run, _length(job, run))
    return levels[stations.index(_station(run, number))]


def with_level_at_break(job: Job, identity: str, number: int, level: float) -> Job:
    """The job with the invert at a grade break at a level m, every other node kept. Raises InputError where a length beside it would run backwards
    or steeper than 1 in 2.
    """
    run = run_of(job, identity)
    station = _station(run, number)
    stations, levels = _nodes(run, _length(job, run))
    index = stations.index(station)
    below, above = station - stations[index - 1], stations[index + 1] - station
    low = max(levels[index - 1], levels[index + 1] - STEEPEST * above)
    high = min(levels[index - 1] + STEEPEST * below, levels[index + 1])
    if not low <= level <= high:
        system = System(job.units)
        raise InputError(tr("invert at the grade break"), tr("must be between {low} and {high}", low=shown(low, LEVEL, system), high=shown(high, LEVEL, system)), shown(level, LEVEL, system))
    slope_below, slope_above = (level - levels[index - 1]) / below, (levels[index + 1] - level) / above
    slopes = {stations[index - 1]: slope_below, station: slope_above}
    breaks = tuple(dataclasses.replace(b, slope=slopes.get(b.station, b.slope)) for b in run.breaks)
    return with_run(job, dataclasses.replace(run, slope=slopes.get(0.0, run.slope), breaks=breaks))


def _length(job: Job, run: Run) -> float:
    return length_of(run, nodes_by_id(job))


def _station(run: Run, number: int) -> float:
    if not 0 <= number < len(run.breaks):
        raise KeyError(number)
    return run.breaks[number].station


def _nodes(run: Run, length: float) -> tuple[list[float], list[float]]:
    """Stations and levels m of the low end, the breaks and the top end."""
    breaks = sorted(run.breaks, key=lambda b: b.station)
    if not breaks:
        raise KeyError(run.id)
    stations = [0.0, *(b.station for b in breaks), max(length, breaks[-1].station + 1e-6)]
    levels = [run.invert]
    for low, high, slope in zip(stations, stations[1:], (run.slope, *(b.slope for b in breaks)), strict=False):
        levels.append(levels[-1] + slope * (high - low))
    return stations, levels
