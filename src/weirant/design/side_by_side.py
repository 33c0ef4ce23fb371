"""The wet-season table at the place by the line model and by the section simulator, to stand beside the formulae."""

from __future__ import annotations

import dataclasses

import numpy as np

from weirant.design.across import GroundSample, section_at, stand_at
from weirant.design.hand_methods import TABLE, HandResult
from weirant.design.simulation import steady_state
from weirant.job.soil import Band
from weirant.outcome.figure import Figure
from weirant.outcome.outcome import Outcome
from weirant.seepage.grid import ROUGH
from weirant.seepage.line_model import line_run
from weirant.seepage.mesh import lay_out
from weirant.seepage.rain import steady_rain
from weirant.seepage.results import depth_to_water
from weirant.units import display as k

DAY = 86400.0


def simulated_tables(outcome: Outcome, conductivity: Band | None = None, run: str = "") -> tuple[HandResult, ...]:
    """Depth to water at the place in the wet season by both, for the low, best and high conductivity; some tenths of a second.

    ``conductivity`` puts another ground in the place of the line's. Raises InputError where the ground along the run is not known.
    """
    stand = stand_at(outcome, None, run)
    own, rate = outcome.soil(stand.part.soil).conductivity, outcome.job.water.drainage_rate
    band = conductivity or own
    by_line, by_section = [], []
    guess = None
    _ = stand.place
    for end in (band.low, band.best, band.high):
        section = section_at(outcome, run=run, ground=GroundSample(end / own.best))
        place = stand.place_across(section)
        by_line.append(float(line_run(section, steady_rain(rate), DAY, place).depth[-1]))
        laid = lay_out(section, ROUGH)
        state = steady_state(laid, rate, guess)
        guess = (laid, state)
        by_section.append(float(np.interp(place, laid.x, depth_to_water(laid, state.head))))
    return tuple(_result(label, values, note) for label, values, note in (
        ("Line model, wet season", by_line, "the water table as one line on the hard layer (Boussinesq 1904), the layers as they lie"),
        ("Section simulator, wet season", by_section, "saturated and unsaturated flow through the section, as on the page of the storm"),
    ))  # fmt: skip


def _result(label: str, values: list[float], note: str) -> HandResult:
    ends = (min(values), max(values))
    return HandResult(TABLE, dataclasses.replace(Figure(label, values[1], k.DEPTH, "", note=note), band=ends))
