"""In what lengths and widths pipe and cloth are bought for a job; each edit gives a new job."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from functools import partial

from weirant.job.identity import by_id
from weirant.job.job import Job
from weirant.job.products import SoldIn
from weirant.job.run_edits import pipe_of

Read = Callable[[Job, str], float | None]
Write = Callable[[Job, str, float | None], Job]


def _cloth_of(job: Job, identity: str) -> str:
    """The cloth of a trench section by its key. Raises KeyError where there is no such section."""
    section = by_id(job.sections, identity)
    if section is None:
        raise KeyError(identity)
    key: str = section.geotextile
    return key


def _read(key_of: Callable[[Job, str], str], name: str, job: Job, identity: str) -> float | None:
    key = key_of(job, identity)
    return next((getattr(one, name) for one in job.products.sold_in if one.key == key), None)


def _write(key_of: Callable[[Job, str], str], name: str, job: Job, identity: str, value: float | None) -> Job:
    """The job with what a run or a section is made of, wherever else it lies too, bought in another size m; None is the usual one again."""
    key = key_of(job, identity)
    before = next((one for one in job.products.sold_in if one.key == key), SoldIn(key))
    sizes = {"length": before.length, "width": before.width, name: value}
    found, others = SoldIn(key, **sizes), tuple(one for one in job.products.sold_in if one.key != key)
    return dataclasses.replace(job, products=dataclasses.replace(job.products, sold_in=others if found == SoldIn(key) else (*others, found)))


def _both(key_of: Callable[[Job, str], str], name: str) -> tuple[Read, Write]:
    return partial(_read, key_of, name), partial(_write, key_of, name)


PIPE_LENGTH, ROLL_LENGTH, ROLL_WIDTH = _both(pipe_of, "length"), _both(_cloth_of, "length"), _both(_cloth_of, "width")
