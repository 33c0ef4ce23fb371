"""Water along the run: growing inflow, backwater from the outlet, a pipe that runs full."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from laying import COLLECTS, laid, made
from weirant.ground.grade_line import lay
from weirant.ground.levels import Ground
from weirant.ground.network import lay_out
from weirant.hydraulics.pipes_along import pipes_along
from weirant.hydraulics.profile import PipeReach, surface_up
from weirant.hydraulics.run_flow import run_flow
from weirant.job.network import GradeBreak, Node, Outlet, Run
from weirant.methods.critical_flow import critical_depth
from weirant.methods.pipe_flow import pipe_full_flow, pipe_partial_flow

GROUND = Ground(np.array([0.0, 60.0]), np.array([11.0, 12.0]))


def flow(inflow=2e-5, receiving=None, at_top=0.0, pipes=1):
    run = laid(10.0, 0.01, 20, 60, pipes=pipes)
    grade = lay(GROUND, run, made(run))
    return grade, run_flow(pipes_along(grade, run, made(run)), at_top + inflow * run.collecting_above(grade.stations), receiving)


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
    found = run_flow(pipes_along(grade, run, made(run)), 2e-5 * run.collecting_above(grade.stations))
    assert found.capacity == pytest.approx(pipe_full_flow(0.1, 0.012, 0.005).discharge)
    for station, slope in ((25.0, 0.005), (40.0, 0.02)):
        i = int(np.argmin(np.abs(grade.stations - station)))
        assert found.depth[i] == pytest.approx(pipe_partial_flow(0.1, 0.012, slope, float(found.discharge[i])).depth)


def test_a_level_pipe_has_no_capacity_of_its_own_and_its_water_falls_to_the_outlet():
    run = laid(10.0, 0.0, 0, 60)
    grade = lay(GROUND, run, made(run))
    found = run_flow(pipes_along(grade, run, made(run)), np.full(len(grade.stations), 0.001))
    assert found.capacity == 0 and np.isinf(found.full_fraction).all()
    assert found.surface[0] == pytest.approx(10 + critical_depth(0.001, 0.1)) and np.all(np.diff(found.surface) > 0) and found.surface[-1] < 10.1


@pytest.mark.parametrize(
    ("slope", "discharge", "start", "rate"),
    [(0.001, 0.004, 0.19, 0.0), (0.004, 0.006, 0.2, 0.0), (0.0, 0.004, None, 0.0), (-0.001, 0.004, 0.08, 0.0), (0.0005, 0.006, 0.1, 5e-5), (0.0, 0.01, 0.14, 1e-4)],
)
def test_the_surface_is_that_of_the_equation_of_gradually_and_spatially_varied_flow(slope, discharge, start, rate):
    """By scipy's integrator from dy/dx of Chow 1959, eq. 12-8 (water coming in without speed of its own) upstream; a 150 mm pipe, reaches of 0.5 m."""
    diameter, n = 0.15, 0.012
    full = math.pi * diameter**2 / 4 * (diameter / 4) ** (2 / 3) / n
    start = critical_depth(discharge, diameter) * 1.02 if start is None else start

    def grows(x, depth):  # upstream: x from the low end up
        flow, wet = discharge - rate * x, min(depth[0] / diameter, 1 - 1e-12)
        angle = 2 * math.acos(1 - 2 * wet)
        area = diameter**2 / 8 * (angle - math.sin(angle))
        carries = full if depth[0] >= diameter else min(full, area * (area / (diameter * angle / 2)) ** (2 / 3) / n)
        width = 0.0 if depth[0] >= diameter else diameter * math.sin(angle / 2)
        return [-(slope - (flow / carries) ** 2 - 2 * flow * rate / (9.80665 * area**2)) / (1 - flow**2 * width / (9.80665 * area**3))]

    stations = np.arange(0.0, 40.01, 0.5)
    wanted = solve_ivp(grows, (0, 40), [start], t_eval=stations, rtol=1e-9, atol=1e-10, max_step=0.05).y[0]
    reaches = [PipeReach(0.5, diameter, full, slope * x, slope * (x + 0.5)) for x in stations[:-1]]
    found = surface_up(start, reaches, (discharge - rate * stations).tolist(), [math.inf] * len(stations)) - slope * stations
    assert found == pytest.approx(wanted, abs=0.002) and abs(found[-1] - wanted[-1]) < 6e-4


def test_levels_at_some_nodes_set_the_surface_there_and_pieces_shorter_than_a_reach_pass():
    """Level from the low end; water flows up the lower piece, and down the upper one, to the node between; two nodes stand close to the top."""
    nodes = {name: Node(name, 0.0, y, outlet=Outlet() if name == "a" else None) for name, y in (("a", 0.0), ("m", 20.0), ("t", 40.4), ("u", 40.5))}
    run = lay_out(Run("r", "r", tuple(nodes), 10.0, 0.001, (COLLECTS,)), nodes)
    grade = lay(Ground(np.array([0.0, 41.0]), np.array([11.0, 12.0])), run, made(run))
    below = grade.stations <= 20 + 1e-6
    found = run_flow(pipes_along(grade, run, made(run)), np.where(below, -0.002, 0.001), 10.3, levels=(10.3, 10.28, None, None))
    assert found.surface[below][-1] == pytest.approx(10.28, abs=0.006) and np.all(np.diff(found.surface[below]) < 0) and found.surface[0] == pytest.approx(10.29, abs=0.012)
    assert np.all(np.diff(found.surface[~below]) > 0) and found.surface[-1] < 10.4


def test_water_that_divides_along_a_level_piece_stands_highest_where_it_does():
    """Half goes to either end, free at both: the same to the left and to the right, and each half that of a pipe half as long."""
    nodes = {name: Node(name, 0.0, y, outlet=Outlet()) for name, y in (("a", 0.0), ("b", 60.0))}
    run = lay_out(Run("r", "r", ("a", "b"), 10.0, 0.0, (COLLECTS,)), nodes)
    grade = lay(Ground(np.array([0.0, 60.0]), np.array([11.0, 11.0])), run, made(run))
    found = run_flow(pipes_along(grade, run, made(run)), 3e-5 * (30 - grade.stations), levels=(10.0, 10.0))
    top = int(found.surface.argmax())
    assert grade.stations[top] == pytest.approx(30, abs=1.6) and np.all(np.diff(found.surface[: top + 1]) >= 0) and np.all(np.diff(found.surface[top:]) <= 0)
    assert found.surface[0] == pytest.approx(found.surface[-1]) == pytest.approx(10 + critical_depth(9e-4, 0.1))


def test_what_stands_stands_level_up_to_where_the_pipe_comes_out_of_it():
    reaches = [PipeReach(1.0, 0.1, 0.02, low, high) for low, high in ((0.0, -0.05), (-0.05, 0.02), (0.02, 0.1))]
    assert surface_up(0.01, reaches, [0.0] * 4, [math.inf] * 4) == [0.01, 0.01, 0.02, 0.1]
