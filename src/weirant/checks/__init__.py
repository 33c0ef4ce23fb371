"""The checks, one family a file; each is a function from what was computed to a finding about one kind of subject: the job, or a run.

A check that has nothing to look at gives None. Every run is looked at by the same checks; none is the first.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterator
from functools import partial

from shapely.errors import GEOSException

from weirant.checks import allowed, around, carries, collects, falls, filters, stands
from weirant.errors import WeirantError
from weirant.outcome.finding import Finding, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome

JobCheck = Callable[[Outcome], Finding | None]
RunCheck = Callable[[Outcome, RunOutcome], Finding | None]
Kept = Callable[[str, RunOutcome, Callable[[], tuple[Finding, ...]]], tuple[Finding, ...]]

FAMILIES: dict[str, tuple[tuple[JobCheck, ...], tuple[RunCheck, ...]]] = {
    "falls": (falls.JOB, falls.RUN), "collects": (collects.JOB, ()), "carries": (carries.JOB, carries.RUN),
    "filters": (filters.JOB, ()), "stands": (stands.JOB, stands.RUN), "allowed": (allowed.JOB, ()), "around": (around.JOB, around.RUN),
}  # fmt: skip


def _asked(family: str, check: Callable[..., Finding | None], *about: object) -> Finding | None:
    """A check whose formula refuses the values is a question left open, not a crash."""
    try:
        return check(*about)
    except (WeirantError, GEOSException) as fault:
        name = check.__name__.replace("_", "-")
        return Finding(name, family, name.replace("-", " ").capitalize(), State.UNKNOWN, f"Cannot be worked out: {fault}.", "cp")


def _about(outcome: Outcome, family: str, found: RunOutcome) -> tuple[Finding, ...]:
    """What the checks of a family find of a run."""
    asked = (_asked(family, check, outcome, found) for check in FAMILIES[family][1])
    return tuple(dataclasses.replace(finding, subject=found.id) for finding in asked if finding is not None)


def _anew(_: str, __: RunOutcome, make: Callable[[], tuple[Finding, ...]]) -> tuple[Finding, ...]:
    return make()


def _every(outcome: Outcome, kept: Kept) -> Iterator[Finding | None]:
    collects = any(found.run.collecting_length for found in outcome.site.runs)
    for family, (for_job, for_run) in FAMILIES.items():
        for check in for_job if collects or family != "filters" else ():  # what only carries wants no filter
            yield _asked(family, check, outcome)
        for found in outcome.site.runs if for_run else ():
            yield from kept(family, found, partial(_about, outcome, family, found))


def run_checks(outcome: Outcome, kept: Kept = _anew) -> tuple[Finding, ...]:
    """Every finding, worst first; within a state in the order of the families, and of the runs in the job.

    ``kept`` is asked for the findings of a family about a run, and given how to make them anew.
    """
    return tuple(sorted((f for f in _every(outcome, kept) if f is not None), key=lambda f: f.state.rank))
