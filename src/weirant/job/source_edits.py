"""Edits of the sources of water of a job; each gives a new job."""

from __future__ import annotations

import dataclasses

from weirant.job.assumed import unmarked
from weirant.job.identity import SOURCE, fresh
from weirant.job.job import Job
from weirant.job.network import Node, Run
from weirant.job.water import OPEN_GROUND, USUAL_SHARE, Source
from weirant.language import tr


def with_source(job: Job, source: Source) -> Job:
    """The job with a source in the place of the one of its identity."""
    return dataclasses.replace(job, sources=tuple(source if s.id == source.id else s for s in job.sources))


def with_new_source(job: Job, kind: str, node: str = "") -> tuple[Job, str]:
    """The job with one more source of a kind, led to a node where one is named; and its identity."""
    names = {s.name for s in job.sources}
    name = next(n for i in range(1, len(names) + 2) if (n := f"{tr(kind)} {i}") not in names)
    source = Source(fresh(job.sources, SOURCE), name, kind, node, share=USUAL_SHARE.get(kind, 1.0))
    return dataclasses.replace(job, sources=(*job.sources, source)), source.id


def of_kind(job: Job, identity: str, kind: str) -> Job:
    """The job with a source of another kind, and the share that usually runs off such."""
    source = next(s for s in job.sources if s.id == identity)
    return with_source(job, dataclasses.replace(source, kind=kind, share=USUAL_SHARE.get(kind, source.share), curve_number=source.curve_number if kind == OPEN_GROUND else None))


def without_source(job: Job, identity: str) -> Job:
    """The job without a source."""
    return unmarked(dataclasses.replace(job, sources=tuple(s for s in job.sources if s.id != identity)), [f"sources.{identity}."])


def let_go(job: Job, nodes: set[str]) -> tuple[Job, list[str]]:
    """The job in which no source is led to nodes that go, and no pump, and the names of the sources and pits that were."""
    loose = [s.name for s in job.sources if s.node in nodes]
    sources = tuple(dataclasses.replace(s, node="") if s.node in nodes else s for s in job.sources)
    kept = []
    for node in job.nodes:
        outlet = node.outlet
        if outlet is not None and outlet.pump is not None and outlet.pump.leads in nodes:
            loose.append(node.name or node.id)
            node = dataclasses.replace(node, outlet=dataclasses.replace(outlet, pump=dataclasses.replace(outlet.pump, leads="")))
        kept.append(node)
    return (dataclasses.replace(job, sources=sources, nodes=tuple(kept)), loose) if loose else (job, [])


def entries_of(job: Job) -> list[tuple[Node, Run]]:
    """The nodes that water can be led into, each with a run that goes through it: what is set into a run, and the tops of runs."""
    nodes, found, seen = {node.id: node for node in job.nodes}, [], set()
    for run in job.runs:
        for identity in reversed(run.nodes[1:]):
            node = nodes[identity]
            if identity not in seen and (node.kind != "plain" or identity == run.nodes[-1]):
                seen.add(identity)
                found.append((node, run))
    return found
