"""Falls: level book, slope, daylight, standing water at the outlet, joints, cover, depth, and what was built."""

from __future__ import annotations

import dataclasses
from functools import partial

import numpy as np

from weirant.checks.judge import judge, say
from weirant.ground.as_built import built_profile, moved_instrument
from weirant.ground.inverts import grade_nodes, invert_at, laid_through, slope_at
from weirant.ground.network import AT_END, LaidRun
from weirant.job import Job
from weirant.job.geometry import run_of
from weirant.job.network import IN_THE_OPEN, Outlet
from weirant.job.run_edits import with_run
from weirant.outcome.finding import Finding, Fix, Set, State, do
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k


def closure(outcome: Outcome) -> Finding | None:
    """The loop of levels closes on the benchmark."""
    survey, miss = outcome.job.survey, outcome.book.misclosure
    found = partial(
        Finding,
        key="closure",
        family="falls",
        title="Levels close",
        source="ghilani_wolf user",
        kind=k.LEVEL,
        elements=("survey",),
    )
    if miss is None:
        return found(state=State.UNKNOWN, reason="The level loop is not closed. Shoot the benchmark again at the end.")
    state = judge(abs(miss), survey.allowed_misclosure, at_most=True)
    what = "within" if state != State.FAILS else "more than"
    reason = f"The loop misses by {say(outcome, abs(miss), k.LEVEL)}, {what} the {say(outcome, survey.allowed_misclosure, k.LEVEL)} you allow."
    return found(state=state, reason=reason, value=abs(miss), limit=survey.allowed_misclosure)


def surveyed(outcome: Outcome) -> Finding | None:
    """The levels were shot, not made up from the first answers."""
    made_up = [shot.point for shot in outcome.job.survey.shots if shot.is_assumed] + [point.name for point in outcome.job.points if point.is_assumed]
    if not made_up:
        return None
    return Finding("surveyed", "falls", "Levels not surveyed", State.UNKNOWN,
                   f"{len(made_up)} levels ({', '.join(made_up[:3])}{' …' if len(made_up) > 3 else ''}) are made up. Shoot them before anything is dug to them.",
                   "cp", elements=("survey", "points"))  # fmt: skip


def readings(outcome: Outcome) -> Finding | None:
    """No shot is marked."""
    marked = outcome.book.marked
    if not marked:
        return None
    more = f" ({len(marked) - 1} more marked)" if len(marked) > 1 else ""
    return Finding("readings", "falls", "Readings to look at", State.FAILS, marked[0].mark + more, "cp",
                   value=float(len(marked)), limit=0.0, kind=k.COUNT, station=marked[0].shot.station, elements=("survey",), subject=marked[0].shot.run)  # fmt: skip


def points(outcome: Outcome) -> Finding | None:
    """No point stands far off its neighbours."""
    odd = outcome.site.marked
    if not odd:
        return None
    return Finding("points", "falls", "Points to look at", State.TIGHT,
                   f"{', '.join(odd[:4])}{' and more' if len(odd) > 4 else ''} stand far off the ground round them. Look at them again; they are still used.",
                   "cp", value=float(len(odd)), limit=0.0, kind=k.COUNT, elements=("points",))  # fmt: skip


def unread(outcome: Outcome) -> Finding | None:
    """Nothing of the files that were read is left lying."""
    lines = outcome.job.unread
    if not lines:
        return None
    return Finding("unread", "falls", "Lines not read", State.TIGHT, f"{len(lines)} lines of files could not be used; the first: {lines[0]}.", "cp",
                   value=float(len(lines)), limit=0.0, kind=k.COUNT, elements=("unread",))  # fmt: skip


def names(outcome: Outcome) -> Finding | None:
    """No two runs are called the same: nobody could tell their cut sheets apart."""
    called = [run.name for run in outcome.job.runs]
    twice = next((name for name in called if called.count(name) > 1), None)
    if twice is None:
        return None
    return Finding("names", "falls", "Names of the runs", State.TIGHT, f"Two runs are called {twice}. Give each its own name, so that their sheets are not mixed up.", "cp",
                   elements=("runs",))  # fmt: skip


def surveyed_along(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """The ground is known along the whole run."""
    told = partial(Finding, key="ground", family="falls", state=State.UNKNOWN, source="cp", elements=("survey",))
    if found.grade is None:
        why = f" ({outcome.site.no_surface})" if outcome.site.no_surface and outcome.job.points else ""
        return told(title="Ground not known", reason=f"There are fewer than two ground shots along it{why}. Shoot the ground at its low end and at its top end.")
    beyond = found.grade.beyond_survey
    if beyond < 0.05:
        return None
    return told(title="Ground not known everywhere",
                reason=f"{say(outcome, beyond, k.STATION)} of the run lie beyond the last shots and are taken as level. Shoot the ground there.")  # fmt: skip


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
    said = partial(Finding, "slope", "falls", "Slope", source="user cp", value=value, limit=limit, kind=k.SLOPE, at_most=False, elements=(f"runs.{run.id}.slope",),
                   station=station if len(here) > 1 else None)  # fmt: skip
    if levels[-1] - levels[0] < 1e-6 and outcome.site.network.drains_to(run) and any(outcome.site.network.others_at(run, run.nodes[-1][0].id)):
        return said(State.TIGHT, "It lies level between two joints: water may flow either way, and stands in it when it rests.")
    state = judge(value, limit, at_most=False)
    drop, per = say(outcome, value * 3.048, k.SECTION), "10 ft" if outcome.job.units == "imperial" else "3.05 m"
    fixes: tuple[Fix, ...] = ()
    if state == State.FAILS:
        kept = "low end kept" if outcome.site.network.drains_to(run) else "outlet kept"
        fixes = (Fix(f"Lay it at {say(outcome, limit, k.SLOPE)}, {kept}", do(no_flatter, run=run.id, least=limit)),)
    use = "collecting" if run.collects(middle)[index] else "solid"
    where = f" in the {use} pipe at station {say(outcome, station, k.STATION)}, where it is flattest for its use" if len(here) > 1 else ""
    return said(state, f"The pipe falls {say(outcome, value, k.SLOPE)}, {drop} in {per}{where}.", fixes=fixes)


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
    return Finding("way-out", "falls", "Leads nowhere", State.FAILS, "Its low end is neither an outlet nor joined to another run. Give it an outlet, or join it.", "geometry",
                   station=0.0, fixes=(Fix("Let the water out at its low end", Set(f"nodes.{run.nodes[0][0].id}.outlet", Outlet())),), elements=(f"runs.{run.id}.nodes",))  # fmt: skip


def daylight(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """The pipe comes out of the ground at its outlet and not before it has done collecting; where water rises to get out, it stays in the ground."""
    grade, run = found.grade, found.run
    if grade is None or run.outlet is None:
        return None
    buried = float(grade.ground[0] - grade.invert[0])
    said = partial(Finding, key="daylight", family="falls", title="Daylight", source="geometry", kind=k.DEPTH, elements=(f"runs.{run.id}.invert",))
    if run.outlet.kind not in IN_THE_OPEN:
        return _rises(outcome, found, buried)
    if grade.daylight is None:
        reason = f"The pipe does not daylight: at its end the invert is still {say(outcome, buried, k.DEPTH)} under the ground."
        return said(state=State.FAILS, reason=reason, value=buried, limit=0.0, station=0.0,
                    fixes=_raise_outlet(run, float(grade.ground[0]), "to the ground"))  # fmt: skip
    if grade.daylight > run.solid_length + 1e-6:
        what = "collecting run" if run.collecting_length else "pipe"
        return said(state=State.FAILS, reason=f"The {what} comes out of the ground at station {say(outcome, grade.daylight, k.STATION)}.",
                    value=grade.daylight - run.solid_length, limit=0.0, station=grade.daylight, fixes=_lower(outcome, found))  # fmt: skip
    reason = f"The pipe comes to daylight at station {say(outcome, grade.daylight, k.STATION)}."
    return said(state=State.HOLDS, reason=reason, value=min(buried, 0.0), limit=0.0, station=grade.daylight)


def _rises(outcome: Outcome, found: RunOutcome, buried: float) -> Finding:
    """An outlet that water rises to: the pipe in the ground, its rim not under it."""
    run = found.run
    assert run.outlet is not None
    said = partial(Finding, "daylight", "falls", "Daylight", source="geometry", kind=k.DEPTH, station=0.0, elements=(f"runs.{run.id}.invert",))
    over = buried - found.make(0.0).above
    if over < 0:
        return said(State.FAILS, f"A {run.outlet.kind} wants the pipe in the ground; at its end the pipe stands {say(outcome, -over, k.DEPTH)} out of it.", value=-over,
                    limit=0.0, fixes=_lowered_end(outcome, found, outcome.job.limits.least_cover - over))  # fmt: skip
    rise = found.rim - run.invert
    sunk = buried - rise
    if sunk > outcome.rules.outlet_proud:
        return said(State.FAILS, f"The rim of the {run.outlet.kind} lies {say(outcome, sunk, k.DEPTH)} under the ground: earth and turf close it.", value=sunk, limit=0.0,
                    fixes=(Fix(f"Let it rise {say(outcome, buried, k.SECTION)}, to the ground", Set(f"nodes.{run.nodes[0][0].id}.outlet.rise", buried)),))  # fmt: skip
    return said(State.HOLDS, f"Water rises {say(outcome, rise, k.SECTION)} from the pipe to the {run.outlet.kind} to get out.", value=0.0, limit=0.0)


def _lowered_end(outcome: Outcome, found: RunOutcome, by: float) -> tuple[Fix, ...]:
    return (Fix(f"Lower the whole run {say(outcome, by, k.SECTION)}", Set(f"runs.{found.id}.invert", found.run.invert - by)),)


def _raise_outlet(run: LaidRun, level: float, words: str) -> tuple[Fix, ...]:
    """Two ways up: flatten the grade with the top end kept, or lift the whole run."""
    stations, levels = grade_nodes(run)
    flatter = (levels[1] - level) / stations[1]
    fixes = []
    if flatter > 1e-4:
        what = "top end kept" if len(stations) == 2 else "the run above its first break kept"
        fixes.append(Fix(f"Raise the outlet {words}, {what}: {100 * flatter:.2f} %", do(laid_through, run=run.id, stations=stations.tolist(), levels=[level, *levels[1:].tolist()])))
    fixes.append(Fix(f"Lift the whole run {words}", Set(f"runs.{run.id}.invert", level)))
    return tuple(fixes)


def _lower(outcome: Outcome, found: RunOutcome) -> tuple[Fix, ...]:
    grade = found.grade
    if grade is None:
        return ()
    asked = _covered(outcome, found)
    if not asked.any():
        return ()
    short = float(np.max(outcome.job.limits.least_cover - grade.cover[asked]))
    return _lowered_end(outcome, found, short)


def standing_water(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """The outlet lies above the water it falls into; where water rises to get out, its rim does."""
    run = found.run
    if run.outlet is None:
        return None
    level, node = run.outlet.water_level, run.nodes[0][0].id
    said = partial(Finding, key="outlet-level", family="falls", title="Outlet above water", source="cp", kind=k.LEVEL, at_most=False,
                   elements=(f"runs.{run.id}.invert", f"nodes.{node}.outlet.water_level"), station=0.0)  # fmt: skip
    rises = run.outlet.kind not in IN_THE_OPEN
    if level is None:
        if rises:
            return None  # it stands over the ground round it
        return said(state=State.UNKNOWN,
                    reason="The water level at the outlet is not known. Level the highest mark the water leaves in a wet season.")  # fmt: skip
    lip = found.rim if rises and found.grade is not None else run.invert
    what = "rim" if rises else "outlet"
    above = lip - level
    state = judge(above, 0.0, at_most=False, near=outcome.rules.freeboard)
    if state == State.FAILS:
        nodes, levels = grade_nodes(run)
        length = float(np.interp(level, levels, nodes))  # the inverts rise from the low end up
        reason = (f"The {what} lies {say(outcome, -above, k.DEPTH)} under the water there when wet: water stands in the drain up to "
                  f"station {say(outcome, length, k.STATION)}.")  # fmt: skip
        fixes = () if rises else _raise_outlet(run, level + outcome.rules.freeboard, f"{say(outcome, outcome.rules.freeboard, k.SECTION)} above that water")
        return said(state=state, reason=reason, value=above, limit=0.0, fixes=fixes)
    return said(state=state, reason=f"The {what} lies {say(outcome, above, k.DEPTH)} above the water there when wet.", value=above, limit=0.0)


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
    return Finding("cover", "falls", "Cover over the pipe", state,
                   f"The least cover over it is {say(outcome, value, k.DEPTH)}; wheels over it need the maker's and the road rules.",
                   "user astm_d2321", value, limit, k.DEPTH, at_most=False, station=float(grade.stations[lowest]), fixes=fixes,
                   elements=(f"runs.{found.id}.invert",))  # fmt: skip


def depth(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """No trench is deeper than the user wants to dig."""
    grade, limit = found.grade, outcome.job.limits.most_depth
    if grade is None:
        return None
    index = int(np.argmax(grade.cut))
    value = float(grade.cut[index])
    return Finding("depth", "falls", "Depth of the trench", judge(value, limit, at_most=True), f"The trench is {say(outcome, value, k.DEPTH)} deep where it is deepest.",
                   "user", value, limit, k.DEPTH, station=float(grade.stations[index]), elements=(f"runs.{found.id}.invert", "limits.most_depth"))  # fmt: skip


def joints(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Where the run comes into another, water falls into it, and not too far; where both go on, they lie at one level."""
    run, network = found.run, outcome.site.network
    drops = [(run.invert - float(invert_at(other, np.array(at))), 0.0, other.name) for other, at in network.drains_to(run)]
    through = [(-abs(float(invert_at(run, np.array(here))) - float(invert_at(other, np.array(at)))), here, other.name)
               for node, here in run.nodes if here > AT_END for other, at in network.others_at(run, node.id) if at > AT_END]  # fmt: skip
    if not drops and not through:
        return None
    said = partial(Finding, key="joints", family="falls", title="Joints", source="geometry user", kind=k.DEPTH, elements=(f"runs.{run.id}.invert",))
    worst, station, name = min([*drops, *through])
    if worst < -outcome.rules.step_at_joint and (worst, station, name) in drops:
        return said(state=State.FAILS, value=worst, limit=0.0, at_most=False, station=station, fixes=_raised_end(run, run.invert - worst),
                    reason=f"It comes in {say(outcome, -worst, k.DEPTH)} under the invert of {name}: water would stand in it.")  # fmt: skip
    if worst < -outcome.rules.step_at_joint:
        return said(state=State.FAILS, value=worst, limit=0.0, at_most=False, station=station,
                    reason=f"It goes through the joint with {name} {say(outcome, -worst, k.DEPTH)} apart in level. Find the best grade.")  # fmt: skip
    if not drops:
        return said(state=State.HOLDS, value=0.0, limit=0.0, station=station, reason=f"It meets {name} at one level.")
    steepest, _, name = max(drops)
    limit = outcome.job.limits.drop_at_joints
    return said(state=judge(steepest, limit, at_most=True, near=0.0), value=steepest, limit=limit, station=0.0, reason=f"It drops {say(outcome, steepest, k.DEPTH)} into {name}.")


def _raised_end(run: LaidRun, level: float) -> tuple[Fix, ...]:
    stations, levels = grade_nodes(run)
    fixes = [Fix("Lift the whole run to the joint", Set(f"runs.{run.id}.invert", level))]
    if levels[1] - level > 1e-4 * stations[1]:
        flatter = do(laid_through, run=run.id, stations=stations.tolist(), levels=[level, *levels[1:].tolist()])
        fixes.insert(0, Fix(f"Raise its low end to the joint, the rest kept: {100 * (levels[1] - level) / stations[1]:.2f} %", flatter))
    return tuple(fixes)


def as_built(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """What was built lies on the grade line, and nowhere runs level or backwards."""
    job = outcome.job
    profile = built_profile(found.run, job.as_built, job.limits.tolerance)
    if not profile.readings:
        return None
    moved = moved_instrument(profile, job.limits.tolerance)
    if moved is not None:
        return Finding("as-built", "falls", "Instrument moved?", State.UNKNOWN,
                       f"All {len(profile.readings)} readings as built are {say(outcome, abs(moved), k.SECTION)} too {'high' if moved > 0 else 'low'} alike: "
                       "more likely the instrument was moved than the pipe. Shoot the benchmark again and give today's height of instrument.",
                       "cp", elements=("survey.instrument_elevation", "as_built"), fixes=(_instrument_moved(outcome, found.id, moved),))  # fmt: skip
    index = int(np.argmin(profile.slopes))
    off, first = (max(abs(getattr(r, name)) for r in profile.readings) for name in ("off", "off_first"))
    slope, station = float(profile.slopes[index]), float(profile.stations[index])
    said = partial(Finding, key="as-built", family="falls", source="user", elements=("as_built",))
    if slope <= 0:
        what = "runs backwards" if slope < -1e-4 else "has no fall"
        return said(title="Belly as built", state=State.FAILS, value=slope, limit=0.0, at_most=False, kind=k.SLOPE, station=station,
                    reason=f"As built it {what} above station {say(outcome, station, k.STATION)} ({say(outcome, slope, k.SLOPE)}): water stands there. "
                           "Relay it before the stone goes in.")  # fmt: skip
    state = judge(off, job.limits.tolerance, at_most=True, near=0.0)
    before = f", {say(outcome, first, k.SECTION)} from what was first planned" if first > off + job.limits.tolerance / 2 else ""
    return said(title="Built to grade", state=state, value=off, limit=job.limits.tolerance, kind=k.SECTION,
                reason=f"The largest departure of what was built is {say(outcome, off, k.SECTION)}{before}; the flattest length as built is {say(outcome, slope, k.SLOPE)}.")  # fmt: skip


def _instrument_moved(outcome: Outcome, run: str, by: float) -> Fix:
    """The readings of a run lowered by what all of them are off, and the instrument with them."""
    name = f"Take the instrument as standing {say(outcome, abs(by), k.SECTION)} {'lower' if by > 0 else 'higher'}"
    return Fix(name, do(readings_lowered, run=run, by=by))


def readings_lowered(job: Job, run: str, by: float) -> Job:
    """The job with the readings as built of a run lowered, m, and the height of instrument with them."""
    built = tuple(dataclasses.replace(b, level=b.level - by) if b.run == run else b for b in job.as_built)
    stands = job.survey.instrument_elevation
    survey = job.survey if stands is None else dataclasses.replace(job.survey, instrument_elevation=stands - by)
    return dataclasses.replace(job, as_built=built, survey=survey)


JOB = (readings, surveyed, closure, points, unread, names)
RUN = (surveyed_along, slope, way_out, daylight, standing_water, joints, cover, depth, as_built)
