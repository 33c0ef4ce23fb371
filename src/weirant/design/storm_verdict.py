"""Is the place dry in time after the design storm? The simulator's answer as a finding beside the others."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable

from weirant.checks.collects import lowered, over_hard_layer
from weirant.checks.judge import judge
from weirant.design.across import GroundSample, Stand, grounds_of, hard_layer_ends, section_at
from weirant.design.hydrographs import Hydrograph, keep, of_course
from weirant.design.simulation import HOURS, Wish, peak_bracket, simulated
from weirant.design.storms import DESIGN, rain_of, storm_named
from weirant.errors import WeirantError
from weirant.job.doubt import Doubt
from weirant.job.site import Feature
from weirant.job.soil import Band
from weirant.outcome.facts import Amount, Fact, Lasting
from weirant.outcome.finding import DRY_IN_TIME, Finding, State
from weirant.outcome.outcome import Outcome
from weirant.records import dataclass
from weirant.units.display import DEPTH, DURATION, RAIN_DEPTH, RAIN_RATE

LOWER = 0.1016  # m by which the line is lowered on trial

Told = Callable[[float], bool]


@dataclass(frozen=True)
class StormAnswer:
    """What a course says: the most that the pipe took m²/s, and all of it in time; the time from the end of the rain until the place is dry s, infinite where not within the time
    looked at, and whether it was too wet before.
    """

    peak: float
    takes: Hydrograph
    after: float = math.inf
    was_wet: bool = False


Answers = dict[object, StormAnswer]  # by all that a course rests on


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
        if stand.part.soil.hard_layer_depth is None:
            return _either_way(outcome, stand, found, told, known)
        answers = of_the_band(outcome, stand, band, told, known)
        if answers is None:
            return None
    except WeirantError as fault:
        return dataclasses.replace(found, state=State.UNKNOWN, case="refused", facts={"why": str(fault)})
    best, ends = answers[0].after, [answer.after for answer in answers]
    if answers[0].was_wet:
        return dataclasses.replace(found, case="wet-before", facts={"depth": Amount(place.dry_depth or 0.0, DEPTH)})
    state = judge(best, place.dry_within, at_most=True, band=(min(ends), max(ends)))
    fixes = lowered(stand.found, min(LOWER, over_hard_layer(stand.found, stand.part))) if state == State.FAILS else ()
    said = dataclasses.replace(found, state=state, facts=_facts(outcome, place, best, ends), fixes=fixes)
    return dataclasses.replace(said, case="by-its-end" if best <= 0 else "", value=best) if math.isfinite(best) else dataclasses.replace(said, case="wetter")


def _either_way(outcome: Outcome, stand: Stand, found: Finding, told: Told | None, known: Answers) -> Finding | None:
    """What is said where nobody knows how deep the hard layer lies: it fails where it does with it right under the trench and with it deep."""
    answers = []
    for depth in hard_layer_ends(stand):
        answer = _answer(outcome, stand, GroundSample(hard_layer=depth), told, known)
        if answer is None:
            return None
        answers.append(math.inf if answer.was_wet else answer.after)
    best, watched = min(answers), _hours(outcome, stand.place) * 3600
    facts: dict[str, Fact] = {"missing": Doubt("hard-layer", stand.part.soil.id), "under": Lasting(answers[0], watched), "deep": Lasting(answers[1], watched)}
    state = State.FAILS if best > stand.place.dry_within else State.UNKNOWN
    return dataclasses.replace(found, state=state, case="hard-layer", facts=facts, value=best if state == State.FAILS and math.isfinite(best) else None)


def _found(stand: Stand) -> Finding:
    place = stand.place
    return Finding(State.FAILS, source="vangenuchten1980 user", code=DRY_IN_TIME, family="collects", limit=place.dry_within,
                   kind=DURATION, station=stand.station if stand.found.grade is not None else None, elements=(f"features.{place.id}.dry_within", f"soils.{stand.part.soil.id}"),
                   subject=stand.found.id, place=place.id)  # fmt: skip


def _facts(outcome: Outcome, place: Feature, best: float, ends: list[float]) -> dict[str, Fact]:
    """What it rests on: how dry, after which storm, how long after; and the ends over the range of the soil, where they differ."""
    water, watched = outcome.job.water, _hours(outcome, place) * 3600
    used = Amount(water.drying, RAIN_RATE) if water.drying > 0 else None
    facts: dict[str, Fact] = {"depth": Amount(place.dry_depth or 0.0, DEPTH), "rain": Amount(water.storm_depth, RAIN_DEPTH), "lasts": water.storm_duration / 3600,
                              "after": Lasting(best, watched), "looked_at": watched / 3600, "used": used}  # fmt: skip
    low, high = min(ends), max(ends)
    if math.isfinite(low) and high - low >= 1800:
        facts |= {"low": Lasting(low, watched), "high": Lasting(high, watched)}
    return facts


def _hours(outcome: Outcome, place: Feature) -> float:
    """How long the storm is watched: so long that a place that is dry in time is seen to be, h."""
    return max(HOURS, math.ceil((outcome.job.water.storm_duration + 1.5 * place.dry_within) / 3600))


def of_the_band(outcome: Outcome, stand: Stand, band: Band, told: Told | None, known: Answers) -> list[StormAnswer] | None:
    """What the design storm comes to beside a run that keeps a place dry, for best, low and high conductivity; None where ``told`` said to leave."""
    found = []
    for ground in grounds_of(stand.part, band):
        answer = _answer(outcome, stand, ground, told, known)
        if answer is None:
            return None
        found.append(answer)
    return found


def _answer(outcome: Outcome, stand: Stand, ground: GroundSample, told: Told | None, known: Answers) -> StormAnswer | None:
    place = stand.place
    wish = Wish(storm_named(outcome.job, DESIGN), stand.station, _hours(outcome, place), ground=ground, run=stand.found.id)
    section = section_at(outcome, stand.station, run=stand.found.id, ground=wish.ground)
    asked = (section, rain_of(outcome.job, wish.storm), wish.hours, place.dry_depth, stand.place_across(section), outcome.job.water.drying)
    if asked not in known:
        simulation = simulated(outcome, wish, told)
        if not simulation.course.is_whole:
            return None
        after = simulation.after_rain
        keep(known, asked, StormAnswer(peak_bracket(simulation.course)[1], of_course(simulation.course), math.inf if after is None else after, simulation.wet_before))
    return known[asked]
