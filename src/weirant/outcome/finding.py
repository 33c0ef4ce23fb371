"""A finding: one number against one limit from one source."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from weirant.errors import InputError
from weirant.job import Job
from weirant.job.paths import with_value
from weirant.outcome.figure import Figure
from weirant.units.display import Kind

GONE = (KeyError, AttributeError, StopIteration)  # what a command meets in a job without the run or section it is about
NOT_THERE = "what this would change is not there any more"
DRY_IN_TIME = "dry-in-time"  # key of the one finding that is simulated, and so comes after the others


class State(StrEnum):
    """How a check came out, worst first."""

    FAILS = "fails"
    TIGHT = "tight"
    UNKNOWN = "unknown"
    HOLDS = "holds"

    @property
    def rank(self) -> int:
        """0 for the worst."""
        return _RANKS[self]


_RANKS = {state: rank for rank, state in enumerate(State)}


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
class Fix:
    """A change that would help, by its name: a command with its arguments, which makes of a job the job as it would be.

    It is carried out only when it is looked at or taken. Raises InputError where the job does not let it be.
    """

    name: str
    made: Callable[[Job], Job]


@dataclass(frozen=True)
class Finding:
    """State, value against limit, reason in one sentence, source and fixes.

    ``at_most`` tells which side of the limit is good. ``value`` is None where unknown, and ``reason`` then names the
    measurement that would settle it. ``subject`` is the identity of what it is about (empty: the job as a whole), ``place`` that of the place to
    keep dry which it is about, ``station`` where on that run it happens, ``elements`` the fields it hangs on. ``also`` are the subjects of which the
    same is found, less badly, where findings are told together.
    """

    key: str
    family: str
    title: str
    state: State
    reason: str
    source: str
    value: float | None = None
    limit: float | None = None
    kind: Kind | None = None
    at_most: bool = True
    figure: Figure | None = None
    fixes: tuple[Fix, ...] = ()
    station: float | None = None
    elements: tuple[str, ...] = ()
    caution: str = ""
    subject: str = ""
    place: str = ""
    also: tuple[str, ...] = ()

    @property
    def about(self) -> tuple[str, str, str]:
        """What tells it from every other finding: its key, its subject and its place."""
        return self.key, self.subject, self.place

    @property
    def margin(self) -> float | None:
        """How far the value is on the good side of the limit, SI; negative where it fails."""
        if self.value is None or self.limit is None:
            return None
        return self.limit - self.value if self.at_most else self.value - self.limit
