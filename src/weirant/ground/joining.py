"""Runs joined to others and let go of them, and the nodes where they meet."""

from __future__ import annotations

import dataclasses

import numpy as np

from weirant.errors import InputError
from weirant.ground.inverts import grade_nodes, invert_at, with_inverts
from weirant.ground.moves import followed
from weirant.ground.network import LaidRun, laid_run, lay_out, network_of
from weirant.job import Job
from weirant.job.geometry import APART, nodes_by_id, run_of
from weirant.job.identity import NODE, fresh
from weirant.job.network import Node, Outlet
from weirant.job.run_edits import runs_at, with_node, with_run, without_unused
from weirant.language import tr

SLANTS_OVER, LEAST_SLANT = 0.3, 0.1  # m from the bend to where a run came in square; the fittings need so much at the least (common practice, no source)


def node_at(job: Job, identity: str, station: float) -> tuple[Job, str]:
    """The job with a node on a run at a station, m, and the node's identity: one that is there already, or a new one set into the run."""
    run = laid_run(job, identity)
    for node, at in run.nodes:
        if abs(at - station) < APART:
            return job, node.id
    x, y = run.alignment.point(station)
    node = Node(fresh(job.nodes, NODE), x, y)
    index = sum(at < station for _, at in run.nodes)
    changed = dataclasses.replace(run.run, nodes=(*run.run.nodes[:index], node.id, *run.run.nodes[index:]))
    return with_run(dataclasses.replace(job, nodes=(*job.nodes, node)), changed), node.id


def join(job: Job, identity: str, other: str, station: float) -> Job:
    """The job with the low end of a run led to a station of another, and its water with it; its outlet goes.

    The run comes in at the invert of the other. Raises InputError where it would join itself or what drains into it.
    """
    if identity == other:
        raise InputError("run", tr("cannot join itself"))
    if station < APART:
        raise InputError(run_of(job, identity).name, tr("cannot join {job} where that ends; choose a place above its low end", job=run_of(job, other).name))
    if identity in _below(job, other):
        raise InputError(run_of(job, identity).name, tr("takes the water of {job}; joined to it, water would go round", job=run_of(job, other).name))
    job, node = node_at(job, other, station)
    before = laid_run(job, identity)
    if node in before.run.nodes[1:]:
        raise InputError(before.name, tr("goes through that joint already; water would go round"))
    old = before.run.nodes[0]
    changed = dataclasses.replace(before.run, nodes=(node, *before.run.nodes[1:]))
    job = with_run(job, changed)
    job = without_unused(job, (old,))
    moved = lay_out(changed, nodes_by_id(job))
    job = followed(job, before, moved)
    level = float(invert_at(laid_run(job, other), np.array(station)))
    after = laid_run(job, identity)
    stations, levels = grade_nodes(after)
    try:
        return with_run(job, with_inverts(after, stations, [level, *levels[1:]]))
    except InputError:
        return with_run(job, dataclasses.replace(after.run, invert=level))


def led_in_slanting(job: Job, identity: str) -> Job:
    """The job with a run that comes square into another led into it by a wye: a bend before it, and the joint so much further down.

    It drops into the other as far as before. Raises InputError where there is no room for it, or the run lies in another's trench.
    """
    before, network = laid_run(job, identity), network_of(job)
    other, at = next(iter(network.drains_to(before)), (None, 0.0))
    if other is None or before.run.trench_of or any(run.trench_of == identity for run in job.runs):
        raise InputError(before.name, tr("comes in by a trench it shares; take them apart first"))
    low, along = before.nodes[0][0], room_to_slant(before, other, at)
    if along is None:
        raise InputError(before.name, tr("has no room there for a wye and the bend before it"))
    drop = before.invert - float(invert_at(other, np.array(at)))
    bend = Node(fresh(job.nodes, NODE), *before.alignment.point(along))
    job, joint = node_at(dataclasses.replace(job, nodes=(*job.nodes, bend)), other.id, at - along)
    job = with_run(job, dataclasses.replace(before.run, nodes=(joint, bend.id, *before.run.nodes[1:])))
    if low == Node(low.id, low.x, low.y) and len(runs_at(job, low.id)) == 1 and not _bends(other, at) and all(source.node != low.id for source in job.sources):
        run = run_of(job, other.id)
        job = without_unused(with_run(job, dataclasses.replace(run, nodes=tuple(node for node in run.nodes if node != low.id))), (low.id,))
    job = followed(job, before, laid_run(job, identity))
    after = laid_run(job, identity)
    stations, levels = grade_nodes(after)
    level = float(invert_at(laid_run(job, other.id), np.array(at - along))) + drop
    try:
        return with_run(job, with_inverts(after, stations, [level, *levels[1:]]))
    except InputError:
        return with_run(job, dataclasses.replace(after.run, invert=level))


def room_to_slant(run: LaidRun, other: LaidRun, at: float) -> float | None:
    """How far m from its joint at a station of another the bend of a run would be that leads it in by a wye; None where there is no room for both."""
    below = max((station for _, station in other.nodes if station < at - APART), default=0.0)
    along = min(SLANTS_OVER, (at - below) / 2, run.nodes[1][1] / 2)
    return along if along >= LEAST_SLANT else None


def _bends(run: LaidRun, station: float) -> bool:
    return any(abs(at - station) < APART for at, _ in run.bends)


def _below(job: Job, identity: str) -> set[str]:
    """The runs that the water of a run goes through on its way out."""
    network, found = network_of(job), set()
    ahead = [network.run(identity)]
    while ahead:
        for other, _ in network.drains_to(ahead.pop()):
            if other.id not in found:
                found.add(other.id)
                ahead.append(other)
    return found


def detach(job: Job, identity: str) -> Job:
    """The job with the low end of a run let go of what it joins, with an outlet of its own in the same place."""
    run = laid_run(job, identity)
    low = run.nodes[0][0]
    if len(runs_at(job, low.id)) == 1:
        return with_node(job, dataclasses.replace(low, outlet=low.outlet or Outlet()))
    node = Node(fresh(job.nodes, NODE), low.x, low.y, outlet=Outlet())
    job = dataclasses.replace(job, nodes=(*job.nodes, node))
    return with_run(job, dataclasses.replace(run.run, nodes=(node.id, *run.run.nodes[1:])))
