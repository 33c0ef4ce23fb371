"""One run taken in hand: the job seen as if that run were its main line, and back again.

Profile and section are drawn, and dragged, for whichever run is in hand by the same code.
"""

from __future__ import annotations

import dataclasses

from weirant.job.job import Job
from weirant.job.network import MAIN


def index_of(job: Job, name: str) -> int:
    """Number of the branch of a name; −1 for the main line and for a name that is not there."""
    return next((i for i, b in enumerate(job.branches) if b.name == name), -1)


def as_main(job: Job, name: str) -> Job:
    """The job with the line of a run in the place of the main line."""
    index = index_of(job, name)
    return job if index < 0 else dataclasses.replace(job, line=job.branches[index].line)


def put_back(job: Job, seen: Job, name: str) -> Job:
    """The job after an edit to what ``as_main`` gave."""
    index = index_of(job, name)
    if index < 0:
        return seen
    changed = dataclasses.replace(job.branches[index], line=seen.line)
    return dataclasses.replace(seen, line=job.line, branches=(*seen.branches[:index], changed, *seen.branches[index + 1 :]))


def path_in(job: Job, name: str, path: str) -> str:
    """Where a field of the line in hand stands in the job: ``line.slope`` may be ``branches.0.line.slope``."""
    index = index_of(job, name)
    return path if index < 0 or not path.startswith("line.") else f"branches.{index}.{path}"


def run_names(job: Job) -> tuple[str, ...]:
    """The main line and the branches, in the order of the file."""
    return MAIN, *(b.name for b in job.branches)
