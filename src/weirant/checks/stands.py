"""Stands: the trench while it is open."""

from __future__ import annotations

from functools import partial

import numpy as np

from weirant.ground.grade_line import GradeLine
from weirant.ground.stretches import LaidStretch
from weirant.outcome.commands import Set
from weirant.outcome.facts import Amount
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass
from weirant.units import display as k

LOOSE = ("sand", "loamy-sand")  # of type C, where no bench stands (29 CFR 1926 Subpart P, appendix A; recalled)


def walls(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Trench walls want protection from 5 ft of depth on; told of the deepest place whose walls have none, or else of the deepest of all."""
    grade = found.grade
    if grade is None or not (grade.cut > 0).any():
        return None
    places = [_deepest(grade, stretch) for stretch in found.stretches if stretch.holds(grade.stations).any()]
    bare = [place for place in places if not (place.is_shallow(outcome) or place.is_laid_back(outcome) or _is_stepped(outcome, found, place))]
    place = max(bare or places, key=lambda one: one.depth)
    section = place.stretch.make.section
    path = f"sections.{section.id}.side_slope"
    said = partial(Finding, source="osha1926p", value=place.depth, limit=outcome.rules.protect_from, kind=k.DEPTH, caution="spoil-back",
                   station=place.station, piece=place.stretch.id, elements=(f"runs.{found.id}.invert", path))  # fmt: skip
    if bare:
        return said(State.FAILS, fixes=(Fix("lay-back", Set(path, outcome.rules.laid_back), {"slope": outcome.rules.laid_back}),))
    if not place.is_shallow(outcome):
        if place.is_laid_back(outcome):
            return said(State.TIGHT, "laid-back", facts={"slope": section.side_slope})
        return said(State.TIGHT, "benched", facts={"wall": Amount(outcome.rules.bench_wall, k.DEPTH)})
    if place.depth >= outcome.rules.ladder_from:
        return said(State.TIGHT, "shallow", facts={"ladder": Amount(outcome.rules.ladder_from, k.DEPTH)})
    return said(State.HOLDS, "shallow")


@dataclass(frozen=True)
class _Place:
    """Where a stretch is deepest, m."""

    stretch: LaidStretch
    station: float
    depth: float

    def is_shallow(self, outcome: Outcome) -> bool:
        """Whether its walls need nothing."""
        return self.depth < outcome.rules.protect_from

    def is_laid_back(self, outcome: Outcome) -> bool:
        """Whether its sides lean so far that they need nothing else."""
        return self.stretch.make.section.side_slope >= outcome.rules.laid_back


def _deepest(grade: GradeLine, stretch: LaidStretch) -> _Place:
    here = stretch.holds(grade.stations)
    at = int(np.argmax(np.where(here, grade.cut, -np.inf)))
    return _Place(stretch, float(grade.stations[at]), float(grade.cut[at]))


def _is_stepped(outcome: Outcome, found: RunOutcome, place: _Place) -> bool:
    """Whether benches do for laid-back sides: in ground that is firm all the way down, with low walls under and over them."""
    make, depth = place.stretch.make, place.depth
    if not make.bench or depth <= make.bench_over:
        return False
    soils = [along.soil for along in found.soils if along.low < place.stretch.high and along.high > place.stretch.low]
    is_firm = not any(layer.texture in LOOSE for soil in soils for layer in soil.layers)
    back, wall = make.section.side_slope + make.bench / depth, max(make.bench_over, depth - make.bench_over)
    return is_firm and back >= outcome.rules.benched_back and wall <= outcome.rules.bench_wall


RUN = {"walls": walls}
