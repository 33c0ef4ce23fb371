"""What the crew did in an hour on its jobs, remembered by the program from one job to the next."""

from __future__ import annotations

import json
import math

from weirant.design.own_rates import LEAST, MOST, measured_rates, rates_of_jobs
from weirant.ui.document import Document
from weirant.ui.memory import remember, words
from weirant.ui.other_ways import kept_by

KEY, UNSAVED, MOST_JOBS = "own rates", "", 30


def _all() -> dict[str, dict[str, float]]:
    try:
        found = json.loads(words(KEY) or "{}")
    except (ValueError, RecursionError):
        return {}
    jobs = found.items() if isinstance(found, dict) else ()
    return {job: {key: float(rate) for key, rate in rates.items() if isinstance(rate, int | float) and math.isfinite(rate) and LEAST <= rate <= MOST}
            for job, rates in jobs if isinstance(rates, dict)}  # fmt: skip


def own_rates() -> dict[str, float]:
    """By the key of each kind of work, over all jobs that are remembered."""
    return rates_of_jobs(_all().values())


def carry_rates(before: str, document: Document) -> None:
    """The job was saved for the first time: what was remembered of it stands under its file, and once."""
    kept = _all()
    if before == document.mark and UNSAVED in kept:
        remember(KEY, json.dumps({_kept_by(document) if name == UNSAVED else name: rates for name, rates in kept.items()}))


def _kept_by(document: Document) -> str:
    """One job that has no file has a place here, the one in hand: what is thrown away unsaved is not what the crew does."""
    return kept_by(document) if document.path is not None else UNSAVED


def keep_rates(document: Document) -> None:
    """Remember those of the job in hand; a job of which nothing is typed any more is forgotten, as are those before the last thirty."""
    kept, name = _all(), _kept_by(document)
    rates = measured_rates(document.outcome) if document.job.work.took else {}
    if kept.get(name, {}) == rates:
        return
    kept.pop(name, None)
    remember(KEY, json.dumps(dict([*kept.items(), *([(name, rates)] if rates else [])][-MOST_JOBS:])))
