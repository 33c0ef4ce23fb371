"""Is the place dry in time after the design storm? The simulator's answer as a finding beside the others."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable

from weirant.checks.collects import lowered, over_hard_layer
from weirant.checks.judge import judge, say
from weirant.checks.places import protected_station
from weirant.design.across import Ground, section_at
from weirant.design.simulation import HOURS, Simulation, Wish, simulated, words_of_time
from weirant.design.storms import DESIGN, rain_of, storm_named
from weirant.errors import WeirantError
from weirant.outcome.finding import DRY_IN_TIME, Finding, State
from weirant.outcome.outcome import Outcome
from weirant.units.display import DEPTH, DURATION, RAIN_DEPTH

LOWER = 0.1016  # m by which the line is lowered on trial
KEPT = 64  # answers kept, so that what does not touch the water is not simulated again

Told = Callable[[float], bool]
Answers = dict[object, tuple[float, bool]]  # by all that a course rests on: time until dry s, and whether it was too wet before


def storm_finding(outcome: Outcome, told: Told | None = None, known: Answers | None = None) -> Finding | None:
    """The place after the design storm, for best, low and high conductivity; a second's work.

    ``told`` is given the share done of each course and answers whether to go on; None where it did not. ``known`` keeps answers from one
    asking to the next.
    """
    job, band = outcome.job, outcome.soil.conductivity
    place = job.protected.name
    found = _found(outcome)
    try:
        answers = []
        for factor in dict.fromkeys((1.0, band.low / band.best, band.high / band.best)):
            answer = _dry_after(outcome, factor, told, {} if known is None else known)
            if answer is None:
                return None
            answers.append(answer)
    except WeirantError as fault:
        return dataclasses.replace(found, state=State.UNKNOWN, reason=f"Cannot be simulated: {fault}.")
    best, ends = answers[0][0], [after for after, _ in answers]
    if answers[0][1]:
        return dataclasses.replace(found, reason=f"{_start(place)} is wetter than {say(outcome, job.protected.dry_depth, DEPTH)} before any storm: the wet season alone keeps it so.")
    state = judge(best, job.protected.dry_within, at_most=True, band=(min(ends), max(ends)))
    return dataclasses.replace(found, state=state, reason=_reason(outcome, best, ends), value=best if math.isfinite(best) else None,
                               fixes=lowered(outcome, min(LOWER, over_hard_layer(outcome))) if state == State.FAILS else ())  # fmt: skip


def _found(outcome: Outcome) -> Finding:
    return Finding(DRY_IN_TIME, "collects", f"Dry in time at {outcome.job.protected.name}", State.FAILS, "", "vangenuchten1980 user", limit=outcome.job.protected.dry_within,
                   kind=DURATION, station=protected_station(outcome) if outcome.chosen().grade is not None else None, elements=("protected.dry_within", "soil"),
                   subject=outcome.chosen().id)  # fmt: skip


def _reason(outcome: Outcome, best: float, ends: list[float]) -> str:
    job = outcome.job
    depth, hours = say(outcome, job.protected.dry_depth, DEPTH), _hours(outcome)
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


def _hours(outcome: Outcome) -> float:
    """How long the storm is watched: so long that a place that is dry in time is seen to be, h."""
    return max(HOURS, math.ceil((outcome.job.water.storm_duration + 1.5 * outcome.job.protected.dry_within) / 3600))


def _dry_after(outcome: Outcome, factor: float, told: Told | None, known: Answers) -> tuple[float, bool] | None:
    """Time from the end of the rain until the place is dry, s, infinite where not within the time; whether it was wet before."""
    wish = Wish(storm_named(outcome.job, DESIGN), hours=_hours(outcome), ground=Ground(factor))
    section = section_at(outcome, ground=wish.ground)
    asked = (section, rain_of(outcome.job, wish.storm), wish.hours, outcome.job.protected, outcome.job.water.source)
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
