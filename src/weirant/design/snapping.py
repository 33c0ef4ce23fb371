"""Where a click on the plan is meant to be: on a corner, on a run, on a shot, or square to what was drawn last."""

from __future__ import annotations

import math
from dataclasses import dataclass

from weirant.ground.alignment import Point
from weirant.ground.network import network_of
from weirant.job import Job


@dataclass(frozen=True)
class Snap:
    """A place with the words that say what it is, and the identity of the run it lies on, if any."""

    at: Point
    words: str = ""
    run: str = ""


def snap(job: Job, to: Point, reach: float, drawn: list[Point] | None = None) -> Snap:
    """The place meant by a click within reach m: corners before runs, runs before right angles; else the click itself."""
    corner = min(((math.dist(at, to), at, words) for at, words in _corners(job)), default=None)
    if corner is not None and corner[0] <= reach:
        return Snap(corner[1], corner[2], _run_at(job, corner[1]))
    run = _nearest_run(job, to, reach)
    if run is not None:
        return run
    if drawn and len(drawn) > 1:
        square = _square(drawn[-2], drawn[-1], to)
        if math.dist(square, to) <= reach:
            return Snap(square, "square")
    return Snap(to)


def _corners(job: Job) -> list[tuple[Point, str]]:
    found = [((p.x, p.y), f.name) for f in job.features for p in f.points]
    return found + [((p.x, p.y), p.name) for p in job.points]


def _nearest_run(job: Job, to: Point, reach: float) -> Snap | None:
    best: tuple[float, Snap] | None = None
    for run in network_of(job).runs:
        station, away = run.alignment.nearest(to)
        for special in (0.0, run.solid_length, run.length, *(s for _, s in run.nodes)):
            if abs(special - station) <= reach:
                station = special
        if away <= reach and (best is None or away < best[0]):
            best = (away, Snap(run.alignment.point(station), f"on {run.name}", run.id))
    return best[1] if best is not None else None


def _run_at(job: Job, at: Point) -> str:
    found = _nearest_run(job, at, 0.05)
    return found.run if found is not None else ""


def _square(before: Point, last: Point, to: Point) -> Point:
    """The foot of a click on the line square to, or straight on from, the last length."""
    way = math.atan2(last[1] - before[1], last[0] - before[0])
    turn = math.atan2(to[1] - last[1], to[0] - last[0]) - way
    straight = way + round(turn / (math.pi / 2)) * (math.pi / 2)
    along = (to[0] - last[0]) * math.cos(straight) + (to[1] - last[1]) * math.sin(straight)
    return last[0] + along * math.cos(straight), last[1] + along * math.sin(straight)
