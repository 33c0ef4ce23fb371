"""The wet-season table at the place by the line model and by the section simulator, to stand beside the formulae."""

from __future__ import annotations

import numpy as np

from weirant.design.across import GroundSample, section_at, stand_at
from weirant.design.hand_methods import TABLE, HandResult
from weirant.design.simulation import steady_state
from weirant.design.water import RULE
from weirant.job.soil import Band
from weirant.language import tr
from weirant.outcome.figure import Figure
from weirant.outcome.outcome import Outcome
from weirant.seepage.mesh import lay_out
from weirant.seepage.results import depth_to_water
from weirant.seepage.steady_line import steady_line
from weirant.units import display as k


def simulated_tables(outcome: Outcome, conductivity: Band | None = None, run: str = "") -> tuple[HandResult, ...]:
    """Depth to water at the place in the wet season by both, for the low, best and high conductivity; some tenths of a second.

    ``conductivity`` puts another ground in the place of the line's. Raises InputError where the ground along the run is not known.
    """
    stand = stand_at(outcome, None, run)
    own, rate = outcome.soil(stand.part.soil).conductivity, outcome.job.water.drainage_rate
    band = conductivity or own
    factors, by_section, guess = [end / own.best for end in (band.low, band.best, band.high)], [], None
    _ = stand.place
    for factor in factors:
        section = section_at(outcome, run=run, ground=GroundSample(factor))
        laid = lay_out(section)
        state = steady_state(laid, rate, guess)
        guess = (laid, state)
        by_section.append(float(np.interp(stand.place_across(section), laid.x, depth_to_water(laid, state.head))))
    line = steady_line(section_at(outcome, run=run), rate, factors)
    return (
        _result(tr("Line model, wet season"), line.depth(stand.place_across(line.section)).tolist(), RULE, "" if line.is_sound.all() else tr("in such ground the line is known to go wrong")),
        _result(tr("Section simulator, wet season"), by_section, tr("saturated and unsaturated flow through the section, as on the page of the storm")),
    )


def _result(label: str, values: list[float], note: str, outside: str = "") -> HandResult:
    return HandResult(TABLE, Figure(label, values[1], k.DEPTH, "", note=note, band=(min(values), max(values))), outside)
