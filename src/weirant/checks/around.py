"""What stands or lies round the runs: footings, roots, buried lines, the boundary, other runs."""

from __future__ import annotations

from functools import partial

import numpy as np
import shapely

from weirant.checks.judge import judge, say
from weirant.checks.runs import begins, graded, named
from weirant.checks.stands import DEFER
from weirant.ground.crossings import Crossing, distance_to, shape_of, stretches_within
from weirant.ground.inverts import invert_at, slope_at
from weirant.job.site import FOUNDED
from weirant.outcome.finding import Finding, State
from weirant.outcome.outcome import Outcome
from weirant.units import display as k

NEAR_FOOTING = 1.5  # trench depths within which a footing of unknown depth is asked for (common practice, no source)
HAND_DIG = "Expose it by hand before any machine comes near; the owner of the line comes before this."


def footings(outcome: Outcome) -> Finding | None:
    """Every trench stays above the 45° line from every footing."""
    worst: tuple[float, str, str, float] | None = None
    asked: tuple[str, str] | None = None
    for run, grade in graded(outcome):
        for feature in outcome.job.features:
            if feature.kind not in FOUNDED or len(feature.points) < 2:
                continue
            away = distance_to(run.alignment, feature, grade.stations)
            if feature.footing_depth is None:
                if (away < NEAR_FOOTING * np.maximum(grade.cut, 0.0)).any():
                    asked = (feature.name, run.name)
                continue
            room = away + feature.footing_depth - outcome.job.trench.width / 2 - np.maximum(grade.cut, 0.0)
            index = int(np.argmin(np.where(grade.cut > 0, room, np.inf)))
            if worst is None or room[index] < worst[0]:
                worst = (float(room[index]), feature.name, run.name, float(grade.stations[index]))
    found = partial(Finding, key="site-footings", family="stands", title="Footings on the site", source="cp", kind=k.DISTANCE, at_most=False, limit=0.0)
    if worst is not None and worst[0] < 0:
        return found(state=State.FAILS, value=worst[0], elements=(f"run:{worst[2]}",), caution=DEFER,
                     reason=f"{begins(worst[2])} comes {say(outcome, -worst[0], k.DISTANCE)} inside the 45° line from the footing of {worst[1]} "
                            f"at station {say(outcome, worst[3], k.STATION)}. Move it off, or dig short lengths with an engineer's say.")  # fmt: skip
    if asked is not None:
        return found(state=State.UNKNOWN, reason=f"{begins(asked[1])} passes close to {asked[0]}, whose footing depth is not known. Dig a small hole beside it and look.")
    if worst is None:
        return None
    return found(state=judge(worst[0], 0.0, at_most=False, near=0.1524), value=worst[0], caution=DEFER,
                 reason=f"The nearest trench stays {say(outcome, worst[0], k.DISTANCE)} outside the 45° line from {worst[1]}.")


def roots(outcome: Outcome) -> Finding | None:
    """Runs through root zones fall enough that nothing stands, and are dug by hand."""
    limit, worst = outcome.job.limits.least_slope_trees, None
    for run, grade in graded(outcome):
        for tree in outcome.job.features:
            if tree.kind != "tree" or tree.root_radius is None:
                continue
            for low, high in stretches_within(run.alignment, tree, tree.root_radius, is_closed=False):
                inside = grade.stations[(grade.stations >= low) & (grade.stations <= high)]
                here = float(slope_at(run.line, np.array([*inside, (low + high) / 2])).min())
                if worst is None or here < worst[0]:
                    worst = (here, tree.name, run.name, low, high)
    if worst is None:
        return None
    slope, tree_name, name, low, high = worst
    state = judge(slope, limit, at_most=False)
    if state == State.FAILS:
        state = State.TIGHT  # a flat pipe among roots works; it wants looking after
    return Finding("roots", "stands", "Root zones", state,
                   f"{begins(name)} passes the roots of {tree_name} (station {say(outcome, low, k.STATION)} to "
                   f"{say(outcome, high, k.STATION)}) at {say(outcome, slope, k.SLOPE)}; standing water draws roots.",
                   "cp user", slope, limit, k.SLOPE, at_most=False, elements=(f"run:{name}",), caution="Cut no root thicker than a thumb without the owner's say.")


def crossings(outcome: Outcome) -> Finding | None:
    """Every buried line is passed with clearance; one whose depth is not known is a question."""
    limit, worst, open_ones = outcome.job.limits.clearance, None, []
    for found in outcome.site.runs if outcome.site else ():
        for crossing in found.crossings:
            gap = gap_at(outcome, crossing, float(invert_at(found.run.line, np.array(crossing.station))))
            if gap is None:
                open_ones.append((crossing, found.run.name))
            elif worst is None or gap[0] < worst[0]:
                worst = (*gap, crossing, found.run.name)
    said = partial(Finding, key="crossings", family="stands", title="Crossings", source="user cp", kind=k.SECTION, at_most=False, caution=HAND_DIG)
    if worst is not None and worst[0] < limit - 1e-6:
        gap_m, way, crossing, name = worst
        what = f"cuts into {crossing.feature.name}" if gap_m < 0 else f"passes {crossing.feature.name} with only {say(outcome, gap_m, k.SECTION)} to spare"
        return said(state=State.FAILS, value=gap_m, limit=limit, elements=(f"run:{name}",),
                    reason=f"{begins(name)} {what} at station {say(outcome, crossing.station, k.STATION)}. Find the best grade.",
                    station=crossing.station)  # fmt: skip
    if open_ones:
        crossing, name = open_ones[0]
        return said(state=State.UNKNOWN, elements=(f"run:{name}",),
                    reason=f"The depth of {crossing.feature.name} where {named(name)} crosses it (station "
                           f"{say(outcome, crossing.station, k.STATION)}) is not known. Expose it by hand first.")  # fmt: skip
    if worst is None:
        return None
    gap_m, way, crossing, name = worst
    return said(state=judge(gap_m, limit, at_most=False), value=gap_m, limit=limit,
                reason=f"Tightest is {crossing.feature.name}: {named(name)} passes {way} it with {say(outcome, gap_m, k.SECTION)} clear.")


def gap_at(outcome: Outcome, crossing: Crossing, invert: float) -> tuple[float, str] | None:
    """Clear height m between pipe and buried line and the way it passes; None where its depth is not known."""
    if crossing.top is None or crossing.bottom is None:
        return None
    over = invert - outcome.pipe.wall - crossing.top
    under = crossing.bottom - (invert + outcome.pipe.inner_diameter + outcome.pipe.wall)
    return (over, "over") if over >= under else (under, "under")


def private_lines(outcome: Outcome) -> Finding | None:
    """Private lines in the way are located by somebody, since the public service does not."""
    met = {(c.feature.name, c.feature.is_private) for r in (outcome.site.runs if outcome.site else ()) for c in r.crossings if not c.feature.is_located}
    if not met:
        return None
    name, private = sorted(met)[0]
    words = "not located by the public service: it is a private line. Have it traced" if private else "not marked yet. Call the public service and wait for the marks"
    return Finding("lines-located", "allowed", "Lines that are crossed", State.UNKNOWN, f"{name} is {words}.", "cp", elements=("features",), caution=HAND_DIG)


def boundary(outcome: Outcome) -> Finding | None:
    """Every run stays on the owner's land."""
    land = next((f for f in outcome.job.features if f.kind == "boundary" and len(f.points) > 2), None)
    if land is None or outcome.site is None:
        return None
    ground = shape_of(land, is_closed=True)
    outside = [(float(shapely.length(shapely.difference(shapely.linestrings(r.run.alignment.points), ground))), r.run.name) for r in outcome.site.runs]
    if not outside:
        return None
    most, name = max(outside)
    state = State.FAILS if most > 0.02 else State.HOLDS
    reason = (f"{begins(name)} leaves the owner's land for {say(outcome, most, k.DISTANCE)}. Shorten it, or get the neighbour's written leave."
              if state == State.FAILS else "Every run stays on the owner's land.")  # fmt: skip
    return Finding("boundary", "allowed", "Boundary", state, reason, "geometry", most, 0.0, k.DISTANCE, elements=(f"run:{name}",))


def runs_apart(outcome: Outcome) -> Finding | None:
    """Runs that cross without a joint pass clear of each other."""
    site = outcome.site
    if site is None or not site.meetings:
        return None
    limit, worst = outcome.job.limits.clearance, None
    for meeting in site.meetings:
        a, b = site.run(meeting.first), site.run(meeting.second)
        if a is None or b is None:
            continue
        apart = abs(float(invert_at(a.run.line, np.array(meeting.first_station))) - float(invert_at(b.run.line, np.array(meeting.second_station))))
        gap = apart - outcome.pipe.outer_diameter
        if worst is None or gap < worst[0]:
            worst = (gap, meeting)
    if worst is None:
        return None
    gap, meeting = worst
    state = judge(gap, limit, at_most=False)
    tail = "Join them there, or find the best grade." if state == State.FAILS else "They pass clear."
    return Finding("runs-apart", "falls", "Runs that cross", state,
                   f"{begins(meeting.first)} crosses {named(meeting.second)} at station {say(outcome, meeting.first_station, k.STATION)} "
                   f"without a joint, {say(outcome, max(gap, 0.0), k.SECTION)} apart. {tail}",
                   "geometry user", gap, limit, k.SECTION, at_most=False, elements=(f"run:{meeting.first}", f"run:{meeting.second}"))


CHECKS = (footings, roots, crossings, private_lines, boundary, runs_apart)
