"""Stone that is open to the sky: what rain washes and wind blows into it from the ground beside it."""

from __future__ import annotations

from functools import partial

from weirant.checks.judge import judge
from weirant.errors import InputError
from weirant.job.section import DRESSED_TOP, OPEN_TOP, SOIL_CAP
from weirant.language import tr
from weirant.methods.granular_filter import granular_filter_limits
from weirant.outcome.commands import Set
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome, SoilFigures
from weirant.outcome.site import RunOutcome
from weirant.units import display as k


def surface_fines(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Open stone holds the soil of the surface out of its voids, or fills from the top; told of the stretch and soil where it does so least.

    No cloth round it helps: what comes in comes over it. It still works for years where turf goes up to its edge, so that it never fails for it.
    """
    asked = []
    for met in found.layers:
        make = met.stretch.make
        if not met.stretch.is_solid and make.section.top == OPEN_TOP and make.section.has_stone:
            asked.append(_asked(outcome.layer(met.soil, 0), make.aggregate.coarse_side.size_at(15), make.section.id).of(piece=met.stretch.id, station=met.low))
    return min(asked, key=lambda f: (f.state.rank, f.margin if f.margin is not None else 0.0), default=None)


def _asked(soil: SoilFigures, stone: float | None, section: str) -> Finding:
    said = partial(Finding, source="neh633_26 cp", elements=(f"sections.{section}.top", soil.path("gradation")))
    try:
        limit = granular_filter_limits(soil.gradation).d15_max
    except InputError as fault:
        return said(State.UNKNOWN, facts={"why": str(fault)})
    if stone is None:
        return said(State.UNKNOWN, facts={"why": tr("the stone's grading does not reach 15 %")})
    keeps_out = judge(stone, limit, at_most=True) != State.FAILS
    fixes = () if keeps_out else (Fix("dress-it", Set(f"sections.{section}.top", DRESSED_TOP)), Fix("cover-it", Set(f"sections.{section}.top", SOIL_CAP)))
    figure = Figure(tr("Largest D15 of a filter"), limit, k.OPENING, "granular-filter-limits", {"gradation": soil.gradation}, "d15_max")
    return said(State.HOLDS if keeps_out and not soil.gradation_assumed else State.TIGHT, "" if keeps_out else "open", facts={"assumed": soil.gradation_assumed}, value=stone, limit=limit,
                kind=k.OPENING, figure=figure, fixes=fixes)  # fmt: skip


RUN = {"surface-fines": surface_fines}
