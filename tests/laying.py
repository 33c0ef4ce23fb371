"""Runs laid straight north, and runs of a job changed, for the tests."""

from __future__ import annotations

import dataclasses

from weirant.ground.network import lay_out
from weirant.ground.stretches import makes_of
from weirant.job.geometry import run_of
from weirant.job.network import Node, Outlet, Run, Stretch
from weirant.job.run_edits import with_run
from weirant.job.section import TrenchSection
from weirant.library import shipped
from weirant.words.findings import worded

OPEN = Outlet()
COLLECTS = Stretch(is_solid=False, id="p2")


def sieved(soil, **said):
    """A soil with what a laboratory said of its lowest layer."""
    return dataclasses.replace(soil, layers=(*soil.layers[:-1], dataclasses.replace(soil.layers[-1], **said)))


def stretches(solid, length):
    """So much solid pipe at the low end, and what collects above it."""
    return (Stretch(is_solid=True),) if solid >= length else (Stretch(is_solid=True, to_station=solid), COLLECTS) if solid else (COLLECTS,)


def laid(invert, slope, solid, length, identity="a", outlet=OPEN, **more):
    """A run of a length from the origin north, with so much solid pipe at its low end."""
    nodes = {"n1": Node("n1", 0.0, 0.0, outlet=outlet), "n2": Node("n2", 0.0, length)}
    return lay_out(Run(identity, identity, ("n1", "n2"), invert, slope, stretches(solid, length), **more), nodes)


def pipe_of(inner, wall=0.01, roughness_n=0.012, key="some"):
    """A pipe of a size, else like the usual one."""
    return dataclasses.replace(shipped().pipe("corrugated-100"), key=key, inner_diameter=inner, outer_diameter=inner + 2 * wall, roughness_n=roughness_n)


def made(run, *pipes, stone=0.3, **section):
    """The stretches of a run, each of its pipe (0.1 m of bore where none is named), in a section with so much stone over the bottom, m."""
    pipes = pipes or (pipe_of(0.1),) * len(run.run.stretches)
    library = dataclasses.replace(shipped(), pipes={pipe.key: pipe for pipe in pipes})
    trench = TrenchSection(**{"bedding": 0.05, "stone_cover": stone - 0.05 - pipes[0].outer_diameter} | section)
    keyed = dataclasses.replace(run.run, stretches=tuple(dataclasses.replace(s, pipe=p.key) for s, p in zip(run.run.stretches, pipes, strict=True)))
    return makes_of([run], (trench,), library).along(dataclasses.replace(run, run=keyed))


def with_changes(job, identity, **changes):
    """The job with some fields of a run changed."""
    return with_run(job, dataclasses.replace(run_of(job, identity), **changes))


def only(job, *identities):
    """The job with some of its runs only, and all that hangs on the others gone."""
    runs = tuple(run for run in job.runs if run.id in identities)
    used = {n for run in runs for n in run.nodes}
    sources = tuple(s for s in job.sources if s.node in used)
    return dataclasses.replace(job, runs=runs, nodes=tuple(n for n in job.nodes if n.id in used), sources=sources)


def one(outcome, key, subject=None):
    """The finding of a check; of one subject where it is named, else the first."""
    return next(f for f in outcome.findings if f.code == key and subject in (None, f.subject))


def reason_of(outcome, key, subject=None):
    """The sentence of that finding."""
    return worded(one(outcome, key, subject), outcome.job).reason
