"""What the checks share: the verdict on a number against its limit."""

from __future__ import annotations

from collections.abc import Callable

from weirant.errors import InputError
from weirant.job import Job
from weirant.outcome.finding import State

SAME = 1e-6  # share of the limit by which a figure of sums may miss it and meet it still
NEAR = 0.1  # share of the limit within which a result that holds is called tight


def judge(value: float, limit: float, *, at_most: bool, band: tuple[float, float] | None = None,
          near: float | None = None) -> State:  # fmt: skip
    """Fails, tight or holds. With a band: holds only if its bad end holds too; tight if the band goes either way."""
    slack = abs(limit) * NEAR if near is None else near

    def room(v: float) -> float:
        return limit - v if at_most else v - limit

    worst = min((room(v) for v in (band or (value,))), default=room(value))
    if room(value) < -max(abs(limit) * SAME, 1e-12):
        return State.FAILS
    return State.TIGHT if worst < slack - 1e-12 and (worst < 0 or room(value) < slack) else State.HOLDS


def can_be(edit: Callable[[Job], Job], job: Job) -> bool:
    """Whether a job lets a command be carried out."""
    try:
        edit(job)
    except InputError:
        return False
    return True
