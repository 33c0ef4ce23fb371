"""What the section simulator has to say of a job, and nothing left that is being worked out. With its compiler it takes half a second to load, and so is
loaded where it is wanted.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from weirant.outcome.finding import WAITS, Finding
from weirant.outcome.outcome import Outcome, with_findings

if TYPE_CHECKING:
    from weirant.design.storm_verdict import Answers, Told


def with_nothing_waiting(outcome: Outcome) -> Outcome:
    """The outcome with everything that waits worked out: for paper, and where nobody looks again."""
    if not any(f.case == WAITS for f in outcome.findings):
        return outcome
    from weirant.design.table_verdict import table_findings

    known = with_findings(outcome, table_findings(outcome))
    if not any(f.case == WAITS for f in known.findings):
        return known
    from weirant.design.storm_peak import carrying_findings

    return with_findings(known, carrying_findings(known, only_waiting=True) or ())


def simulated_findings(outcome: Outcome, told: Told | None = None, known: Answers | None = None) -> tuple[Finding, ...] | None:
    """Water tables that wait, every place after the design storm, and the pipes in it. ``told`` is given the share done of each course and answers whether
    to go on; None where it did not. ``known`` keeps answers from one asking to the next.
    """
    from weirant.design.storm_peak import carrying_findings
    from weirant.design.storm_verdict import storm_findings
    from weirant.design.table_verdict import table_findings

    known = {} if known is None else known
    storm = storm_findings(outcome, told, known)
    carrying = None if storm is None else carrying_findings(outcome, told, known)
    return None if storm is None or carrying is None else (*table_findings(outcome), *storm, *carrying)
