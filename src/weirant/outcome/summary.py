"""The verdict in a line."""

from __future__ import annotations

from weirant.outcome.finding import Finding, State


def summary(findings: tuple[Finding, ...]) -> str:
    """How many findings fail, are tight, are unknown, hold; the worst first and in words."""
    counts = {state: sum(f.state == state for f in findings) for state in State}
    if counts[State.FAILS]:
        head = f"{counts[State.FAILS]} {'thing fails' if counts[State.FAILS] == 1 else 'things fail'}"
    elif counts[State.UNKNOWN]:
        head = "Nothing fails, but not all is known"
    else:
        head = "Nothing fails"
    rest = [
        f"{counts[s]} {s if s != State.HOLDS or counts[s] == 1 else 'hold'}"
        for s in (State.TIGHT, State.UNKNOWN, State.HOLDS)
        if counts[s]
    ]
    return head + (": " + ", ".join(rest) if rest else "")
