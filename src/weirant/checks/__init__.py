"""The checks, one family a file; each is a function from what was computed to a finding.

A check that has nothing to look at in this job gives None.
"""

from __future__ import annotations

from collections.abc import Callable

from weirant.checks import allowed, carries, collects, falls, filters, stands
from weirant.outcome.finding import Finding
from weirant.outcome.outcome import Outcome

Check = Callable[[Outcome], Finding | None]

FAMILIES: dict[str, tuple[Check, ...]] = {
    "falls": falls.CHECKS, "collects": collects.CHECKS, "carries": carries.CHECKS,
    "filters": filters.CHECKS, "stands": stands.CHECKS, "allowed": allowed.CHECKS,
}  # fmt: skip


def run_checks(outcome: Outcome) -> tuple[Finding, ...]:
    """Every finding, worst first; within a state in the order of the families."""
    found = [check(outcome) for checks in FAMILIES.values() for check in checks]
    return tuple(sorted((f for f in found if f is not None), key=lambda f: f.state.rank))
