"""Falls: level book, slope, daylight, standing water at the outlet, joints, cover, depth, and what was built."""

from __future__ import annotations

import dataclasses
from functools import partial

import numpy as np

from weirant.checks.judge import judge
from weirant.ground.as_built import built_profile, moved_instrument
from weirant.ground.inverts import grade_nodes, invert_at, laid_through, slope_at
from weirant.ground.network import AT_END, LaidRun
from weirant.job import Job
from weirant.job.geometry import run_of
from weirant.job.network import BASIN_WALL, DRY_WELL, IN_THE_OPEN, MAIN, PUMPED_ON, RISES, Outlet
from weirant.job.run_edits import with_run
from weirant.outcome.commands import Set, do
from weirant.outcome.facts import Amount, Fact, Facts, Fall, Named
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k


def closure(outcome: Outcome) -> Finding | None:
    """The loop of levels closes on the benchmark."""
    survey, miss = outcome.job.survey, outcome.book.misclosure
    said = partial(Finding, source="ghilani_wolf user", kind=k.LEVEL, elements=("survey",))
    if miss is None:
        return said(State.UNKNOWN)
    return said(judge(abs(miss), survey.allowed_misclosure, at_most=True), value=abs(miss), limit=survey.allowed_misclosure)


def surveyed(outcome: Outcome) -> Finding | None:
    """The levels were shot, not made up from the first answers."""
    made_up = [shot.point for shot in outcome.job.survey.shots if shot.is_assumed] + [point.name for point in outcome.job.points if point.is_assumed]
    if not made_up:
        return None
    facts: Facts = {"count": len(made_up), "points": tuple(made_up[:3]), "more": len(made_up) > 3}
    return Finding(State.UNKNOWN, source="cp", facts=facts, elements=("survey", "points"))


def readings(outcome: Outcome) -> Finding | None:
    """No shot is marked."""
    marked = outcome.book.marked
    if not marked:
        return None
    return Finding(State.FAILS, source="cp", facts={"mark": marked[0].mark, "more": len(marked) - 1 or None}, value=float(len(marked)), limit=0.0, kind=k.COUNT,
                   station=marked[0].shot.station, elements=("survey",), subject=marked[0].shot.run)  # fmt: skip


def points(outcome: Outcome) -> Finding | None:
    """No point stands far off its neighbours."""
    odd = outcome.site.marked
    if not odd:
        return None
    return Finding(State.TIGHT, source="cp", facts={"points": odd[:4], "more": len(odd) > 4}, value=float(len(odd)), limit=0.0, kind=k.COUNT, elements=("points",))


def unread(outcome: Outcome) -> Finding | None:
    """Nothing of the files that were read is left lying."""
    lines = outcome.job.unread
    if not lines:
        return None
    return Finding(State.TIGHT, source="cp", facts={"count": len(lines), "first": lines[0]}, value=float(len(lines)), limit=0.0, kind=k.COUNT, elements=("unread",))


def names(outcome: Outcome) -> Finding | None:
    """No two runs are called the same: nobody could tell their cut sheets apart."""
    called = [run.name for run in outcome.job.runs]
    twice = next((name for name in called if called.count(name) > 1), None)
    if twice is None:
        return None
    return Finding(State.TIGHT, source="cp", facts={"name": twice}, elements=("runs",))


def surveyed_along(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """The ground is known along the whole run."""
    said = partial(Finding, State.UNKNOWN, source="cp", elements=("survey",))
    if found.grade is None:
        return said(facts={"why": outcome.site.no_surface if outcome.job.points else None})
    beyond = found.grade.beyond_survey
    return said("beyond", facts={"beyond": Amount(beyond, k.STATION)}) if beyond >= 0.05 else None


def slope(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Every length falls at least as its use asks; one that lies level between two joints is told as such."""
    run, limits = found.run, outcome.job.limits
    stations, levels = grade_nodes(run)
    edges = np.array(sorted({*stations.tolist(), *(high for _, high, _ in run.spans)}))
    middle = (edges[1:] + edges[:-1]) / 2
    here = slope_at(run, middle)
    asked = np.where(run.collects(middle), limits.least_slope, limits.least_slope_solid)
    index = int(np.argmin(here - asked))
    value, limit, station = float(here[index]), float(asked[index]), float(edges[index])
    said = partial(Finding, source="user cp", value=value, limit=limit, kind=k.SLOPE, at_most=False, elements=(f"runs.{run.id}.slope",),
                   station=station if len(here) > 1 else None)  # fmt: skip
    if levels[-1] - levels[0] < 1e-6 and outcome.site.network.drains_to(run) and any(outcome.site.network.others_at(run, run.nodes[-1][0].id)):
        return said(State.TIGHT, "level")
    state = judge(value, limit, at_most=False)
    fixes: tuple[Fix, ...] = ()
    if state == State.FAILS:
        joins = bool(outcome.site.network.drains_to(run))
        fixes = (Fix("no-flatter", do(no_flatter, run=run.id, least=limit), {"slope": Amount(limit, k.SLOPE), "joins": joins}),)
    collects, is_one_of_many = bool(run.collects(middle)[index]), len(here) > 1
    return said(state, facts={"fall": Fall(value), "collecting": is_one_of_many and collects, "solid": is_one_of_many and not collects}, fixes=fixes)


def no_flatter(job: Job, run: str, least: float) -> Job:
    """The job with the low end of a run kept, and every length of it that is flatter steepened to the least slope."""
    here = run_of(job, run)
    breaks = tuple(dataclasses.replace(b, slope=max(b.slope, least)) for b in here.breaks)
    return with_run(job, dataclasses.replace(here, slope=max(here.slope, least), breaks=breaks))


def way_out(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """The low end of every run leads its water on: an outlet, or a run that it joins."""
    run, network = found.run, outcome.site.network
    if run.outlet is not None or network.drains_to(run):
        return None
    return Finding(State.FAILS, source="geometry", station=0.0, piece=run.nodes[0][0].id, fixes=(Fix("give-outlet", Set(f"nodes.{run.nodes[0][0].id}.outlet", Outlet())),),
                   elements=(f"runs.{run.id}.nodes",))  # fmt: skip


def daylight(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """The pipe comes out of the ground at its outlet and not before it has done collecting; where water rises to get out, it stays in the ground."""
    grade, run = found.grade, found.run
    if grade is None or run.outlet is None:
        return None
    buried = float(grade.ground[0] - grade.invert[0])
    said = partial(Finding, source="geometry", limit=0.0, kind=k.DEPTH, piece=run.nodes[0][0].id, elements=(f"runs.{run.id}.invert",))
    if run.outlet.kind in RISES:
        return _rises(outcome, found, buried)
    if run.outlet.kind not in IN_THE_OPEN:
        return _within(outcome, found, buried)
    if grade.daylight is None:
        return said(State.FAILS, "buried", value=buried, station=0.0, fixes=_raise_outlet(run, float(grade.ground[0])))
    if grade.daylight > run.solid_length + 1e-6:
        return said(State.FAILS, "early", facts={"collects": bool(run.collecting_length)}, value=grade.daylight - run.solid_length, station=grade.daylight,
                    fixes=_lower(outcome, found))  # fmt: skip
    return said(State.HOLDS, value=min(buried, 0.0), station=grade.daylight)


def _rises(outcome: Outcome, found: RunOutcome, buried: float) -> Finding:
    """An outlet that water rises to: the pipe in the ground, its rim not under it."""
    run = found.run
    assert run.outlet is not None
    rise = found.rim - run.invert
    said = partial(Finding, source="geometry", facts={"outlet": run.outlet.kind, "rise": Amount(rise, k.SECTION)}, limit=0.0, kind=k.DEPTH, station=0.0,
                   piece=run.nodes[0][0].id, elements=(f"runs.{run.id}.invert",))  # fmt: skip
    over, sunk = buried - found.make(0.0).above, buried - rise
    if over < 0:
        return said(State.FAILS, "proud", value=-over, fixes=_lowered_end(found, outcome.job.limits.least_cover - over))
    if sunk > outcome.rules.outlet_proud:
        let_rise = Fix("let-rise", Set(f"nodes.{run.nodes[0][0].id}.outlet.rise", buried), {"rise": Amount(buried, k.SECTION)})
        return said(State.FAILS, "sunk", value=sunk, fixes=(let_rise,))
    return said(State.HOLDS, "rises", value=0.0)


def _within(outcome: Outcome, found: RunOutcome, buried: float) -> Finding | None:
    """An outlet that leads on within the ground: the pipe lies in it."""
    over, run = buried - found.make(0.0).above, found.run
    if over >= 0:
        return None
    assert run.outlet is not None
    into: Facts = {"main": run.outlet.kind == MAIN, "pit": run.outlet.kind == PUMPED_ON, "well": run.outlet.kind == DRY_WELL,
                   "basin": run.outlet.kind == BASIN_WALL}  # fmt: skip
    return Finding(State.FAILS, "proud-within", source="geometry", facts=into, value=-over, limit=0.0, kind=k.DEPTH,
                   station=0.0, piece=run.nodes[0][0].id, elements=(f"runs.{run.id}.invert",), fixes=_lowered_end(found, outcome.job.limits.least_cover - over))  # fmt: skip


def _lowered_end(found: RunOutcome, by: float) -> tuple[Fix, ...]:
    return (Fix("lower-run", Set(f"runs.{found.id}.invert", found.run.invert - by), {"by": Amount(by, k.SECTION)}),)


def _raise_outlet(run: LaidRun, level: float, above: float | None = None) -> tuple[Fix, ...]:
    """Two ways up to a level (the ground, or so far m above water there): flatten the grade with the top end kept, or lift the whole run."""
    stations, levels = grade_nodes(run)
    flatter = float((levels[1] - level) / stations[1])
    facts: dict[str, Fact] = {"above": Amount(above, k.SECTION) if above is not None else None}
    lift = Fix("lift-run", Set(f"runs.{run.id}.invert", level), facts)
    if flatter <= 1e-4:
        return (lift,)
    edit = do(laid_through, run=run.id, stations=stations.tolist(), levels=[level, *levels[1:].tolist()])
    return Fix("raise-outlet", edit, {**facts, "breaks": len(stations) > 2, "slope": Amount(flatter, k.SLOPE)}), lift


def _lower(outcome: Outcome, found: RunOutcome) -> tuple[Fix, ...]:
    grade = found.grade
    if grade is None:
        return ()
    asked = _covered(outcome, found)
    if not asked.any():
        return ()
    short = float(np.max(outcome.job.limits.least_cover - grade.cover[asked]))
    return _lowered_end(found, short)


def standing_water(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """The outlet lies above the water it falls into; where water rises to get out, its rim does."""
    run = found.run
    if run.outlet is None or run.outlet.kind == PUMPED_ON or (run.outlet.kind in (MAIN, DRY_WELL) and run.outlet.water_level is None):
        return None  # whether it is taken there is asked by itself
    level, node = run.outlet.water_level, run.nodes[0][0].id
    said = partial(Finding, source="cp", kind=k.LEVEL, at_most=False, piece=node,
                   elements=(f"runs.{run.id}.invert", f"nodes.{node}.outlet.water_level"), station=0.0)  # fmt: skip
    rises = run.outlet.kind in RISES
    if level is None:
        if rises:
            return None  # it stands over the ground round it
        return said(State.UNKNOWN, "" if run.outlet.kind in IN_THE_OPEN else "within")
    lip = found.rim if rises and found.grade is not None else run.invert
    above = lip - level
    state = judge(above, 0.0, at_most=False, near=outcome.rules.freeboard)
    facts: dict[str, Fact] = {"rim": rises, "off": Amount(abs(above), k.DEPTH)}
    if state == State.FAILS:
        nodes, levels = grade_nodes(run)
        facts["up_to"] = Amount(float(np.interp(level, levels, nodes)), k.STATION)  # the inverts rise from the low end up
        fixes = () if rises else _raise_outlet(run, level + outcome.rules.freeboard, outcome.rules.freeboard)
        return said(state, facts=facts, value=above, limit=0.0, fixes=fixes)
    highest = run.outlet.storm_level
    if highest is not None and highest > lip:
        nodes, levels = grade_nodes(run)
        facts |= {"off": Amount(highest - lip, k.DEPTH), "up_to": Amount(float(np.interp(highest, levels, nodes)), k.STATION), "flap": run.outlet.mouth.flap}
        return said(State.TIGHT, "storm", facts=facts, value=lip - highest, limit=0.0)
    return said(state, facts=facts, value=above, limit=0.0)


def _covered(outcome: Outcome, found: RunOutcome) -> np.ndarray:
    """The stations of a run where cover is asked: all, but for the solid pipe that leads to an outlet in the open."""
    assert found.grade is not None
    run = found.run
    stations = found.grade.stations
    if run.outlet is not None and run.outlet.kind in IN_THE_OPEN:
        return np.asarray(stations >= run.solid_length - 1e-9) if run.collecting_length else np.zeros(len(stations), dtype=bool)
    return np.ones(len(stations), dtype=bool)


def cover(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """There is enough over the pipe wherever it does not come out at its own outlet."""
    grade, limit = found.grade, outcome.job.limits.least_cover
    if grade is None or not (asked := _covered(outcome, found)).any():
        return None
    lowest = int(np.argmin(np.where(asked, grade.cover, np.inf)))
    value = float(grade.cover[lowest])
    state = judge(value, limit, at_most=False)
    fixes = _lower(outcome, found) if state == State.FAILS and not outcome.site.network.drains_to(found.run) else ()
    return Finding(state, "out" if value < 0 else "", source="user astm_d2321", facts={"out": Amount(-value, k.DEPTH)}, value=value, limit=limit, kind=k.COVER,
                   at_most=False, station=float(grade.stations[lowest]), fixes=fixes, elements=(f"runs.{found.id}.invert",))  # fmt: skip


def depth(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """No trench is deeper than the user wants to dig."""
    grade, limit = found.grade, outcome.job.limits.most_depth
    if grade is None or not (grade.cut > 0).any():
        return None
    index = int(np.argmax(grade.cut))
    value = float(grade.cut[index])
    return Finding(judge(value, limit, at_most=True), source="user", value=value, limit=limit, kind=k.DEPTH, station=float(grade.stations[index]),
                   elements=(f"runs.{found.id}.invert", "limits.most_depth"))  # fmt: skip


def joints(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Where the run comes into another, water falls into it, and not too far; where both go on, they lie at one level."""
    run, network = found.run, outcome.site.network
    drops = [(run.invert - float(invert_at(other, np.array(at))), 0.0, other.id, run.nodes[0][0].id) for other, at in network.drains_to(run)]
    through = [(-abs(float(invert_at(run, np.array(here))) - float(invert_at(other, np.array(at)))), here, other.id, node.id)
               for node, here in run.nodes if here > AT_END for other, at in network.others_at(run, node.id) if at > AT_END]  # fmt: skip
    if not drops and not through:
        return None
    said = partial(Finding, source="geometry user", kind=k.DEPTH, elements=(f"runs.{run.id}.invert",))
    worst, station, other, node = min([*drops, *through])
    facts: dict[str, Fact] = {"other": Named(other), "off": Amount(-worst, k.DEPTH)}
    if worst < -outcome.rules.step_at_joint and (worst, station, other, node) in drops:
        return said(State.FAILS, "under", facts=facts, piece=node, value=worst, limit=0.0, at_most=False, station=station, fixes=_raised_end(run, run.invert - worst))
    if worst < -outcome.rules.step_at_joint:
        return said(State.FAILS, "apart", facts=facts, piece=node, value=worst, limit=0.0, at_most=False, station=station)
    if not drops:
        return said(State.HOLDS, "level", facts=facts, piece=node, value=0.0, limit=0.0, station=station)
    steepest, _, other, node = max(drops)
    limit = outcome.job.limits.drop_at_joints
    case = "" if steepest > 0 else "level"  # a step that is let pass is none
    return said(judge(steepest, limit, at_most=True, near=0.0), case, facts={"other": Named(other)}, piece=node, value=steepest, limit=limit, station=0.0)


def _raised_end(run: LaidRun, level: float) -> tuple[Fix, ...]:
    stations, levels = grade_nodes(run)
    lift = Fix("lift-to-joint", Set(f"runs.{run.id}.invert", level))
    if levels[1] - level <= 1e-4 * stations[1]:
        return (lift,)
    flatter = do(laid_through, run=run.id, stations=stations.tolist(), levels=[level, *levels[1:].tolist()])
    return Fix("raise-end", flatter, {"slope": Amount(float((levels[1] - level) / stations[1]), k.SLOPE)}), lift


def as_built(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """What was built lies on the grade line, and nowhere runs level or backwards."""
    job = outcome.job
    profile = built_profile(found.run, job.as_built, job.limits.tolerance)
    if not profile.readings:
        return None
    moved = moved_instrument(profile, job.limits.tolerance)
    if moved is not None:
        facts: Facts = {"count": len(profile.readings), "off": Amount(abs(moved), k.SECTION), "high": moved > 0}
        return Finding(State.UNKNOWN, "moved", source="cp", facts=facts, elements=("survey.instrument_elevation", "as_built"), fixes=(_instrument_moved(found.id, moved),))
    index = int(np.argmin(profile.slopes))
    off, first = (max(abs(getattr(r, name)) for r in profile.readings) for name in ("off", "off_first"))
    slope, station = float(profile.slopes[index]), float(profile.stations[index])
    said = partial(Finding, source="user", elements=("as_built",))
    if slope <= 0:
        return said(State.FAILS, "belly", facts={"backwards": slope < -1e-4}, value=slope, limit=0.0, at_most=False, kind=k.SLOPE, station=station)
    state = judge(off, job.limits.tolerance, at_most=True, near=0.0)
    met: Facts = {"first": Amount(first, k.SECTION) if first > off + job.limits.tolerance / 2 else None, "flattest": Amount(slope, k.SLOPE)}
    return said(state, facts=met, value=off, limit=job.limits.tolerance, kind=k.SECTION)


def _instrument_moved(run: str, by: float) -> Fix:
    """The readings of a run lowered by what all of them are off, and the instrument with them."""
    return Fix("instrument-moved", do(readings_lowered, run=run, by=by), {"by": Amount(abs(by), k.SECTION), "lower": by > 0})


def readings_lowered(job: Job, run: str, by: float) -> Job:
    """The job with the readings as built of a run lowered, m, and the height of instrument with them."""
    built = tuple(dataclasses.replace(b, level=b.level - by) if b.run == run else b for b in job.as_built)
    stands = job.survey.instrument_elevation
    survey = job.survey if stands is None else dataclasses.replace(job.survey, instrument_elevation=stands - by)
    return dataclasses.replace(job, as_built=built, survey=survey)


JOB = {"readings": readings, "surveyed": surveyed, "closure": closure, "points": points, "unread": unread, "names": names}
RUN = {"ground": surveyed_along, "slope": slope, "way-out": way_out, "daylight": daylight, "outlet-level": standing_water, "joints": joints, "cover": cover,
       "depth": depth, "as-built": as_built}  # fmt: skip
