"""The plan as a sketch for the crew: the run that is dug, what it passes, and the benchmark where it has a place."""

from __future__ import annotations

import dataclasses

from weirant.drawing.brief import brief
from weirant.drawing.plan.sheet import plan_drawing
from weirant.drawing.primitives import Drawing, Mark, Point, Shape, Words
from weirant.ground.places import point_of
from weirant.job import Job
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.units.display import LEVEL, System, shown


def plan_sketch(outcome: Outcome, run: str) -> Drawing:
    """The plan of the runs in brief, a run in hand, with the benchmark's level; it is shown whole."""
    plan = brief(plan_drawing(outcome, 0.0, run=run))
    shapes: list[Shape] = [shape for shape in plan.shapes if not (isinstance(shape, Words) and shape.role == "station")]
    laid = outcome.chosen(run).run
    shapes.append(Words(laid.alignment.point(laid.length / 2), laid.name, "strong", "left", 6, 6))
    at = benchmark_at(outcome.job)
    if at is not None:
        shapes += [Mark(at, "held"), Words(at, benchmark_words(outcome.job), "strong", "left", 8, 4)]
    return dataclasses.replace(plan, shapes=tuple(shapes), bounds=_with(plan.bounds, at))


def benchmark_words(job: Job) -> str:
    """The benchmark with its level."""
    return f"{job.survey.benchmark_name} {shown(job.survey.benchmark_elevation, LEVEL, System(job.units))}"


def benchmark_at(job: Job) -> Point | None:
    """Where the benchmark lies in plan: of the shots and points that bear its name the first with a place; None where none has."""
    shot = next((s.place for s in job.survey.shots if s.point == job.survey.benchmark_name and s.place is not None), None)
    if shot is not None:
        return point_of(shot, job.survey)
    return next(((p.x, p.y) for p in job.points if p.name == job.survey.benchmark_name), None)


def benchmark_note(job: Job) -> str:
    """What is said of a benchmark that has no place in plan; empty for one that has."""
    return "" if benchmark_at(job) is not None else tr("{benchmark} is not on the plan", benchmark=benchmark_words(job))


def _with(bounds: tuple[float, float, float, float], at: Point | None) -> tuple[float, float, float, float]:
    if at is None:
        return bounds
    left, bottom, right, top = bounds
    room = 0.06 * max(right - left, top - bottom)
    return min(left, at[0] - room), min(bottom, at[1] - room), max(right, at[0] + room), max(top, at[1] + room)
