"""What the checks share: the verdict on a number against its limit, and numbers in words."""

from __future__ import annotations

from collections.abc import Callable

from weirant.errors import InputError
from weirant.job import Job
from weirant.outcome.finding import State
from weirant.outcome.outcome import Outcome
from weirant.units import display as k
from weirant.units.display import Kind, System, shown

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


def say(outcome: Outcome, value: float, kind: Kind) -> str:
    """A number in the job's own units."""
    return shown(value, kind, System(outcome.job.units))


def times(value: float) -> str:
    """How many times, to two figures: more would say more than is known."""
    rounded = float(f"{value:.2g}")
    return f"{rounded:,.0f} times" if rounded >= 10 else f"{rounded:g} times"


def below_ground(outcome: Outcome, depth: float) -> str:
    """A depth to water in words: below ground, or how far it stands over it."""
    return f"{say(outcome, depth, k.DEPTH)} below ground" if depth >= 0 else f"{say(outcome, -depth, k.DEPTH)} over the ground"


def say_band(outcome: Outcome, band: tuple[float, float] | None, kind: Kind) -> str:
    """`` (soil from … to …)`` or nothing."""
    if band is None or band[1] - band[0] < 1e-12:
        return ""
    return f" ({say(outcome, band[0], kind)} to {say(outcome, band[1], kind)} over the range of the soil)"
