"""The job of a command, with what the command line says of how it is built in the place of what the job does."""

from __future__ import annotations

from argparse import Namespace
from collections.abc import Callable, Mapping
from pathlib import Path

from weirant.cli.job_commands import open_job
from weirant.design.assess import assess
from weirant.design.own_rates import measured_rates, rates_of_jobs
from weirant.design.plan_terms import days_off, length_or_none, people, rainy_shares
from weirant.errors import InputError
from weirant.formats.csv_text import LARGEST
from weirant.formats.plain_files import read_plain_text
from weirant.formats.rain_days_csv import read_rain_days
from weirant.job import Job
from weirant.job.paths import with_value
from weirant.job.work_terms import date_of
from weirant.language import tr

TABLES = (".csv", ".txt")
READ: Mapping[str, tuple[str, Callable[[str, str], object]]] = {
    "start": ("start", lambda words, field: date_of(words, field).isoformat()), "crew": ("people", people), "rain": ("rain", lambda words, field: _rain(words, field)),
    "method": ("method", lambda words, _: words), "gate": ("gate", length_or_none), "haul": ("haul", length_or_none), "off": ("days_off", days_off)}  # fmt: skip


def job_as_given(given: Namespace) -> Job:
    """Open it. Raises InputError where one of the options cannot be."""
    job = open_job(given.job)
    for option, (field, read) in READ.items():
        words = getattr(given, option, None)
        if words is not None:
            job = with_value(job, f"work.{field}", read(words, option))
    return job


def _rain(words: str, field: str) -> tuple[float, ...]:
    """A share of the days, twelve numbers, or a file of the days with rain. Raises InputError, and JobFileError where the file cannot be used."""
    if not words.lower().endswith(TABLES):
        return rainy_shares(words, field)
    path = Path(words)
    return read_rain_days(read_plain_text(path, LARGEST, tr("a list of days with rain")), path.name)


def rates_given(given: Namespace) -> dict[str, float]:
    """What the crew did in an hour on the earlier jobs that are named. Raises InputError where one of them says nothing of it."""
    jobs = []
    for name in given.like or []:
        rates = measured_rates(assess(open_job(name)))
        if not rates:
            raise InputError("like", tr("says not how long anything took"), name)
        jobs.append(rates)
    return rates_of_jobs(jobs)
