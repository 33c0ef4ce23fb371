"""The whole calculation of one job."""

from __future__ import annotations

import dataclasses

from weirant.checks import run_checks
from weirant.checks.collects import protected_station
from weirant.design.site import site_of
from weirant.design.soil import soil_figures
from weirant.design.takeoff import stone_height, take_off
from weirant.design.water import water_of
from weirant.ground.grade_line import GradeLine, Section
from weirant.ground.levels import reduce_book
from weirant.hydraulics.run_flow import RunFlow, run_flow
from weirant.job import Job
from weirant.job.network import MAIN
from weirant.library import Library, Pipe, shipped
from weirant.outcome.outcome import Outcome, Water
from weirant.units.display import System


def assess(job: Job, library: Library | None = None) -> Outcome:
    """Ground, grade, water, pipe, quantities and findings of a job; about 10 ms, no file and no screen touched.

    Raises InputError where a product named in the job is not in the library.
    """
    library = library or shipped()
    outcome = Outcome(job, reduce_book(job.survey, System(job.units)), library.pipe(job.choice.pipe),
                      library.aggregate(job.choice.aggregate), library.geotextile(job.choice.geotextile),
                      soil_figures(job, library))  # fmt: skip
    section = section_of(job, outcome.pipe)
    site = site_of(job, outcome.book, outcome.pipe, section)
    outcome = dataclasses.replace(outcome, site=site)
    main = site.run(MAIN)
    if main is not None and main.grade is not None:
        outcome = _with_ground(outcome, main.grade)
    return dataclasses.replace(outcome, findings=run_checks(outcome))


def section_of(job: Job, pipe: Pipe) -> Section:
    """What of the trench section bears on levels."""
    return Section(pipe.inner_diameter, pipe.wall, job.trench.bedding, stone_height(job, pipe))


def _with_ground(outcome: Outcome, grade: GradeLine) -> Outcome:
    job, pipe = outcome.job, outcome.pipe
    outcome = dataclasses.replace(outcome, grade=grade)
    # The drain's level sets the inflow and the inflow sets the level: twice round is enough, the pipe being small
    # beside the depth of the water table.
    first = _flow(outcome, grade, pipe, _water(outcome, grade, pipe, pipe.inner_diameter / 2), high=True)
    water = _water(outcome, grade, pipe, first.at_station(grade, protected_station(outcome)))
    best, high = (_flow(outcome, grade, pipe, water, high=end) for end in (False, True))
    assert outcome.site is not None
    takeoff = take_off(job, outcome.site, pipe, outcome.aggregate, outcome.geotextile)
    return dataclasses.replace(outcome, flow=best, flow_high=high, water=water, takeoff=takeoff)


def _water(outcome: Outcome, grade: GradeLine, pipe: Pipe, water_in_pipe: float) -> Water:
    """Water for a depth of water in the pipe, m."""
    drain_depth = grade.at(grade.ground - grade.invert, protected_station(outcome)) - water_in_pipe
    return water_of(outcome.job, outcome.soil, drain_depth, pipe.outer_diameter / 2)


def _flow(outcome: Outcome, grade: GradeLine, pipe: Pipe, water: Water, *, high: bool) -> RunFlow:
    """Flow along the run, for the best figure of the soil or the high end of its band."""
    job, inflow = outcome.job, 0.0
    if water.inflow is not None:
        inflow = water.inflow.band[1] if high and water.inflow.band else water.inflow.value
    spread = inflow + water.storm.value / (job.line.length - job.line.solid_length)
    roof = water.roof.value if water.roof else 0.0
    return run_flow(grade, job.line, pipe.inner_diameter, pipe.roughness_n, job.choice.pipe_count, spread, roof)
