"""Falls: level book, slope, daylight, standing water at the outlet, cover."""

from __future__ import annotations

import dataclasses
from functools import partial

import numpy as np

from weirant.checks.judge import judge, say
from weirant.ground.inverts import grade_nodes, least_slope, with_inverts
from weirant.job import Job
from weirant.job.line import Line
from weirant.job.paths import with_value
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.units import display as k

FREEBOARD = 0.05  # m of fall left free between the outlet's invert and the water below it (common practice, no source)


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
    made_up = [shot.point for shot in outcome.job.survey.shots if shot.is_assumed]
    if not made_up:
        return None
    return Finding("surveyed", "falls", "Levels not surveyed", State.UNKNOWN,
                   f"{len(made_up)} levels ({', '.join(made_up[:3])}{' …' if len(made_up) > 3 else ''}) are made up from your first answers. Shoot them before anything is dug to them.",
                   "cp", elements=("survey",))  # fmt: skip


def readings(outcome: Outcome) -> Finding | None:
    """No shot is marked."""
    marked = outcome.book.marked
    if not marked:
        return None
    more = f" ({len(marked) - 1} more marked)" if len(marked) > 1 else ""
    return Finding("readings", "falls", "Readings to look at", State.FAILS, marked[0].mark + more, "cp",
                   value=float(len(marked)), limit=0.0, kind=k.COUNT, station=marked[0].shot.station, elements=("survey",))  # fmt: skip


def covered(outcome: Outcome) -> Finding | None:
    """The ground is known along the whole line."""
    if outcome.grade is None:
        return Finding("ground", "falls", "Ground not known", State.UNKNOWN,
                       "There are fewer than two ground shots. Shoot the ground at the outlet and at the top end.", "cp", elements=("survey",))  # fmt: skip
    beyond = outcome.grade.beyond_survey
    if beyond < 0.05:
        return None
    return Finding("ground", "falls", "Ground not known everywhere", State.UNKNOWN,
                   f"{say(outcome, beyond, k.STATION)} of the line lie beyond the last shots and are taken as level. Shoot the ground there.",
                   "cp", elements=("survey",))  # fmt: skip


def slope(outcome: Outcome) -> Finding | None:
    """The pipe falls enough."""
    job = outcome.job
    least, station = least_slope(job.line)
    state = judge(least, job.limits.least_slope, at_most=False)
    drop = say(outcome, least * 3.048, k.SECTION)
    per = "10 ft" if job.units == "imperial" else "3.05 m"
    fixes: tuple[Fix, ...] = ()
    if state == State.FAILS:
        fixes = (Fix(f"Lay it at {say(outcome, job.limits.least_slope, k.SLOPE)}, outlet kept",
                     dataclasses.replace(job, line=_no_flatter(job.line, job.limits.least_slope))),)  # fmt: skip
    return Finding("slope", "falls", "Slope", state, f"The pipe falls {say(outcome, least, k.SLOPE)}, {drop} in {per}{', where it is flattest' if job.line.breaks else ''}.",
                   "user cp", least, job.limits.least_slope, k.SLOPE, at_most=False, fixes=fixes, elements=("line.slope",),
                   station=station if job.line.breaks else None)  # fmt: skip


def _no_flatter(line: Line, least: float) -> Line:
    """Outlet kept; every length that is flatter is steepened to the least slope."""
    breaks = tuple(dataclasses.replace(b, slope=max(b.slope, least)) for b in line.breaks)
    return dataclasses.replace(line, slope=max(line.slope, least), breaks=breaks)


def daylight(outcome: Outcome) -> Finding | None:
    """The pipe comes out of the ground at its outlet, and not before its collecting run ends."""
    grade, line = outcome.grade, outcome.job.line
    if grade is None:
        return None
    buried = float(grade.ground[0] - grade.invert[0])
    found = partial(
        Finding,
        key="daylight",
        family="falls",
        title="Daylight",
        source="geometry",
        kind=k.DEPTH,
        elements=("line.outlet_invert",),
    )
    if grade.daylight is None:
        reason = f"The pipe does not daylight: at its end the invert is still {say(outcome, buried, k.DEPTH)} under the ground."
        return found(state=State.FAILS, reason=reason, value=buried, limit=0.0, station=0.0,
                       fixes=_raise_outlet(outcome.job, float(grade.ground[0]), "to the ground"))  # fmt: skip
    if grade.daylight > line.solid_length + 1e-6:
        reason = f"The collecting run comes out of the ground at station {say(outcome, grade.daylight, k.STATION)}."
        return found(state=State.FAILS, reason=reason, value=grade.daylight - line.solid_length, limit=0.0,
                       station=grade.daylight, fixes=_lower(outcome))  # fmt: skip
    reason = f"The pipe comes to daylight at station {say(outcome, grade.daylight, k.STATION)}."
    return found(state=State.HOLDS, reason=reason, value=min(buried, 0.0), limit=0.0, station=grade.daylight)


def _raise_outlet(job: Job, level: float, words: str) -> tuple[Fix, ...]:
    """Two ways up: flatten the grade with the top end kept, or lift the whole line."""
    stations, levels = grade_nodes(job.line)
    flatter = (levels[1] - level) / stations[1]
    fixes = []
    if flatter > 1e-4:
        kept = dataclasses.replace(job, line=with_inverts(job.line, stations, [level, *levels[1:]]))
        what = "top end kept" if len(stations) == 2 else "the line above its first break kept"
        fixes.append(Fix(f"Raise the outlet {words}, {what}: {100 * flatter:.2f} %", kept))
    fixes.append(Fix(f"Lift the whole line {words}", with_value(job, "line.outlet_invert", level)))
    return tuple(fixes)


def _lower(outcome: Outcome) -> tuple[Fix, ...]:
    grade, job = outcome.grade, outcome.job
    if grade is None:
        return ()
    collecting = grade.stations >= job.line.solid_length
    short = float(np.max(job.limits.least_cover - grade.cover[collecting]))
    return (Fix(f"Lower the whole line {say(outcome, short, k.SECTION)}",
                with_value(job, "line.outlet_invert", job.line.outlet_invert - short)),)  # fmt: skip


def standing_water(outcome: Outcome) -> Finding | None:
    """The outlet lies above the water it falls into."""
    job, level = outcome.job, outcome.job.line.receiving_level
    found = partial(Finding, key="outlet-level", family="falls", title="Outlet above water", source="cp", kind=k.LEVEL, at_most=False,
                elements=("line.outlet_invert", "line.receiving_level"), station=0.0)  # fmt: skip
    if level is None:
        return found(state=State.UNKNOWN,
                       reason="The water level at the outlet is not known. Level the highest mark the water leaves in a wet season.")  # fmt: skip
    above = job.line.outlet_invert - level
    state = judge(above, 0.0, at_most=False, near=FREEBOARD)
    if state == State.FAILS:
        nodes, levels = grade_nodes(job.line)
        length = float(np.interp(level, levels, nodes))  # the inverts rise from the outlet up
        reason = (f"The outlet lies {say(outcome, -above, k.DEPTH)} under the water there when wet: water stands in the drain up to "
                  f"station {say(outcome, length, k.STATION)}.")  # fmt: skip
        fixes = _raise_outlet(job, level + FREEBOARD, f"{say(outcome, FREEBOARD, k.SECTION)} above that water")
        return found(state=state, reason=reason, value=above, limit=0.0, fixes=fixes)
    reason = f"The outlet lies {say(outcome, above, k.DEPTH)} above the water there when wet."
    return found(state=state, reason=reason, value=above, limit=0.0)


def cover(outcome: Outcome) -> Finding | None:
    """There is enough over the pipe where it collects."""
    grade, job = outcome.grade, outcome.job
    if grade is None:
        return None
    collecting = np.nonzero(grade.stations >= job.line.solid_length - 1e-9)[0]
    lowest = int(collecting[np.argmin(grade.cover[collecting])])
    value, limit = float(grade.cover[lowest]), job.limits.least_cover
    state = judge(value, limit, at_most=False)
    fixes = _lower(outcome) if state == State.FAILS else ()
    return Finding("cover", "falls", "Cover over the pipe", state,
                   f"The least cover on the collecting run is {say(outcome, value, k.DEPTH)}; wheels over it need the maker's and the road rules.",
                   "user astm_d2321", value, limit, k.DEPTH, at_most=False, station=float(grade.stations[lowest]), fixes=fixes,
                   elements=("line",))  # fmt: skip


def stone_fits(outcome: Outcome) -> Finding | None:
    """Stone and soil cap fit into the depth."""
    grade, job, pipe = outcome.grade, outcome.job, outcome.pipe
    if grade is None or job.trench.top != "soil cap":
        return None
    height = job.trench.bedding + pipe.outer_diameter + job.trench.stone_cover
    collecting = np.nonzero(grade.stations >= job.line.solid_length - 1e-9)[0]
    lowest = int(collecting[np.argmin(grade.cut[collecting])])
    cap = float(grade.cut[lowest]) - height
    state = judge(cap, 0.0762, at_most=False, near=0.0254)
    reason = (f"{say(outcome, max(cap, 0.0), k.DEPTH)} of soil are left over the stone where the trench is shallowest."
              if cap >= 0 else f"The stone stands {say(outcome, -cap, k.DEPTH)} out of the trench where it is shallowest.")  # fmt: skip
    less = job.trench.stone_cover - (0.0762 - cap)
    fixes = (
        (Fix(f"Stone over the pipe {say(outcome, less, k.SECTION)}", with_value(job, "trench.stone_cover", less)),)
        if state == State.FAILS and less >= 0
        else ()
    )
    return Finding("cap", "falls", "Soil over the stone", state, reason, "cp", cap, 0.0762, k.DEPTH, at_most=False,
                   station=float(grade.stations[lowest]), fixes=fixes, elements=("trench.stone_cover",))  # fmt: skip


CHECKS = (readings, surveyed, closure, covered, slope, daylight, standing_water, cover, stone_fits)
