"""Water along the run: growing inflow, backwater from the outlet, a pipe that runs full."""

from __future__ import annotations

import numpy as np
import pytest

from laying import laid, made
from weirant.ground.grade_line import lay
from weirant.ground.levels import Ground
from weirant.hydraulics.run_flow import run_flow
from weirant.job.network import GradeBreak
from weirant.methods.pipe_flow import pipe_full_flow, pipe_partial_flow

GROUND = Ground(np.array([0.0, 60.0]), np.array([11.0, 12.0]))


def flow(inflow=2e-5, receiving=None, at_top=0.0, pipes=1):
    run = laid(10.0, 0.01, 20, 60, pipes=pipes)
    grade = lay(GROUND, run, made(run))
    return grade, run_flow(grade, run, made(run), at_top + inflow * run.collecting_above(grade.stations), receiving)


def test_discharge_grows_down_the_collecting_run_and_no_further():
    grade, found = flow()
    assert found.discharge[-1] == 0
    assert found.discharge[0] == pytest.approx(2e-5 * 40)
    assert np.all(found.discharge[grade.stations <= 20] == found.discharge[0])


def test_depth_is_manning_at_every_station():
    grade, found = flow()
    for i in (0, len(grade.stations) // 2):
        assert found.depth[i] == pytest.approx(pipe_partial_flow(0.1, 0.012, 0.01, float(found.discharge[i])).depth)
    assert found.standing == 0


def test_water_at_the_outlet_stands_up_the_pipe():
    grade, found = flow(receiving=10.2)
    inside = grade.stations < 18
    assert np.allclose(found.surface[inside], 10.2, atol=0.003)  # level but for the friction of the drowned length
    assert found.standing == pytest.approx(20, abs=2)
    assert found.surface[-1] == pytest.approx(grade.invert[-1] + found.depth[-1])


def test_an_overfull_pipe_builds_a_head_by_friction():
    grade, found = flow(inflow=0.0, at_top=0.008)
    steep = np.diff(found.surface) / np.diff(grade.stations)
    assert found.full_fraction[0] > 1.076
    assert steep[-5:] == pytest.approx(0.01 * found.full_fraction[0] ** 2)


def test_two_pipes_carry_twice():
    assert flow(pipes=2)[1].capacity == pytest.approx(2 * flow()[1].capacity)


def test_a_grade_break_changes_depth_and_share_where_it_lies():
    """Manning on each length: the flat length of 0.5 % below, the steep one of 2 % above."""
    run = laid(10.0, 0.005, 20, 60, breaks=(GradeBreak(30.0, 0.02),))
    grade = lay(GROUND, run, made(run))
    found = run_flow(grade, run, made(run), 2e-5 * run.collecting_above(grade.stations))
    assert found.capacity == pytest.approx(pipe_full_flow(0.1, 0.012, 0.005).discharge)
    for station, slope in ((25.0, 0.005), (40.0, 0.02)):
        i = int(np.argmin(np.abs(grade.stations - station)))
        assert found.depth[i] == pytest.approx(pipe_partial_flow(0.1, 0.012, slope, float(found.discharge[i])).depth)


def test_a_level_pipe_has_no_capacity_of_its_own_and_its_head_is_friction():
    run = laid(10.0, 0.0, 0, 60)
    grade = lay(GROUND, run, made(run))
    found = run_flow(grade, run, made(run), np.full(len(grade.stations), 0.001))
    full = pipe_full_flow(0.1, 0.012, 0.01)
    assert found.capacity == 0 and np.isinf(found.full_fraction).all()
    assert found.surface[-1] - found.surface[0] == pytest.approx(0.01 * (0.001 / full.discharge) ** 2 * 60)
