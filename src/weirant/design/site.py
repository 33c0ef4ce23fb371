"""The site from its shots: the surface through them, the ground under every run, and what the runs meet."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

from weirant.errors import InputError
from weirant.ground.alignment import Alignment, Point, alignment_of
from weirant.ground.crossings import Crossing, places_crossed, stretches_within
from weirant.ground.grade_line import GradeLine, Section, lay
from weirant.ground.levels import Ground, LevelBook
from weirant.ground.network import Run, meetings, runs_that_stand, stations_every
from weirant.ground.places import point_of
from weirant.ground.surface import Surface, build_surface
from weirant.ground.surface.blunders import spikes
from weirant.job import Job
from weirant.job.network import MAIN
from weirant.job.site import Feature
from weirant.library import Pipe
from weirant.outcome.site import RunOutcome, Site

Array = NDArray[np.float64]
SAMPLE = 0.6  # m between the places where the surface under a run is read
Given = TypeVar("Given")
_kept: dict[str, tuple[tuple[Any, ...], Any]] = {}


def _once(name: str, on: tuple[Any, ...], make: Callable[[], Given]) -> Given:
    """The last result of ``make`` as long as what it rests on is the very same; a drag of levels leaves the surface alone."""
    before = _kept.get(name)
    if before is not None and len(before[0]) == len(on) and all(a is b or (not isinstance(a, tuple) and a == b) for a, b in zip(before[0], on, strict=True)):
        found: Given = before[1]
        return found
    made = make()
    _kept[name] = (on, made)
    return made


def site_points(job: Job, book: LevelBook) -> tuple[list[str], Array, Array]:
    """Names, places (n, 2) and levels (n,) of every point with a level: read or taken, booked in plan, booked on the line."""
    main = alignment_of(job.line, (job.x, job.y), job.bearing)
    names = [p.name for p in job.points]
    places = [(p.x, p.y) for p in job.points]
    levels = [p.level for p in job.points]
    for booked in book.shots:
        shot = booked.shot
        if booked.elevation is None or (shot.place is None and shot.station is None):
            continue
        names.append(shot.point)
        places.append(point_of(shot.place, job.survey) if shot.place is not None else _on_line(main, shot.station or 0.0))
        levels.append(booked.elevation)
    return names, np.array(places, dtype=float).reshape(-1, 2), np.array(levels, dtype=float)


def _on_line(main: Alignment, station: float) -> tuple[float, float]:
    return main.point(min(max(station, 0.0), main.length))


def surface_of(job: Job, book: LevelBook) -> tuple[Surface | None, str, tuple[str, ...]]:
    """The surface, or why there is none; and the names of points that stand out from their neighbours."""
    return _once("surface", (job.points, job.survey, *_lie(job)), lambda: _surface(job, book))


def _lie(job: Job) -> tuple[Any, ...]:
    """How the main line lies in plan: shots booked on it move with it."""
    return job.line.length, job.line.bends, job.bearing, job.x, job.y


def _surface(job: Job, book: LevelBook) -> tuple[Surface | None, str, tuple[str, ...]]:
    names, places, levels = site_points(job, book)
    try:
        surface = build_surface(places, levels)
    except InputError as fault:
        return None, str(fault), ()
    odd = []
    for corner in spikes(surface).tolist():
        nearest = int(np.argmin(np.hypot(*(places - surface.corners[corner]).T)))
        odd.append(names[nearest])
    return surface, "", tuple(odd)


def ground_under(run: Run, book: LevelBook, surface: Surface | None) -> Ground | None:
    """The ground along a run: the level book for the main line where it has it, else the surface under it."""
    if run.name == MAIN and book.ground is not None:
        return book.ground
    if surface is None:
        return None
    stations = stations_every(run, SAMPLE)
    levels, inside = surface.at(run.alignment.at(stations))
    if not inside.any():
        return None
    return Ground(stations[inside], levels[inside])


def site_of(job: Job, book: LevelBook, pipe: Pipe, section: Section) -> Site:
    """Surface, runs and what they meet. Where the runs make no tree, ``fault`` says why and the main line stands alone."""
    surface, why, odd = surface_of(job, book)
    runs, fault = runs_that_stand(job)
    found = tuple(_run(job, run, book, surface, section) for run in runs)
    return Site(surface, why, odd, found, tuple(meetings(runs)), fault)


def _run(job: Job, run: Run, book: LevelBook, surface: Surface | None, section: Section) -> RunOutcome:
    lie = (run.alignment.points.tobytes(), run.line.length)
    on = (job.points, job.survey, *lie, *_lie(job))
    ground = _once(f"ground {run.name}", on, lambda: ground_under(run, book, surface))
    met = _once(f"met {run.name}", (job.features, *lie), lambda: _met(job, run))

    def made() -> RunOutcome:
        grade = None if ground is None else lay(ground, run.line, section)
        return RunOutcome(run, grade, tuple(_levelled(feature, station, at, by_hand, grade) for feature, station, at, by_hand in met))

    return _once(f"run {run.name}", (*on, job.features, run.line, run.joins, run.joins_at, run.trench_of, run.index, section), made)


Met = tuple[Feature, float, Point, tuple[float, float]]


def _met(job: Job, run: Run) -> tuple[Met, ...]:
    """Every buried line that a run meets, with station, place and the stretch to dig by hand, from the low end up."""
    found: list[Met] = []
    for feature in job.features:
        if not feature.is_buried:
            continue
        for station, at in places_crossed(run.alignment, feature):
            stretches = stretches_within(run.alignment, feature, feature.tolerance)
            by_hand = next(((a, b) for a, b in stretches if a - 1e-6 <= station <= b + 1e-6), (station, station))
            found.append((feature, station, at, by_hand))
    return tuple(sorted(found, key=lambda met: met[1]))


def _levelled(feature: Feature, station: float, at: Point, by_hand: tuple[float, float], grade: GradeLine | None) -> Crossing:
    ground = None if grade is None else grade.at(grade.ground, station)
    top = None if ground is None or feature.depth is None else ground - feature.depth
    return Crossing(feature, station, at, top, None if top is None else top - feature.diameter, *by_hand)
