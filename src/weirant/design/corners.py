"""Corners of runs and things: put in, taken out, typed by place or by length and bearing, carried on; what counts along a run moves with it."""

from __future__ import annotations

import dataclasses
import math

from weirant.design.layout import move_node, move_thing_corner
from weirant.errors import InputError
from weirant.ground.alignment import Point
from weirant.ground.joining import node_at
from weirant.ground.moves import followed
from weirant.ground.network import laid_run, lay_out, network_of
from weirant.job import Job
from weirant.job.geometry import has_run, nodes_by_id, points_of, run_of
from weirant.job.identity import NODE, by_id, fresh
from weirant.job.network import Node
from weirant.job.paths import spec_at
from weirant.job.run_edits import runs_at, with_run, without_unused
from weirant.job.site import Spot
from weirant.language import tr


def with_corner(job: Job, run: str, station: float) -> Job:
    """The job with a corner put into a run at a station m, ready to be dragged; one that is there is kept."""
    return node_at(job, run, station)[0]


def without_corner(job: Job, run: str, index: int) -> Job:
    """The job without a corner of a run by its number from the low end: the run goes straight past it, or ends at the one before.

    Raises InputError at its low end, where another run is joined, and where fewer than two would be left.
    """
    before = laid_run(job, run)
    if not 0 <= index < len(before.nodes):
        raise InputError(before.name, tr("has no such corner any more"))
    node = before.nodes[index][0]
    others = [r.name for r in runs_at(job, node.id) if r.id != run]
    if index == 0 or len(before.nodes) <= 2:
        raise InputError(before.name, tr("begins there; drag that end, or take the whole run out"))
    if others:
        raise InputError(before.name, tr("is joined to {others} there; let that go first", others=others[0]))
    changed = dataclasses.replace(before.run, nodes=tuple(n for n in before.run.nodes if n != node.id))
    job = without_unused(with_run(job, changed), (node.id,))
    return followed(job, before, lay_out(changed, nodes_by_id(job)))


def corners_of(job: Job, owner: str) -> list[Point]:
    """Places of the corners of a run, from its low end up, or of a thing; none where it is gone."""
    feature = by_id(job.features, owner)
    if feature is not None:
        return [(p.x, p.y) for p in feature.points]
    return points_of(run_of(job, owner), nodes_by_id(job)) if has_run(job, owner) else []


def with_corner_at(job: Job, owner: str, index: int, to: Point) -> Job:
    """The job with one corner of a run or a thing in another place; the others stay."""
    return move_thing_corner(owner, index)(job, to) if by_id(job.features, owner) is not None else move_node(owner, index)(job, to)


def with_leg(job: Job, owner: str, index: int, length: float, bearing: float) -> Job:
    """The job with a corner of a run or a thing so far, m, and in such a direction, rad clockwise from north, from the corner before it; the corners that
    follow keep their lengths and bearings, and what is joined to them is drawn along.

    Raises InputError where a run would end beyond what it may, or the low end of a joined run would be torn off.
    """
    corners = corners_of(job, owner)
    (x0, y0), (x, y) = corners[index - 1], corners[index]
    by = (x0 + length * math.sin(bearing) - x, y0 + length * math.cos(bearing) - y)
    feature = by_id(job.features, owner)
    if feature is not None:
        moved = dataclasses.replace(feature, points=(*feature.points[:index], *(Spot(p.x + by[0], p.y + by[1]) for p in feature.points[index:])))
        return dataclasses.replace(job, features=tuple(moved if f.id == owner else f for f in job.features))
    return shifted(job, run_of(job, owner).nodes[index:], by)


def shifted(job: Job, nodes: tuple[str, ...], by: Point) -> Job:
    """The job with nodes moved all alike, m; stations of every run through them stretch with it, levels stay."""
    going, before = {*nodes}, network_of(job)
    moved = dataclasses.replace(job, nodes=tuple(dataclasses.replace(n, x=n.x + by[0], y=n.y + by[1]) if n.id in going else n for n in job.nodes))
    for run in before.runs:
        if any(node.id in going for node, _ in run.nodes):
            after = laid_run(moved, run.id)
            spec_at(moved, f"runs.{run.id}.length").check(after.length)
            moved = followed(moved, run, after)
    return moved


def continued(job: Job, run: str, corners: list[Point], ends_on: str = "") -> Job:
    """The job with a run carried on from its top end through further corners, at the slope and in the pipe of its top; ``ends_on`` is a run that the last
    of them lies on, which it meets there. Raises InputError where there are no corners, or the run would meet itself.
    """
    if not corners:
        raise InputError(run_of(job, run).name, tr("wants a corner to go on to"))
    names = []
    for index, (x, y) in enumerate(corners):
        if ends_on and index == len(corners) - 1:
            job, name = node_at(job, ends_on, laid_run(job, ends_on).alignment.nearest((x, y))[0])
        else:
            name = fresh(job.nodes, NODE)
            job = dataclasses.replace(job, nodes=(*job.nodes, Node(name, x, y)))
        names.append(name)
    here = run_of(job, run)
    if {*names} & {*here.nodes}:
        raise InputError(here.name, tr("would meet itself; end it on another run, or draw the rest as one of its own"))
    longer = dataclasses.replace(here, nodes=(*here.nodes, *names))
    spec_at(job, f"runs.{run}.length").check(lay_out(longer, nodes_by_id(job)).length)
    return with_run(job, longer)
