"""What a contractor's jobs have in common: with whom, dug how, and what rain takes; a new job begins with what was typed last."""

from __future__ import annotations

import dataclasses

from weirant.errors import InputError
from weirant.job import Job
from weirant.job.work_terms import METHODS, WorkTerms, is_sound
from weirant.ui.memory import remember, words


def keep_usual(terms: WorkTerms) -> None:
    """Remember them."""
    for key, value in (("people", str(terms.people)), ("rainy days", " ".join(map(repr, terms.rain))), ("dig with", terms.method)):
        remember(key, value)


def with_usual(job: Job) -> Job:
    """A new job with the terms of the last one, but for its day, its gate and its days off; what cannot be read any more is as usual."""
    usual = WorkTerms()
    try:
        crew, rain = int(words("people") or usual.people), tuple(map(float, words("rainy days").split())) or usual.rain
        work = dataclasses.replace(job.work, people=crew, rain=rain, method=words("dig with") if words("dig with") in METHODS else usual.method)
        is_sound(work)
    except (InputError, ValueError):
        return job
    return dataclasses.replace(job, work=work)
