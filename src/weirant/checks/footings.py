"""Footings beside the trench: drawn on the plan, of what is kept dry and of everything else alike."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from weirant.checks.judge import can_be, judge, say
from weirant.checks.stands import DEFER
from weirant.ground.crossings import distance_to
from weirant.ground.grade_line import GradeLine
from weirant.ground.moves import moved_aside
from weirant.ground.network import laid_run
from weirant.ground.stretches import largest
from weirant.job import Job
from weirant.job.beside import beside, legs_of
from weirant.job.identity import by_id
from weirant.job.site import FOUNDED, Feature
from weirant.methods.cover import footing_clearance
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding, Fix, State, do
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
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
    worst, asked = None, ""
    for thing in outcome.site.things.near(found.run, FAR):
        if thing.kind not in FOUNDED or len(thing.points) < 2:
            continue
        away = distance_to(found.run.alignment, thing, stations)
        if thing.footing_depth is None:
            asked = asked or (thing.name if (away < outcome.rules.near_footing * cut).any() else "")
            continue
        here = _room(grade, away - edge, cut, thing)
        worst = here if worst is None or here.room < worst.room else worst
    said = partial(Finding, key="footing", family="stands", title="Footings not undermined", source="cp", kind=k.DISTANCE, at_most=False, limit=0.0, caution=DEFER)
    if asked and (worst is None or worst.room >= 0):
        return said(state=State.UNKNOWN, reason=f"The depth of the footing of {asked}, which it passes close to, is not known. Dig a small hole beside it and look.")
    if worst is None:
        return None
    return _told(said, outcome, found, worst)


def _room(grade: GradeLine, gap: Array, cut: Array, thing: Feature) -> _Worst:
    room = gap + np.minimum((thing.footing_depth or 0.0) - cut, 0.0)
    index = int(np.argmin(np.where(grade.cut > 0, room, np.inf)))
    return _Worst(float(room[index]), float(gap[index]), float(cut[index]), float(grade.stations[index]), thing)


def _told(said: partial[Finding], outcome: Outcome, found: RunOutcome, worst: _Worst) -> Finding:
    here, path = f"at station {say(outcome, worst.station, k.STATION)}", (f"features.{worst.thing.id}.footing_depth",)
    if worst.gap < 0:
        return said(state=State.FAILS, value=worst.gap, station=worst.station, elements=path, reason=f"The trench reaches under {worst.thing.name} itself {here}. Move the drain away.")
    arguments = {"trench_depth": worst.depth, "footing_depth": worst.thing.footing_depth or 0.0, "distance": worst.gap}
    figure = Figure("Clearance of the 45° line", footing_clearance(**arguments), k.DISTANCE, "footing-clearance", arguments, "clearance")
    state = judge(worst.room, 0.0, at_most=False, near=outcome.rules.near_footing_line)
    words = f"stays {say(outcome, worst.room, k.DISTANCE)} outside" if worst.room >= 0 else f"comes {say(outcome, -worst.room, k.DISTANCE)} inside"
    fixes = _moved(outcome, found, worst) if state == State.FAILS else ()
    advice = " Move it off, or dig short lengths with an engineer's say." if state == State.FAILS else ""
    return said(state=state, value=worst.room, station=worst.station, figure=figure, fixes=fixes, elements=path,
                reason=f"The trench {words} the 45° line from the footing of {worst.thing.name} {here}.{advice}")  # fmt: skip


def _moved(outcome: Outcome, found: RunOutcome, worst: _Worst) -> tuple[Fix, ...]:
    """What collects of the run moved off on the plan; none where something stands on it."""
    by = outcome.rules.clear_of_footing_line - worst.room
    edit = do(moved_off, run=found.id, thing=worst.thing.id, by=by)
    return (Fix(f"Move the drain {say(outcome, by, k.DISTANCE)} away from {worst.thing.name}", edit),) if can_be(edit, outcome.job) else ()


def moved_off(job: Job, run: str, thing: str, by: float) -> Job:
    """The job with what collects of a run moved on the plan so far m away from a thing, which stays where it is."""
    laid, feature = laid_run(job, run), by_id(job.features, thing)
    if feature is None:
        raise KeyError(thing)
    corners = [(float(x), float(y)) for x, y in laid.alignment.points]
    spans = [(low, high) for low, high, is_solid in laid.spans if not is_solid] or [(0.0, laid.length)]
    lie = beside(legs_of(corners, laid.alignment.stations.tolist(), spans), feature)
    return job if lie is None else moved_aside(job, run, by * lie.sign)


RUN = (footings,)
