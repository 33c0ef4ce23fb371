"""The whole calculation of one job."""

from __future__ import annotations

import dataclasses

from weirant.checks import run_checks
from weirant.design.flows import with_flows
from weirant.design.session import Session
from weirant.design.site import site_of
from weirant.design.soil import soil_figures
from weirant.design.takeoff import stone_height, take_off, with_amounts
from weirant.ground.grade_line import Section
from weirant.ground.levels import reduce_book
from weirant.job import Job
from weirant.library import Library, Pipe, shipped
from weirant.outcome.outcome import Outcome
from weirant.units.display import System


def assess(job: Job, library: Library | None = None, session: Session | None = None) -> Outcome:
    """Ground, grade, water, pipe, quantities and findings of a job and each of its runs; no file and no screen touched.

    ``session`` keeps what the next assessment can use again. Raises InputError where a product named in the job is not in the library.
    """
    library, session = library or shipped(), session or Session()
    pipe = library.pipe(job.choice.pipe)
    book = session.once("book", (job.survey, job.units), lambda: reduce_book(job.survey, System(job.units)))
    soil = session.once("soil", (job.soil, library), lambda: soil_figures(job, library))
    site = with_amounts(job, with_flows(job, site_of(job, book, section_of(job, pipe), session), soil, pipe), pipe)
    outcome = Outcome(job, book, pipe, library.aggregate(job.choice.aggregate), library.geotextile(job.choice.geotextile), soil, site)
    if any(found.grade is not None for found in site.runs):
        outcome = dataclasses.replace(outcome, takeoff=take_off(job, site, pipe, outcome.aggregate, outcome.geotextile))
    session.rest()
    return dataclasses.replace(outcome, findings=run_checks(outcome))


def section_of(job: Job, pipe: Pipe) -> Section:
    """What of the trench section bears on levels."""
    return Section(pipe.inner_diameter, pipe.wall, job.trench.bedding, stone_height(job, pipe))
