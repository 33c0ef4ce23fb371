"""Areas that rain falls on, measured on the plan: roofs, paving, and the ground that sheds to the collecting run."""

from __future__ import annotations

import dataclasses

import numpy as np
import shapely

from weirant.ground.crossings import shape_of
from weirant.ground.surface.upslope import area_draining_to
from weirant.job import Job
from weirant.job.paths import with_value
from weirant.job.site import Feature
from weirant.outcome.outcome import Outcome
from weirant.units.display import AREA, WATER_VOLUME, System, shown

SURE = 0.05  # share by which an entered area may differ before the plan's is offered


@dataclasses.dataclass(frozen=True)
class PlanAreas:
    """Areas m²: roofs and paving drawn on the plan; ground draining to what collects of a run, None without shots."""

    roofs: float
    paving: float
    upslope: float | None


def plan_areas(outcome: Outcome, identity: str) -> PlanAreas:
    """Measure them; the surface is walked over cell by cell, some tens of milliseconds."""
    job = outcome.job
    roofs = sum(_area(f) for f in job.features if f.kind == "building")
    paving = sum(_area(f) for f in job.features if f.kind == "slab") + sum(outcome.rules.walk_width * float(shapely.length(shape_of(f))) for f in job.features if f.kind == "walk")
    run = outcome.run(identity).run
    off_the_line = bool(job.points) or any(shot.place is not None for shot in job.survey.shots)  # shots along the line alone tell nothing of the slope
    if outcome.site.surface is None or not off_the_line:
        return PlanAreas(roofs, paving, None)
    stations = np.linspace(run.solid_length, run.length, 60)
    return PlanAreas(roofs, paving, area_draining_to(outcome.site.surface, run.alignment.at(stations)))


def shed_words(outcome: Outcome, identity: str) -> str:
    """What roofs and paving shed in the design storm, in the units of the job; empty where there are none."""
    job, areas, system = outcome.job, plan_areas(outcome, identity), System(outcome.job.units)
    parts = [f"{name} of {shown(area, AREA, system)} ({shown(area * outcome.rules.sheds * job.water.storm_depth, WATER_VOLUME, system)})"
             for name, area in (("roofs", max(areas.roofs, job.water.roof_area)), ("paving", areas.paving)) if area > 1]  # fmt: skip
    return f"In the design storm {' and '.join(parts)} shed straight off." if parts else ""


def _area(feature: Feature) -> float:
    return float(shapely.area(shape_of(feature, is_closed=True)))


def offers(outcome: Outcome, identity: str) -> list[tuple[str, Job]]:
    """Names and jobs with the plan's areas in place of the entered ones, where they differ; the contributing area is that of a run."""
    job, areas, system, out = outcome.job, plan_areas(outcome, identity), System(outcome.job.units), []
    measured = (("contributing area",
                 f"runs.{identity}.contributing_area", outcome.run(identity).run.run.contributing_area, areas.upslope),
                ("roof area", "water.roof_area", job.water.roof_area, areas.roofs or None))  # fmt: skip
    for label, path, now, found in measured:
        if found is not None and found > 1.0 and abs(found - now) > SURE * max(found, now):
            out.append((f"Take the {label} from the plan: {shown(found, AREA, system)} for {shown(now, AREA, system)}", with_value(job, path, round(found, 1))))
    return out
