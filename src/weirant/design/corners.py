"""Corners of a run put in and taken out; what counts along it moves with it."""

from __future__ import annotations

import dataclasses

from weirant.errors import InputError
from weirant.ground.joining import node_at
from weirant.ground.moves import followed
from weirant.ground.network import laid_run, lay_out
from weirant.job import Job
from weirant.job.geometry import nodes_by_id
from weirant.job.run_edits import runs_at, with_run, without_unused


def with_corner(job: Job, run: str, station: float) -> Job:
    """The job with a corner put into a run at a station m, ready to be dragged; one that is there is kept."""
    return node_at(job, run, station)[0]


def without_corner(job: Job, run: str, index: int) -> Job:
    """The job without a corner of a run by its number from the low end: the run goes straight past it, or ends at the one before.

    Raises InputError at its low end, where another run is joined, and where fewer than two would be left.
    """
    before = laid_run(job, run)
    if not 0 <= index < len(before.nodes):
        raise InputError(before.name, "has no such corner any more")
    node = before.nodes[index][0]
    others = [r.name for r in runs_at(job, node.id) if r.id != run]
    if index == 0 or len(before.nodes) <= 2:
        raise InputError(before.name, "begins there; drag that end, or take the whole run out")
    if others:
        raise InputError(before.name, f"is joined to {others[0]} there; let that go first")
    changed = dataclasses.replace(before.run, nodes=tuple(n for n in before.run.nodes if n != node.id))
    job = without_unused(with_run(job, changed), (node.id,))
    return followed(job, before, lay_out(changed, nodes_by_id(job)))
