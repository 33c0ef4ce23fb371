"""The soils of a job: which holds where, and edits of their list."""

from __future__ import annotations

import dataclasses
import math

from weirant.errors import InputError
from weirant.job.assumed import unmarked
from weirant.job.geometry import inside
from weirant.job.identity import SOIL, by_id, fresh
from weirant.job.job import Job
from weirant.job.soil import Soil
from weirant.language import tr

EVERYWHERE = "everywhere else"
SHOWN = (EVERYWHERE,)  # in the language of the reader


def everywhere(job: Job) -> Soil:
    """The soil that holds where no other does. The audit has let no job through that has none."""
    return next(soil for soil in job.soils if not soil.hole and not soil.area)


def soil_of(job: Job, identity: str) -> Soil:
    """The soil of an identity; KeyError where there is none."""
    found: Soil | None = by_id(job.soils, identity)
    if found is None:
        raise KeyError(identity)
    return found


def with_soil(job: Job, soil: Soil) -> Job:
    """The job with a soil in the place of the one of its identity."""
    return dataclasses.replace(job, soils=tuple(soil if s.id == soil.id else s for s in job.soils))


def soil_at(job: Job, x: float, y: float) -> Soil:
    """The soil at a point in plan: of the smallest outline that holds it, or else of the nearest test hole where that has one, or else the one that
    holds everywhere.
    """
    areas = [(thing, soil) for soil in job.soils if soil.area and (thing := by_id(job.features, soil.area)) is not None]
    within = [(thing.area, soil.id, soil) for thing, soil in areas if thing.is_outline and inside([(p.x, p.y) for p in thing.points], x, y)]
    if within:
        return min(within)[2]
    if job.holes and any(soil.hole for soil in job.soils):
        nearest = min(job.holes, key=lambda hole: (math.hypot(hole.x - x, hole.y - y), hole.id))
        found = next((soil for soil in job.soils if soil.hole == nearest.id), None)
        if found is not None:
            return found
    return everywhere(job)


def where_words(job: Job, soil: Soil) -> str:
    """Where a soil holds, in a few words."""
    hole, area = by_id(job.holes, soil.hole), by_id(job.features, soil.area)
    return tr("round {hole}", hole=hole.name) if hole is not None else tr("within {area}",
                                                                          area=area.name) if area is not None else tr(EVERYWHERE) if len(job.soils) > 1 else tr("everywhere")


def free_places(job: Job) -> list[tuple[str, str]]:
    """Where another soil may hold: test holes and outlines that have none yet, as (hole, area)."""
    taken = {s.hole for s in job.soils} | {s.area for s in job.soils}
    return [*((hole.id, "") for hole in job.holes if hole.id not in taken), *(("", f.id) for f in job.features if f.is_outline and f.kind != "boundary" and f.id not in taken)]


def with_new_soil(job: Job, like: str) -> tuple[Job, str]:
    """The job with another soil, like one that is there, where nobody has said one yet; and its identity. Raises InputError where there is no hole
    and no outline left for it.
    """
    free = free_places(job)
    if not free:
        raise InputError(tr("another soil"), tr("holds round a test hole or within an outline: dig a hole first, or draw the area where it holds"))
    hole, area = free[0]
    named = by_id(job.holes, hole) or by_id(job.features, area)
    assert named is not None
    new = dataclasses.replace(soil_of(job, like), id=fresh(job.soils, SOIL), name=_fresh_name(job, tr("soil at {named}", named=named.name)), hole=hole, area=area)
    return dataclasses.replace(job, soils=(*job.soils, new)), new.id


def _fresh_name(job: Job, wanted: str) -> str:
    names = {soil.name for soil in job.soils}
    return wanted if wanted not in names else next(name for i in range(2, len(names) + 3) if (name := f"{wanted} {i}") not in names)


def placed(job: Job, identity: str, hole: str, area: str) -> Job:
    """The job with a soil holding round a hole, within an outline, or, with neither, everywhere else: the one that held there then takes its place."""
    soil, before = soil_of(job, identity), everywhere(job)
    if not hole and not area and soil is not before:
        job = with_soil(job, dataclasses.replace(before, hole=soil.hole, area=soil.area))
    elif soil is before and (hole or area):
        raise InputError(soil.name, tr("holds where no other soil does; let another hold everywhere else first"))
    return with_soil(job, dataclasses.replace(soil, hole=hole, area=area))


def without_soil(job: Job, identity: str) -> Job:
    """The job without a soil; where it held, the one that holds everywhere does. Raises InputError for that one."""
    soil = soil_of(job, identity)
    if soil is everywhere(job):
        raise InputError(soil.name, tr("holds where no other soil does; a job needs it"))
    return unmarked(dataclasses.replace(job, soils=tuple(s for s in job.soils if s.id != identity)), [f"soils.{identity}."])
