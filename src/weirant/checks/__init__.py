"""The checks, one family a file; each is a function from what was computed to a finding.

A check that has nothing to look at in this job gives None.
"""

from __future__ import annotations

from collections.abc import Callable

from weirant.checks import allowed, around, carries, collects, falls, filters, runs, stands
from weirant.errors import WeirantError
from weirant.outcome.finding import Finding, State
from weirant.outcome.outcome import Outcome

Check = Callable[[Outcome], Finding | None]

FAMILIES: dict[str, tuple[Check, ...]] = {
    "falls": falls.CHECKS, "collects": collects.CHECKS, "carries": carries.CHECKS,
    "filters": filters.CHECKS, "stands": stands.CHECKS, "allowed": allowed.CHECKS,
    "runs": runs.CHECKS, "around": around.CHECKS,
}  # fmt: skip


def _run(family: str, check: Check, outcome: Outcome) -> Finding | None:
    """A check whose formula refuses the values is a question left open, not a crash."""
    try:
        return check(outcome)
    except WeirantError as fault:
        name = check.__name__.replace("_", "-")
        return Finding(
            name, family, name.replace("-", " ").capitalize(), State.UNKNOWN, f"Cannot be worked out: {fault}.", "cp"
        )


def run_checks(outcome: Outcome) -> tuple[Finding, ...]:
    """Every finding, worst first; within a state in the order of the families."""
    found = [_run(family, check, outcome) for family, checks in FAMILIES.items() for check in checks]
    return tuple(sorted((f for f in found if f is not None), key=lambda f: f.state.rank))
