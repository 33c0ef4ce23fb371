"""Edits of the layout: runs and things drawn, moved and taken out; each gives a new job."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable

import numpy as np
import shapely

from weirant.errors import InputError
from weirant.ground.alignment import Point, bends_of
from weirant.ground.crossings import shape_of
from weirant.ground.inverts import grade_nodes, invert_at, with_inverts
from weirant.ground.network import line_named, run_named, runs_that_stand, with_line
from weirant.job import Job
from weirant.job.line import GROUND, Held, Line
from weirant.job.network import MAIN, Branch
from weirant.job.site import FOUNDED, OUTLINED, Feature, Spot

SOLID_START = 3.0  # m of solid pipe given to a new collecting run with an outlet of its own (common practice, no source)
NEAR = 0.05  # m within which a low end counts as standing on a run


def add_run(job: Job, corners: list[Point], *, collects: bool, joins: str = "", system: str = GROUND, ground: float | None = None) -> Job:
    """A new run through corners from its low end up; it joins the run named, or has an outlet of its own at the ground level given.

    It is laid at the least slope of its use. Raises InputError where there are too few corners.
    """
    length, bearing, bends = bends_of(corners)
    limits = job.limits
    least = max(limits.least_slope if collects else limits.least_slope_solid, 0.001)
    invert, at = (ground or job.line.outlet_invert), 0.0
    if joins:
        parent = run_named(job, joins)
        at = parent.alignment.nearest(corners[0])[0]
        invert = float(invert_at(parent.line, np.array(at)))
    solid = length if not collects else 0.0 if joins else min(SOLID_START, 0.4 * length)
    line = Line(round(invert, 6), least, round(solid, 6), length, bends=bends, system=system)
    branch = Branch(_fresh(job, "drain" if collects else "solid"), line, joins, round(at, 6), *(0.0, 0.0) if joins else corners[0], bearing)
    return dataclasses.replace(job, branches=(*job.branches, branch))


def _fresh(job: Job, stem: str) -> str:
    names = {b.name for b in job.branches}
    return next(name for i in range(1, len(names) + 2) if (name := f"{stem} {i}") not in names)


def remove_run(job: Job, name: str) -> Job:
    """The job without a branch. Raises InputError for the main line, and where another run joins it."""
    if name == MAIN:
        raise InputError("main line", "cannot be taken out; the site is worked out from it")
    above = next((b.name for b in job.branches if b.joins == name), None)
    if above is not None:
        raise InputError(f"run {name}", f"is joined by {above}; take that out first")
    return dataclasses.replace(job, branches=tuple(b for b in job.branches if b.name != name), as_built=tuple(b for b in job.as_built if b.run != name),
                               crossings=tuple(c for c in job.crossings if c.run != name))  # fmt: skip


def rename_run(job: Job, old: str, new: str) -> Job:
    """The job with a branch under another name, wherever it is mentioned. Raises InputError where the name is taken or empty."""
    new = new.strip()
    if not new or new == MAIN or any(b.name == new for b in job.branches if b.name != old):
        raise InputError("name of the run", "is empty or taken", new or None)

    def renamed(branch: Branch) -> Branch:
        swap = {key: new for key in ("name", "joins", "trench_of") if getattr(branch, key) == old}
        return dataclasses.replace(branch, **swap)  # type: ignore[arg-type]

    return dataclasses.replace(job, branches=tuple(map(renamed, job.branches)), as_built=tuple(dataclasses.replace(b, run=new) if b.run == old else b for b in job.as_built),
                               crossings=tuple(dataclasses.replace(c, run=new) if c.run == old else c for c in job.crossings))  # fmt: skip


def move_corner(name: str, index: int) -> Callable[[Job, Point], Job]:
    """A corner of a run moved in plan; stations stretch with it, levels at its nodes stay. A joined low end slides along its parent."""

    def move(job: Job, to: Point) -> Job:
        run = run_named(job, name)
        if index == 0 and run.joins:
            parent = run_named(job, run.joins)
            station = parent.alignment.nearest(to)[0]
            to = parent.alignment.point(station)
            job = _with_branch(job, name, joins_at=round(station, 6))
        corners: list[Point] = [(float(x), float(y)) for x, y in run.alignment.points]
        corners[index] = to
        length, bearing, bends = bends_of(corners)
        new_stations = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(np.array(corners), axis=0).T))])
        moved = _stretched(run.line, run.alignment.stations, new_stations, length)
        job = with_line(job, name, dataclasses.replace(moved, bends=bends))
        job = dataclasses.replace(job, branches=tuple(
            dataclasses.replace(b, joins_at=min(float(np.interp(b.joins_at, run.alignment.stations, new_stations)), length)) if b.joins == name else b
            for b in job.branches))  # fmt: skip
        if name == MAIN:
            place = job.protected
            low, high = (float(np.interp(s, run.alignment.stations, new_stations)) for s in (place.from_station, place.to_station))
            return dataclasses.replace(job, bearing=bearing, x=corners[0][0], y=corners[0][1],
                                       protected=dataclasses.replace(place, from_station=low, to_station=high))  # fmt: skip
        job = _with_branch(job, name, bearing=bearing)
        return job if run.joins else _with_branch(job, name, x=corners[0][0], y=corners[0][1])

    return move


def _with_branch(job: Job, name: str, **changes: float) -> Job:
    return dataclasses.replace(job, branches=tuple(dataclasses.replace(b, **changes) if b.name == name else b for b in job.branches))  # type: ignore[arg-type]


def _stretched(line: Line, old: np.ndarray, new: np.ndarray, length: float) -> Line:
    """The line with its stations moved as its corners moved; it keeps its levels, or its slopes where that would not fall."""

    def at(station: float) -> float:
        return round(min(float(np.interp(station, old, new)), length), 6)

    nodes, levels = grade_nodes(line)
    moved = dataclasses.replace(
        line, length=length, solid_length=length if line.solid_length >= line.length - 1e-6 else at(line.solid_length), breaks=(),
        held=tuple(dataclasses.replace(h, station=at(h.station)) for h in line.held),
        fittings=tuple(dataclasses.replace(f, station=at(f.station)) for f in line.fittings),
    )  # fmt: skip
    stations = [at(float(s)) for s in nodes[:-1]] + [length]
    try:
        return with_inverts(moved, stations, levels)
    except InputError:
        return moved


def hold(job: Job, name: str, station: float, level: float) -> Job:
    """Fix the invert of a run at a station; a level held there before is replaced."""
    line = line_named(job, name)
    kept = tuple(h for h in line.held if abs(h.station - station) > 0.05)
    held = tuple(sorted((*kept, Held(station, level)), key=lambda h: h.station))
    return with_line(job, name, dataclasses.replace(line, held=held))


def release(job: Job, name: str, station: float) -> Job:
    """Let a held invert go."""
    line = line_named(job, name)
    return with_line(job, name, dataclasses.replace(line, held=tuple(h for h in line.held if abs(h.station - station) > 0.05)))


def add_thing(job: Job, kind: str, corners: list[Point]) -> Job:
    """A thing drawn on the plan. Raises InputError where it has too few corners for its kind."""
    needed = 1 if kind in ("tree", "outlet") else 3 if kind in OUTLINED else 2
    if len(corners) < needed:
        raise InputError(kind, f"needs {needed} points on the plan", len(corners))
    count = sum(f.kind == kind for f in job.features) + 1
    name = kind if count == 1 else f"{kind} {count}"
    thing = Feature(kind, name, tuple(Spot(x, y) for x, y in corners), root_radius=4.0 if kind == "tree" else None)
    return dataclasses.replace(job, features=(*job.features, thing))


def remove_thing(job: Job, index: int) -> Job:
    """The job without a feature."""
    gone = job.features[index].name
    return dataclasses.replace(job, features=(*job.features[:index], *job.features[index + 1 :]), crossings=tuple(c for c in job.crossings if c.feature != gone))


def move_thing_corner(index: int, corner: int) -> Callable[[Job, Point], Job]:
    """A corner of a feature moved."""

    def move(job: Job, to: Point) -> Job:
        feature = job.features[index]
        points = (*feature.points[:corner], Spot(*to), *feature.points[corner + 1 :])
        return dataclasses.replace(job, features=(*job.features[:index], dataclasses.replace(feature, points=points), *job.features[index + 1 :]))

    return move


def thing_near(job: Job, point: Point, reach: float) -> int:
    """Number of the feature at a point: the nearest line or tree within reach m, else the outline that holds it; −1 for none."""
    here = shapely.points(point)
    best, found = reach, -1
    for index, feature in enumerate(job.features):
        away = float(shapely.distance(shape_of(feature), here))
        if away < best:
            best, found = away, index
    if found >= 0:
        return found
    inside = [i for i, f in enumerate(job.features) if f.kind in (*FOUNDED, "wet area") and len(f.points) > 2
              and shapely.covers(shape_of(f, is_closed=True), here)]  # fmt: skip
    return inside[-1] if inside else -1


def run_near(job: Job, point: Point, reach: float) -> tuple[str, float] | None:
    """Name and station of the run nearest to a point within reach m."""
    found = min(((*run.alignment.nearest(point)[::-1], run.name) for run in runs_that_stand(job)[0]), default=None)
    return (found[2], found[1]) if found is not None and found[0] <= reach else None
