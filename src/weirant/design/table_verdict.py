"""The water table at the places where the line model is not trusted: the section simulator's answer as a finding, in place of "being worked out"."""

from __future__ import annotations

import dataclasses
import math
from typing import TYPE_CHECKING

import numpy as np

from weirant.checks.collects import told_of_table
from weirant.design.across import Stand, grounds_of, section_at
from weirant.errors import WeirantError
from weirant.language import tr
from weirant.outcome.figure import Figure
from weirant.outcome.finding import WAITS, Finding, State
from weirant.outcome.outcome import Outcome
from weirant.seepage.results import depth_to_water
from weirant.units.display import WATER_DEPTH

if TYPE_CHECKING:
    from weirant.seepage.flow import FlowState
    from weirant.seepage.mesh import Laid

TABLE = "table"  # code of the check
RULE = tr("saturated and unsaturated flow through the section, steady under the wet season's seepage")


def table_findings(outcome: Outcome) -> tuple[Finding, ...]:
    """The water table wherever the line model is not trusted, for best, low and high conductivity; some tenths of a second each. Beside a run that
    lies in several soils, with what is known of the others.
    """
    tables = [f for f in outcome.findings if f.code == TABLE]
    waiting = {f.about for f in tables if f.case == WAITS}
    return tuple(_of(outcome, _stand(outcome, f), f) if f.case == WAITS else f for f in tables if f.about in waiting)


def _stand(outcome: Outcome, finding: Finding) -> Stand:
    """Where what a finding waits for is looked at: of what the run collects for its place, that at its station."""
    found = outcome.run(finding.subject)
    part = next(part for part in found.serving if part.place is not None and (part.place.id, part.station) == (finding.place, finding.station))
    return Stand(found, part, part.station)


def _of(outcome: Outcome, stand: Stand, finding: Finding) -> Finding:
    from weirant.design.simulation import steady_state  # with its compiler it takes half a second to load
    from weirant.seepage.mesh import lay_out

    band, rate = outcome.soil(stand.part.soil).conductivity, outcome.job.water.drainage_rate
    depths: list[float] = []
    guess: tuple[Laid, FlowState] | None = None
    try:
        for ground in grounds_of(stand.part, band):
            section = section_at(outcome, stand.station, run=stand.found.id, ground=ground)
            laid = lay_out(section)
            guess = laid, steady_state(laid, rate, guess)
            depths.append(float(np.interp(stand.place_across(section), laid.x, depth_to_water(laid, guess[1].head))))
    except WeirantError as fault:
        return dataclasses.replace(finding, case="refused", facts={"why": str(fault)})
    assert all(map(math.isfinite, depths))
    figure = Figure(tr("Depth to water at the place to keep dry"), depths[0], WATER_DEPTH, "", band=(min(depths), max(depths)), note=RULE)
    told = told_of_table(outcome, stand.found, stand.part, stand.place, figure, source="vangenuchten1980")
    assert told.state != State.UNKNOWN
    return dataclasses.replace(told, code=finding.code, family=finding.family, subject=finding.subject, place=finding.place)
