"""Reads and replaces one field of a job by its path, such as ``trench.width`` or ``soil.layers.0.texture``."""

from __future__ import annotations

import dataclasses
from typing import Any

from weirant.errors import InputError
from weirant.job.fields import Spec
from weirant.job.job import Job


def value_at(thing: Any, path: str) -> Any:
    """The value at a path."""
    for step in path.split("."):
        thing = thing[int(step)] if isinstance(thing, tuple) else getattr(thing, step)
    return thing


def field_at(job: Job, path: str) -> dataclasses.Field[Any]:
    """The description of the field at a path."""
    parent, _, name = path.rpartition(".")
    owner = value_at(job, parent) if parent else job
    return next(f for f in dataclasses.fields(owner) if f.name == name)


def spec_at(job: Job, path: str) -> Spec:
    """The numeric description of the field at a path; KeyError where it is no number."""
    spec: Spec = field_at(job, path).metadata["spec"]
    return spec


def label_at(job: Job, path: str) -> str:
    """The label of the field at a path."""
    metadata = field_at(job, path).metadata
    return metadata["spec"].label if "spec" in metadata else str(metadata.get("label", path))


def with_value(job: Job, path: str, value: Any) -> Job:
    """The job with one value replaced and no longer marked as assumed. Refuses what the field may not take."""
    if isinstance(value, float):
        spec_at(job, path).check(value)
    words = field_at(job, path).metadata.get("words") if not path.rpartition(".")[2].isdigit() else None
    if words and value not in words:
        raise InputError(label_at(job, path), f"must be one of {', '.join(words)}", value)
    changed: Job = _replaced(job, path.split("."), value)
    if path in job.assumed:
        changed = dataclasses.replace(changed, assumed=tuple(p for p in job.assumed if p != path))
    return changed


def _replaced(thing: Any, steps: list[str], value: Any) -> Any:
    if not steps:
        return value
    if isinstance(thing, tuple):
        index = int(steps[0])
        return (*thing[:index], _replaced(thing[index], steps[1:], value), *thing[index + 1 :])
    return dataclasses.replace(thing, **{steps[0]: _replaced(getattr(thing, steps[0]), steps[1:], value)})
