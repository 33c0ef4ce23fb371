"""What of a job is marked as assumed, by the paths to its fields."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable

from weirant.job.job import Job


def unmarked(job: Job, gone: Iterable[str]) -> Job:
    """The job in which nothing is assumed of what is there no more, named by how the paths to it begin."""
    stems = tuple(gone)
    assumed = tuple(path for path in job.assumed if not path.startswith(stems))
    return dataclasses.replace(job, assumed=assumed) if len(assumed) < len(job.assumed) else job
