"""Pipes that share a trench: a run laid beside another, one put into another's trench, in a place of the section or at its own level."""

from __future__ import annotations

import dataclasses
import math

from weirant.errors import InputError
from weirant.ground.in_place import in_place
from weirant.ground.moves import aside
from weirant.ground.network import laid_run
from weirant.job import Job
from weirant.job.geometry import run_of
from weirant.job.identity import NODE, RUN, fresh
from weirant.job.network import Node, Outlet, Run
from weirant.job.run_edits import fresh_name, with_run
from weirant.job.section import Bore
from weirant.job.section_edits import in_sections_of_its_own, sections_along, with_place_for, with_section
from weirant.language import tr
from weirant.library import Library
from weirant.outcome.trench_pipes import PITCH
from weirant.rules import Rules

ROUNDED = 6  # places m are kept to the micrometre


def lay_beside(job: Job, host: str, library: Library, rules: Rules, *, collects: bool) -> tuple[Job, str]:
    """A new run along the whole of another, in a new place beside its pipe in the same trench, with an outlet of its own; and its identity.

    Raises InputError where the run lies in another's trench itself, or the section has no place left.
    """
    _has_own_trench(job, host)
    laid = laid_run(job, host)
    job, bore = _with_room(job, host, library, rules)
    across = sections_along(job, host)[0].bore(bore).across
    nodes: list[Node] = []
    for index, (_, station) in enumerate(laid.nodes):
        (x, y), (east, north) = laid.alignment.point(station), aside(laid, station, across)
        nodes.append(Node(fresh((*job.nodes, *nodes), NODE), round(x + east, ROUNDED), round(y + north, ROUNDED), outlet=Outlet() if index == 0 else None))
    first = dataclasses.replace(laid.run.stretches[0], is_solid=not collects, to_station=None)
    name = fresh_name(job, tr("{run}, second pipe", run=laid.name) if collects else tr("{run}, solid pipe", run=laid.name))
    run = Run(fresh(job.runs, RUN), name, tuple(n.id for n in nodes), laid.invert, laid.slope, (first,), trench_of=host, bore=bore)
    return in_place(dataclasses.replace(job, nodes=(*job.nodes, *nodes), runs=(*job.runs, run)), library), run.id


def put_into(job: Job, run: str, host: str, library: Library, rules: Rules, *, in_a_place: bool) -> Job:
    """The job with a run in the trench of another, in a new place of its section or at the level it has.

    Raises InputError where one of them cannot.
    """
    if run == host:
        raise InputError(run_of(job, run).name, tr("cannot lie in its own trench as in another's"))
    _has_own_trench(job, host)
    guests = [r.name for r in job.runs if r.trench_of == run]
    if guests:
        raise InputError(run_of(job, run).name, tr("has {guests} in its own trench; take that out first", guests=guests[0]))
    bore = ""
    job = out_of(job, run)
    if in_a_place:
        job, bore = _with_room(job, host, library, rules)
    return in_place(with_run(job, dataclasses.replace(run_of(job, run), trench_of=host, bore=bore)), library)


def out_of(job: Job, run: str) -> Job:
    """The job with a run in a trench of its own again; the place it had is given up."""
    here = run_of(job, run)
    job = with_run(job, dataclasses.replace(here, trench_of="", bore=""))
    return without_place(job, here.trench_of, here.bore) if here.bore else job


def without_place(job: Job, host: str, bore: str) -> Job:
    """The job without a place that no run takes any more in the sections along a run; a place that a section needs elsewhere stays."""
    taken = {(s.id, r.bore) for r in job.runs if r.bore for s in sections_along(job, r.trench_of)}
    for section in sections_along(job, host):
        if (section.id, bore) not in taken and len(section.bores) > 1:
            job = with_section(job, dataclasses.replace(section, bores=tuple(b for b in section.bores if b.id != bore)))
    return job


def sides_changed(job: Job, run: str) -> Job:
    """The job with a run's pipe on the other side of the trench it lies in, and what was there on its side."""
    here = run_of(job, run)
    for section in sections_along(job, here.trench_of or run):
        job = with_section(job, dataclasses.replace(section, bores=tuple(dataclasses.replace(b, across=-b.across) for b in section.bores)))
    return job


def _has_own_trench(job: Job, host: str) -> None:
    run = run_of(job, host)
    if run.trench_of:
        raise InputError(run.name, tr("lies in the trench of {job} itself; choose that one", job=run_of(job, run.trench_of).name))


def _with_room(job: Job, host: str, library: Library, rules: Rules) -> tuple[Job, str]:
    """The job with a new place in the trench of a run, right of all that are there, on the bedding; all of them moved to the middle, and the
    trench as wide as they ask with stone between and beside them.
    """
    job = in_sections_of_its_own(job, host)
    run = run_of(job, host)
    own = max(library.pipe(s.pipe).outer_diameter for s in run.stretches)
    reach = (run.pipes - 1) * PITCH * own / 2  # of its pipes that lie side by side
    rightmost = max(bore.across for section in sections_along(job, host) for bore in section.bores)
    job, bore = with_place_for(job, host, Bore("", round(rightmost + reach + own + rules.side_room, ROUNDED)))
    for section in sections_along(job, host):
        left, right = (edge(b.across for b in section.bores) for edge in (min, max))
        middle, wide = (left - reach + right) / 2, right - left + reach + own + 2 * rules.side_room
        bores = tuple(dataclasses.replace(b, across=round(b.across - middle, ROUNDED)) for b in section.bores)
        job = with_section(job, dataclasses.replace(section, bores=bores, width=max(section.width, math.ceil(wide * 1e4) / 1e4)))
    return job, bore
