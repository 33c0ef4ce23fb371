"""Allowed: buried lines located, discharge permitted."""

from __future__ import annotations

from weirant.job.network import BASIN_WALL, CURB_CORE, CURB_CUT, DRY_WELL, LAWN, MAIN
from weirant.outcome.commands import Set
from weirant.outcome.facts import Facts
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome

WHOSE = {"street": {CURB_CORE, CURB_CUT}, "main": {MAIN}, "basin": {BASIN_WALL}, "well": {DRY_WELL}, "lawn": {LAWN}}  # kinds of outlets where others have a say


def _answer(outcome: Outcome, field: str, facts: Facts | None = None) -> Finding:
    path = f"permissions.{field}"
    given = getattr(outcome.job.permissions, field)
    state = State.UNKNOWN if given is None else State.HOLDS if given else State.FAILS
    fixes = () if given else (Fix(f"note-{field.replace('_', '-')}", Set(path, True)),)
    return Finding(state, source="cp", fixes=fixes, elements=(path,), facts=facts or {})


def public_lines(outcome: Outcome) -> Finding:
    """The public locating service has marked its lines."""
    return _answer(outcome, "public_lines_marked")


def private_lines(outcome: Outcome) -> Finding:
    """Somebody has looked for the lines the service does not mark."""
    return _answer(outcome, "private_lines_checked")


def discharge(outcome: Outcome) -> Finding:
    """The water may go where it is led; whose leave is wanted hangs on where that is."""
    kinds = {node.outlet.kind for node in outcome.job.nodes if node.outlet is not None}
    return _answer(outcome, "discharge_allowed", {word: bool(kinds & whose) for word, whose in WHOSE.items()})


JOB = {"public-lines-marked": public_lines, "private-lines-checked": private_lines, "discharge-allowed": discharge}
