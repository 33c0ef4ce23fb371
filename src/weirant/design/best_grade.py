"""The best grade of a job: its inverts, what that costs, and what could give way where no grade line exists."""

from __future__ import annotations

import dataclasses
import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from weirant.design.grade_demands import demand_of, outlet_least
from weirant.design.takeoff import dug_volume
from weirant.errors import InputError, SolverError
from weirant.ground.grade.best import BestGrade, GiveWay, best_grade
from weirant.ground.grade.demands import Aim, Family
from weirant.ground.grade_line import GradeLine
from weirant.ground.in_place import in_place
from weirant.ground.inverts import laid_through
from weirant.ground.network import LaidRun
from weirant.job import Job
from weirant.job.network import PLANNED
from weirant.job.section import SOIL_CAP
from weirant.language import tr
from weirant.library import Library
from weirant.outcome.facts import Amount, Fact, Facts, Named
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass
from weirant.units.display import DEPTH, DISTANCE, SECTION, SLOPE, System, shown

Array = NDArray[np.float64]
LEAST_EVERY = 0.3  # m between places where the grade may change; nobody lays shorter lengths


@dataclass(frozen=True)
class Given:
    """One thing that gives way: its code, and by how much as the facts of it."""

    code: str
    facts: Facts


@dataclass(frozen=True)
class WayOut:
    """What could give way together, the least by which it has to (m or m/m), and the job that can then be graded."""

    give: GiveWay
    gives: tuple[Given, ...]
    job: Job


@dataclass(frozen=True)
class Sump:
    """Where a pump would stand if gravity cannot do it: station m of a run, and how high it lifts at least, m."""

    run: str
    station: float
    lift: float


@dataclass(frozen=True, eq=False)
class GradePlan:
    """The best grade as the user sees it: the job with its inverts, dig m³; or the ways out if there is none, and a sump where gravity will not do."""

    best: BestGrade
    job: Job | None
    dig: float
    dig_before: float
    ways_out: tuple[WayOut, ...] = ()
    sump: Sump | None = None


def plan_grade(outcome: Outcome, aim: Aim = Aim.LEAST_DIG, *, every: float | None = None, quick: bool = False) -> GradePlan:
    """The best grade of every run of a job at once.

    ``every`` m lets the grade change at further places between the nodes. Raises InputError where the ground under a run
    is not known, and SolverError where the solver fails.
    """
    if every is not None and not every >= LEAST_EVERY:
        raise InputError(tr("distance between places where the grade may change"), tr("must be at least {least}", least=shown(LEAST_EVERY, DISTANCE, System(outcome.job.units))),
                         shown(every, DISTANCE, System(outcome.job.units)))
    demand = demand_of(outcome, every)
    try:
        best = best_grade(demand, aim, quick=quick)
    except (ValueError, ArithmeticError) as fault:  # what the solver's library will not take is told as any other failure of it
        raise SolverError(tr("best grade"), math.nan) from fault
    before = dig_of(outcome)
    if not best.is_feasible:
        return GradePlan(best, None, 0.0, before, ways_out(outcome, best.gives), _sump(outcome, best.gives))
    return GradePlan(best, with_levels(outcome.job, best, outcome.library), dig_with(outcome, best), before)


def with_levels(job: Job, best: BestGrade, library: Library) -> Job:
    """The job with the inverts of a best grade laid into every run."""
    for run, (stations, levels) in best.levels.items():
        job = laid_through(job, run, stations, levels)
    return in_place(job, library)


def dig_with(outcome: Outcome, best: BestGrade) -> float:
    """Dig m³ of the best grade with the trench's own section, sides laid back and all."""
    total = 0.0
    for found in outcome.site.runs:
        if found.grade is not None and _is_dug(found) and found.id in best.levels:
            invert = np.interp(found.grade.stations, *best.levels[found.id])
            total += _volume(found, found.grade, invert)
    return total


def dig_of(outcome: Outcome) -> float:
    """Dig m³ of all runs as they lie."""
    return sum(_volume(r, r.grade, r.grade.invert) for r in outcome.site.runs if r.grade is not None and _is_dug(r))


def _is_dug(found: RunOutcome) -> bool:
    """Whether a run has a trench of its own that is still to be dug."""
    return not found.run.run.trench_of and found.run.run.status == PLANNED


def _volume(found: RunOutcome, grade: GradeLine, invert: Array) -> float:
    """Dig m³ of a run with its inverts at m, shape (n,)."""
    total = 0.0
    for stretch in found.stretches:
        here = stretch.holds(grade.stations)
        cut = grade.ground[here] - invert[here] + stretch.make.below
        total += dug_volume(stretch.make, grade.stations[here], np.maximum(cut, 0.0))
    return total


def ways_out(outcome: Outcome, gives: tuple[GiveWay, ...]) -> tuple[WayOut, ...]:
    """Each way out that can be laid: what gives way and by how much, and the job with it."""
    found = []
    for give in gives:
        changed, what = outcome.job, []
        for family, exact in give.amounts:
            changed, given = _given(outcome, changed, give, family, _seen(outcome, family, exact))
            what.append(given)
        try:
            changed = with_levels(changed, BestGrade(give.levels, 0.0), outcome.library)
        except InputError:
            continue
        found.append(WayOut(give, tuple(what), changed))
    return tuple(found)


def _too_low(outcome: Outcome, give: GiveWay) -> list[tuple[LaidRun, float]]:
    """The runs whose outlets lie lower than they may where something gives way, and by how much, m; the most first."""
    found = []
    for run in outcome.site.network.runs:
        if outcome.site.network.ends_in_the_open(run) and run.id in give.levels:
            least = outlet_least(outcome, run, ground_at(outcome, run), 0.0)
            short = (least or -math.inf) - float(give.levels[run.id][1][0])
            if short > 1e-6:
                found.append((run, short))
    return sorted(found, key=lambda pair: -pair[1])


def _lowered(outcome: Outcome, give: GiveWay, amount: float) -> Given:
    """Which outlets would have to lie lower, by how much, and whether the water there lets them."""
    low, drowned = [run for run, _ in _too_low(outcome, give)], 0.0
    for run in low:
        level = run.outlet.water_level if run.outlet is not None else None
        if level is not None:
            drowned = max(drowned, level - float(give.levels[run.id][1][0]))
    facts: dict[str, Fact] = {"runs": tuple(Named(run.id) for run in low), "by": Amount(amount, SECTION), "drowned": Amount(drowned, SECTION) if drowned > 0 else None}
    return Given("outlet", facts)


def _seen(outcome: Outcome, family: Family, amount: float) -> float:
    """An amount by which something gives way, rounded up to what can be told and measured: an eighth of an inch, 5 mm, or 0.01 % of slope."""
    step = 1e-4 if family in (Family.SLOPE, Family.STEEP) else 0.0254 / 8 if outcome.job.units == "imperial" else 0.005
    return math.ceil(amount / step - 1e-6) * step


def _given(outcome: Outcome, job: Job, give: GiveWay, family: Family, amount: float) -> tuple[Job, Given]:
    """The job with one kind of demand eased by an amount m or m/m, and what that is."""
    limits = job.limits
    if family == Family.OUTLET:
        return job, _lowered(outcome, give, amount)
    if family == Family.SLOPE:
        least, least_solid, trees = (max(0.0, limit - amount) for limit in (limits.least_slope, limits.least_slope_solid, limits.least_slope_trees))
        eased = _limits(job, least_slope=least, least_slope_solid=least_solid, least_slope_trees=trees)
        return eased, Given("slope", {"to": Amount(min(least, least_solid), SLOPE)})
    if family == Family.STEEP:
        return _limits(job, most_slope=limits.most_slope + amount), Given("steep", {"to": Amount(limits.most_slope + amount, SLOPE)})
    if family == Family.COVER:
        left = limits.least_cover - amount
        if left < 0:
            return _limits(job, least_cover=0.0), Given("ground", {"by": Amount(-left, DEPTH)})
        return _limits(job, least_cover=left), Given("cover", {"to": Amount(left, DEPTH), "by": Amount(amount, DEPTH)})
    if family == Family.CAP:
        thinner = tuple(dataclasses.replace(s, stone_cover=max(0.0, s.stone_cover - amount)) if s.top == SOIL_CAP else s for s in job.sections)
        less = min((s.stone_cover for s in thinner if s.top == SOIL_CAP), default=0.0)
        return dataclasses.replace(job, sections=thinner), Given("cap", {"to": Amount(less, SECTION), "by": Amount(amount, DEPTH)})
    if family == Family.DEPTH:
        return _limits(job, most_depth=limits.most_depth + amount), Given("depth", {"to": Amount(limits.most_depth + amount, DEPTH)})
    if family == Family.COLLECT:
        return job, Given("collect", {"by": Amount(amount, SECTION)})
    if family == Family.HELD:
        return _held_free(job), Given("held", {"by": Amount(amount, SECTION)})
    if family == Family.CROSSING:
        return _limits(job, clearance=max(0.0, limits.clearance - amount)), Given("crossing", {"by": Amount(amount, SECTION)})
    return _limits(job, drop_at_joints=limits.drop_at_joints + amount), Given("joint", {"to": Amount(limits.drop_at_joints + amount, SECTION)})


def _limits(job: Job, **changes: Any) -> Job:
    return dataclasses.replace(job, limits=dataclasses.replace(job.limits, **changes))


def _held_free(job: Job) -> Job:
    return dataclasses.replace(job, runs=tuple(dataclasses.replace(run, held=()) for run in job.runs))


def _sump(outcome: Outcome, gives: tuple[GiveWay, ...]) -> Sump | None:
    """Where a pump would stand if gravity cannot do it, and how high it lifts."""
    lower = next((g for g in gives if [f for f, _ in g.amounts] == [Family.OUTLET]), None)
    low = _too_low(outcome, lower) if lower is not None else []
    if lower is None or not low:
        return None
    deepest = low[0][0]
    return Sump(deepest.id, deepest.solid_length, lower.amounts[0][1])


def ground_at(outcome: Outcome, run: LaidRun) -> float:
    """The ground at the low end of a run, m; its invert where that is not known."""
    found = outcome.site.run(run.id)
    return float(found.grade.ground[0]) if found is not None and found.grade is not None else run.invert
