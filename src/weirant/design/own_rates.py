"""What a crew did in an hour, by the hours that its earlier jobs took: it stands in the place of what is usual."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable, Mapping
from statistics import median

from weirant.design.bill import bill_of
from weirant.design.work import Task, quicker, tasks_of
from weirant.job import Job
from weirant.job.work_terms import Took
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import PriceList

LEAST, MOST = 1e-3, 1e4  # m, m², m³ or pieces in an hour that are believed


def tasks_timed(outcome: Outcome) -> tuple[Task, ...]:
    """The kinds of work of a job, as they usually take."""
    terms = outcome.job.work
    return tasks_of(bill_of(outcome), terms.method, haul=terms.haul)


def measured_rates(outcome: Outcome) -> dict[str, float]:
    """How much of each kind of work was done in an hour (m, m², m³ or pieces, by the key of the library's rate), where the hours were typed; dug earth as
    it would have been in loam, what is brought as over 100 ft, so that it serves the next site too.
    """
    hours = {took.work: took.hours for took in outcome.job.work.took}
    haul = outcome.job.work.haul
    rates = {task.rate.key: task.effort / hours[task.rate.key] / quicker(task.rate, haul) for task in tasks_timed(outcome) if task.rate.key in hours}
    return {key: rate for key, rate in rates.items() if LEAST <= rate <= MOST}


def rates_of_jobs(jobs: Iterable[Mapping[str, float]]) -> dict[str, float]:
    """Of several jobs the one in the middle, for each kind of work."""
    found: dict[str, list[float]] = {}
    for rates in jobs:
        for key, rate in rates.items():
            found.setdefault(key, []).append(rate)
    return {key: median(rates) for key, rates in found.items()}


def with_rates(prices: PriceList, rates: Mapping[str, float]) -> PriceList:
    """A list with a crew's own rates, where it does not name them itself."""
    return dataclasses.replace(prices, rates={**rates, **prices.rates}) if rates else prices


def with_took(job: Job, work: str, hours: float | None) -> Job:
    """The job with the hours that a kind of work took; None takes them out."""
    took = tuple(one for one in job.work.took if one.work != work) + (() if hours is None else (Took(work, hours),))
    return dataclasses.replace(job, work=dataclasses.replace(job.work, took=took))
