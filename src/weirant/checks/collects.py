"""Collects: does the drain hold the water low enough where it matters?"""

from __future__ import annotations

import math
from functools import partial

from weirant.checks.judge import below_ground, can_be, judge, say, say_band
from weirant.checks.places import protected_station
from weirant.ground.network import LaidRun, Network
from weirant.job import Job
from weirant.job.network import ROOF
from weirant.job.water import ROOF_APART, ROOF_IN_DRAIN
from weirant.outcome.finding import Finding, Fix, Set, State
from weirant.outcome.outcome import Outcome
from weirant.units import display as k

LEAST = 0.005  # m: less is not worth a fix


def served(outcome: Outcome) -> Finding | None:
    """Some run is said to keep the place dry."""
    if outcome.served is not None or not any(run.collecting_length for run in outcome.site.network.runs):
        return None
    return Finding("served", "collects", f"Dry at {outcome.job.protected.name}", State.UNKNOWN,
                   f"No run is said to keep {outcome.job.protected.name} dry. Choose the one that does.", "cp", elements=("protected.run",))  # fmt: skip


def drain_level(outcome: Outcome) -> Finding | None:
    """The drain itself lies deep enough: groundwater ends up no lower than the drain."""
    found, job = outcome.served, outcome.job
    if found is None or found.grade is None or found.flow_high is None:
        return None
    station = protected_station(outcome)
    depth = found.grade.at(found.grade.ground - found.flow_high.surface, station)
    limit = job.protected.dry_depth
    state = judge(depth, limit, at_most=False)
    reason = f"Water in the drain stands {below_ground(outcome, depth)} beside {job.protected.name}; the ground gets no drier than that."
    fixes = lowered(outcome, limit * 1.1 - depth) if state == State.FAILS else ()
    return Finding("drain-level", "collects", "Depth of the drain", state, reason, "cp", depth, limit, k.DEPTH, at_most=False,
                   station=station, fixes=fixes, elements=(f"runs.{found.id}.invert", "protected.dry_depth"), subject=found.id)  # fmt: skip


def table(outcome: Outcome) -> Finding | None:
    """The water table at the protected place, over the range of the soil."""
    served, job = outcome.served, outcome.job
    water = served.water if served is not None else None
    if served is None or water is None:
        return None
    found = partial(Finding, key="table", family="collects", title=f"Dry at {job.protected.name}", kind=k.DEPTH, at_most=False,
                elements=("soil", "protected.distance"), station=protected_station(outcome), subject=served.id)  # fmt: skip
    if water.table_depth is None:
        return found(state=State.UNKNOWN, source="cp", reason=f"Not known until you have {water.missing}.")
    figure, limit = water.table_depth, job.protected.dry_depth
    state = judge(figure.value, limit, at_most=False, band=figure.band)
    assumed = (
        " The conductivity is only assumed from the texture; an auger-hole or falling-water test settles it."
        if outcome.soil.conductivity_assumed
        else ""
    )
    if outcome.soil.conductivity_assumed and state == State.HOLDS and figure.band:
        state = State.TIGHT
    reason = f"Water is expected {below_ground(outcome, figure.value)}{say_band(outcome, figure.band, k.DEPTH)}.{assumed}"
    fixes = lowered(outcome, min(limit * 1.1 - figure.value, over_hard_layer(outcome))) if state == State.FAILS else ()
    return found(
        state=state, source=_source(outcome), reason=reason, value=figure.value, limit=limit, figure=figure, fixes=fixes
    )


def lowered(outcome: Outcome, by: float) -> tuple[Fix, ...]:
    """The whole run that serves the place so much deeper, m, as a fix; none where it is next to nothing."""
    if by < LEAST or outcome.served is None:
        return ()
    run = outcome.served.run
    return (Fix(f"Lower the whole run {say(outcome, by, k.SECTION)}", Set(f"runs.{run.id}.invert", run.invert - by)),)


def over_hard_layer(outcome: Outcome) -> float:
    """How far the water in the drain stands over the hard layer beside the place, m: deeper, no more of the wet soil drains to it."""
    found, hard = outcome.served, outcome.job.soil.hard_layer_depth
    if found is None or found.grade is None or found.flow_high is None or hard is None:
        return math.inf
    return hard - found.grade.at(found.grade.ground - found.flow_high.surface, protected_station(outcome))


def _source(outcome: Outcome) -> str:
    return {"hillside": "neh624", "parallel lines": "hooghoudt1940 vandermolen1991"}.get(
        outcome.job.water.source, "dupuit1863"
    )


def barrier(outcome: Outcome) -> Finding | None:
    """An interceptor that ends above the hard layer lets water pass beneath."""
    found, soil, job = outcome.served, outcome.job.soil, outcome.job
    if found is None or found.grade is None or job.water.source != "hillside" or soil.hard_layer_depth is None:
        return None
    station = protected_station(outcome)
    cut = found.grade.at(found.grade.cut, station)
    under = soil.hard_layer_depth - cut
    state = judge(under, 0.0, at_most=True, near=0.0) if under <= 0 else State.TIGHT
    reason = (f"The trench bottom reaches the hard layer ({say(outcome, soil.hard_layer_depth, k.DEPTH)} down)." if under <= 0 else
              f"{say(outcome, under, k.DEPTH)} of wet soil are left between trench bottom and hard layer; water there passes under the drain.")  # fmt: skip
    return Finding("barrier", "collects", "Down to the hard layer", state, reason, "neh624", under, 0.0, k.DEPTH,
                   station=station, elements=("soil.hard_layer_depth",), subject=found.id)  # fmt: skip


def reach(outcome: Outcome) -> Finding | None:
    """What collects passes the whole protected place."""
    place, found = outcome.job.protected, outcome.served
    if found is None or place.to_station <= place.from_station:
        return None
    run = found.run
    beside = sum(max(0.0, min(high, place.to_station) - max(low, place.from_station)) for low, high, is_solid in run.spans if not is_solid)
    missed = max(0.0, place.to_station - place.from_station - beside)
    state = State.FAILS if missed > 0.01 else State.HOLDS
    reason = (f"The collecting run misses {say(outcome, missed, k.STATION)} of {place.name}." if missed > 0.01 else
              f"The collecting run passes the whole of {place.name}.")  # fmt: skip
    fixes = []
    if place.to_station > run.length + 0.01:
        fixes += _fix(f"Lengthen the run to station {say(outcome, place.to_station, k.STATION)}", outcome.job, f"runs.{run.id}.length", place.to_station)
    if missed > 0.01 and place.from_station < run.solid_length:
        fixes += _fix(f"Collect from station {say(outcome, place.from_station, k.STATION)} on", outcome.job, f"runs.{run.id}.solid_length", max(0.0, place.from_station))
    return Finding("reach", "collects", "Length of the collecting run", state, reason, "cp", missed, 0.0, k.STATION,
                   station=place.from_station, fixes=tuple(fixes), elements=(f"runs.{run.id}.length", f"runs.{run.id}.solid_length"), subject=run.id)  # fmt: skip


def _fix(name: str, job: Job, path: str, value: float) -> list[Fix]:
    """The fix, or none where the layout does not let it be made."""
    edit = Set(path, value)
    return [Fix(name, edit)] if can_be(edit, job) else []


def roof(outcome: Outcome) -> Finding | None:
    """Roof water stays out of pipe that collects: told from where the roof's runs lead, and from what was entered."""
    job, network = outcome.job, outcome.site.network
    roofs = [run for run in network.runs if run.run.system == ROOF]
    if job.water.roof_area <= 0 and not roofs:
        return None
    said = partial(Finding, "roof", "collects", "Roof water", source="cp", elements=("water.roof_goes",))
    for run in roofs:
        through = run if run.collecting_length else collecting_below(network, run)
        if through is not None:
            what = "The roof's own pipe collects" if through is run else f"Roof water of {run.name} runs through the perforated pipe of {through.name}"
            return said(State.FAILS, f"{what}: it brings leaves and grit and leaks into the ground you drain.", subject=run.id)
    if job.water.roof_goes == ROOF_IN_DRAIN and job.water.roof_area > 0:
        return said(State.FAILS, "Roof water goes into the perforated pipe: it brings leaves and grit and leaks into the ground you drain.",
                    value=1.0, limit=0.0, kind=k.COUNT, fixes=(Fix("Give the roof its own solid pipe", Set("water.roof_goes", ROOF_APART)),))  # fmt: skip
    return said(State.HOLDS, "Roof water is kept out of the perforated pipe.")


def collecting_below(network: Network, run: LaidRun) -> LaidRun | None:
    """The first run with pipe that collects that the water of a run goes through; None where it stays in solid pipe to its end."""
    seen, ahead = {run.id}, network.drains_to(run)
    while ahead:
        other, at = ahead.pop()
        if other.id in seen:
            continue
        seen.add(other.id)
        if any(not is_solid and low < at - 1e-6 for low, _, is_solid in other.spans):
            return other
        ahead += network.drains_to(other)
    return None


JOB = (served, drain_level, table, barrier, reach, roof)
