"""Collects: does the drain hold the water low enough where it matters?"""

from __future__ import annotations

import dataclasses
import math
from functools import lru_cache, partial

import numpy as np
import shapely

from weirant.checks.judge import NEAR, can_be, judge
from weirant.ground.collecting import Collecting
from weirant.ground.network import LaidRun, Network
from weirant.ground.passed import collects_below, passed_below, passed_from
from weirant.job import Job
from weirant.job.beside import NOUGHT
from weirant.job.paths import with_value
from weirant.job.site import Feature
from weirant.job.situations import places_of
from weirant.job.water import HILLSIDE, PARALLEL, ROOF, ROOF_WATER, Source
from weirant.outcome.commands import Set, do
from weirant.outcome.facts import Amount, Fact, Named, WaterDepth
from weirant.outcome.figure import Figure
from weirant.outcome.finding import WAITS, Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

LINE_ERROR, LINE_SHARE = 0.03, 0.05  # m, and of the drain's depth, by which the line model may be off: docs/line_model.md
STEPS, CLOSER = (1.0, 1.5, 2.2), (0.75, 0.55, 0.4)  # times what is lacking, and the spacing, that are tried
NET = 41  # points across a place
LEAST = 0.005  # m: less is not worth a fix
Line = tuple[tuple[float, float], ...]  # m


def served(outcome: Outcome, place: Feature) -> Finding | None:
    """Some run is said to keep the place dry."""
    if any(part.keeps(place) for found in outcome.site.runs for part in found.serving):
        return None
    return Finding(State.UNKNOWN, source="cp")


def place_wanted(outcome: Outcome) -> Finding | None:
    """Where something collects, something is to be kept dry."""
    if places_of(outcome.job) or not any(run.collecting_length for run in outcome.site.network.runs):
        return None
    return Finding(State.UNKNOWN, source="cp")


def water_below_ground(found: RunOutcome, station: float) -> float | None:
    """Depth m below ground of the water in the drain at a station; None where it is not known."""
    if found.grade is None or found.flow_high is None:
        return None
    return found.grade.at(found.grade.ground - found.flow_high.surface, station)


def drain_level(outcome: Outcome, found: RunOutcome, part: Collecting, place: Feature) -> Finding | None:
    """The drain itself lies deep enough: groundwater ends up no lower than the drain, or than it stands by itself."""
    depth, limit, by_itself = water_below_ground(found, part.station), place.dry_depth, part.soil.water_table_depth
    if depth is None or limit is None:
        return None
    if by_itself is not None and by_itself > depth:
        return Finding(judge(by_itself, limit, at_most=False), "by-itself", source="cp", facts={"water": WaterDepth(depth)}, value=by_itself, limit=limit, kind=k.WATER_DEPTH,
                       at_most=False, station=part.station, elements=(f"runs.{found.id}.invert", f"soils.{part.soil.id}.water_table_depth"))  # fmt: skip
    state = judge(depth, limit, at_most=False)
    fixes = lowered(found, limit * 1.1 - depth) if state == State.FAILS else ()
    return Finding(state, source="cp", facts={"water": WaterDepth(depth)}, value=depth, limit=limit, kind=k.WATER_DEPTH, at_most=False, station=part.station,
                   fixes=fixes, elements=(f"runs.{found.id}.invert", f"features.{place.id}.dry_depth"))  # fmt: skip


def table(outcome: Outcome, found: RunOutcome, part: Collecting, place: Feature) -> Finding | None:
    """The water table at the place, over the range of the soil."""
    water = next((w for w in found.water.parts if w.of is part), None) if found.water is not None else None
    if water is None or place.dry_depth is None:
        return None
    if water.table_depth is None:
        facts: dict[str, Fact] = {"missing": water.missing}
        if water.ends:
            facts |= {"under": WaterDepth(water.ends[0].value), "deep": WaterDepth(water.ends[1].value)}
            best = max(end.value for end in water.ends)
            if judge(best, place.dry_depth, at_most=False) == State.FAILS:  # wherever the hard layer lies
                return _said_of_table(found, part)(State.FAILS, "either-way", source="boussinesq1904 bouwer1964", facts=facts, value=best, limit=place.dry_depth)
        return _said_of_table(found, part)(State.UNKNOWN, source="cp", facts=facts)
    if water.waits:
        return _said_of_table(found, part)(State.UNKNOWN, WAITS, source="cp")
    assert found.grade is not None
    error = max(LINE_ERROR, LINE_SHARE * found.grade.at(found.grade.cut, part.station))
    return told_of_table(outcome, found, part, place, water.table_depth, source="boussinesq1904 bouwer1964", error=error)


def _said_of_table(found: RunOutcome, part: Collecting) -> partial[Finding]:
    return partial(Finding, kind=k.WATER_DEPTH, at_most=False, elements=(f"soils.{part.soil.id}", f"runs.{found.id}.distance"), station=part.station)


def told_of_table(outcome: Outcome, found: RunOutcome, part: Collecting, place: Feature, figure: Figure, *, source: str, error: float = 0.0) -> Finding:
    """What a water table at the place says, by whichever model it was found, which may be so far off, m."""
    limit, soil = place.dry_depth or 0.0, outcome.soil(part.soil)
    state = judge(figure.value, limit, at_most=False, band=figure.band, near=max(NEAR * limit, error))
    if soil.conductivity_assumed and state == State.HOLDS:
        state = State.TIGHT  # nobody has tested the soil
    is_through = part.lie is not None and part.lie.distance <= NOUGHT and part.situation.source != PARALLEL
    facts: dict[str, Fact] = {"water": WaterDepth(figure.value), "through": is_through, "assumed": soil.conductivity_assumed,
                              "off": Amount(error, k.SECTION) if abs(figure.value - limit) < error else None, **_over_the_soil(figure.band)}
    fixes = _drier(outcome, found, part, limit * 1.1 - figure.value) if state == State.FAILS else ()
    return _said_of_table(found, part)(state, source=source, facts=facts, value=figure.value, limit=limit, figure=figure, fixes=fixes)


def _drier(outcome: Outcome, found: RunOutcome, part: Collecting, by: float) -> tuple[Fix, ...]:
    """What may make the place drier by so much, m, in growing steps, of which the first that does is offered: the run deeper, for the water between it and
    the place falls less than the drain; and where one line stands for several, these nearer to one another.
    """
    most = over_hard_layer(found, part)
    deeper = [fix for drop in dict.fromkeys(min(step * by, most) for step in STEPS) for fix in lowered(found, drop)]
    stands_for_several = part.situation.source == PARALLEL and sum(part.place is not None and other.keeps(part.place) for run in outcome.site.runs for other in run.serving) == 1
    closer = [Fix("closer", Set(f"runs.{found.id}.reach", share * part.situation.reach), {"apart": Amount(share * part.situation.reach, k.DISTANCE)})
              for share in CLOSER if stands_for_several]  # fmt: skip
    return (*deeper, *closer)


def _over_the_soil(band: tuple[float, float] | None) -> dict[str, Fact]:
    """The ends of a band, where it has two."""
    if band is None or band[1] - band[0] < 1e-12:
        return {}
    return {"low": Amount(band[0], k.WATER_DEPTH), "high": Amount(band[1], k.WATER_DEPTH)}


def lowered(found: RunOutcome, by: float) -> tuple[Fix, ...]:
    """The whole run so much deeper, m, as a fix; none where it is next to nothing."""
    if by < LEAST:
        return ()
    return (Fix("lower-run", Set(f"runs.{found.id}.invert", found.run.invert - by), {"by": Amount(by, k.SECTION)}),)


def over_hard_layer(found: RunOutcome, part: Collecting) -> float:
    """How far the water in the drain stands over the hard layer beside the place, m: deeper, no more of the wet soil drains to it."""
    depth, hard = water_below_ground(found, part.station), part.soil.hard_layer_depth
    return math.inf if depth is None or hard is None else hard - depth


def barrier(outcome: Outcome, found: RunOutcome, part: Collecting, place: Feature) -> Finding | None:
    """An interceptor that ends above the hard layer lets water pass beneath."""
    hard = part.soil.hard_layer_depth
    if found.grade is None or part.situation.source != HILLSIDE or hard is None:
        return None
    under = hard - found.grade.at(found.grade.cut, part.station)
    state = judge(under, 0.0, at_most=True, near=0.0) if under <= 0 else State.TIGHT
    return Finding(state, "" if under <= 0 else "above", source="neh624", facts={"hard": Amount(hard, k.DEPTH)}, value=under, limit=0.0, kind=k.DEPTH,
                   station=part.station, elements=(f"soils.{part.soil.id}.hard_layer_depth",))  # fmt: skip


def reach(outcome: Outcome, place: Feature) -> Finding | None:
    """What collects for a place passes the whole of it: one run alone, or several together."""
    serving = [(found, part) for found in outcome.site.runs for part in found.serving if part.keeps(place)]
    if not serving:
        return None
    if len(serving) == 1:
        return _passed(outcome, *serving[0])
    runs = {found.id for found, _ in serving}
    ends = [_free_ends(outcome.site.network, found, part, runs) for found, part in serving]
    missed = max(min(beyond(part, corner, *free) for (_, part), free in zip(serving, ends, strict=True)) for corner in range(len(place.points)))
    return _missed(outcome, missed, tuple(dict.fromkeys(found.id for found, _ in serving)))


def spacing(outcome: Outcome, place: Feature) -> Finding | None:
    """Where lines are drawn over a place: none of it lies farther from them than half of what they are said to lie apart, on which the water midway
    between them rests.
    """
    lines = [(found, part) for found in outcome.site.runs for part in found.serving if part.keeps(place) and part.situation.source == PARALLEL]
    if len({found.id for found, _ in lines}) < 2 or not place.is_outline:
        return None
    apart = 2 * _farthest(tuple((p.x, p.y) for p in place.points), tuple(dict.fromkeys(_line(found) for found, _ in lines)))
    told = max(part.situation.reach for _, part in lines)
    runs = tuple(dict.fromkeys(found.id for found, _ in lines))
    state = State.FAILS if apart > told * (1 + outcome.rules.spacing_slack) else State.HOLDS
    fixes = (Fix("as-far-apart", do(_with_spacing, runs=runs, apart=apart), {"apart": Amount(apart, k.DISTANCE)}),) if state == State.FAILS else ()
    return Finding(state, source="cp", facts={"runs": tuple(map(Named, runs))}, value=apart, limit=told, kind=k.DISTANCE, fixes=fixes,
                   elements=tuple(f"runs.{run}.reach" for run in runs))  # fmt: skip


def _with_spacing(job: Job, runs: tuple[str, ...], apart: float) -> Job:
    for run in runs:
        job = with_value(job, f"runs.{run}.reach", apart)
    return job


def _line(found: RunOutcome) -> Line:
    return tuple((x, y) for x, y in found.run.alignment.points.tolist())


@lru_cache(maxsize=64)  # most edits leave the plan as it is
def _farthest(corners: Line, lines: tuple[Line, ...]) -> float:
    """Distance m of what of a place lies farthest from the lines, by a net of points over it."""
    outline = shapely.polygons(corners)
    west, south, east, north = shapely.bounds(outline).tolist()
    x, y = np.meshgrid(np.linspace(west, east, NET), np.linspace(south, north, NET))
    points = shapely.points(x.ravel(), y.ravel())
    inside = points[shapely.covers(outline, points)]
    legs = shapely.union_all([shapely.linestrings(line) for line in lines])
    return float(shapely.distance(inside, legs).max(initial=0.0))


def _free_ends(network: Network, found: RunOutcome, part: Collecting, runs: set[str]) -> tuple[bool, bool]:
    """Whether what collects ends freely below and above, and does not meet another of the runs there."""
    run = found.run
    meets = [any(joint.run in runs and joint.run != run.id for joint in network.at_node[node.id]) for node in (run.nodes[0][0], run.nodes[-1][0])]
    return not (meets[0] and part.spans[0][0] < 1e-6), not (meets[1] and part.spans[-1][1] > run.length - 1e-6)


def beyond(part: Collecting, corner: int, is_free_below: bool, is_free_above: bool) -> float:
    """How far a corner of the place lies beyond the free ends of what collects for it, m; between parallel lines half a spacing is theirs."""
    assert part.lie is not None
    station = part.lie.feet[corner]
    out = max(part.spans[0][0] - station if is_free_below else 0.0, station - part.spans[-1][1] if is_free_above else 0.0, 0.0)
    return max(out - part.situation.reach / 2, 0.0) if part.situation.source == PARALLEL else out


def _passed(outcome: Outcome, found: RunOutcome, part: Collecting) -> Finding:
    lie, run = part.lie, found.run
    assert lie is not None
    free = part.situation.reach / 2 if part.situation.source == PARALLEL else 0.0
    beside = sum(max(0.0, min(high, lie.high) - max(low, lie.low)) for low, high in part.spans)
    ends = min(max(part.spans[0][0] - lie.low, 0.0), free) + min(max(lie.high - part.spans[-1][1], 0.0), free)
    missed = max(0.0, lie.high - lie.low - beside - ends)
    said = _missed(outcome, missed, (run.id,))
    fixes = []
    if said.state == State.FAILS and lie.high > run.length:
        fixes += _fix("lengthen", outcome.job, f"runs.{run.id}.length", lie.high)
    if said.state == State.FAILS and lie.low < run.solid_length:
        fixes += _fix("collect-from", outcome.job, f"runs.{run.id}.solid_length", max(0.0, lie.low))
    elements = (f"runs.{run.id}.length", f"runs.{run.id}.solid_length")
    return dataclasses.replace(said, subject=run.id, station=max(lie.low, 0.0), fixes=tuple(fixes), elements=elements)


def _missed(outcome: Outcome, missed: float, runs: tuple[str, ...]) -> Finding:
    state = State.FAILS if missed > outcome.rules.place_missed else State.HOLDS
    return Finding(state, source="cp", facts={"runs": tuple(Named(run) for run in runs)}, value=missed, limit=outcome.rules.place_missed, kind=k.STATION)


def _fix(code: str, job: Job, path: str, value: float) -> list[Fix]:
    """The fix that sets a station, or none where the layout does not let it be made."""
    edit = Set(path, value)
    return [Fix(code, edit, {"to": Amount(value, k.STATION)})] if can_be(edit, job) else []


def roof(outcome: Outcome) -> Finding | None:
    """Roof water stays out of pipe that collects: told from where the roofs' pipes and what is led into pipes really go."""
    network, said = outcome.site.network, partial(Finding, source="cp")
    roofs = [source for source in outcome.job.sources if source.kind == ROOF_WATER]
    if not roofs:
        return None
    for source in roofs:
        through = collecting_from(network, source.node)
        if through is not None:
            return said(State.FAILS, facts={"source": Named(source.id), "through": Named(through.id)}, subject=through.id, piece=source.node,
                        elements=(f"sources.{source.id}.node",), fixes=_led_apart(outcome, source))  # fmt: skip
    return said(State.HOLDS) if all(source.node for source in roofs) else None


def _led_apart(outcome: Outcome, source: Source) -> tuple[Fix, ...]:
    """The source led to the top of a pipe that stays solid to its end; one that carries roof water already comes first."""
    network = outcome.site.network
    apart = [run for run in network.runs if not run.collecting_length and collecting_below(network, run) is None]
    apart.sort(key=lambda run: ROOF not in outcome.site.carries[run.id])
    return tuple(Fix("lead-into", Set(f"sources.{source.id}.node", run.nodes[-1][0].id), {"source": Named(source.id), "run": Named(run.id)}) for run in apart[:2])


def led(outcome: Outcome) -> Finding | None:
    """Every source is led somewhere."""
    loose = [source for source in outcome.job.sources if not source.node]
    if not loose:
        return None
    return Finding(State.UNKNOWN, source="cp", facts={"source": Named(loose[0].id), "more": len(loose) - 1 or None}, elements=(f"sources.{loose[0].id}.node",))


def collecting_from(network: Network, node: str) -> LaidRun | None:
    """The first run with pipe that collects that water let in at a node goes through; None where it stays in solid pipe to its end."""
    return next((run for run, station in passed_from(network, node) if collects_below(run, station)), None)


def collecting_below(network: Network, run: LaidRun) -> LaidRun | None:
    """The first run with pipe that collects that the water of a run goes through; None where it stays in solid pipe to its end."""
    return next((other for other, station in passed_below(network, run) if collects_below(other, station)), None)


JOB = {"place-wanted": place_wanted, "roof": roof, "source-led": led}
PLACE = {"served": served, "reach": reach, "spacing": spacing}
PART = {"drain-level": drain_level, "table": table, "barrier": barrier}
