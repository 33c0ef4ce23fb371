"""Edits of test holes that make a new job."""

from __future__ import annotations

import dataclasses

from weirant.job.holes import FieldTest, Horizon, TestHole, WaterReading
from weirant.job.identity import HOLE, fresh
from weirant.job.job import Job


def with_hole(job: Job, index: int, hole: TestHole) -> Job:
    """The job with a hole in the place of another, or added at the end."""
    holes = (*job.holes[:index], hole, *job.holes[index + 1 :])
    return dataclasses.replace(job, holes=holes)


def with_new_hole(job: Job, x: float, y: float) -> Job:
    """The job with one more hole, named on, at a place in plan."""
    taken = {hole.name for hole in job.holes}
    name = next(f"TH{n}" for n in range(1, len(taken) + 2) if f"TH{n}" not in taken)
    return with_hole(job, len(job.holes), TestHole(fresh(job.holes, HOLE), name, x, y, tests=(FieldTest(),)))


def with_test(job: Job, index: int, number: int, test: FieldTest) -> Job:
    """The job with a test of a hole in the place of another, or added."""
    hole = job.holes[index]
    tests = (*hole.tests[:number], test, *hole.tests[number + 1 :])
    return with_hole(job, index, dataclasses.replace(hole, tests=tests))


def without_test(job: Job, index: int, number: int) -> Job:
    """The job without a test of a hole."""
    hole = job.holes[index]
    return with_hole(job, index, dataclasses.replace(hole, tests=(*hole.tests[:number], *hole.tests[number + 1 :])))


def with_reading(job: Job, index: int, number: int, row: int, reading: WaterReading | None) -> Job:
    """The job with a reading of a test put in its place, added at the end or taken out; readings are kept in the order of time."""
    test = job.holes[index].tests[number]
    kept = [*test.readings[:row], *test.readings[row + 1 :]]
    readings = sorted([*kept, *([reading] if reading is not None else [])], key=lambda r: r.time)
    return with_test(job, index, number, dataclasses.replace(test, readings=tuple(readings)))


def with_log(job: Job, index: int, log: tuple[Horizon, ...]) -> Job:
    """The job with another log of a hole."""
    return with_hole(job, index, dataclasses.replace(job.holes[index], log=log))
