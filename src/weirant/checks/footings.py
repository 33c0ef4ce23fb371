"""Footings beside the trench: drawn on the plan, of what is kept dry and of everything else alike."""

from __future__ import annotations

from functools import partial

import numpy as np
from numpy.typing import NDArray

from weirant.checks.judge import can_be, judge
from weirant.ground.crossings import distance_to
from weirant.ground.grade_line import GradeLine
from weirant.ground.moves import moved_aside
from weirant.ground.network import laid_run
from weirant.ground.stretches import largest
from weirant.job import Job
from weirant.job.beside import beside, legs_of
from weirant.job.identity import by_id
from weirant.job.site import FOUNDED, Feature
from weirant.language import tr
from weirant.methods.cover import footing_clearance
from weirant.outcome.commands import do
from weirant.outcome.facts import Amount, Facts, Named
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass
from weirant.units import display as k

Array = NDArray[np.float64]
FAR = 50.0  # m from a run beyond which no footing is looked at


@dataclass(frozen=True)
class _Worst:
    """Where a trench comes nearest to the line of a footing: room m outside it, distance m of the trench's edge from the footing, depth m there."""

    room: float
    gap: float
    depth: float
    station: float
    thing: Feature


def footings(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """The trench, with its sides laid back, stays above the line that falls at 45° from every footing."""
    grade = found.grade
    if grade is None:
        return None
    cut = np.maximum(grade.cut, 0.0)
    stations = grade.stations
    edge = largest(found.stretches, stations, lambda make: make.section.width / 2) + largest(found.stretches, stations, lambda make: make.section.side_slope) * cut
    edge += np.where(cut > -largest(found.stretches, stations, lambda make: -make.bench_over), largest(found.stretches, stations, lambda make: make.bench), 0.0)
    worst, asked = None, ""
    for thing in outcome.site.things.near(found.run, FAR):
        if thing.kind not in FOUNDED or len(thing.points) < 2:
            continue
        away = distance_to(found.run.alignment, thing, stations)
        if thing.footing_depth is None:
            asked = asked or (thing.id if (away < outcome.rules.near_footing * cut).any() else "")
            continue
        here = _room(grade, away - edge, cut, thing)
        worst = here if worst is None or here.room < worst.room else worst
    said = partial(Finding, source="cp", kind=k.DISTANCE, at_most=False, limit=0.0, caution="defer")
    if asked and (worst is None or worst.room >= 0):
        return said(State.UNKNOWN, facts={"thing": Named(asked)})
    if worst is None:
        return None
    return _told(said, outcome, found, worst)


def _room(grade: GradeLine, gap: Array, cut: Array, thing: Feature) -> _Worst:
    room = gap + np.minimum((thing.footing_depth or 0.0) - cut, 0.0)
    index = int(np.argmin(np.where(grade.cut > 0, room, np.inf)))
    return _Worst(float(room[index]), float(gap[index]), float(cut[index]), float(grade.stations[index]), thing)


def _told(said: partial[Finding], outcome: Outcome, found: RunOutcome, worst: _Worst) -> Finding:
    told = partial(said, station=worst.station, elements=(f"features.{worst.thing.id}.footing_depth",))
    if worst.gap < 0:
        return told(State.FAILS, "under", value=worst.gap, facts={"thing": Named(worst.thing.id)})
    arguments = {"trench_depth": worst.depth, "footing_depth": worst.thing.footing_depth or 0.0, "distance": worst.gap}
    figure = Figure(tr("Clearance of the 45° line"), footing_clearance(**arguments), k.DISTANCE, "footing-clearance", arguments, "clearance")
    state = judge(worst.room, 0.0, at_most=False, near=outcome.rules.near_footing_line)
    fixes = _moved(outcome, found, worst) if state == State.FAILS else ()
    return told(state, value=worst.room, figure=figure, fixes=fixes, facts={"thing": Named(worst.thing.id), "off": Amount(abs(worst.room), k.DISTANCE)})


def _moved(outcome: Outcome, found: RunOutcome, worst: _Worst) -> tuple[Fix, ...]:
    """What collects of the run moved off on the plan; none where something stands on it."""
    by = outcome.rules.clear_of_footing_line - worst.room
    edit = do(moved_off, run=found.id, thing=worst.thing.id, by=by)
    facts: Facts = {"by": Amount(by, k.DISTANCE), "thing": Named(worst.thing.id)}
    return (Fix("move-off", edit, facts),) if can_be(edit, outcome.job) else ()


def moved_off(job: Job, run: str, thing: str, by: float) -> Job:
    """The job with what collects of a run moved on the plan so far m away from a thing, which stays where it is."""
    laid, feature = laid_run(job, run), by_id(job.features, thing)
    if feature is None:
        raise KeyError(thing)
    corners = [(float(x), float(y)) for x, y in laid.alignment.points]
    spans = [(low, high) for low, high, is_solid in laid.spans if not is_solid] or [(0.0, laid.length)]
    lie = beside(legs_of(corners, laid.alignment.stations.tolist(), spans), feature)
    return job if lie is None else moved_aside(job, run, by * lie.sign)


RUN = {"footing": footings}
