"""Stands: the trench while it is open."""

from __future__ import annotations

from functools import partial

import numpy as np

from weirant.ground.stretches import Make
from weirant.outcome.commands import Set
from weirant.outcome.facts import Amount
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

LOOSE = ("sand", "loamy sand")  # of type C, where no bench stands (29 CFR 1926 Subpart P, appendix A; recalled)


def walls(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Trench walls want protection from 5 ft of depth on."""
    grade = found.grade
    if grade is None or not (grade.cut > 0).any():
        return None
    deepest = int(np.argmax(grade.cut))
    depth, station = float(grade.cut[deepest]), float(grade.stations[deepest])
    stretch = found.stretch(station)
    section = stretch.make.section
    path = f"sections.{section.id}.side_slope"
    said = partial(Finding, source="osha1926p", value=depth, limit=outcome.rules.protect_from, kind=k.DEPTH, caution="spoil-back",
                   station=station, piece=stretch.id, elements=(f"runs.{found.id}.invert", path))  # fmt: skip
    if depth >= outcome.rules.protect_from and section.side_slope < outcome.rules.laid_back:
        if _is_stepped(outcome, found, stretch.make, station, depth):
            return said(State.TIGHT, "benched", facts={"wall": Amount(outcome.rules.bench_wall, k.DEPTH)})
        back = Fix("lay-back", Set(path, outcome.rules.laid_back), {"slope": outcome.rules.laid_back})
        return said(State.FAILS, fixes=(back,))
    if depth >= outcome.rules.protect_from:
        return said(State.TIGHT, "laid-back", facts={"slope": section.side_slope})
    if depth >= outcome.rules.ladder_from:
        return said(State.TIGHT, "shallow", facts={"ladder": Amount(outcome.rules.ladder_from, k.DEPTH)})
    return said(State.HOLDS, "shallow")


def _is_stepped(outcome: Outcome, found: RunOutcome, make: Make, station: float, depth: float) -> bool:
    """Whether benches do for laid-back sides: in ground that is firm all the way down, with low walls under and over them."""
    back = (make.section.side_slope * depth + make.bench * (depth > make.bench_over)) / depth
    walls = max(make.bench_over, depth - make.bench_over)
    is_firm = not any(layer.texture in LOOSE for layer in found.soil(station).layers)
    return is_firm and make.bench > 0 and back >= outcome.rules.benched_back and walls <= outcome.rules.bench_wall


RUN = {"walls": walls}
