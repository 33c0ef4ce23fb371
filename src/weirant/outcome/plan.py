"""A plan of the work: tasks with their hours, what they wait for, and when they come."""

from __future__ import annotations

import datetime
from collections.abc import Mapping

from weirant.outcome.bill import Origin
from weirant.records import dataclass

WORKS, WAITS, COMES, VISIT = "work", "wait", "delivery", "visit"  # what a task is: hours of a crew, days that pass, what is brought, somebody who comes


@dataclass(frozen=True)
class PlannedTask:
    """A task by its identity: its name, the run it is about (empty: all of the job), hours that it takes with the people and the machine it has, working days that pass where it
    only waits, and the tasks that must be done before it.
    """

    id: str
    name: str
    kind: str
    run: str = ""
    hours: float = 0.0
    days: int = 0
    people: int = 0
    machine: str = ""
    after: tuple[str, ...] = ()
    origins: tuple[Origin, ...] = ()


@dataclass(frozen=True)
class Slot:
    """When a task begins and ends, in working hours from the start of the job."""

    begins: float
    ends: float


@dataclass(frozen=True)
class WorkPlan:
    """Tasks in the order in which they begin, their slots by identity, those on the critical path, working hours in a day; how many working days it takes without rain, and as odds:
    by so many of ten times it is done within so many; first and last day of each task, and all working days.
    """

    tasks: tuple[PlannedTask, ...]
    slots: Mapping[str, Slot]
    critical: tuple[str, ...]
    day: float
    dry_days: int
    within: Mapping[int, int]
    start: datetime.date
    dates: Mapping[str, tuple[datetime.date, datetime.date]]
    working_days: tuple[datetime.date, ...]
