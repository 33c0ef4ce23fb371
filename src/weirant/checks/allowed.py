"""Allowed: buried lines located, discharge permitted."""

from __future__ import annotations

from weirant.outcome.finding import Finding, Fix, Set, State
from weirant.outcome.outcome import Outcome

QUESTIONS = (
    ("public_lines_marked", "Public lines located", "Public buried lines are located and marked; inside the marks dig by hand.",
     "Call the public locating service two or three working days before digging.", "Dig nothing before the public lines are marked.",
     "public lines are marked"),
    ("private_lines_checked", "Private lines looked for", "Private lines (gas to heaters, sprinklers, low voltage, septic) are looked for.",
     "The public service does not mark private lines. Ask the owner and trace them.", "Find the private lines first.", "private lines are looked for"),
    ("discharge_allowed", "Water may go there", "The outlet may discharge there.",
     "Ask whether the water may go there: the brook's keeper, the town, the neighbour.",
     "The water may not go there. Find another outlet.", "discharge is allowed"),
)  # fmt: skip


def _answer(outcome: Outcome, field: str, title: str, yes: str, ask: str, no: str, said: str) -> Finding:
    path = f"permissions.{field}"
    given = getattr(outcome.job.permissions, field)
    state = State.UNKNOWN if given is None else State.HOLDS if given else State.FAILS
    reason = ask if given is None else yes if given else no
    fixes = () if given else (Fix(f"Note that {said}", Set(path, True)),)
    return Finding(field.replace("_", "-"), "allowed", title, state, reason, "cp", fixes=fixes, elements=(path,))


def public_lines(outcome: Outcome) -> Finding:
    """The public locating service has marked its lines."""
    return _answer(outcome, *QUESTIONS[0])


def private_lines(outcome: Outcome) -> Finding:
    """Somebody has looked for the lines the service does not mark."""
    return _answer(outcome, *QUESTIONS[1])


def discharge(outcome: Outcome) -> Finding:
    """The water may go where it is led."""
    return _answer(outcome, *QUESTIONS[2])


JOB = (public_lines, private_lines, discharge)
