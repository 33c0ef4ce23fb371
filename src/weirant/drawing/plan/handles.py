"""What can be taken hold of in the plan, and what comes of moving it."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from weirant.design.layout import move_node, move_thing_corner
from weirant.drawing.plan.lie import ahead
from weirant.drawing.primitives import Handle, Point, snapped
from weirant.ground.network import LaidRun
from weirant.job import Job
from weirant.job.identity import by_id
from weirant.job.paths import value_at, with_value
from weirant.job.situations import place_beside
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.units.display import DISTANCE, System, shown, step_si


def plan_handles(outcome: Outcome, run: str, thing: str, edge: tuple[Point, Point] | None) -> tuple[Handle, ...]:
    """Distance of the place that the run in hand keeps dry; corners of the run in hand; corners of the thing in hand."""
    job, system = outcome.job, System(outcome.job.units)
    step = step_si(DISTANCE, system)
    found = outcome.chosen(run)
    handles = [] if edge is None else [Handle("distance", edge[1], "both", tr("Distance to the place"), step, partial(_move_place, found.id, edge), f"runs.{found.id}.distance")]
    handles += _corners(found.run, system)
    feature = by_id(job.features, thing) if thing else None
    if feature is not None:
        handles += [Handle(f"corner-{i}", (p.x, p.y), "both", tr("{feature}, corner {i}", feature=feature.name, i=i + 1), step, move_thing_corner(thing, i), value=_place((p.x, p.y), system))
                    for i, p in enumerate(feature.points)]  # fmt: skip
    return tuple(handles)


def _place(at: Point, system: System) -> str:
    return tr("east {east}, north {north}", east=shown(at[0], DISTANCE, system), north=shown(at[1], DISTANCE, system))


def _corners(run: LaidRun, system: System) -> list[Handle]:
    last, step = len(run.nodes) - 1, step_si(DISTANCE, system)
    names = {0: tr("Low end of {run}", run=run.name), last: tr("Top end of {run}", run=run.name)}
    moves: list[Callable[[Job, Point], Job]] = [move_node(run.id, i) for i in range(last + 1)]
    return [Handle(f"run-{i}", (node.x, node.y), "both", names.get(i, tr("Corner {i} of {run}", i=i, run=run.name)), step, moves[i], value=_place((node.x, node.y), system))
            for i, (node, _) in enumerate(run.nodes)]


def _move_place(run: str, edge: tuple[Point, Point], job: Job, to: Point) -> Job:
    """The job with the place moved so far as its near edge was dragged; where they come nearest it is as much nearer or farther."""
    path, step = f"runs.{run}.distance", step_si(DISTANCE, System(job.units))
    more = (value_at(job, path) or 0.0) - math.dist(edge[0], _edge_now(job, run, edge))
    return with_value(job, path, max(snapped(math.dist(edge[0], to) + more, step), step))


def _edge_now(job: Job, run: str, edge: tuple[Point, Point]) -> Point:
    """The near edge as it lies in a job, on the line of the handle."""
    lie = place_beside(job, run)
    bearing = math.atan2(edge[1][1] - edge[0][1], edge[1][0] - edge[0][0]) - (lie.sign if lie is not None else 1) * math.pi / 2
    here = lie.across(edge[0], bearing) if lie is not None else None
    return ahead(edge[0], math.atan2(edge[1][1] - edge[0][1], edge[1][0] - edge[0][0]), here[0]) if here is not None else edge[1]
