"""Collects: does the drain hold the water low enough where it matters?"""

from __future__ import annotations

import dataclasses
import math
from functools import partial

from weirant.checks.judge import below_ground, can_be, judge, say, say_band
from weirant.ground.collecting import Collecting
from weirant.ground.network import LaidRun, Network
from weirant.job import Job
from weirant.job.beside import NOUGHT
from weirant.job.network import ROOF
from weirant.job.site import Feature
from weirant.job.situations import places_of
from weirant.job.water import HILLSIDE, PARALLEL, ROOF_WATER, Source
from weirant.outcome.finding import Finding, Fix, Set, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

LEAST = 0.005  # m: less is not worth a fix


def served(outcome: Outcome, place: Feature) -> Finding | None:
    """Some run is said to keep the place dry."""
    if any(part.place is place for found in outcome.site.runs for part in found.serving):
        return None
    return Finding("served", "collects", f"Dry at {place.name}", State.UNKNOWN,
                   f"No run is said to keep {place.name} dry. Take the one that does in hand and choose the place there.", "cp")  # fmt: skip


def place_wanted(outcome: Outcome) -> Finding | None:
    """Where something collects, something is to be kept dry."""
    if places_of(outcome.job) or not any(run.collecting_length for run in outcome.site.network.runs):
        return None
    return Finding("place-wanted", "collects", "What is to be dry", State.UNKNOWN,
                   "Pipe that collects is laid, but nothing is said to be kept dry. Choose the place that it serves, or draw it on the plan first.", "cp")  # fmt: skip


def water_below_ground(found: RunOutcome, station: float) -> float | None:
    """Depth m below ground of the water in the drain at a station; None where it is not known."""
    if found.grade is None or found.flow_high is None:
        return None
    return found.grade.at(found.grade.ground - found.flow_high.surface, station)


def drain_level(outcome: Outcome, found: RunOutcome, part: Collecting, place: Feature) -> Finding | None:
    """The drain itself lies deep enough: groundwater ends up no lower than the drain."""
    depth, limit = water_below_ground(found, part.station), place.dry_depth
    if depth is None or limit is None:
        return None
    state = judge(depth, limit, at_most=False)
    reason = f"Water in the drain stands {below_ground(outcome, depth)} beside {place.name}; the ground gets no drier than that."
    fixes = lowered(outcome, found, limit * 1.1 - depth) if state == State.FAILS else ()
    return Finding("drain-level", "collects", "Depth of the drain", state, reason, "cp", depth, limit, k.DEPTH, at_most=False,
                   station=part.station, fixes=fixes, elements=(f"runs.{found.id}.invert", f"features.{place.id}.dry_depth"))  # fmt: skip


def table(outcome: Outcome, found: RunOutcome, part: Collecting, place: Feature) -> Finding | None:
    """The water table at the place, over the range of the soil."""
    water = next((w for w in found.water.parts if w.of is part), None) if found.water is not None else None
    limit, soil = place.dry_depth, outcome.soil(part.soil)
    if water is None or limit is None:
        return None
    said = partial(Finding, key="table", family="collects", title=f"Dry at {place.name}", kind=k.DEPTH, at_most=False,
                elements=(f"soils.{part.soil.id}", f"runs.{found.id}.distance"), station=part.station)  # fmt: skip
    if water.table_depth is None:
        return said(state=State.UNKNOWN, source="cp", reason=f"Not known until you have {water.missing}.")
    figure = water.table_depth
    state = judge(figure.value, limit, at_most=False, band=figure.band)
    assumed = (
        " The conductivity is only assumed from the texture; an auger-hole or falling-water test settles it."
        if soil.conductivity_assumed
        else ""
    )
    if soil.conductivity_assumed and state == State.HOLDS and figure.band:
        state = State.TIGHT
    through = f" The drain goes through {place.name}; told is its farthest corner." if part.lie is not None and part.lie.distance <= NOUGHT and part.situation.source != PARALLEL else ""
    reason = f"Water is expected {below_ground(outcome, figure.value)}{say_band(outcome, figure.band, k.DEPTH)}.{through}{assumed}"
    fixes = lowered(outcome, found, min(limit * 1.1 - figure.value, over_hard_layer(found, part))) if state == State.FAILS else ()
    return said(state=state, source=_SOURCES.get(part.situation.source, "dupuit1863"), reason=reason, value=figure.value, limit=limit, figure=figure, fixes=fixes)


def lowered(outcome: Outcome, found: RunOutcome, by: float) -> tuple[Fix, ...]:
    """The whole run so much deeper, m, as a fix; none where it is next to nothing."""
    if by < LEAST:
        return ()
    return (Fix(f"Lower the whole run {say(outcome, by, k.SECTION)}", Set(f"runs.{found.id}.invert", found.run.invert - by)),)


def over_hard_layer(found: RunOutcome, part: Collecting) -> float:
    """How far the water in the drain stands over the hard layer beside the place, m: deeper, no more of the wet soil drains to it."""
    depth, hard = water_below_ground(found, part.station), part.soil.hard_layer_depth
    return math.inf if depth is None or hard is None else hard - depth


_SOURCES = {HILLSIDE: "neh624", PARALLEL: "hooghoudt1940 vandermolen1991"}


def barrier(outcome: Outcome, found: RunOutcome, part: Collecting, place: Feature) -> Finding | None:
    """An interceptor that ends above the hard layer lets water pass beneath."""
    hard = part.soil.hard_layer_depth
    if found.grade is None or part.situation.source != HILLSIDE or hard is None:
        return None
    under = hard - found.grade.at(found.grade.cut, part.station)
    state = judge(under, 0.0, at_most=True, near=0.0) if under <= 0 else State.TIGHT
    reason = (f"The trench bottom reaches the hard layer ({say(outcome, hard, k.DEPTH)} down)." if under <= 0 else
              f"{say(outcome, under, k.DEPTH)} of wet soil are left between trench bottom and hard layer; water there passes under the drain to {place.name}.")  # fmt: skip
    return Finding("barrier", "collects", "Down to the hard layer", state, reason, "neh624", under, 0.0, k.DEPTH,
                   station=part.station, elements=(f"soils.{part.soil.id}.hard_layer_depth",))  # fmt: skip


def reach(outcome: Outcome, place: Feature) -> Finding | None:
    """What collects for a place passes the whole of it: one run alone, or several together."""
    serving = [(found, part) for found in outcome.site.runs for part in found.serving if part.place is place]
    if not serving:
        return None
    if len(serving) == 1:
        return _passed(outcome, place, *serving[0])
    runs = {found.id for found, _ in serving}
    ends = [_free_ends(outcome.site.network, found, part, runs) for found, part in serving]
    missed = max(min(beyond(part, corner, *free) for (_, part), free in zip(serving, ends, strict=True)) for corner in range(len(place.points)))
    named = ", ".join(dict.fromkeys(found.run.name for found, _ in serving))
    return _missed(outcome, place, missed, named)


def _free_ends(network: Network, found: RunOutcome, part: Collecting, runs: set[str]) -> tuple[bool, bool]:
    """Whether what collects ends freely below and above, and does not meet another of the runs there."""
    run = found.run
    meets = [any(other.id in runs for other, _ in network.others_at(run, node.id)) for node in (run.nodes[0][0], run.nodes[-1][0])]
    return not (meets[0] and part.spans[0][0] < 1e-6), not (meets[1] and part.spans[-1][1] > run.length - 1e-6)


def beyond(part: Collecting, corner: int, is_free_below: bool, is_free_above: bool) -> float:
    """How far a corner of the place lies beyond the free ends of what collects for it, m; between parallel lines half a spacing is theirs."""
    assert part.lie is not None
    station = part.lie.feet[corner]
    out = max(part.spans[0][0] - station if is_free_below else 0.0, station - part.spans[-1][1] if is_free_above else 0.0, 0.0)
    return max(out - part.situation.reach / 2, 0.0) if part.situation.source == PARALLEL else out


def _passed(outcome: Outcome, place: Feature, found: RunOutcome, part: Collecting) -> Finding:
    lie, run = part.lie, found.run
    assert lie is not None
    free = part.situation.reach / 2 if part.situation.source == PARALLEL else 0.0
    beside = sum(max(0.0, min(high, lie.high) - max(low, lie.low)) for low, high in part.spans)
    ends = min(max(part.spans[0][0] - lie.low, 0.0), free) + min(max(lie.high - part.spans[-1][1], 0.0), free)
    missed = max(0.0, lie.high - lie.low - beside - ends)
    said = _missed(outcome, place, missed, run.name)
    fixes = []
    if said.state == State.FAILS and lie.high > run.length:
        fixes += _fix(f"Lengthen the run to station {say(outcome, lie.high, k.STATION)}", outcome.job, f"runs.{run.id}.length", lie.high)
    if said.state == State.FAILS and lie.low < run.solid_length:
        fixes += _fix(f"Collect from station {say(outcome, max(0.0, lie.low), k.STATION)} on", outcome.job, f"runs.{run.id}.solid_length", max(0.0, lie.low))
    elements = (f"runs.{run.id}.length", f"runs.{run.id}.solid_length")
    return dataclasses.replace(said, subject=run.id, station=max(lie.low, 0.0), fixes=tuple(fixes), elements=elements)


def _missed(outcome: Outcome, place: Feature, missed: float, names: str) -> Finding:
    fails = missed > outcome.rules.place_missed
    reason = f"What collects of {names} misses {say(outcome, missed, k.STATION)} of {place.name}." if fails else f"What collects of {names} passes the whole of {place.name}."
    return Finding("reach", "collects", "Length of the collecting run", State.FAILS if fails else State.HOLDS, reason, "cp", missed, outcome.rules.place_missed, k.STATION)


def _fix(name: str, job: Job, path: str, value: float) -> list[Fix]:
    """The fix, or none where the layout does not let it be made."""
    edit = Set(path, value)
    return [Fix(name, edit)] if can_be(edit, job) else []


def roof(outcome: Outcome) -> Finding | None:
    """Roof water stays out of pipe that collects: told from where the roofs' pipes and what is led into pipes really go."""
    job, network = outcome.job, outcome.site.network
    pipes = [run for run in network.runs if run.run.system == ROOF]
    roofs = [source for source in job.sources if source.kind == ROOF_WATER]
    if not roofs and not pipes:
        return None
    said = partial(Finding, "roof", "collects", "Roof water", source="cp")
    harm = "it brings leaves and grit and leaks into the ground you drain."
    for run in pipes:
        through = run if run.collecting_length else collecting_below(network, run)
        if through is not None:
            what = "The roof's own pipe collects" if through is run else f"Roof water of {run.name} runs through the perforated pipe of {through.name}"
            return said(State.FAILS, f"{what}: {harm}", subject=run.id)
    for source in roofs:
        through = collecting_from(network, source.node)
        if through is not None:
            return said(State.FAILS, f"Water of {source.name} runs through the perforated pipe of {through.name}: {harm}", subject=through.id,
                        elements=(f"sources.{source.id}.node",), fixes=_led_apart(network, source))  # fmt: skip
    return said(State.HOLDS, "Roof water is kept out of the perforated pipe.") if all(source.node for source in roofs) else None


def _led_apart(network: Network, source: Source) -> tuple[Fix, ...]:
    """The source led to the top of a roof's pipe that stays solid to its end."""
    apart = [run for run in network.runs if run.run.system == ROOF and not run.collecting_length and collecting_below(network, run) is None]
    return tuple(Fix(f"Lead {source.name} into {run.name}", Set(f"sources.{source.id}.node", run.nodes[-1][0].id)) for run in apart[:2])


def led(outcome: Outcome) -> Finding | None:
    """Every source is led somewhere."""
    loose = [source for source in outcome.job.sources if not source.node]
    if not loose:
        return None
    more = f", and of {len(loose) - 1} more" if len(loose) > 1 else ""
    return Finding("source-led", "collects", "Where water is led", State.UNKNOWN, f"Where the water of {loose[0].name}{more} goes is not said. Lead it into a pipe (Roofs, paving, pumps …).",
                   "cp", elements=(f"sources.{loose[0].id}.node",))  # fmt: skip


def collecting_from(network: Network, node: str) -> LaidRun | None:
    """The first run with pipe that collects that water let in at a node goes through; None where it stays in solid pipe to its end."""
    for joint in network.at_node.get(node, ()):
        run = network.run(joint.run)
        if any(not is_solid and low < joint.station - 1e-6 for low, _, is_solid in run.spans):
            return run
        below = collecting_below(network, run) if joint.station > 1e-6 else None
        if below is not None:
            return below
    return None


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


JOB = (place_wanted, roof, led)
PLACE = (served, reach)
PART = (drain_level, table, barrier)
