"""Edits of the outlets of a job; each gives a new job."""

from __future__ import annotations

import dataclasses

from weirant.job.job import Job
from weirant.job.network import BASINS, PUMP_PIT, PUMPED_ON, SQUARE, Basin, Node, Outlet, Pump
from weirant.job.run_edits import of_node_kind, with_node

USUAL_PIT = Basin(SQUARE, 0.4572, 0.6096)  # 18 in square, two feet under the lowest pipe (common practice, no source)


def outlet_kind(job: Job, node: str) -> str:
    """How water leaves at a node. KeyError where it does not."""
    outlet = _node(job, node).outlet
    if outlet is None:
        raise KeyError(node)
    return outlet.kind


def with_outlet_kind(job: Job, node: str, kind: str) -> Job:
    """The job with water leaving at a node in another way: a pump comes with its pit, and what only a pump has goes with it."""
    of = _node(job, node)
    outlet = of.outlet or Outlet()
    if kind == PUMPED_ON:
        pit = of if of.kind in BASINS else dataclasses.replace(of, basin=USUAL_PIT)
        return with_node(job, dataclasses.replace(of_node_kind(pit, PUMP_PIT), outlet=dataclasses.replace(outlet, kind=kind, pump=outlet.pump or Pump())))
    before = of_node_kind(of, "plain") if outlet.kind == PUMPED_ON else of
    return with_node(job, dataclasses.replace(before, outlet=dataclasses.replace(outlet, kind=kind, pump=None)))


def _node(job: Job, identity: str) -> Node:
    found = next((n for n in job.nodes if n.id == identity), None)
    if found is None:
        raise KeyError(identity)
    return found
