"""How runs lie in plan, from the places of their nodes: as much of it as edits of a job need."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from weirant.job.job import Job
from weirant.job.network import Node, Run, Stretch

APART = 1e-3  # m: nodes of one run that are nearer than that are one place
NOUGHT = 1e-9  # m, and of shares
Point = tuple[float, float]


def inside(points: Sequence[Point], x: float, y: float) -> bool:
    """Whether a closed outline holds a point: a ray from it crosses the edges an odd number of times."""
    crossed = [(a[1] > y) != (b[1] > y) and x < a[0] + (y - a[1]) / (b[1] - a[1]) * (b[0] - a[0]) for a, b in zip(points, [*points[1:], points[0]], strict=True)]
    return sum(crossed) % 2 == 1


def meets(at: Point, step: Point, a: Point, b: Point) -> float | None:
    """How many steps from a point a straight line meets an edge, below nought behind it; None where it does not, or runs along the edge."""
    east, north = b[0] - a[0], b[1] - a[1]
    turn = step[0] * north - step[1] * east
    if abs(turn) < NOUGHT * max(math.hypot(east, north), NOUGHT):
        return None
    share = ((a[0] - at[0]) * step[1] - (a[1] - at[1]) * step[0]) / turn
    return ((a[0] - at[0]) * north - (a[1] - at[1]) * east) / turn if -NOUGHT <= share <= 1 + NOUGHT else None


def nodes_by_id(job: Job) -> dict[str, Node]:
    """The nodes of a job by their identity."""
    return {node.id: node for node in job.nodes}


def run_of(job: Job, identity: str) -> Run:
    """The run of an identity. KeyError where there is none: the audit has let nothing else through."""
    for run in job.runs:
        if run.id == identity:
            return run
    raise KeyError(identity)


def has_run(job: Job, identity: str) -> bool:
    """Whether there is a run of an identity."""
    return any(run.id == identity for run in job.runs)


def points_of(run: Run, nodes: Mapping[str, Node]) -> list[Point]:
    """Places of a run's nodes, m, from the low end up."""
    return [(nodes[n].x, nodes[n].y) for n in run.nodes]


def stations_of(run: Run, nodes: Mapping[str, Node]) -> list[float]:
    """Stations of a run's nodes, m, from the low end (0) up."""
    points, stations = points_of(run, nodes), [0.0]
    for before, here in zip(points, points[1:], strict=False):
        stations.append(stations[-1] + math.dist(before, here))
    return stations


def length_of(run: Run, nodes: Mapping[str, Node]) -> float:
    """Length of a run, m."""
    return stations_of(run, nodes)[-1]


def parts_of(run: Run, length: float) -> list[tuple[float, float, Stretch]]:
    """From and to station m of each stretch that is there; beyond the last one it goes on as it was."""
    found: list[tuple[float, float, Stretch]] = []
    low = 0.0
    for stretch in run.stretches:
        high = length if stretch.to_station is None else min(stretch.to_station, length)
        if high > low + 1e-9:
            found.append((low, high, stretch))
            low = high
    if low < length - 1e-9:
        found = [*found[:-1], (found[-1][0], length, found[-1][2])] if found else [(low, length, run.stretches[-1])]
    return found


def spans_of(run: Run, length: float) -> list[tuple[float, float, bool]]:
    """From and to station and whether it is solid, m; neighbours that are alike in that are one."""
    found: list[tuple[float, float, bool]] = []
    for low, high, stretch in parts_of(run, length):
        if found and found[-1][2] == stretch.is_solid:
            found[-1] = (found[-1][0], high, stretch.is_solid)
        else:
            found.append((low, high, stretch.is_solid))
    return found


def solid_below(run: Run, length: float) -> float:
    """Length of the solid pipe at the low end of a run, m: nought where it collects from the start."""
    low, high, is_solid = spans_of(run, length)[0]
    return high - low if is_solid else 0.0
