"""Edits of pipes that are drilled on the job; each gives a new job."""

from __future__ import annotations

import dataclasses

from weirant.job.job import Job
from weirant.job.products import OWN, HoleRow, OwnPipe

USUAL = (HoleRow(0.0, False, 0.0127, 0.2032), HoleRow(120.0, True, 0.0127, 0.4064))  # along the bottom, and on either side (common practice, no source)


def pipe_index(job: Job, key: str) -> int | None:
    """The place of an own pipe among those of the job; None where there is none of that key."""
    return next((index for index, pipe in enumerate(job.products.pipes) if pipe.key == key), None)


def with_drilled(job: Job, pipe: OwnPipe) -> tuple[Job, str]:
    """The job with one more own pipe, drilled in the usual rows, under a key and a name that are not taken; and the key."""
    keys, names = {p.key for p in job.products.pipes}, {p.name for p in job.products.pipes}
    key = next(k for i in range(1, len(keys) + 2) if (k := f"{OWN}drilled-{i}") not in keys)
    name = next(n for i in range(1, len(names) + 2) if (n := pipe.name if i == 1 else f"{pipe.name} ({i})") not in names)
    made = dataclasses.replace(pipe, key=key, name=name, rows=USUAL)
    return dataclasses.replace(job, products=dataclasses.replace(job.products, pipes=(*job.products.pipes, made))), key


def with_rows(job: Job, key: str, rows: tuple[HoleRow, ...]) -> Job:
    """The job with other rows of holes in an own pipe."""
    pipes = tuple(dataclasses.replace(p, rows=rows) if p.key == key else p for p in job.products.pipes)
    return dataclasses.replace(job, products=dataclasses.replace(job.products, pipes=pipes))
