"""What can be taken hold of in the plan, and what comes of moving it."""

from __future__ import annotations

import math
from collections.abc import Callable

from weirant.design.layout import move_node, move_thing_corner
from weirant.drawing.primitives import Handle, Point, snapped
from weirant.ground.network import LaidRun, laid_run
from weirant.job import Job
from weirant.job.identity import by_id
from weirant.job.paths import with_value
from weirant.outcome.outcome import Outcome
from weirant.units.display import DISTANCE, System, step_si


def plan_handles(outcome: Outcome, run: str, thing: str, edge: Point | None) -> tuple[Handle, ...]:
    """Distance of the protected place where its run is in hand; corners of the run in hand; corners of the thing in hand."""
    job, step = outcome.job, step_si(DISTANCE, System(outcome.job.units))
    found = outcome.chosen(run)
    handles = [] if edge is None else [Handle("distance", edge, "both", "Distance to the place", step, _move_place, "protected.distance")]
    handles += _corners(found.run, step)
    feature = by_id(job.features, thing) if thing else None
    if feature is not None:
        handles += [Handle(f"corner-{i}", (p.x, p.y), "both", f"{feature.name}, corner {i + 1}", step, move_thing_corner(thing, i))
                    for i, p in enumerate(feature.points)]  # fmt: skip
    return tuple(handles)


def _corners(run: LaidRun, step: float) -> list[Handle]:
    last = len(run.nodes) - 1
    names = {0: f"Low end of {run.name}", last: f"Top end of {run.name}"}
    moves: list[Callable[[Job, Point], Job]] = [move_node(run.id, i) for i in range(last + 1)]
    return [Handle(f"run-{i}", (node.x, node.y), "both", names.get(i, f"Corner {i} of {run.name}"), step, moves[i]) for i, (node, _) in enumerate(run.nodes)]


def _move_place(job: Job, to: Point) -> Job:
    step, lie = step_si(DISTANCE, System(job.units)), laid_run(job, job.protected.run).alignment
    foot = lie.point(lie.nearest(to)[0])
    return with_value(job, "protected.distance", max(snapped(math.dist(foot, to), step), step))
