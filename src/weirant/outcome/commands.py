"""Commands: changes of a job that are carried out only when they are looked at or taken."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from weirant.errors import InputError
from weirant.job import Job
from weirant.job.paths import with_value
from weirant.language import tr
from weirant.records import dataclass

GONE = (KeyError, AttributeError, StopIteration)  # what a command meets in a job without the run or section it is about
NOT_THERE = tr("what this would change is not there any more")

Command = Callable[[Job], Job]


@dataclass(frozen=True)
class Set:
    """The command that sets one field of a job."""

    path: str
    value: Any

    def __call__(self, job: Job) -> Job:
        """The job with the field set. Raises InputError where there is no such field any more."""
        try:
            return with_value(job, self.path, self.value)
        except GONE as fault:
            raise InputError("", NOT_THERE) from fault


@dataclass(frozen=True)
class Do:
    """The command that makes another job of one by a function of it and what is given by name."""

    act: Callable[..., Job]
    given: dict[str, Any]

    def __call__(self, job: Job) -> Job:
        """The job that the function makes. Raises InputError where what it is about is not there any more."""
        try:
            return self.act(job, **self.given)
        except GONE as fault:
            raise InputError("", NOT_THERE) from fault


def do(act: Callable[..., Job], **given: Any) -> Do:
    """The command of a function and what is given to it."""
    return Do(act, given)


@dataclass(frozen=True)
class Instead:
    """The command that puts another job in the place of the present one."""

    job: Job

    def __call__(self, _: Job) -> Job:
        """The other job."""
        return self.job


@dataclass(frozen=True)
class Offer:
    """A command with the words by which it is offered, tried and undone. Raises InputError where the job does not let it be."""

    name: str
    made: Command
