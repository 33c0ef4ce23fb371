"""The checks, one family a file; each is a function from what was computed to a finding about one kind of subject: the job, a run, a place to keep
dry, what of a run collects for a place, or the make of a stretch in a soil, of which a run is told the worst.

A check that has nothing to look at gives None. Every run is looked at by the same checks; none is the first.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from functools import partial
from itertools import product

from shapely.errors import GEOSException

from weirant.checks import (
    aging,
    allowed,
    around,
    at_buildings,
    basins,
    carries,
    cloth,
    collects,
    falls,
    filters,
    footings,
    grates,
    lets_out,
    lie,
    loads,
    open_top,
    outlets,
    pumps,
    sand,
    stands,
    trenches,
    ways_in,
)
from weirant.errors import WeirantError
from weirant.ground.collecting import Collecting
from weirant.ground.stretches import Make
from weirant.job.network import EXISTING, PLANNED
from weirant.job.site import Feature
from weirant.job.situations import places_of
from weirant.outcome.finding import Finding, State
from weirant.outcome.outcome import Outcome, SoilFigures
from weirant.outcome.site import RunOutcome

# a check has the code under which it stands here, and gives it to what it finds
JobCheck = Callable[[Outcome], Finding | None]
RunCheck = Callable[[Outcome, RunOutcome], Finding | None]
PlaceCheck = Callable[[Outcome, Feature], Finding | None]
PartCheck = Callable[[Outcome, RunOutcome, Collecting, Feature], Finding | None]
StretchCheck = Callable[[Outcome, Make, SoilFigures], Finding | None]
ByFamily = Mapping[str, tuple[Finding, ...]]
Kept = Callable[[str, RunOutcome, Callable[[], ByFamily]], ByFamily]
Judged = dict[tuple[Make, str, int], tuple[Finding | None, ...]]

JOB: Mapping[str, Mapping[str, JobCheck]] = {"falls": falls.JOB, "collects": collects.JOB, "allowed": {**allowed.JOB, **around.ALLOWED_OF_JOB}}
RUN: Mapping[str, Mapping[str, RunCheck]] = {"falls": {**falls.RUN, **lie.RUN, **around.FALLS, **basins.RUN}, "trenches": trenches.RUN, "carries": {**carries.RUN, **outlets.RUN,
                                       **grates.RUN, **pumps.RUN, **ways_in.RUN, **lets_out.RUN}, "stands": {**stands.RUN, **footings.RUN, **around.STANDS,
                                       **loads.RUN}, "allowed": around.ALLOWED, "filters": {**cloth.RUN, **open_top.RUN, **aging.RUN, **at_buildings.RUN}}  # fmt: skip
PLACE: Mapping[str, Mapping[str, PlaceCheck]] = {"collects": collects.PLACE}
PART: Mapping[str, Mapping[str, PartCheck]] = {"collects": collects.PART}
STRETCH: Mapping[str, Mapping[str, StretchCheck]] = {"filters": {**filters.STRETCH, **sand.STRETCH, **cloth.STRETCH}}
FAMILIES = ("falls", "trenches", "collects", "carries", "filters", "stands", "allowed")


def _asked(family: str, code: str, check: Callable[..., Finding | None], *about: object, subject: str = "", place: str = "") -> Finding | None:
    """What a check finds, with its code, and with whom it is about where it does not say so itself. One whose formula refuses the values is a question left open, not a crash."""
    try:
        found = check(*about)
    except (WeirantError, GEOSException) as fault:
        found = Finding(State.UNKNOWN, "refused", source="cp", facts={"why": str(fault)})
    return None if found is None else found.of(code=code, family=family, subject=found.subject or subject, place=place)


def asked_again(outcome: Outcome, code: str, found: RunOutcome) -> Finding | None:
    """What a check of runs finds of one of them, now that more is known of it."""
    family = next(family for family, checks in RUN.items() if code in checks)
    return _asked(family, code, RUN[family][code], outcome, found, subject=found.id)


OF_THE_RUN, OF_ITS_MAKE = "the run", "its make"  # what findings of a run rest on: all that was found of it, or only what it is made of

# what is about digging and building is not asked of a run that lies there already
OF_BUILDING = {*trenches.RUN, *stands.RUN, "depth", "cloth-strength", "cloth-under-turf", *footings.RUN, "buildings", "paving", "crossings", "basin"}


def _of_run(outcome: Outcome, found: RunOutcome) -> ByFamily:
    """What the checks find of a run and of what it collects for its places."""
    return {family: _about(outcome, family, found) for family in FAMILIES if family in RUN or family in PART}


def _of_make(outcome: Outcome, judged: Judged, found: RunOutcome) -> ByFamily:
    """What the checks find of the stretches of a run."""
    return {family: _along(outcome, family, judged, found) for family in FAMILIES if family in STRETCH}


def _about(outcome: Outcome, family: str, found: RunOutcome) -> tuple[Finding, ...]:
    """What the checks of a family find of a run."""
    is_there = found.run.run.status != PLANNED
    asked = [_asked(family, code, check, outcome, found, subject=found.id) for code, check in RUN.get(family, {}).items() if not (is_there and code in OF_BUILDING)]
    for part in found.serving:
        assert part.place is not None
        asked += [_asked(family, code, check, outcome, found, part, part.place, subject=found.id, place=part.place.id) for code, check in PART.get(family, {}).items()]
    return tuple(finding for finding in asked if finding is not None)


def _along(outcome: Outcome, family: str, judged: Judged, found: RunOutcome) -> tuple[Finding, ...]:
    """Of what is found of the stretches of a run that collect, in each layer of soil they meet, the worst of each check, with the station where that begins."""
    collecting = [each for each in found.layers if not each.stretch.is_solid] if found.run.run.status != EXISTING else []
    of_each = []
    for each in collecting:
        make, soil = each.stretch.make, each.soil
        for number in each.layers:
            if (make, soil.id, number) not in judged:  # what is made alike in one layer of soil is judged once, however many runs are
                judged[make, soil.id, number] = tuple(_asked(family, code, check, outcome, make, outcome.layer(soil, number)) for code, check in STRETCH[family].items())
            of_each.append((judged[make, soil.id, number], each, number))
    told = []
    for place in range(len(STRETCH[family])):
        here = [(f, each, number) for findings, each, number in of_each if (f := findings[place]) is not None]
        if here:
            worst, each, number = min(here, key=lambda one: (one[0].state.rank, one[0].margin if one[0].margin is not None else 0.0))
            told.append(worst.of(subject=found.id, piece=each.stretch.id, station=each.low if len(collecting) > 1 else None, layer=(each.soil.id, number) if len(each.layers) > 1 else None))
    return tuple(told)


def _anew(_: str, __: RunOutcome, make: Callable[[], ByFamily]) -> ByFamily:
    return make()


def _every(outcome: Outcome, kept: Kept) -> Iterator[Finding | None]:
    judged: Judged = {}
    of_runs = [(kept(OF_ITS_MAKE, found, partial(_of_make, outcome, judged, found)), kept(OF_THE_RUN, found, partial(_of_run, outcome, found))) for found in outcome.site.runs]
    for family in FAMILIES:
        for code, check in JOB.get(family, {}).items():
            yield _asked(family, code, check, outcome)
        for (code, check_place), place in product(PLACE.get(family, {}).items(), places_of(outcome.job)):
            yield _asked(family, code, check_place, outcome, place, subject=place.id, place=place.id)
        for told in of_runs:
            for findings in told:
                yield from findings.get(family, ())


def run_checks(outcome: Outcome, kept: Kept = _anew) -> tuple[Finding, ...]:
    """Every finding, worst first; within a state in the order of the families, and of the runs in the job.

    ``kept`` is asked for the findings about a run, by what they rest on, and given how to make them anew.
    """
    return tuple(sorted((f for f in _every(outcome, kept) if f is not None), key=lambda f: f.state.rank))
