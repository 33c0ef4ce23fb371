"""The sediment of an old drain and of the run that it is: one figure, wherever it is typed."""

from __future__ import annotations

import dataclasses
from typing import TypeVar

from weirant.job.identity import by_id
from weirant.job.job import Job
from weirant.job.network import Run
from weirant.job.old_drains import OldDrain
from weirant.job.run_edits import with_run

T = TypeVar("T")


def of_run(job: Job, identity: str) -> float:
    """Sediment m in a run's pipe."""
    return _run(job, identity).sediment


def with_run_sediment(job: Job, identity: str, depth: float) -> Job:
    """The job with sediment m deep in a run, and in the old drains that are said to be it."""
    run = _run(job, identity)
    job = with_run(job, dataclasses.replace(run, sediment=depth))
    drains = tuple(dataclasses.replace(d, sediment=depth) if d.run == run.id else d for d in job.old_drains)
    return dataclasses.replace(job, old_drains=drains) if drains != job.old_drains else job


def of_drain(job: Job, identity: str) -> float | None:
    """Sediment m in an old drain's pipe, None where nobody looked. Raises KeyError where there is no such drain."""
    return _drain(job, identity).sediment


def with_drain_sediment(job: Job, identity: str, depth: float | None) -> Job:
    """The job with sediment m deep in an old drain, and in the run that it is."""
    drain = _drain(job, identity)
    job = dataclasses.replace(job, old_drains=tuple(dataclasses.replace(d, sediment=depth) if d.id == drain.id else d for d in job.old_drains))
    return with_run(job, dataclasses.replace(_run(job, drain.run), sediment=depth or 0.0)) if drain.run else job


def _run(job: Job, step: str) -> Run:
    """The run of an identity or a number, as a path may have either. Raises KeyError where there is none."""
    return _of(job.runs, step)


def _drain(job: Job, step: str) -> OldDrain:
    return _of(job.old_drains, step)


def _of(things: tuple[T, ...], step: str) -> T:
    found: T | None = by_id(things, step)
    if found is None and step.isdecimal() and int(step) < len(things):
        found = things[int(step)]
    if found is None:
        raise KeyError(step)
    return found
