"""From a job to the demands on its grade, and from the best grade back to a job, with what it costs in words."""

from __future__ import annotations

import dataclasses
import math
from bisect import bisect_left
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from weirant.checks.judge import say
from weirant.design.takeoff import integrate
from weirant.errors import InputError
from weirant.ground.grade.best import BestGrade, Binding, GiveWay, best_grade
from weirant.ground.grade.demands import Aim, CrossingDemand, Family, MeetingDemand, NetworkDemand, RunDemand
from weirant.ground.grade_line import GradeLine
from weirant.ground.inverts import with_inverts
from weirant.ground.network import Run, line_named, with_line
from weirant.job import Job
from weirant.job.line import CURB_CORE, GROUND, OPEN_PIPE
from weirant.job.network import BEST, MAIN
from weirant.outcome.finding import Fix
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units.display import DEPTH, LEVEL, SECTION, SLOPE, STATION, VOLUME

Array = NDArray[np.float64]
NEAREST = 0.05  # m: of two places nearer than that one is enough
LEAST_EVERY = 0.3  # m between places where the grade may change; nobody lays shorter lengths
FREEBOARD = 0.0508  # m the outlet is kept over the water it falls into (common practice, no source)
DEEPEST_OUTLET = 1.0  # m under the ground at a bubbler or pop-up whose water level is not known (common practice, no source)
ROOM_IN_PIPE = 0.5  # of the pipe's height that water may stand in it where the ground is to be dry (common practice)


@dataclass(frozen=True, eq=False)
class GradePlan:
    """The best grade as the user sees it: the job with its inverts, dig m³, what binds in words, and ways out if none exists.

    ``offers`` are jobs that could be graded, each named by what gives way; ``advice`` is a sump where gravity will not do.
    """

    best: BestGrade
    job: Job | None
    dig: float
    dig_before: float
    binding: tuple[str, ...]
    offers: tuple[Fix, ...]
    advice: str = ""


def plan_grade(outcome: Outcome, aim: Aim = Aim.LEAST_DIG, *, every: float | None = None, quick: bool = False) -> GradePlan:
    """The best grade of every run of a job at once.

    ``every`` m lets the grade change at further places between the nodes. Raises InputError where the ground under a run
    is not known, and SolverError where the solver fails.
    """
    if every is not None and not every >= LEAST_EVERY:
        raise InputError("distance between places where the grade may change", f"must be at least {LEAST_EVERY:g} m (1 ft)", f"{every:g} m")
    demand = demand_of(outcome, every)
    best = best_grade(demand, aim, quick=quick)
    before = dig_of(outcome)
    if not best.is_feasible:
        return GradePlan(best, None, 0.0, before, (), offers_of(outcome, best.gives), _sump(outcome, best.gives))
    job = with_levels(outcome.job, best)
    return GradePlan(best, job, dig_with(outcome, best), before, tuple(binding_words(outcome, b) for b in best.bindings), ())


def demand_of(outcome: Outcome, every: float | None = None) -> NetworkDemand:
    """The demands of a job's runs. Raises InputError where the ground under a run is not known."""
    site = outcome.site
    if site is None or site.fault:
        raise InputError("", site.fault if site is not None else "no ground is known yet")
    runs = []
    for found in site.runs:
        if found.grade is None:
            raise InputError(f"run {found.run.name}", "has no ground under it; shoot levels along it")
        runs.append(_run_demand(outcome, found, found.grade, every))
    met = tuple(MeetingDemand(m.first, m.second, m.first_station, m.second_station) for m in site.meetings)
    return NetworkDemand(tuple(runs), outcome.job.limits.drop_at_joints, outcome.job.limits.clearance, met)


def _run_demand(outcome: Outcome, found: RunOutcome, grade: GradeLine, every: float | None) -> RunDemand:
    job, pipe, run = outcome.job, outcome.pipe, found.run
    line, limits = run.line, job.limits
    nodes = _nodes(outcome, run, every)
    # what is asked where must not hang on how fine the net of nodes is: then a finer net can only gain
    basis = np.array(sorted({*grade.stations.tolist(), *_nodes(outcome, run, None).tolist(), *_place_ends(job, line.length), *(c.station for c in found.crossings)}))
    stations = np.unique(np.concatenate([basis, nodes]))
    ground = np.interp(stations, grade.stations, grade.ground)
    above, below = pipe.inner_diameter + pipe.wall, pipe.wall + job.trench.bedding
    outlet = _outlet_least(run, float(ground[0]))
    middle = (nodes[:-1] + nodes[1:]) / 2
    least = np.where(middle < line.solid_length, limits.least_slope_solid, limits.least_slope)
    collecting = stations >= line.solid_length - 1e-9 if line.solid_length < line.length - 1e-9 else np.zeros(len(stations), dtype=bool)
    return RunDemand(
        run.name, stations, ground, nodes, least, limits.most_slope, above, below, pipe.wall, job.trench.width, limits.least_cover,
        stations >= _cover_starts(run, basis, np.interp(basis, grade.stations, grade.ground), outlet, above + limits.least_cover, float(least.min())), limits.most_depth,
        _collect_levels(job, run, pipe.inner_diameter, ground, collecting & _beside_place(job, run, stations)), collecting,
        run.joins, run.joins_at, outlet, tuple((h.station, h.level) for h in line.held if h.station <= line.length),
        _crossing_demands(outcome, found), not run.trench_of,
    )  # fmt: skip


def _nodes(outcome: Outcome, run: Run, every: float | None) -> Array:
    """Where the grade may change: the ends, the end of the solid pipe, bends, joints, held inverts, and in between."""
    line = run.line
    wanted = {line.solid_length, *(b.station for b in line.bends), *(h.station for h in line.held)}
    if outcome.site is not None:
        wanted |= {r.run.joins_at for r in outcome.site.runs if r.run.joins == run.name}
    found = _apart(sorted(round(s, 6) for s in wanted if 0.0 <= s <= line.length), [0.0, line.length])
    if every is not None:
        found = _apart(np.round(np.arange(0.0, line.length, every), 6).tolist(), found)
    return np.array(found)


def _apart(more: list[float], kept: list[float]) -> list[float]:
    """Stations kept, and of further ones those that lie clear of them and of one another, in order."""
    found = sorted(kept)
    for station in more:
        at = bisect_left(found, station)
        if station - found[max(at - 1, 0)] > NEAREST and (at == len(found) or found[at] - station > NEAREST):
            found.insert(at, station)
    return found


def _place_ends(job: Job, length: float) -> list[float]:
    """Where the place to keep dry begins and ends along the main line."""
    return [s for s in (job.protected.from_station, job.protected.to_station) if 0.0 <= s <= length]


def _outlet_least(run: Run, ground: float) -> float | None:
    """The lowest invert at an outlet: out of the ground where the pipe ends open, and above the water it falls into."""
    if not run.is_root:
        return None
    levels = [ground] if run.line.outlet in (OPEN_PIPE, CURB_CORE) else []
    if run.line.receiving_level is not None:
        levels.append(run.line.receiving_level + FREEBOARD)
    return max(levels) if levels else ground - DEEPEST_OUTLET


def _cover_starts(run: Run, stations: Array, ground: Array, outlet: float | None, needed: float, least: float) -> float:
    """Station from which on cover is demanded: everywhere, but for an outlet only from where the ground has risen enough for any pipe to have it."""
    if outlet is None or run.line.solid_length <= 0:  # a collecting run keeps its cover all along
        return 0.0
    lowest = max([outlet, *(h.level for h in run.line.held if h.station == 0.0)])
    covered = np.nonzero(ground - needed >= lowest + least * stations)[0]
    beyond = np.nonzero(stations > run.line.solid_length - 1e-9)[0]
    return min((float(stations[found[0]]) for found in (covered, beyond) if len(found)), default=math.inf)


def _beside_place(job: Job, run: Run, stations: Array) -> NDArray[np.bool_]:
    """Where the collecting run has to lie deep enough: beside the protected place; on other runs, all along."""
    low, high = sorted((job.protected.from_station, job.protected.to_station))
    if run.name != MAIN or high - low < 0.1:
        return np.ones(len(stations), dtype=bool)
    return np.asarray((stations >= low - 1e-6) & (stations <= high + 1e-6))


def _collect_levels(job: Job, run: Run, diameter: float, ground: Array, asked: NDArray[np.bool_]) -> Array:
    """The highest invert at which the run still collects what it should; infinity where nothing is asked."""
    depth = _collect_depth(job, run, diameter)
    return np.full(len(ground), np.inf) if depth is None else np.where(asked, ground - depth, np.inf)


def _collect_depth(job: Job, run: Run, diameter: float) -> float | None:
    if run.line.least_depth is not None:
        return run.line.least_depth
    if run.name == MAIN and run.line.system == GROUND:
        return job.protected.dry_depth + ROOM_IN_PIPE * diameter
    return None


def _crossing_demands(outcome: Outcome, found: RunOutcome) -> tuple[CrossingDemand, ...]:
    job, demands = outcome.job, []
    for crossing in found.crossings:
        if crossing.top is None or crossing.bottom is None:
            continue
        way = next((c.way for c in job.crossings if (c.run, c.feature) == (found.run.name, crossing.feature.name)), BEST)
        clear = job.limits.clearance
        demands.append(CrossingDemand(crossing.station, crossing.feature.name, crossing.top + clear, crossing.bottom - clear, way))
    return tuple(demands)


def with_levels(job: Job, best: BestGrade) -> Job:
    """The job with the inverts of a best grade laid into every run."""
    for name, (stations, levels) in best.levels.items():
        line = line_named(job, name)
        job = with_line(job, name, with_inverts(line, stations, levels))
    return job


def dig_with(outcome: Outcome, best: BestGrade) -> float:
    """Dig m³ of the best grade with the trench's own section, sides laid back and all."""
    demand_below = outcome.pipe.wall + outcome.job.trench.bedding
    total = 0.0
    for found in outcome.site.runs if outcome.site else ():
        if found.grade is not None and not found.run.trench_of and found.run.name in best.levels:
            invert = np.interp(found.grade.stations, *best.levels[found.run.name])
            total += _volume(outcome, found.grade, found.grade.ground - (invert - demand_below))
    return total


def dig_of(outcome: Outcome) -> float:
    """Dig m³ of all runs as they lie."""
    runs = outcome.site.runs if outcome.site else ()
    return sum(_volume(outcome, r.grade, r.grade.cut) for r in runs if r.grade is not None and not r.run.trench_of)


def _volume(outcome: Outcome, grade: GradeLine, cut: Array) -> float:
    trench = outcome.job.trench
    return integrate(grade.stations, np.maximum(cut, 0.0), lambda h: (trench.width + trench.side_slope * h) * h)


def _where(run: str) -> str:
    return "the main line" if run == MAIN else run


_WHAT = {
    Family.OUTLET: "the level of the outlet", Family.SLOPE: "the least slope", Family.STEEP: "the steepest slope", Family.COVER: "the cover",
    Family.DEPTH: "the deepest trench allowed", Family.COLLECT: "the depth the ground is to be dry to", Family.JOINT: "the joint",
}  # fmt: skip


def binding_words(outcome: Outcome, binding: Binding) -> str:
    """What one demand costs, in the user's units."""
    where = f"{_where(binding.run)}, station {say(outcome, binding.station, STATION)}"
    head, imperial = f"{where[0].upper()}{where[1:]}", outcome.job.units == "imperial"
    if binding.family in (Family.CROSSING, Family.HELD):
        clear = say(outcome, outcome.job.limits.clearance, SECTION)
        what = f"the {clear} kept clear of the {binding.name}" if binding.family == Family.CROSSING else "the invert you hold"
        saved = binding.saving if binding.saving is not None else 0.0
        return f"{what[0].upper()}{what[1:]} ({where}) costs {say(outcome, saved, VOLUME)} of dig."
    if binding.family in (Family.SLOPE, Family.STEEP):
        return f"{head}: {_WHAT[binding.family]} holds it; 0.1 % less would save {say(outcome, binding.rate * 0.001, VOLUME)} of dig."
    step, words = (0.0254, "1 in") if imperial else (0.01, "10 mm")
    return f"{head}: {_WHAT[binding.family]} holds it; each {words} costs {say(outcome, binding.rate * step, VOLUME)} of dig."


def offers_of(outcome: Outcome, gives: tuple[GiveWay, ...]) -> tuple[Fix, ...]:
    """Each way out as a fix: its name says what gives way and by how much, its job can be graded."""
    offers = []
    for give in gives:
        changed, words = outcome.job, []
        for family, exact in give.amounts:
            amount = _seen(outcome, family, exact)
            changed, word = _given(outcome, changed, family, amount)
            words.append(word)
        try:
            changed = with_levels(changed, BestGrade(give.levels, 0.0))
        except InputError:
            continue
        offers.append(Fix("; ".join(words), changed))
    return tuple(offers)


def _seen(outcome: Outcome, family: Family, amount: float) -> float:
    """An amount by which something gives way, rounded up to what can be told and measured: an eighth of an inch, 5 mm, or 0.01 % of slope."""
    step = 1e-4 if family in (Family.SLOPE, Family.STEEP) else 0.0254 / 8 if outcome.job.units == "imperial" else 0.005
    return math.ceil(amount / step - 1e-6) * step


def _given(outcome: Outcome, job: Job, family: Family, amount: float) -> tuple[Job, str]:
    limits = job.limits
    if family == Family.OUTLET:
        return job, f"Lower the outlet {say(outcome, amount, SECTION)}: find a lower place for it, or a pump"
    if family == Family.SLOPE:
        least = max(0.0, limits.least_slope - amount)
        least_solid = max(0.0, limits.least_slope_solid - amount)
        return _limits(job, least_slope=least, least_slope_solid=least_solid), f"Accept a slope of {say(outcome, min(least, least_solid), SLOPE)}"
    if family == Family.STEEP:
        return _limits(job, most_slope=limits.most_slope + amount), f"Accept a slope as steep as {say(outcome, limits.most_slope + amount, SLOPE)}"
    if family == Family.COVER:
        left = limits.least_cover - amount
        if left < 0:
            return _limits(job, least_cover=0.0), f"Raise the ground by {say(outcome, amount - limits.least_cover, DEPTH)} over the shallow end, no cover beside"
        return _limits(job, least_cover=left), f"Accept {say(outcome, left, DEPTH)} of cover, or fill {say(outcome, amount, DEPTH)} over the shallow end"
    if family == Family.DEPTH:
        return _limits(job, most_depth=limits.most_depth + amount), f"Dig as deep as {say(outcome, limits.most_depth + amount, DEPTH)}"
    if family == Family.COLLECT:
        return job, f"Lay the collecting run {say(outcome, amount, SECTION)} shallower than the dry depth asks"
    if family == Family.HELD:
        return _held_free(job), f"Let the held inverts go by {say(outcome, amount, SECTION)}"
    if family == Family.CROSSING:
        return _limits(job, clearance=max(0.0, limits.clearance - amount)), f"Give {say(outcome, amount, SECTION)} of the clearance to what is crossed, if its owner agrees"
    return _limits(job, drop_at_joints=limits.drop_at_joints + amount), f"Allow {say(outcome, limits.drop_at_joints + amount, SECTION)} of drop where runs join"


def _limits(job: Job, **changes: float) -> Job:
    return dataclasses.replace(job, limits=dataclasses.replace(job.limits, **changes))


def _held_free(job: Job) -> Job:
    for name in (MAIN, *(b.name for b in job.branches)):
        line = line_named(job, name)
        job = with_line(job, name, dataclasses.replace(line, held=()))
    return job


def _sump(outcome: Outcome, gives: tuple[GiveWay, ...]) -> str:
    """Where a pump would stand if gravity cannot do it, and how high it lifts."""
    lower = next((g for g in gives if [f for f, _ in g.amounts] == [Family.OUTLET]), None)
    if lower is None:
        return ""
    lift = lower.amounts[0][1]
    root = next((r for r in outcome.site.runs if r.run.is_root), None) if outcome.site else None
    if root is None:
        return ""
    at = root.run.line.solid_length
    return (f"Gravity alone does not do it. A sump would stand where the solid pipe starts (station {say(outcome, at, STATION)}) and lift the "
            f"water {say(outcome, lift, DEPTH)} at least; it needs power, a check valve and a place that may take the water.")  # fmt: skip


def levels_words(outcome: Outcome, best: BestGrade) -> list[str]:
    """Levels of every run at its nodes, a line each, for the command line."""
    rows = []
    for name, (stations, levels) in best.levels.items():
        for station, level in zip(stations.tolist(), levels.tolist(), strict=True):
            rows.append(f"{name:<16} {say(outcome, station, STATION):>12} {say(outcome, level, LEVEL):>12}")
    return rows
