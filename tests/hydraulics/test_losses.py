"""What is lost at bends, joints and boxes: by the turn that the water makes there, and as head of a full pipe."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest

from laying import COLLECTS
from weirant.ground.grade_line import GradeLine
from weirant.ground.network import joined, lay_out
from weirant.ground.stretches import makes_of
from weirant.hydraulics.losses import adaptor, losses_along
from weirant.hydraulics.pipes_along import full_conveyance, pipes_along
from weirant.hydraulics.run_flow import run_flow
from weirant.job.network import INLET, PLAIN, Basin, Node, Outlet, Run
from weirant.job.section import TrenchSection
from weirant.library import shipped


def laid(kind, turn, *, joins=None):
    """A main that turns by so many degrees at its second node, of a kind; and a run that comes in there at an angle to what flows on."""
    corner = math.radians(turn)
    nodes = {"o": Node("o", 0, 0, outlet=Outlet()), "m": Node("m", 10, 0, kind, basin=Basin() if kind == INLET else None),
             "t": Node("t", 10 + 8 * math.cos(corner), 8 * math.sin(corner))}  # fmt: skip
    runs = [Run("main", "main", ("o", "m", "t"), 0.0, 0.01, (COLLECTS,))]
    if joins is not None:
        nodes["s"] = Node("s", 10 + 6 * math.cos(math.radians(joins)), -6 * math.sin(math.radians(joins)))
        runs.append(Run("side", "side", ("m", "s"), 0.1, 0.01, (COLLECTS,)))
    return joined([lay_out(run, nodes) for run in runs])


@pytest.mark.parametrize(("kind", "turn", "joins", "main", "side"), [
    (PLAIN, 0, None, 0.0, None), (PLAIN, 90, None, 0.297, None), (PLAIN, 45, None, 0.1485, None),  # HEC-22: 0.0033 a degree
    (INLET, 0, None, 0.5, None), (INLET, 90, None, 1.5, None), (INLET, 45, None, 1.1, None),  # its table of inlets (recalled)
    (PLAIN, 0, 45, 0.15, 0.75), (PLAIN, 0, 90, 0.15, 1.0), (PLAIN, 0, 135, 0.15, 1.0), (INLET, 0, 90, 0.5, 1.5),  # a wye loses less than a tee
])  # fmt: skip
def test_heads_are_lost_by_the_turn_at_each_node(kind, turn, joins, main, side):
    network = laid(kind, turn, joins=joins)
    assert losses_along(network, network.run("main")) == pytest.approx((0.0, main), abs=1e-6)  # the outlet loses nothing
    if side is not None:
        assert losses_along(network, network.run("side")) == pytest.approx((side,), abs=1e-6)


def test_a_full_pipe_stands_higher_above_a_box_by_its_velocity_heads():
    """Under water throughout: friction by Manning along both pieces, and 1.5 V²/2g at the box, closed form."""
    network = laid(INLET, 90)
    run = network.run("main")
    stretches = makes_of(network.runs, (TrenchSection(),), shipped()).along(run)
    stations, flow = np.linspace(0, run.length, 37), 0.006
    invert = 0.01 * stations
    line = GradeLine(stations, invert + 1, invert, invert - 0.1, np.full(37, 1.1), np.full(37, 0.9), None, 0.0)
    found = run_flow(pipes_along(line, run, stretches, losses_along(network, run)), np.full(37, flow), 0.5)
    pipe = stretches[0].make.pipe
    speed = flow / (math.pi * pipe.inner_diameter**2 / 4)
    wanted = 0.5 + (flow / full_conveyance(pipe)) ** 2 * run.length + 1.5 * speed**2 / 2 / 9.80665
    assert found.surface[-1] == pytest.approx(wanted, abs=1e-4) and found.surface[0] == 0.5


@pytest.mark.parametrize(("below", "above"), [("dualwall-150", "dualwall-100"), ("dualwall-100", "dualwall-150"), ("dualwall-100", "dualwall-100")])
def test_over_a_narrowing_water_stands_higher_by_what_is_lost_and_gained_in_speed(below, above):
    """Half of the quick side's head times what is cut off (pipe handbooks), and the heads of both speeds; full pipes, closed form. A widening gives nothing back."""
    nodes = {"o": Node("o", 0, 0, outlet=Outlet()), "t": Node("t", 40, 0)}
    parts = (dataclasses.replace(COLLECTS, pipe=below, to_station=20.0), dataclasses.replace(COLLECTS, id="p2", pipe=above))
    network = joined([lay_out(Run("main", "main", ("o", "t"), 0.0, 0.01, parts), nodes)])
    run = network.run("main")
    stretches = makes_of(network.runs, (TrenchSection(),), shipped()).along(run)
    stations, flow = np.linspace(0, 40, 41), 0.006
    line = GradeLine(stations, 0.01 * stations + 1, 0.01 * stations, 0.01 * stations - 0.1, np.full(41, 1.1), np.full(41, 0.9), None, 0.0)
    found = run_flow(pipes_along(line, run, stretches), np.full(41, flow), 0.8)
    pipes = [s.make.pipe for s in stretches]
    low, high = (flow / (math.pi * pipe.inner_diameter**2 / 4) for pipe in pipes)
    rise = (0.5 * (1 - high / low) * low**2 + low**2 - high**2) / 2 / 9.80665 if low > high else 0.0
    assert found.surface[-1] == pytest.approx(0.8 + 20 * sum((flow / full_conveyance(pipe)) ** 2 for pipe in pipes) + rise, abs=1e-4)
    assert (adaptor(pipes[1].inner_diameter, pipes[0].inner_diameter) > 0) == (low > high)
