"""Stands: the trench while it is open."""

from __future__ import annotations

from functools import partial

import numpy as np

from weirant.checks.judge import say
from weirant.outcome.finding import Finding, Fix, Set, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

DEFER = "Local rules and a competent person on site come before this."


def walls(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Trench walls want protection from 5 ft of depth on."""
    grade = found.grade
    if grade is None:
        return None
    deepest = int(np.argmax(grade.cut))
    depth, station = float(grade.cut[deepest]), float(grade.stations[deepest])
    section = found.make(station).section
    path = f"sections.{section.id}.side_slope"
    said = partial(Finding, key="walls", family="stands", title="Trench walls", source="osha1926p", value=depth, limit=outcome.rules.protect_from, kind=k.DEPTH,
                station=station, elements=(f"runs.{found.id}.invert", path))  # fmt: skip
    caution = f"Spoil at least 2 ft (0.6 m) back from the edge. {DEFER}"
    if depth >= outcome.rules.protect_from and section.side_slope < outcome.rules.laid_back:
        return said(state=State.FAILS, caution=caution,
                       reason=f"The trench is {say(outcome, depth, k.DEPTH)} deep; from {say(outcome, outcome.rules.protect_from, k.DEPTH)} on nobody goes in without "
                              "shoring, a box or sides laid back.",
                       fixes=(Fix(f"Lay the sides back {outcome.rules.laid_back:g} to 1", Set(path, outcome.rules.laid_back)),))  # fmt: skip
    if depth >= outcome.rules.protect_from:
        return said(
            state=State.TIGHT,
            caution=caution,
            reason=f"{say(outcome, depth, k.DEPTH)} deep with sides laid back {section.side_slope:g} to 1.",
        )
    state = State.TIGHT if depth >= outcome.rules.ladder_from else State.HOLDS
    ladder = f" From {say(outcome, outcome.rules.ladder_from, k.DEPTH)} on keep a ladder in it." if depth >= outcome.rules.ladder_from else ""
    return said(
        state=state,
        reason=f"The trench is at most {say(outcome, depth, k.DEPTH)} deep.{ladder} Narrow or wet walls can fall in at any depth.",
        caution=caution,
    )


RUN = (walls,)
