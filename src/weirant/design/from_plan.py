"""Areas that rain falls on, measured on the plan: roofs, paving, and the ground that sheds to the collecting run."""

from __future__ import annotations

import numpy as np

from weirant.design.sources import roofs_shed
from weirant.ground.crossings import shape_area
from weirant.ground.surface.upslope import area_draining_to
from weirant.job import Job
from weirant.job.paths import with_value
from weirant.job.site import Feature
from weirant.job.source_edits import with_new_source
from weirant.job.water import ROOF_WATER
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.records import dataclass
from weirant.units.display import AREA, WATER_VOLUME, System, shown

SURE = 0.05  # share by which an entered area may differ before the plan's is offered


@dataclass(frozen=True)
class PlanAreas:
    """Areas m²: roofs and paving drawn on the plan; ground draining to what collects of a run, None without shots."""

    roofs: float
    paving: float
    upslope: float | None


def plan_areas(outcome: Outcome, identity: str) -> PlanAreas:
    """Measure them; the surface is walked over cell by cell, some tens of milliseconds."""
    job = outcome.job
    roofs, paving = (sum(shape_area(f, outcome.rules.walk_width) for f in job.features if f.kind in kinds) for kinds in (("building",), ("slab", "walk")))
    run = outcome.run(identity).run
    off_the_line = bool(job.points) or any(shot.place is not None for shot in job.survey.shots)  # shots along the line alone tell nothing of the slope
    if outcome.site.surface is None or not off_the_line:
        return PlanAreas(roofs, paving, None)
    stations = np.linspace(run.solid_length, run.length, 60)
    return PlanAreas(roofs, paving, area_draining_to(outcome.site.surface, run.alignment.at(stations)))


def shed_words(outcome: Outcome, identity: str) -> str:
    """What roofs and paving shed in the design storm, in the units of the job; empty where there are none."""
    job, areas, system = outcome.job, plan_areas(outcome, identity), System(outcome.job.units)
    parts = [tr("{name} of {area} ({area_2})", name=name, area=shown(area, AREA, system), area_2=shown(area * outcome.rules.sheds * job.water.storm_depth, WATER_VOLUME, system))
             for name, area in ((tr("roofs"), max(areas.roofs, roofs_shed(job, outcome.rules)[0])), (tr("paving"), areas.paving)) if area > 1]  # fmt: skip
    return tr("In the design storm {parts} shed straight off.", parts=tr(" and ").join(parts)) if parts else ""


def offers(outcome: Outcome, identity: str) -> list[tuple[str, Job]]:
    """Names and jobs with the contributing area of a run by the plan, where it differs, and with the water of roofs that nothing is said of."""
    job, system, out = outcome.job, System(outcome.job.units), []
    now, found = outcome.run(identity).run.run.contributing_area, plan_areas(outcome, identity).upslope
    if found is not None and found > 1.0 and abs(found - now) > SURE * max(found, now):
        name = tr("Take the contributing area from the plan: {found} for {now}", found=shown(found, AREA, system), now=shown(now, AREA, system))
        out.append((name, with_value(job, f"runs.{identity}.contributing_area", round(found, 1))))
    shedding = {source.thing for source in job.sources}
    for roof in [f for f in job.features if f.kind == "building" and f.id not in shedding][:2]:
        name = tr("Count the roof water of {roof}: {roof_2}", roof=roof.name, roof_2=shown(shape_area(roof, 0.0), AREA, system))
        out.append((name, with_roof_of(job, roof)))
    return out


def with_roof_of(job: Job, roof: Feature) -> Job:
    """The job with the water of a roof that is drawn on the plan, led nowhere yet."""
    job, made = with_new_source(job, ROOF_WATER)
    return with_value(with_value(job, f"sources.{made}.thing", roof.id), f"sources.{made}.name", tr("roof of {roof}", roof=roof.name))
