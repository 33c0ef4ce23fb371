"""Situations of a run: where the groundwater of what collects of it comes from, which place it keeps dry, and how far off that lies."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable
from typing import Any

from weirant.errors import InputError
from weirant.job.beside import Beside, Leg, beside, legs_of, outline_beside
from weirant.job.geometry import NOUGHT, nodes_by_id, parts_of, points_of, run_of, stations_of
from weirant.job.identity import THING, by_id, fresh
from weirant.job.job import Job
from weirant.job.network import Run, Stretch
from weirant.job.run_edits import with_run
from weirant.job.site import Feature, Spot
from weirant.job.water import Situation
from weirant.language import tr


def situation_of(run: Run) -> Situation:
    """The situation of a run as a whole: of the first stretch that collects and keeps a place dry, or else of the first that collects."""
    collecting = [s for s in run.stretches if not s.is_solid] or list(run.stretches)
    return next((s for s in collecting if s.situation.place), collecting[0]).situation


def reader(name: str) -> Callable[[Job, str], Any]:
    """Reads a figure of the situation of a run."""
    return lambda job, identity: getattr(situation_of(run_of(job, identity)), name)


def writer(name: str) -> Callable[[Job, str, Any], Job]:
    """Writes a figure of the situation of all that collects of a run; of a run that is all solid, of all of it."""

    def write(job: Job, identity: str, value: Any) -> Job:
        run = run_of(job, identity)
        all_solid = all(s.is_solid for s in run.stretches)

        def told(stretch: Stretch) -> Stretch:
            if stretch.is_solid and not all_solid:
                return stretch
            return dataclasses.replace(stretch, situation=dataclasses.replace(stretch.situation, **{name: value}))

        return with_run(job, dataclasses.replace(run, stretches=tuple(map(told, run.stretches))))

    return write


def places_of(job: Job) -> tuple[Feature, ...]:
    """The things that some drain is to keep dry."""
    return tuple(f for f in job.features if f.dry_depth is not None)


def place_beside(job: Job, identity: str) -> Beside | None:
    """The place that a run keeps dry, as it lies beside what of it collects for it; None where it keeps none."""
    wanted = situation_of(run_of(job, identity)).place
    place = by_id(job.features, wanted) if wanted else None
    return None if place is None or place.dry_depth is None else beside(_legs_for(job, identity, wanted), place)


def _legs_for(job: Job, identity: str, place: str) -> list[Leg]:
    """The straight parts of what collects of a run for a place."""
    run, nodes = run_of(job, identity), nodes_by_id(job)
    stations = stations_of(run, nodes)
    spans = [(low, high) for low, high, s in parts_of(run, stations[-1]) if not s.is_solid and s.situation.place == place]
    return legs_of(points_of(run, nodes), stations, spans)


def distance(job: Job, identity: str) -> float | None:
    """Distance m from what collects of a run to the nearest edge of the place that it keeps dry; None where it keeps none."""
    lie = place_beside(job, identity)
    return None if lie is None else lie.distance


def with_distance(job: Job, identity: str, wanted: float) -> Job:
    """The job with the place that a run keeps dry moved straight to or from it. Raises InputError where there is none, or the run goes through it."""
    lie = place_beside(job, identity)
    if lie is None:
        raise InputError(tr("distance from the drain"), tr("is that of the place which it keeps dry; choose the place first"))
    if lie.distance <= NOUGHT:
        raise InputError(tr("distance from the drain"), tr("cannot be typed while the drain goes through {place}; move one of them on the plan", place=lie.place.name))
    east, north = _towards(job, identity, lie)
    by = wanted - lie.distance
    points = tuple(Spot(p.x + by * east, p.y + by * north) for p in lie.place.points)
    moved = dataclasses.replace(lie.place, points=points)
    return dataclasses.replace(job, features=tuple(moved if f.id == moved.id else f for f in job.features))


def _towards(job: Job, identity: str, lie: Beside) -> tuple[float, float]:
    """The direction square to the run, towards the place, where they come nearest to each other."""

    def away(leg: Leg) -> float:
        found = beside([leg], lie.place)
        return math.inf if found is None else found.distance

    _, a, b = min(_legs_for(job, identity, lie.place.id), key=away)
    size = math.dist(a, b)
    return -lie.sign * (b[1] - a[1]) / size, lie.sign * (b[0] - a[0]) / size


USUAL_DRY = {"building": 0.9144, "slab": 0.4572, "wall": 0.4572}  # m to which a thing is usually to be dry (common practice, no source)
USUAL_LAWN = 0.3048  # m, of everything else
NEW_NEAR, NEW_WIDE = 3.048, 9.144  # m from the drain, and across, of a place that nobody has drawn yet


def with_place(job: Job, identity: str, thing: str, stretch: str = "") -> Job:
    """The job with a thing kept dry by what collects of a run, or by one stretch of it (no thing: by nothing); to its usual depth, as an
    assumption, where none was said.
    """
    place = by_id(job.features, thing) if thing else None
    if place is not None and place.dry_depth is None:
        wanted = dataclasses.replace(place, dry_depth=USUAL_DRY.get(place.kind, USUAL_LAWN))
        job = dataclasses.replace(job, features=tuple(wanted if f.id == thing else f for f in job.features), assumed=(*job.assumed, f"features.{thing}.dry_depth"))
    if not stretch:
        placed: Job = writer("place")(job, identity, thing)
        return placed
    run = run_of(job, identity)
    stretches = tuple(dataclasses.replace(s, situation=dataclasses.replace(s.situation, place=thing)) if s.id == stretch else s for s in run.stretches)
    return with_run(job, dataclasses.replace(run, stretches=stretches))


def with_new_place(job: Job, identity: str, stretch: str = "") -> Job:
    """The job with a lawn beside what collects of a run, left of it, to be kept dry by it; where it lies is assumed until it is moved."""
    run, nodes = run_of(job, identity), nodes_by_id(job)
    stations = stations_of(run, nodes)
    spans = [(low, high) for low, high, s in parts_of(run, stations[-1]) if not s.is_solid and stretch in ("", s.id)]
    if not spans:
        raise InputError(run.name, tr("has no pipe that collects; a solid pipe keeps nothing dry"))
    legs = legs_of(points_of(run, nodes), stations, [(0.0, stations[-1])])
    corners = outline_beside(legs, spans[0][0], spans[-1][1], NEW_NEAR, NEW_NEAR + NEW_WIDE, on_left=True)
    thing = Feature(fresh(job.features, THING), "lawn", _fresh_name(job), tuple(Spot(round(c.x, 6), round(c.y, 6)) for c in corners))
    job = dataclasses.replace(job, features=(*job.features, thing), assumed=(*job.assumed, f"features.{thing.id}.points"))
    return with_place(job, identity, thing.id, stretch)


def _fresh_name(job: Job) -> str:
    names = {f.name for f in job.features}
    return next(name for i in range(1, len(names) + 2) if (name := tr("the wet place") if i == 1 else tr("wet place {number}", number=i)) not in names)


def without_place(job: Job, thing: str) -> tuple[Job, list[str]]:
    """The job in which no run keeps a thing dry, and the names of the runs that did."""
    runs, named = [], []
    for run in job.runs:
        if any(s.situation.place == thing for s in run.stretches):
            named.append(run.name)
            run = dataclasses.replace(run, stretches=tuple(_freed(s) if s.situation.place == thing else s for s in run.stretches))
        runs.append(run)
    return (dataclasses.replace(job, runs=tuple(runs)), named) if named else (job, [])


def _freed(stretch: Stretch) -> Stretch:
    return dataclasses.replace(stretch, situation=dataclasses.replace(stretch.situation, place=""))
