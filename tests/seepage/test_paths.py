"""Flow paths: they close with the flows, take the time that Darcy gives, and end where water ends."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest

from weirant.seepage.flow import at_rest, carried_over, settle
from weirant.seepage.grid import Fineness
from weirant.seepage.medium import Medium, stone
from weirant.seepage.mesh import lay_out
from weirant.seepage.paths import face_flows, paths_to_drain, trace
from weirant.seepage.section import Cut, Opening, Section, Stratum

K, DEEP = 1e-5, 1.0
SAND = Medium("sand", K, 0.02, 0.35, 40.0, 3.0)
CONFINED = Section(5.0, 5.0, DEEP, 0.1, (Stratum(SAND, DEEP),), upper_table=0.0, runs_on=True)
DRAINED = Section(6.0, 4.0, 1.0, 0.05, (Stratum(SAND, 1.0),), Cut(0.3, 0.8, 0.5, stone("stone", 0.05, 0.4), SAND, Opening(0.1, 0.75, 0.0, 0.1, 0.02, 0.002)),
                  upper_table=0.2, runs_on=True)  # fmt: skip


def steady(section: Section, rate: float = 0.0):
    laid = lay_out(section, Fineness(0.05, 0.4, 0.2))
    state = at_rest(laid, 0.1)
    return laid, state, settle(laid, state, rate)


def test_travel_time_down_an_even_slope_is_darcys():
    """Full to the ground on a slope of 1 in 10, water moves K sin(slope)/porosity: Darcy."""
    laid, state, _ = steady(CONFINED)
    path = trace(laid, face_flows(laid, state.head), -4.9, 0.6)
    slope = 0.1 / np.hypot(1.0, 0.1)
    assert path.ends_in == "end" and path.points[-1][0] == pytest.approx(5.0)
    assert path.travel_time == pytest.approx(9.9 * 0.35 / (K * slope), rel=0.03)
    assert np.all(np.diff(path.times) >= 0)


def test_flows_of_a_steady_state_close_in_every_cell():
    laid, state, step = steady(DRAINED, 2e-8)
    flows = face_flows(laid, state.head, 2e-8)
    lacking = (flows.across[:-1] - flows.across[1:] + flows.down[:, :-1] - flows.down[:, 1:]).ravel()
    assert lacking[laid.mesh.sink_cell].sum() == pytest.approx(step.pipe, rel=1e-6)
    lacking[laid.mesh.sink_cell] = 0.0
    assert np.abs(lacking).max() < 1e-6 * step.pipe


def test_paths_end_in_the_pipe_and_the_near_ones_are_quicker():
    laid, state, _ = steady(DRAINED, 2e-8)
    found = paths_to_drain(laid, state.head, 2e-8)
    assert len(found) >= 4 and all(p.ends_in == "pipe" for p in found)
    assert [p.travel_time for p in found] == sorted(p.travel_time for p in found)
    from_surface = [p for p in found if p.points[0][1] < 0.01]
    assert from_surface and from_surface[0].travel_time < from_surface[-1].travel_time


def test_water_at_rest_goes_nowhere():
    still = dataclasses.replace(CONFINED, slope=0.0, runs_on=False, upper_table=None)
    laid = lay_out(still, Fineness(0.1, 0.4, 0.2))
    assert trace(laid, face_flows(laid, at_rest(laid, 0.3).head), 0.0, 0.6).ends_in == "nowhere"


def test_a_steady_state_is_found_again_on_another_grid():
    """From the state of a like section it is the same as from nothing; on its own grid nothing is changed."""
    laid, state, _ = steady(DRAINED, 2e-8)
    other = lay_out(dataclasses.replace(DRAINED, upper_table=0.22), Fineness(0.06, 0.5, 0.2))
    warm, cold = settle(other, carried_over(laid, state.head, other), 2e-8, first=1e5), settle(other, at_rest(other, 0.2), 2e-8)
    assert warm.pipe == pytest.approx(cold.pipe, rel=1e-4)
    assert carried_over(laid, state.head, laid).head == pytest.approx(state.head)
