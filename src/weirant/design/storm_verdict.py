"""Is the place dry in time after the design storm? The simulator's answer as a finding beside the others."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable

from weirant.checks.collects import lowered, over_hard_layer
from weirant.checks.judge import judge, say
from weirant.design.across import GroundSample, Stand, section_at
from weirant.design.simulation import HOURS, Simulation, Wish, simulated, words_of_time
from weirant.design.storms import DESIGN, rain_of, storm_named
from weirant.errors import WeirantError
from weirant.job.site import Feature
from weirant.outcome.finding import DRY_IN_TIME, Finding, State
from weirant.outcome.outcome import Outcome
from weirant.units.display import DEPTH, DURATION, RAIN_DEPTH

LOWER = 0.1016  # m by which the line is lowered on trial
KEPT = 64  # answers kept, so that what does not touch the water is not simulated again

Told = Callable[[float], bool]
Answers = dict[object, tuple[float, bool]]  # by all that a course rests on: time until dry s, and whether it was too wet before


def storm_findings(outcome: Outcome, told: Told | None = None, known: Answers | None = None) -> tuple[Finding, ...] | None:
    """Every place that some run keeps dry after the design storm, beside each such run, for best, low and high conductivity; a second's work each.

    ``told`` is given the share done of each course and answers whether to go on; None where it did not. ``known`` keeps answers from one
    asking to the next.
    """
    known = {} if known is None else known
    findings = []
    for found in outcome.site.runs:
        for part in found.serving:
            finding = _of_part(outcome, Stand(found, part, part.station), told, known)
            if finding is None:
                return None
            findings.append(finding)
    return tuple(findings)


def _of_part(outcome: Outcome, stand: Stand, told: Told | None, known: Answers) -> Finding | None:
    band, place = outcome.soil(stand.part.soil).conductivity, stand.place
    found = _found(stand)
    try:
        answers = []
        for factor in dict.fromkeys((1.0, band.low / band.best, band.high / band.best)):
            answer = _dry_after(outcome, stand, factor, told, known)
            if answer is None:
                return None
            answers.append(answer)
    except WeirantError as fault:
        return dataclasses.replace(found, state=State.UNKNOWN, reason=f"Cannot be simulated: {fault}.")
    best, ends = answers[0][0], [after for after, _ in answers]
    if answers[0][1]:
        return dataclasses.replace(found, reason=f"{_start(place.name)} is wetter than {say(outcome, place.dry_depth or 0.0, DEPTH)} before any storm: the wet season alone keeps it so.")
    state = judge(best, place.dry_within, at_most=True, band=(min(ends), max(ends)))
    return dataclasses.replace(found, state=state, reason=_reason(outcome, place, best, ends), value=best if math.isfinite(best) else None,
                               fixes=lowered(outcome, stand.found, min(LOWER, over_hard_layer(stand.found, stand.part))) if state == State.FAILS else ())  # fmt: skip


def _found(stand: Stand) -> Finding:
    place = stand.place
    return Finding(DRY_IN_TIME, "collects", f"Dry in time at {place.name}", State.FAILS, "", "vangenuchten1980 user", limit=place.dry_within,
                   kind=DURATION, station=stand.station if stand.found.grade is not None else None, elements=(f"features.{place.id}.dry_within", f"soils.{stand.part.soil.id}"),
                   subject=stand.found.id, place=place.id)  # fmt: skip


def _reason(outcome: Outcome, place: Feature, best: float, ends: list[float]) -> str:
    job = outcome.job
    depth, hours = say(outcome, place.dry_depth or 0.0, DEPTH), _hours(outcome, place)
    storm = f"the design storm ({say(outcome, job.water.storm_depth, RAIN_DEPTH)} in {job.water.storm_duration / 3600:g} h)"
    if not math.isfinite(best):
        said = f"After {storm} it stays wetter than {depth} for all of the {hours:g} h looked at"
    elif best <= 0:
        said = f"It is dry to {depth} by the end of {storm}"
    else:
        said = f"It is dry to {depth} {words_of_time(best)} after {storm}"
    low, high = min(ends), max(ends)
    over = "" if not math.isfinite(low) or high - low < 1800 else f"; over the range of the soil {_span(low, hours)} to {_span(high, hours)}"
    return f"{said}{over}. Step 8 shows it."


def _span(seconds: float, hours: float) -> str:
    if not math.isfinite(seconds):
        return f"more than {hours:g} h"
    return words_of_time(seconds) if seconds >= 60 else "at once"


def _start(name: str) -> str:
    return name[:1].upper() + name[1:]


def _hours(outcome: Outcome, place: Feature) -> float:
    """How long the storm is watched: so long that a place that is dry in time is seen to be, h."""
    return max(HOURS, math.ceil((outcome.job.water.storm_duration + 1.5 * place.dry_within) / 3600))


def _dry_after(outcome: Outcome, stand: Stand, factor: float, told: Told | None, known: Answers) -> tuple[float, bool] | None:
    """Time from the end of the rain until the place is dry, s, infinite where not within the time; whether it was wet before."""
    place = stand.place
    wish = Wish(storm_named(outcome.job, DESIGN), stand.station, _hours(outcome, place), ground=GroundSample(factor), run=stand.found.id)
    section = section_at(outcome, stand.station, run=stand.found.id, ground=wish.ground)
    asked = (section, rain_of(outcome.job, wish.storm), wish.hours, place.dry_depth, stand.place_across(section))
    if asked not in known:
        simulation = simulated(outcome, wish, told)
        if not simulation.course.is_whole:
            return None
        while len(known) >= KEPT:
            known.pop(next(iter(known)), None)
        known[asked] = _read(simulation)
    return known[asked]


def _read(simulation: Simulation) -> tuple[float, bool]:
    after = simulation.after_rain
    return math.inf if after is None else after, simulation.wet_before
