"""What stands or lies round the runs: roots, buried lines, paving, the boundary, other runs."""

from __future__ import annotations

from functools import partial

import numpy as np
import shapely

from weirant.checks.judge import judge
from weirant.ground.crossings import Crossing, length_outside, shape_of, stretches_within
from weirant.ground.inverts import invert_at, slope_at
from weirant.ground.stretches import Make
from weirant.job.section import AT_JOINTS
from weirant.outcome.facts import Amount, Named
from weirant.outcome.finding import Finding, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

FAR = 50.0  # m from a run beyond which no root is looked at: as far as roots may be said to reach


def buildings(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """No run goes through a building or along inside a wall's footing."""
    for feature in outcome.site.things.near(found.run, 0.1):
        if feature.kind not in ("building", "wall") or len(feature.points) < 2:
            continue
        line, shape = shapely.linestrings(found.run.alignment.points), shape_of(feature, is_closed=feature.kind == "building")
        inside = float(shapely.length(shapely.intersection(line, shape)))
        crosses = feature.kind == "wall" and bool(shapely.intersects(line, shape))
        if inside > outcome.rules.through_outline or crosses:
            station = found.run.alignment.nearest(_first_point(shapely.intersection(line, shape)))[0]
            return Finding(State.FAILS, "under" if crosses else "through", source="cp", facts={"thing": Named(feature.id)},
                           value=inside, limit=0.0, kind=k.DISTANCE, station=station, caution="defer")  # fmt: skip
    return None


def _first_point(shape: shapely.Geometry) -> tuple[float, float]:
    x, y = shapely.get_coordinates(shape)[0].tolist()
    return x, y


def paving(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Walks, slabs and fences that a run passes have to be cut or taken down and made good, or passed under."""
    met = sorted((p.station, p.feature.name, p.feature.kind, p.feature.id) for p in found.passes if p.through is None or p.through > outcome.rules.through_outline)
    if not met:
        return None
    bare = [m for m in met if m[2] == "fence" or not found.make(m[0]).section.pavement]
    if not bare:  # the section it lies in there is made good
        return Finding(State.HOLDS, "paved", source="cp", facts={"thing": Named(met[0][3])}, station=met[0][0])
    station, _, kind, thing = bare[0]
    return Finding(State.TIGHT, "fence" if kind == "fence" else "", source="cp", facts={"thing": Named(thing), "more": len(bare) - 1 or None}, station=station)


def roots(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """A run through root zones falls enough that nothing stands, and is dug by hand."""
    limit, worst = outcome.job.limits.least_slope_trees, None
    for tree in outcome.site.things.near(found.run, FAR):
        if tree.kind != "tree" or tree.root_radius is None or found.grade is None:
            continue
        for low, high in stretches_within(found.run.alignment, tree, tree.root_radius, is_closed=False):
            stations = found.grade.stations
            inside = stations[(stations >= low) & (stations <= high)]
            here = float(slope_at(found.run, np.array([*inside, (low + high) / 2])).min())
            if worst is None or here < worst[0]:
                worst = (here, tree, low, high)
    if worst is None:
        return None
    slope, tree, low, high = worst
    state = judge(slope, limit, at_most=False)
    if state == State.FAILS:
        state = State.TIGHT  # a flat pipe among roots works; it wants looking after
    return Finding(state, source="cp user", facts={"thing": Named(tree.id), "to": Amount(high, k.STATION), "joints": _is_jointed(found.make((low + high) / 2))},
                   value=slope, limit=limit, kind=k.SLOPE, at_most=False, station=low, caution="roots")  # fmt: skip


def _is_jointed(make: Make) -> bool:
    """Whether a pipe has joints that roots find: of pieces, with no cloth over them."""
    return make.pipe.supply == "stick" and make.section.wrap != AT_JOINTS and not make.section.is_socked


def crossings(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Every buried line is passed with clearance; one whose depth is not known is a question."""
    limit, worst, open_ones = outcome.job.limits.clearance, None, []
    for crossing in found.crossings:
        gap = gap_at(found.make(crossing.station), crossing, float(invert_at(found.run, np.array(crossing.station))))
        if gap is None:
            open_ones.append(crossing)
        elif worst is None or gap[0] < worst[0]:
            worst = (*gap, crossing)
    said = partial(Finding, source="user cp", kind=k.SECTION, at_most=False, caution="hand-dig")
    if worst is not None and worst[0] < limit - 1e-6:
        gap_m, _, crossing = worst
        return said(State.FAILS, "cuts" if gap_m < 0 else "", value=gap_m, limit=limit, station=crossing.station, facts={"thing": Named(crossing.feature.id)})
    if open_ones:
        crossing = open_ones[0]
        return said(State.UNKNOWN, station=crossing.station, facts={"thing": Named(crossing.feature.id)})
    if worst is None:
        return None
    gap_m, way, crossing = worst
    return said(judge(gap_m, limit, at_most=False), "clear", value=gap_m, limit=limit, station=crossing.station,
                facts={"thing": Named(crossing.feature.id), "over": way == "over"})  # fmt: skip


def gap_at(make: Make, crossing: Crossing, invert: float) -> tuple[float, str] | None:
    """Clear height m between pipe and buried line and the way it passes; None where its depth is not known."""
    if crossing.top is None or crossing.bottom is None:
        return None
    over = invert - make.pipe.wall - crossing.top
    under = crossing.bottom - (invert + make.above)
    return (over, "over") if over >= under else (under, "under")


def private_lines(outcome: Outcome) -> Finding | None:
    """Private lines in the way are located by somebody, since the public service does not."""
    met = {(c.feature.name, c.feature.id, c.feature.is_private) for r in outcome.site.runs for c in r.crossings if not c.feature.is_located}
    if not met:
        return None
    _, thing, is_private = min(met)
    return Finding(State.UNKNOWN, "private" if is_private else "public", source="cp", facts={"thing": Named(thing)}, elements=("features",), caution="hand-dig")


def boundary(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Every run stays on the owner's land."""
    land = next((f for f in outcome.job.features if f.kind == "boundary" and len(f.points) > 2), None)
    if land is None:
        return None
    outside = length_outside(found.run.alignment, land)
    state = State.FAILS if outside > outcome.rules.through_outline else State.HOLDS
    return Finding(state, source="geometry", value=outside, limit=0.0, kind=k.DISTANCE)


def runs_apart(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Runs that cross without a joint pass clear of each other; told of both."""
    limit, worst = outcome.job.limits.clearance, None
    for meeting in outcome.site.meetings:
        ends = ((meeting.first, meeting.first_station), (meeting.second, meeting.second_station))
        if found.id not in (meeting.first, meeting.second):
            continue
        (_, here), (name, there) = ends if meeting.first == found.id else ends[::-1]
        other = outcome.run(name).run
        over, (own, its) = float(invert_at(found.run, np.array(here))) - float(invert_at(other, np.array(there))), (found.make(here), outcome.run(name).make(there))
        gap = abs(over) - (own.pipe.wall + its.above if over >= 0 else its.pipe.wall + own.above)
        if worst is None or (gap, here) < worst[:2]:
            worst = (gap, here, other.id)
    if worst is None:
        return None
    gap, station, identity = worst
    return Finding(judge(gap, limit, at_most=False), source="geometry user", facts={"other": Named(identity), "apart": Amount(max(gap, 0.0), k.SECTION)},
                   value=gap, limit=limit, kind=k.SECTION, at_most=False, station=station)  # fmt: skip


ALLOWED_OF_JOB = {"lines-located": private_lines}
ALLOWED = {"boundary": boundary}
STANDS = {"buildings": buildings, "paving": paving, "roots": roots, "crossings": crossings}
FALLS = {"runs-apart": runs_apart}
