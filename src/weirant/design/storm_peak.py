"""The most that a pipe has to carry in the design storm, as the section simulator finds it: one course tells it and when the place is dry."""

from __future__ import annotations

import dataclasses
from collections.abc import Set

from weirant.checks import asked_again
from weirant.design.across import Stand, grounds_of, section_at
from weirant.design.flows import with_storm
from weirant.design.hydrographs import Hydrograph, keep, of_course
from weirant.design.simulation import peak_bracket, steady_state
from weirant.design.storm_verdict import Answers, StormAnswer, Told, of_the_band
from weirant.design.storms import DESIGN, rain_of, storm_named
from weirant.design.through_pipes import through_pipes
from weirant.errors import WeirantError
from weirant.outcome.finding import WAITS, Finding
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.outcome.water import CollectedWater
from weirant.seepage.mesh import lay_out
from weirant.seepage.storm import simulate

CARRYING = ("capacity", "intake", "takes-it", "over-ground")  # checks that hang on it
LEFT_OUT = 1.06  # times as much may come as the steps tell: up to so much more with steps a tenth as long, on the patterns
AFTER = 6 * 3600.0  # s after the storm in which the most has come
Place = tuple[str, float]  # a run and the station of what collects
Courses = dict[Place, StormAnswer]  # of the ground from which most comes


def carrying_findings(outcome: Outcome, told: Told | None = None, known: Answers | None = None, *, only_waiting: bool = False) -> tuple[Finding, ...] | None:
    """Size and openings of the pipes in the design storm: of those that wait for it, and of those for all of whose water a place is watched, unless
    ``only_waiting``. Where ``told`` is given and says to leave, None.
    """
    known = {} if known is None else known
    waiting = {f.subject for f in outcome.findings if f.code in CARRYING and f.case == WAITS}
    above = {found.id: _above(outcome, found.id) for found in outcome.site.runs if found.grade is not None}
    watched = {found.id for found in outcome.site.runs if all(part.of.lie is not None for part in _parts(found))}
    runs = waiting if only_waiting else waiting | {run for run, others in above.items() if others <= watched and any(_parts(outcome.run(o)) for o in others)}
    if not runs:
        return ()
    courses: Courses = {}
    faults: dict[str, str] = {}  # by the run whose ground or levels the simulator refuses
    for other in sorted({other for run in runs for other in above[run]}):
        try:
            found = _courses(outcome, other, told, known, to_the_end=not only_waiting)
        except WeirantError as fault:
            faults[other] = str(fault)
            continue
        if found is None:
            return None
        courses |= found
    why = {run: faults[sorted(above[run] & faults.keys())[0]] for run in runs if above[run] & faults.keys()}
    storm = storm_named(outcome.job, DESIGN)
    through = through_pipes(outcome, storm, (rain_of(outcome.job, storm).times[-1] + AFTER) / 3600, ground={place: _scaled(answer.takes) for place, answer in courses.items()})
    assert through is not None
    known_now = with_storm(outcome, {place: LEFT_OUT * answer.peak for place, answer in courses.items()}, runs - why.keys(), through)
    asked = (asked_again(known_now, code, known_now.run(run)) for run in sorted(runs - why.keys()) for code in CARRYING)
    refused = (dataclasses.replace(f, case="refused", facts={"why": why[f.subject]}) for f in outcome.findings if f.code in CARRYING and f.case == WAITS and f.subject in why)
    return (*(finding for finding in asked if finding is not None), *refused)


def _parts(found: RunOutcome) -> list[CollectedWater]:
    """What of a run collects groundwater that is known."""
    return [part for part in found.water.parts if part.inflow is not None] if found.water is not None else []


def _above(outcome: Outcome, run: str) -> Set[str]:
    """A run and all that drain through it, by identity."""
    network = outcome.site.network
    into: dict[str, set[str]] = {}
    for laid in network.runs:
        for below, _ in network.drains_to(laid):
            into.setdefault(below.id, set()).add(laid.id)
    found, waiting = {run}, [run]
    while waiting:
        more = into.get(waiting.pop(), set()) - found
        found |= more
        waiting += more
    return found


def _scaled(takes: Hydrograph) -> Hydrograph:
    """So much more at each moment as the steps of a course may leave out."""
    return dataclasses.replace(takes, volumes=takes.before * takes.moments + LEFT_OUT * (takes.volumes - takes.before * takes.moments))


def _courses(outcome: Outcome, run: str, told: Told | None, known: Answers, *, to_the_end: bool) -> Courses | None:
    """The course in which the most comes to every part of a run; where a place is watched ``to_the_end`` by the courses that tell when it is dry."""
    found: Courses = {}
    for part in _parts(outcome.run(run)):
        stand = Stand(outcome.run(run), part.of, part.of.station)
        band = outcome.soil(part.of.soil).conductivity
        answers = of_the_band(outcome, stand, band, told, known) if to_the_end and part.of.lie is not None else _as_far_as_it_peaks(outcome, stand, told, known)
        if answers is None:
            return None
        found[run, part.of.station] = max(answers, key=lambda answer: answer.peak)
    return found


def _as_far_as_it_peaks(outcome: Outcome, stand: Stand, told: Told | None, known: Answers) -> list[StormAnswer] | None:
    """The same courses as far as the most has come."""
    band, rain, found = outcome.soil(stand.part.soil).conductivity, rain_of(outcome.job, storm_named(outcome.job, DESIGN)), []
    for ground in grounds_of(stand.part, band):
        section = section_at(outcome, stand.station, run=stand.found.id, ground=ground)
        if (section, rain) not in known:
            laid = lay_out(section)
            course = simulate(laid, rain, rain.times[-1] + AFTER, steady_state(laid, outcome.job.water.drainage_rate), told=told)
            if not course.is_whole:
                return None
            keep(known, (section, rain), StormAnswer(peak_bracket(course)[1], of_course(course)))
        found.append(known[section, rain])
    return found
