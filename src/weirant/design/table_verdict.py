"""The water table at the places where the line model is not trusted: the section simulator's answer as a finding, in place of "being worked out"."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator

import numpy as np

from weirant.checks.collects import told_of_table
from weirant.design.across import GroundSample, Stand, section_at
from weirant.design.simulation import steady_state
from weirant.errors import WeirantError
from weirant.outcome.figure import Figure
from weirant.outcome.finding import WAITS, Finding, State
from weirant.outcome.outcome import Outcome
from weirant.seepage.flow import FlowState
from weirant.seepage.mesh import Laid, lay_out
from weirant.seepage.results import depth_to_water
from weirant.units.display import WATER_DEPTH

CODE = "table"
RULE = "saturated and unsaturated flow through the section, steady under the wet season's seepage"


def waiting(outcome: Outcome) -> Iterator[tuple[Stand, Finding]]:
    """Where the line model is not trusted, with the finding that says so."""
    for found in outcome.site.runs:
        for part in found.serving:
            if found.water is not None and any(w.of is part and w.waits for w in found.water.parts) and part.place is not None:
                about = (CODE, found.id, part.place.id)
                yield from ((Stand(found, part, part.station), f) for f in outcome.findings if (f.code, f.subject, f.place) == about and f.case == WAITS)


def table_findings(outcome: Outcome) -> tuple[Finding, ...]:
    """The water table at every such place, for best, low and high conductivity; some tenths of a second each."""
    return tuple(_of(outcome, stand, finding) for stand, finding in waiting(outcome))


def _of(outcome: Outcome, stand: Stand, finding: Finding) -> Finding:
    band, rate = outcome.soil(stand.part.soil).conductivity, outcome.job.water.drainage_rate
    depths: list[float] = []
    guess: tuple[Laid, FlowState] | None = None
    try:
        for factor in dict.fromkeys((1.0, band.low / band.best, band.high / band.best)):
            section = section_at(outcome, stand.station, run=stand.found.id, ground=GroundSample(factor))
            laid = lay_out(section)
            guess = laid, steady_state(laid, rate, guess)
            depths.append(float(np.interp(stand.place_across(section), laid.x, depth_to_water(laid, guess[1].head))))
    except WeirantError as fault:
        return dataclasses.replace(finding, case="refused", facts={"why": str(fault)})
    assert all(map(math.isfinite, depths))
    figure = Figure("Depth to water at the place to keep dry", depths[0], WATER_DEPTH, "", band=(min(depths), max(depths)), note=RULE)
    told = told_of_table(outcome, stand.found, stand.part, stand.place, figure, source="vangenuchten1980")
    assert told.state != State.UNKNOWN
    return dataclasses.replace(told, code=finding.code, family=finding.family, subject=finding.subject, place=finding.place)
