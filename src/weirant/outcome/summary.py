"""The verdict in a line."""

from __future__ import annotations

from weirant.language import ntr, tr
from weirant.outcome.finding import Finding, State


def summary(findings: tuple[Finding, ...]) -> str:
    """How many findings fail, are tight, are unknown, hold; the worst first and in words."""
    counts = {state: sum(f.state == state for f in findings) for state in State}
    if counts[State.FAILS]:
        head = ntr("{n} thing fails", "{n} things fail", counts[State.FAILS])
    elif counts[State.UNKNOWN]:
        head = tr("Nothing fails, but not all is known")
    else:
        head = tr("Nothing fails")
    tight, unknown, holds = (counts[state] for state in (State.TIGHT, State.UNKNOWN, State.HOLDS))
    told = ((tight, ntr("{n} tight", "{n} tight", tight)), (unknown, ntr("{n} unknown", "{n} unknown", unknown)), (holds, ntr("{n} holds", "{n} hold", holds)))
    rest = [words for count, words in told if count]
    return head + (": " + ", ".join(rest) if rest else "")
