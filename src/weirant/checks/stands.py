"""Stands: the trench while it is open, and the footing beside it."""

from __future__ import annotations

import dataclasses
from functools import partial

import numpy as np

from weirant.checks.judge import can_be, judge, say
from weirant.checks.places import protected_station
from weirant.ground.moves import moved_aside
from weirant.ground.network import LaidRun
from weirant.ground.stretches import largest
from weirant.job import Job
from weirant.methods.cover import footing_clearance
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding, Fix, Set, State, do
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

DEFER = "Local rules and a competent person on site come before this."


def walls(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Trench walls want protection from 5 ft of depth on."""
    grade = found.grade
    if grade is None:
        return None
    deepest = int(np.argmax(grade.cut))
    depth, station = float(grade.cut[deepest]), float(grade.stations[deepest])
    section = found.make(station).section
    path = f"sections.{section.id}.side_slope"
    said = partial(Finding, key="walls", family="stands", title="Trench walls", source="osha1926p", value=depth, limit=outcome.rules.protect_from, kind=k.DEPTH,
                station=station, elements=(f"runs.{found.id}.invert", path))  # fmt: skip
    caution = f"Spoil at least 2 ft (0.6 m) back from the edge. {DEFER}"
    if depth >= outcome.rules.protect_from and section.side_slope < outcome.rules.laid_back:
        return said(state=State.FAILS, caution=caution,
                       reason=f"The trench is {say(outcome, depth, k.DEPTH)} deep; from {say(outcome, outcome.rules.protect_from, k.DEPTH)} on nobody goes in without "
                              "shoring, a box or sides laid back.",
                       fixes=(Fix(f"Lay the sides back {outcome.rules.laid_back:g} to 1", Set(path, outcome.rules.laid_back)),))  # fmt: skip
    if depth >= outcome.rules.protect_from:
        return said(
            state=State.TIGHT,
            caution=caution,
            reason=f"{say(outcome, depth, k.DEPTH)} deep with sides laid back {section.side_slope:g} to 1.",
        )
    state = State.TIGHT if depth >= outcome.rules.ladder_from else State.HOLDS
    ladder = f" From {say(outcome, outcome.rules.ladder_from, k.DEPTH)} on keep a ladder in it." if depth >= outcome.rules.ladder_from else ""
    return said(
        state=state,
        reason=f"The trench is at most {say(outcome, depth, k.DEPTH)} deep.{ladder} Narrow or wet walls can fall in at any depth.",
        caution=caution,
    )


def _moved_off(outcome: Outcome, run: LaidRun, away: float) -> tuple[Fix, ...]:
    """The run moved on the plan to a distance from the place, which stays where it is; none where something stands on it."""
    edit = do(moved_off, run=run.id, away=away)
    return (Fix(f"Move the drain to {say(outcome, away, k.DISTANCE)} from the footing", edit),) if can_be(edit, outcome.job) else ()


def moved_off(job: Job, run: str, away: float) -> Job:
    """The job with a run moved on the plan to a distance m from the place, which stays where it is."""
    place, by = job.protected, away - job.protected.distance
    moved = moved_aside(job, run, by if place.on_left else -by)
    return dataclasses.replace(moved, protected=dataclasses.replace(moved.protected, distance=away))


def footing(outcome: Outcome) -> Finding | None:
    """The trench stays above the line that falls at 45° from the footing."""
    served, job = outcome.served, outcome.job
    place, grade = job.protected, served.grade if served is not None else None
    if served is None or grade is None or place.kind not in ("slab edge", "footing", "wall"):
        return None
    found = partial(Finding, key="footing", family="stands", title="Footing not undermined", source="cp", kind=k.DISTANCE, at_most=False,
                station=protected_station(outcome), elements=("protected.footing_depth", "protected.distance"), subject=served.id)  # fmt: skip
    if place.footing_depth is None:
        return found(
            state=State.UNKNOWN,
            reason=f"The depth of the footing at {place.name} is not known. Dig a small hole beside it and look.",
        )
    inside = (grade.stations >= place.from_station) & (grade.stations <= place.to_station)
    depth = float(np.max(grade.cut[inside])) if np.any(inside) else grade.at(grade.cut, protected_station(outcome))
    edge = largest(served.stretches, grade.stations, lambda make: make.section.width / 2 + make.section.side_slope * max(depth, 0.0))
    gap = place.distance - (float(np.max(edge[inside])) if np.any(inside) else grade.at(edge, protected_station(outcome)))
    if gap < 0:
        return found(
            state=State.FAILS,
            value=gap,
            limit=0.0,
            reason="The trench reaches under the place itself. Move the drain away.",
            caution=DEFER,
        )
    arguments = {"trench_depth": max(depth, 0.0), "footing_depth": place.footing_depth, "distance": gap}
    clearance = footing_clearance(**arguments)
    state = judge(clearance, 0.0, at_most=False, near=outcome.rules.near_place_line)
    figure = Figure("Clearance of the 45° line", clearance, k.DISTANCE, "footing-clearance", arguments, "clearance")
    words = (
        f"stays {say(outcome, clearance, k.DISTANCE)} outside"
        if clearance >= 0
        else f"cuts {say(outcome, -clearance, k.DISTANCE)} into"
    )
    fixes: tuple[Fix, ...] = ()
    if state == State.FAILS:
        fixes = _moved_off(outcome, served.run, place.distance - clearance + outcome.rules.clear_of_footing_line)
    return found(state=state, value=clearance, limit=0.0, figure=figure, fixes=fixes, caution=DEFER,
                   reason=f"The trench {words} the 45° line from the footing's edge.")  # fmt: skip


JOB = (footing,)
RUN = (walls,)
