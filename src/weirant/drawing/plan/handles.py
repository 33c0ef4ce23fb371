"""What can be taken hold of in the plan, and what comes of moving it."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable

from weirant.design.layout import move_corner, move_thing_corner
from weirant.drawing.plan.lie import bearing_at, point_at, station_near
from weirant.drawing.primitives import Handle, Point, snapped
from weirant.ground.network import Run
from weirant.job import Job
from weirant.job.network import MAIN
from weirant.job.paths import with_value
from weirant.outcome.outcome import Outcome
from weirant.units.display import DISTANCE, System, step_si


def plan_handles(outcome: Outcome, run: str, thing: int, edge: Point) -> tuple[Handle, ...]:
    """Distance of the protected place; bends or corners of the run in hand; corners of the thing in hand."""
    job, step = outcome.job, step_si(DISTANCE, System(outcome.job.units))
    handles = [Handle("distance", edge, "both", "Distance to the place", step, _move_place, "protected.distance")]
    found = outcome.site.run(run) if outcome.site is not None else None
    booked = any(s.station is not None for s in job.survey.shots)
    if run == MAIN and booked:
        handles += [Handle(f"bend-{i}", point_at(job, b.station + 0.35 * (job.line.length - b.station)), "both", "Bend", step, _turn(i))
                    for i, b in enumerate(job.line.bends)]  # fmt: skip
    elif found is not None:
        handles += _corners(found.run, step)
    if 0 <= thing < len(job.features):
        feature = job.features[thing]
        handles += [Handle(f"corner-{i}", (p.x, p.y), "both", f"{feature.name}, corner {i + 1}", step, move_thing_corner(thing, i))
                    for i, p in enumerate(feature.points)]  # fmt: skip
    return tuple(handles)


def _corners(run: Run, step: float) -> list[Handle]:
    names = {0: f"Low end of {run.name}", len(run.alignment.points) - 1: f"Top end of {run.name}"}
    return [Handle(f"run-{i}", (float(x), float(y)), "both", names.get(i, f"Bend {i} of {run.name}"), step, move_corner(run.name, i))
            for i, (x, y) in enumerate(run.alignment.points)]  # fmt: skip


def _move_place(job: Job, to: Point) -> Job:
    step = step_si(DISTANCE, System(job.units))
    foot = point_at(job, station_near(job, to))
    return with_value(job, "protected.distance", max(snapped(math.dist(foot, to), step), step))


def _turn(index: int) -> Callable[[Job, Point], Job]:
    """Turn the line at a bend; its lengths stay, so that shots booked by station keep their meaning."""

    def turn(job: Job, to: Point) -> Job:
        bend = job.line.bends[index]
        at = point_at(job, bend.station)
        before = bearing_at(job, bend.station - 1e-3)
        angle = math.degrees(math.atan2(to[1] - at[1], to[0] - at[0]) - before)
        angle = snapped((angle + 180) % 360 - 180, 1.0)
        changed = dataclasses.replace(bend, angle=min(max(angle, -120.0), 120.0))
        bends = (*job.line.bends[:index], changed, *job.line.bends[index + 1 :])
        return dataclasses.replace(job, line=dataclasses.replace(job.line, bends=bends))

    return turn
