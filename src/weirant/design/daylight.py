"""Where a run of the job could come to daylight, and the job with its outlet moved there."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import shapely

from weirant.errors import InputError
from weirant.ground.alignment import bends_of
from weirant.ground.crossings import shape_of
from weirant.ground.daylight_places import DaylightPlace, Land, daylight_places
from weirant.ground.inverts import grade_nodes, invert_at, with_inverts
from weirant.ground.network import run_named
from weirant.job import Job
from weirant.job.network import MAIN
from weirant.job.survey import Place
from weirant.outcome.outcome import Outcome


def places_for(outcome: Outcome, name: str, slope: float | None = None) -> list[DaylightPlace]:
    """Places where the run of a name could come out, from the low end of its collecting run at a slope (the run's own if none)."""
    site, job = outcome.site, outcome.job
    if site is None or site.surface is None:
        raise InputError("ground", site.no_surface if site is not None else "is not known")
    run = run_named(job, name)
    start = run.alignment.point(run.line.solid_length)
    level = float(invert_at(run.line, np.array(run.line.solid_length)))
    below = outcome.pipe.wall + job.trench.bedding
    return daylight_places(site.surface, start, level, slope or job.limits.least_slope_solid, job.trench.width, below, land_of(job))


def land_of(job: Job) -> Land:
    """The owner's land within its boundary, and the buildings on it."""
    boundary = next((f for f in job.features if f.kind == "boundary" and len(f.points) > 2), None)
    barred = tuple(shape_of(f, is_closed=True) for f in job.features if f.kind in ("building", "slab", "wall"))
    return Land(None if boundary is None else shapely.buffer(shape_of(boundary, is_closed=True), 0.01), barred)


def with_outlet_at(job: Job, name: str, place: DaylightPlace) -> Job:
    """The job with the solid pipe of a run led straight to a place; the collecting run stays where it is and as deep.

    Shots booked on the main line keep their places in plan. Raises InputError where another run joins the old solid pipe.
    """
    run = run_named(job, name)
    line, shift = run.line, place.length - run.line.solid_length
    if any(b.joins == name and b.joins_at < line.solid_length - 1e-6 for b in job.branches):
        raise InputError(f"run {name}", "has another run on its solid pipe; join that one to the collecting run first")
    kept = [line.solid_length, *(b.station for b in line.bends if line.solid_length < b.station < line.length), line.length]
    length, bearing, bends = bends_of([place.at, *(run.alignment.point(s) for s in kept)])
    stations, levels = grade_nodes(line)
    above = stations > line.solid_length + 1e-9
    start = float(np.interp(line.solid_length, stations, levels))
    moved = dataclasses.replace(line, solid_length=round(place.length, 6), length=length, bends=bends, breaks=(),
                                held=tuple(dataclasses.replace(h, station=h.station + shift) for h in line.held if h.station >= line.solid_length),
                                fittings=tuple(dataclasses.replace(f, station=f.station + shift) for f in line.fittings if f.station >= line.solid_length))  # fmt: skip
    moved = with_inverts(moved, [0.0, moved.solid_length, *(stations[above] + shift)[:-1], length], [place.level, start, *levels[above]])
    job = dataclasses.replace(job, branches=tuple(
        dataclasses.replace(b, line=moved, joins="", joins_at=0.0, x=place.at[0], y=place.at[1], bearing=bearing) if b.name == name
        else dataclasses.replace(b, joins_at=b.joins_at + shift) if b.joins == name else b for b in job.branches))  # fmt: skip
    if name != MAIN:
        return job
    shots = tuple(s if s.station is None else dataclasses.replace(s, station=None, place=Place("plan", *run.alignment.point(s.station)))
                  for s in job.survey.shots)  # fmt: skip
    protected = dataclasses.replace(job.protected, from_station=job.protected.from_station + shift, to_station=job.protected.to_station + shift)
    return dataclasses.replace(job, line=moved, bearing=bearing, x=place.at[0], y=place.at[1], protected=protected,
                               survey=dataclasses.replace(job.survey, shots=shots))  # fmt: skip


def heading_words(bearing: float) -> str:
    """A bearing (rad anticlockwise from east) as a point of the compass."""
    names = ("E", "NE", "N", "NW", "W", "SW", "S", "SE")
    return names[round(math.degrees(bearing) / 45) % 8]
