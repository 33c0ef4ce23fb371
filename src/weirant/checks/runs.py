"""Every run of the site: does it fall, is it covered, how deep is it, do the joints fit, was it built so?"""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from weirant.checks.judge import judge, say
from weirant.ground.as_built import built_profile
from weirant.ground.grade_line import GradeLine
from weirant.ground.inverts import invert_at, slope_at
from weirant.ground.network import Run
from weirant.job.line import CURB_CORE, OPEN_PIPE
from weirant.job.network import MAIN
from weirant.outcome.finding import Finding, State
from weirant.outcome.outcome import Outcome
from weirant.units import display as k

STEP_OVER = 0.003  # m a branch's invert may lie under the one it joins before it is called a fault: the roughness of a level


def named(run: str) -> str:
    """A run in the middle of a sentence."""
    return "the main line" if run == MAIN else f"the run {run}"


def begins(run: str) -> str:
    """A run at the beginning of a sentence."""
    return "The main line" if run == MAIN else f"The run {run}"


def graded(outcome: Outcome, *, branches_only: bool = False) -> Iterator[tuple[Run, GradeLine]]:
    """The runs with ground under them."""
    for found in outcome.site.runs if outcome.site else ():
        if found.grade is not None and not (branches_only and found.run.name == MAIN):
            yield found.run, found.grade


def layout(outcome: Outcome) -> Finding | None:
    """The runs make a tree, and there is ground under each."""
    site = outcome.site
    found = partial(Finding, key="layout", family="falls", title="Layout of the runs", source="geometry", elements=("branches",))
    if site is None:
        return None
    if site.fault:
        return found(state=State.FAILS, reason=f"{site.fault[0].upper()}{site.fault[1:]}.")
    bare = [r.run.name for r in site.runs if r.grade is None and r.run.name != MAIN]
    if bare:
        why = f": {site.no_surface}" if site.no_surface else ""
        return found(state=State.UNKNOWN, reason=f"The ground under {', '.join(bare)} is not known{why}. Shoot levels along it.")
    beyond = [(grade.beyond_survey, run.name) for run, grade in graded(outcome, branches_only=True) if grade.beyond_survey > 0.05]
    if beyond:
        most, name = max(beyond)
        return found(state=State.UNKNOWN, reason=f"{say(outcome, most, k.STATION)} of {named(name)} lie beyond the shots and are taken as level. Shoot the ground there.")
    return None


def points(outcome: Outcome) -> Finding | None:
    """No point stands far off its neighbours."""
    odd = outcome.site.marked if outcome.site else ()
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


def slopes(outcome: Outcome) -> Finding | None:
    """Every length falls at least as its use asks."""
    limits, worst = outcome.job.limits, None
    for run, grade in graded(outcome):
        middle = (grade.stations[1:] + grade.stations[:-1]) / 2
        here = slope_at(run.line, middle)
        solid = middle < run.line.solid_length
        for which, least, use in ((solid, limits.least_slope_solid, "solid pipe"), (~solid, limits.least_slope, "collecting pipe")):
            if run.name == MAIN and use == "collecting pipe":
                continue  # the check of the slope says it
            if which.any():
                index = int(np.argmin(np.where(which, here, np.inf)))
                margin = float(here[index]) - least
                if worst is None or margin < worst[0]:
                    worst = (margin, float(here[index]), least, run.name, float(middle[index]), use)
    if worst is None:
        return None
    _, value, limit, name, station, use = worst
    state = judge(value, limit, at_most=False)
    return Finding("run-slopes", "falls", "Slope of every run", state,
                   f"Flattest against its use is the {use} of {named(name)}: {say(outcome, value, k.SLOPE)} at station {say(outcome, station, k.STATION)}.",
                   "user cp", value, limit, k.SLOPE, at_most=False, station=station, elements=(f"run:{name}",))  # fmt: skip


def run_daylight(outcome: Outcome) -> Finding | None:
    """Branches with an outlet of their own come out of the ground there."""
    worst = None
    for run, grade in graded(outcome, branches_only=True):
        if run.is_root and run.line.outlet in (OPEN_PIPE, CURB_CORE):
            buried = float(grade.ground[0] - grade.invert[0])
            if worst is None or buried > worst[0]:
                worst = (buried, run.name)
    if worst is None:
        return None
    buried, name = worst
    state = State.FAILS if buried > 0.005 else State.HOLDS
    words = f"is still {say(outcome, buried, k.DEPTH)} under the ground at its outlet" if state == State.FAILS else "comes to daylight at its outlet"
    return Finding("run-daylight", "falls", "Daylight of the other runs", state, f"{begins(name)} {words}.", "geometry",
                   max(buried, 0.0), 0.0, k.DEPTH, elements=(f"run:{name}",))  # fmt: skip


def run_cover(outcome: Outcome) -> Finding | None:
    """The branches have cover wherever they do not come out at their own outlet."""
    limit, worst = outcome.job.limits.least_cover, None
    for run, grade in graded(outcome, branches_only=True):
        asked = grade.stations >= run.line.solid_length - 1e-9 if run.is_root else np.ones(len(grade.stations), dtype=bool)
        if asked.any():
            index = int(np.argmin(np.where(asked, grade.cover, np.inf)))
            if worst is None or grade.cover[index] < worst[0]:
                worst = (float(grade.cover[index]), run.name, float(grade.stations[index]))
    if worst is None:
        return None
    value, name, station = worst
    return Finding("run-cover", "falls", "Cover over the other runs", judge(value, limit, at_most=False),
                   f"Least is {say(outcome, value, k.DEPTH)} over {named(name)} at station {say(outcome, station, k.STATION)}.",
                   "user astm_d2321", value, limit, k.DEPTH, at_most=False, station=station, elements=(f"run:{name}",))  # fmt: skip


def depth(outcome: Outcome) -> Finding | None:
    """No trench is deeper than the user wants to dig."""
    limit, worst = outcome.job.limits.most_depth, None
    for run, grade in graded(outcome):
        index = int(np.argmax(grade.cut))
        if worst is None or grade.cut[index] > worst[0]:
            worst = (float(grade.cut[index]), run.name, float(grade.stations[index]))
    if worst is None:
        return None
    value, name, station = worst
    return Finding("depth", "falls", "Depth of the trench", judge(value, limit, at_most=True),
                   f"Deepest is {say(outcome, value, k.DEPTH)}, on {named(name)} at station {say(outcome, station, k.STATION)}.",
                   "user", value, limit, k.DEPTH, station=station, elements=(f"run:{name}", "limits.most_depth"))  # fmt: skip


def joints(outcome: Outcome) -> Finding | None:
    """Where runs join, water falls into the larger one, and not too far."""
    runs = {run.name: run for run, _ in graded(outcome)}
    worst: tuple[float, str] | None = None
    steepest = 0.0
    for run in runs.values():
        if run.joins in runs:
            drop = run.line.outlet_invert - float(invert_at(runs[run.joins].line, np.array(run.joins_at)))
            steepest = max(steepest, drop)
            if worst is None or drop < worst[0]:
                worst = (drop, run.name)
    if worst is None:
        return None
    found = partial(Finding, key="joints", family="falls", title="Joints", source="geometry user", kind=k.DEPTH, elements=(f"run:{worst[1]}",))
    if worst[0] < -STEP_OVER:
        return found(state=State.FAILS, value=worst[0], limit=0.0, at_most=False,
                     reason=f"{begins(worst[1])} comes in {say(outcome, -worst[0], k.DEPTH)} under the invert it joins: water would stand in it. Find the best grade.")  # fmt: skip
    limit = outcome.job.limits.drop_at_joints
    state = judge(steepest, limit, at_most=True, near=0.0)
    return found(state=state, value=steepest, limit=limit, reason=f"The largest drop where runs join is {say(outcome, steepest, k.DEPTH)}.")


def as_built(outcome: Outcome) -> Finding | None:
    """What was built lies on the grade line, and nowhere runs level or backwards."""
    job = outcome.job
    if not job.as_built:
        return None
    worst: tuple[float, float, str, float] | None = None
    for run, _ in graded(outcome):
        profile = built_profile(run.line, run.name, job.as_built, job.limits.tolerance)
        if not profile.readings:
            continue
        index = int(np.argmin(profile.slopes))
        off = max((abs(r.off) for r in profile.readings), default=0.0)
        if worst is None or float(profile.slopes[index]) < worst[0]:
            worst = (float(profile.slopes[index]), float(profile.stations[index]), run.name, off)
    if worst is None:
        return None
    slope, station, name, off = worst
    found = partial(Finding, key="as-built", family="falls", source="user", elements=(f"run:{name}", "as_built"))
    where = f"{named(name)} above station {say(outcome, station, k.STATION)}"
    if slope <= 0:
        what = "runs backwards" if slope < -1e-4 else "has no fall"
        return found(title="Belly as built", state=State.FAILS, value=slope, limit=0.0, at_most=False, kind=k.SLOPE,
                     reason=f"As built {where} {what} ({say(outcome, slope, k.SLOPE)}): water stands there. Relay it before the stone goes in.",
                     station=station)  # fmt: skip
    state = judge(off, job.limits.tolerance, at_most=True, near=0.0)
    return found(title="Built to grade", state=state, value=off, limit=job.limits.tolerance, kind=k.SECTION,
                 reason=f"The largest departure of what was built is {say(outcome, off, k.SECTION)}; the flattest length as built is {say(outcome, slope, k.SLOPE)}.")  # fmt: skip


CHECKS = (layout, points, unread, slopes, run_daylight, run_cover, depth, joints, as_built)
