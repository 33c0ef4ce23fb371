"""Edits of one run or node that make a new job."""

from __future__ import annotations

import dataclasses
from collections.abc import Collection

from weirant.errors import InputError
from weirant.job.assumed import unmarked
from weirant.job.geometry import APART, length_of, nodes_by_id, points_of, run_of, solid_below, stations_of
from weirant.job.identity import STRETCH, fresh
from weirant.job.job import Job
from weirant.job.network import BASINS, INLET, PLAIN, PLANNED, ROOF_ENTRY, STRAIGHT_IN, Basin, Grate, Node, Run
from weirant.job.source_edits import let_go
from weirant.language import tr
from weirant.units.display import STATION, System, shown


def with_run(job: Job, run: Run) -> Job:
    """The job with a run in the place of the one of its identity."""
    there = {stretch.id for stretch in run.stretches}
    gone = [f"runs.{run.id}.stretches.{stretch.id}." for r in job.runs if r.id == run.id for stretch in r.stretches if stretch.id not in there]
    return unmarked(dataclasses.replace(job, runs=tuple(run if r.id == run.id else r for r in job.runs)), gone)


def with_node(job: Job, node: Node) -> Job:
    """The job with a node in the place of the one of its identity."""
    gone = [f"nodes.{node.id}.{part}." for part in ("basin", "outlet", "grate") if getattr(node, part) is None]
    return unmarked(dataclasses.replace(job, nodes=tuple(node if n.id == node.id else n for n in job.nodes)), gone)


def of_node_kind(node: Node, kind: str) -> Node:
    """The node with something of a kind set there; a box goes with what has none, a rim and a status with what is taken out."""
    node = dataclasses.replace(node, kind=kind, basin=(node.basin or Basin()) if kind in BASINS else None,
                               grate=(node.grate or Grate()) if kind == INLET else None, entry=node.entry if kind == ROOF_ENTRY else STRAIGHT_IN)  # fmt: skip
    return node if kind != PLAIN else dataclasses.replace(node, rim=None, status=PLANNED)


def runs_at(job: Job, node: str) -> tuple[Run, ...]:
    """The runs that go through a node."""
    return tuple(run for run in job.runs if node in run.nodes)


def without_unused(job: Job, nodes: Collection[str]) -> Job:
    """The job without those of the nodes that no run goes through; water led there is led nowhere then."""
    going = {*nodes} - {node for run in job.runs for node in run.nodes}
    left = dataclasses.replace(job, nodes=tuple(n for n in job.nodes if n.id not in going))
    return let_go(unmarked(left, [f"nodes.{node}." for node in going]), going)[0]


def length(job: Job, identity: str) -> float:
    """Whole length of a run, m."""
    return length_of(run_of(job, identity), nodes_by_id(job))


def solid_length(job: Job, identity: str) -> float:
    """Length of the solid pipe at the low end of a run, m."""
    return solid_below(run_of(job, identity), length(job, identity))


def with_length(job: Job, identity: str, wanted: float) -> Job:
    """The job with the top end of a run moved along its last length. Raises InputError where a bend or a joined run is in the way."""
    run, nodes = run_of(job, identity), nodes_by_id(job)
    points, stations = points_of(run, nodes), stations_of(run, nodes)
    top = nodes[run.nodes[-1]]
    if len(runs_at(job, top.id)) > 1 or top.outlet is not None:
        raise InputError(tr("whole length"), tr("hangs on what {run} is joined to at its top end; move that on the plan", run=run.name))
    if wanted <= stations[-2] + APART:
        raise InputError(tr("whole length"), tr("must be more than the {length} to the last bend or joint of {run}; take that out first",
                                                length=shown(stations[-2], STATION, System(job.units)), run=run.name), shown(wanted, STATION, System(job.units)))
    (x0, y0), (x1, y1) = points[-2:]
    share = (wanted - stations[-2]) / (stations[-1] - stations[-2])
    return with_node(job, dataclasses.replace(top, x=x0 + share * (x1 - x0), y=y0 + share * (y1 - y0)))


def with_solid_length(job: Job, identity: str, wanted: float) -> Job:
    """The job with so much solid pipe at the low end of a run, m; above it the run collects, or goes on as it did."""
    run, whole = run_of(job, identity), length(job, identity)
    if wanted > whole + APART:
        raise InputError(tr("solid outlet length"), tr("must not be more than the whole length of {run}, {whole}", run=run.name,
                                                       whole=shown(whole, STATION, System(job.units))), shown(wanted, STATION, System(job.units)))
    first, above = run.stretches[0], list(run.stretches[1:])
    if not first.is_solid:  # solid pipe of the same kind before what collects
        first, above = dataclasses.replace(first, is_solid=True, id=fresh(run.stretches, STRETCH)), [first, *above]
    if wanted >= whole - APART:
        return with_run(job, dataclasses.replace(run, stretches=(dataclasses.replace(first, to_station=None),)))
    above = [s for s in above if s.to_station is None or s.to_station > wanted + APART]
    if not above or above[-1].to_station is not None:
        last = above[-1] if above else first
        above.append(dataclasses.replace(last, is_solid=False, to_station=None, id=fresh((*run.stretches, first), STRETCH)))
    below = [dataclasses.replace(first, to_station=wanted)] if wanted > APART else []
    return with_run(job, dataclasses.replace(run, stretches=(*below, *above)))


def pipe_of(job: Job, identity: str) -> str:
    """The pipe of a run by its key: of the first stretch that collects, or else of the lowest."""
    stretches = run_of(job, identity).stretches
    return next((s for s in stretches if not s.is_solid), stretches[0]).pipe


def with_pipe(job: Job, identity: str, key: str) -> Job:
    """The job with every stretch of a run of one pipe."""
    run = run_of(job, identity)
    return with_run(job, dataclasses.replace(run, stretches=tuple(dataclasses.replace(s, pipe=key) for s in run.stretches)))


def fresh_name(job: Job, wanted: str, stem: str = "") -> str:
    """A name that no run bears: the one wanted, or it with a number."""
    names, stem = {run.name for run in job.runs}, stem or wanted
    return wanted if wanted not in names else next(name for i in range(2, len(names) + 3) if (name := f"{stem} {i}") not in names)
