"""What comes of moving a run in plan: all that counts along it moves with it."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable

import numpy as np

from weirant.errors import InputError
from weirant.ground.alignment import Point
from weirant.ground.inverts import grade_nodes, with_inverts
from weirant.ground.network import IN_TRENCH, LaidRun, laid_run, lay_out
from weirant.job import Job
from weirant.job.geometry import APART, nodes_by_id
from weirant.job.run_edits import runs_at, with_node, with_run
from weirant.job.survey import Place
from weirant.language import tr

SHARPEST = 0.2  # of a corner's half angle the cosine: a sharper one is not carried further out than this

ON_LINE, HAIR = 0.3, 1e-3  # m off a line within which a shot was taken on it (common practice, no source)


def followed(job: Job, before: LaidRun, after: LaidRun) -> Job:
    """The job with everything that counts along a run moved as its nodes moved; the run keeps its levels, or its slopes where those would not fall.

    Of nodes that are new the stations between the others stretch evenly.
    """
    known = {n.id: s for n, s in after.nodes}
    pairs = sorted((s, known[n.id]) for n, s in before.nodes if n.id in known)
    pairs = pairs if pairs and pairs[0][0] == 0.0 else [(0.0, 0.0), *pairs]
    pairs = pairs if abs(pairs[-1][0] - before.length) < APART else [*pairs, (before.length, after.length)]
    old, new = (list(side) for side in zip(*pairs, strict=True))

    def at(station: float) -> float:
        return round(min(float(np.interp(station, old, new)), after.length), 6)

    nodes, levels = grade_nodes(before)
    run = dataclasses.replace(
        after.run, breaks=(), held=tuple(dataclasses.replace(h, station=at(h.station)) for h in after.run.held),
        stretches=tuple(s if s.to_station is None else dataclasses.replace(s, to_station=max(at(s.to_station), 0.01)) for s in after.run.stretches),
    )  # fmt: skip
    try:
        run = with_inverts(lay_out(run, nodes_by_id(job)), [*(at(float(s)) for s in nodes[:-1]), after.length], levels)
    except InputError:
        run = dataclasses.replace(run, breaks=tuple(dataclasses.replace(b, station=max(at(b.station), 0.01)) for b in before.breaks))
    return _guests_too(_shots_kept(with_run(job, run), before, lay_out(run, nodes_by_id(job))), before, lay_out(run, nodes_by_id(job)), at)


def _shots_kept(job: Job, before: LaidRun, after: LaidRun) -> Job:
    """The job with the ground that was shot along a run kept where it was shot: what still lies on the line at its new station there, what lies beyond an end
    now by its place in plan. Shots beside a piece that was moved aside go with it, as near as the line itself was known, and those beyond an end as far as before.
    """
    kept, changed = [], False
    for shot in job.survey.shots:
        if shot.run == after.id and shot.station is not None and shot.station > before.length + HAIR:  # beyond its top end, as far as before
            shot, changed = dataclasses.replace(shot, station=round(shot.station + after.length - before.length, 6)), True
        elif shot.run == after.id and shot.station is not None and shot.station >= -HAIR:
            place = before.alignment.point(min(shot.station, before.length))
            station, away = after.alignment.nearest(place)
            if away <= ON_LINE and abs(station - shot.station) > HAIR:
                shot, changed = dataclasses.replace(shot, station=round(station, 6)), True
            elif away > ON_LINE and _lies_beyond(after, place):
                shot, changed = dataclasses.replace(shot, run="", station=None, place=Place("plan", *place)), True
        kept.append(shot)
    return dataclasses.replace(job, survey=dataclasses.replace(job.survey, shots=tuple(kept))) if changed else job


def _lies_beyond(run: LaidRun, place: Point) -> bool:
    """Whether a place lies on the way of a run, gone on beyond its low or its top end."""
    for end, way in ((0.0, run.alignment.bearing(HAIR) + math.pi), (run.length, run.alignment.bearing(run.length - HAIR))):
        x, y = run.alignment.point(end)
        along = (place[0] - x) * math.cos(way) + (place[1] - y) * math.sin(way)
        aside_of = abs((place[1] - y) * math.cos(way) - (place[0] - x) * math.sin(way))
        if along > ON_LINE and aside_of <= ON_LINE:
            return True
    return False


def _guests_too(job: Job, before: LaidRun, after: LaidRun, at: Callable[[float], float]) -> Job:
    """The job with the nodes of runs that take a place in a run's trench moved with it; a node that another run goes through stays."""
    for guest in job.runs:
        if guest.trench_of != after.id or not guest.bore:
            continue
        nodes = nodes_by_id(job)
        for name in guest.nodes:
            node = nodes[name]
            station, away = before.alignment.nearest((node.x, node.y))
            if away > IN_TRENCH or len(runs_at(job, name)) > 1:
                continue
            (x, y), (right_x, right_y) = before.alignment.point(station), aside(before, station, 1.0)
            side = math.copysign(away, (node.x - x) * right_x + (node.y - y) * right_y)
            (x, y), (east, north) = after.alignment.point(at(station)), aside(after, at(station), side)
            job = with_node(job, dataclasses.replace(node, x=round(x + east, 6), y=round(y + north, 6)))
    return job


def moved_aside(job: Job, identity: str, by: float) -> Job:
    """The job with what collects of a run moved so far to its right, looking uphill, m (left where negative); levels stay.

    Raises InputError where a joined run or an outlet stands on it, which would be torn off, and where nothing collects.
    """
    run = laid_run(job, identity)
    if not run.collecting_length:
        raise InputError(run.name, tr("has no pipe that collects; move it on the plan"))
    moved = [(node, station) for node, station in run.nodes if station >= run.solid_length - APART]
    if any(node.outlet is not None or len(runs_at(job, node.id)) > 1 for node, _ in moved):
        raise InputError(run.name, tr("has an outlet or another run on what collects; move that on the plan"))
    for node, station in moved:
        east, north = aside(run, station, by, run.solid_length)
        job = with_node(job, dataclasses.replace(node, x=node.x + east, y=node.y + north))
    return followed(job, run, laid_run(job, identity))


def aside(run: LaidRun, station: float, by: float, low: float = 0.0) -> Point:
    """How far m east and north a step to the right of a run leads at a station of the part from ``low`` m up, looking uphill."""
    legs = [run.alignment.bearing(s) for s in (station - 1e-4, station + 1e-4) if low - 1e-6 <= s <= run.length]
    across = (math.fsum(math.sin(b) for b in legs), -math.fsum(math.cos(b) for b in legs))
    size = math.hypot(*across)
    out = by / max(size / len(legs), SHARPEST) / size  # at a corner along half of its angle, so that both lengths move as far
    return out * across[0], out * across[1]


