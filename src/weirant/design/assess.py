"""The whole calculation of one job."""

from __future__ import annotations

import dataclasses

from weirant.checks import run_checks
from weirant.checks.collects import protected_station
from weirant.design.soil import soil_figures
from weirant.design.takeoff import stone_height, take_off
from weirant.design.water import water_of
from weirant.ground.grade_line import GradeLine, Section, lay
from weirant.ground.levels import reduce_book
from weirant.hydraulics.run_flow import RunFlow, run_flow
from weirant.job import Job
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
    if outcome.book.ground is not None:
        outcome = _with_ground(outcome)
    return dataclasses.replace(outcome, findings=run_checks(outcome))


def _with_ground(outcome: Outcome) -> Outcome:
    job, pipe = outcome.job, outcome.pipe
    assert outcome.book.ground is not None
    section = Section(pipe.inner_diameter, pipe.wall, job.trench.bedding, stone_height(job, pipe))
    grade = lay(outcome.book.ground, job.line, section)
    outcome = dataclasses.replace(outcome, grade=grade)
    # The drain's level sets the inflow and the inflow sets the level: twice round is enough, the pipe being small
    # beside the depth of the water table.
    water, best, high = _water_and_flow(outcome, grade, pipe, pipe.inner_diameter / 2)
    depth_of_water = high.at_station(grade, protected_station(outcome))
    water, best, high = _water_and_flow(outcome, grade, pipe, depth_of_water)
    takeoff = take_off(job, grade, pipe, outcome.aggregate, outcome.geotextile)
    return dataclasses.replace(outcome, flow=best, flow_high=high, water=water, takeoff=takeoff)


def _water_and_flow(
    outcome: Outcome, grade: GradeLine, pipe: Pipe, water_in_pipe: float
) -> tuple[Water, RunFlow, RunFlow]:
    station = protected_station(outcome)
    drain_depth = grade.at(grade.ground - grade.invert, station) - water_in_pipe
    water = water_of(outcome.job, outcome.soil, drain_depth, pipe.outer_diameter / 2)
    best = water.inflow.value if water.inflow else 0.0
    high = water.inflow.band[1] if water.inflow and water.inflow.band else best
    return water, _flow(outcome, grade, pipe, best, water), _flow(outcome, grade, pipe, high, water)


def _flow(outcome: Outcome, grade: GradeLine, pipe: Pipe, inflow: float, water: Water) -> RunFlow:
    job = outcome.job
    collecting = job.line.length - job.line.solid_length
    spread = inflow + water.storm.value / collecting
    return run_flow(grade, job.line, pipe.inner_diameter, pipe.roughness_n, job.choice.pipe_count, spread,
                    water.roof.value if water.roof else 0.0)  # fmt: skip
