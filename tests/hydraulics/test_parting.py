"""Flow that parts: meshes solved all at once, against closed forms and against scipy's solver of the same pipes as one system of equations."""

from __future__ import annotations

import dataclasses
import math
import sys
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from scipy.optimize import root

sys.path.append(str(Path(__file__).parents[2] / "tools"))

from random_networks import drawn, fault

from laying import COLLECTS
from weirant.errors import SolverError
from weirant.ground.network import joined, lay_out
from weirant.ground.stretches import makes_of
from weirant.hydraulics.accumulate import EITHER_WAY, Drop, Inflow, accumulate
from weirant.hydraulics.outlet_relation import Main, OutletRelation, Soaking, over_an_edge, through_a_hole
from weirant.hydraulics.parting import PipeMesh, part
from weirant.hydraulics.settling import Undecided, settled
from weirant.job.doubt import Doubt
from weirant.job.network import Node, Outlet, Run
from weirant.job.section import TrenchSection
from weirant.library import shipped
from weirant.methods.inlets import grate_capacity

FULL = math.pi * 0.1**2 / 4 * (0.1 / 4) ** (2 / 3) / 0.012


def mesh(levels, reaches, inflow, held):
    """Sections by their inverts m; reaches by the sections they join, length m and diameter m; what comes in and what level is held, by section."""
    above, below, length, diameter = (np.array(column) for column in zip(*reaches, strict=True))
    low, comes, stands = np.array(levels, dtype=float), np.zeros(len(levels)), np.full(len(levels), np.nan)
    for found, given in ((comes, inflow), (stands, held)):
        for section, value in given.items():
            found[section] = value
    full = math.pi * diameter**2 / 4 * (diameter / 4) ** (2 / 3) / 0.012
    return PipeMesh(low, comes, stands, above, below, low[above], low[below], length.astype(float), diameter, full, np.zeros_like(above), np.zeros((3, len(low))))


def test_of_two_ways_each_takes_by_the_root_of_its_length_when_both_run_full():
    found = part(mesh([0.0, 0.0], [(1, 0, 10.0, 0.1), (1, 0, 40.0, 0.1)], {1: 0.02}, {0: 5.0}))
    assert found.flow == pytest.approx([0.02 * 2 / 3, 0.02 / 3], rel=1e-6)
    assert found.level[1] - 5 == pytest.approx(10 * (0.02 * 2 / 3 / FULL) ** 2, rel=1e-6)


def test_a_way_that_lies_too_high_takes_nothing_until_water_stands_up_to_it():
    ways = [(1, 0, 20.0, 0.15), (2, 0, 20.0, 0.15), (1, 2, 1.0, 0.15)]  # the second way begins 0.3 m higher
    little, much = (part(mesh([0.0, 0.4, 0.7], ways, {1: discharge}, {0: 0.0})) for discharge in (0.01, 0.12))
    assert little.flow[1:] == pytest.approx([0.0, 0.0], abs=1e-9) and little.level[1] < 0.7
    assert much.flow[1] > 0.02 and much.level[1] > 0.7 and much.flow[:2].sum() == pytest.approx(0.12, rel=1e-8)


def test_through_a_level_tube_water_goes_either_way_and_stands_where_there_is_no_way_out():
    tube = [(1, 0, 30.0, 0.1), (2, 3, 30.0, 0.1), (1, 2, 20.0, 0.1)]
    for busy, idle, sign in ((1, 2, 1), (2, 1, -1)):
        found = part(mesh([0.0, 0.3, 0.3, 0.0], tube, {busy: 0.006, idle: 1e-9}, {0: 0.0, 3: 0.0}))
        assert sign * found.flow[2] > 0.001 and found.flow[:2].sum() == pytest.approx(0.006, rel=1e-6)
    with pytest.raises(SolverError):
        part(mesh([0.0, 0.3], [(1, 0, 10.0, 0.1)], {1: 0.01}, {}))
    bowl = part(mesh([0.0, 0.5, 0.1], [(1, 0, 10.0, 0.1), (2, 1, 10.0, 0.1)], {1: 1e-4}, {0: 0.0}))
    assert bowl.level[2] == pytest.approx(bowl.level[1]) and bowl.flow[1] == pytest.approx(0, abs=1e-12)


@pytest.mark.parametrize("seed", range(12))
def test_drowned_meshes_are_those_of_one_system_of_equations(seed):
    """Every pipe under water: flows and levels by scipy's root of Manning's friction along each pipe and of continuity at each node."""
    chance = np.random.default_rng(seed)
    nodes = int(chance.integers(4, 9))
    pipes = [(k, int(chance.integers(0, k)), float(chance.uniform(5, 60)), 0.1) for k in range(1, nodes)]
    pipes += [(int(a), int(b), float(chance.uniform(5, 60)), 0.15) for a, b in (sorted(chance.choice(nodes, 2, replace=False), reverse=True) for _ in range(4))]
    inflow = {k: float(chance.uniform(0, 0.004)) for k in range(1, nodes)}
    drowned = mesh(chance.uniform(0, 0.5, nodes), pipes, inflow, {0: 20.0})
    found = part(drowned)
    drag = drowned.length / drowned.full**2

    def off(unknown):
        level, flow = np.concatenate([[20.0], unknown[: nodes - 1]]), unknown[nodes - 1 :] * 1e-3
        balance = drowned.inflow - np.bincount(drowned.above, flow, nodes) + np.bincount(drowned.below, flow, nodes)
        return np.concatenate([balance[1:] * 1e3, level[drowned.above] - level[drowned.below] - drag * flow * np.abs(flow)])

    begin = np.concatenate([np.full(nodes - 1, 20.0), np.full(len(pipes), 1.0)])
    solved = root(off, begin, method="lm", options={"maxiter": 100_000, "xtol": 1e-13, "ftol": 1e-13})
    assert found.flow == pytest.approx(solved.x[nodes - 1 :] * 1e-3, abs=2e-7) and found.level[1:] == pytest.approx(solved.x[: nodes - 1], abs=1e-6)


@pytest.mark.parametrize("seed", range(40))
def test_networks_drawn_by_chance_balance_and_flow_down_their_own_surface(seed):
    assert fault(drawn(seed)) == ""


def site(places, *runs):
    """Undecided to settle: nodes by name and place, those in capitals with outlets; runs by name, nodes, invert and slope."""
    nodes = {name: Node(name, *place, outlet=Outlet() if name.isupper() else None) for name, place in places.items()}
    network = joined([lay_out(Run(name, name, tuple(way), invert, slope, (COLLECTS,)), nodes) for name, way, invert, slope in runs])
    makes = makes_of(network.runs, (TrenchSection(),), shipped())
    return network, {run.id: makes.along(run) for run in network.runs}


RING = site({"O": (0, 0), "e": (20, 8), "w": (20, -8), "t": (40, 0), "h": (60, 0)}, ("east", "Oet", 0.0, 0.01), ("west", "Owt", 0.0, 0.01), ("feed", "th", 0.44, 0.01))


def settle(where, inflows, drops, held=lambda _: None, fills=True):
    network, stretches = where
    return settled(Undecided(network, accumulate(network, inflows, drops), inflows, drops, stretches, held, fills=fills))


def test_equal_legs_of_a_ring_share_alike_whatever_they_are_called_and_every_node_balances():
    inflows = {"east": Inflow(2e-5), "west": Inflow(2e-5)}
    found = settle(RING, inflows, {"h": Drop(0.004)})
    assert found.runs["east"].tops == pytest.approx(found.runs["west"].tops, rel=1e-6) and found.doubt(RING[0].run("east")) == (None, None)
    length = RING[0].run("east").length
    assert found.runs["east"].tops[-1] == pytest.approx(0.002, rel=1e-6) and found.nodes["t"].discharge == pytest.approx(0.004)
    assert found.exits["O"].discharge == pytest.approx(0.004 + 2 * 2e-5 * length, rel=1e-6) and set(found.exits) == {"O"}
    for node, passes in found.nodes.items():
        gone = found.exits[node].discharge if node in found.exits else 0.0
        out = sum(found.runs[run.id].tops[i] for run in RING[0].runs for i, (high, _) in enumerate(run.nodes[1:]) if high.id == node)
        assert passes.discharge == pytest.approx(out + gone, rel=1e-6)


def test_what_is_not_known_is_not_parted_and_what_stands_at_an_outlet_turns_the_water_to_the_other():
    asked = settle(RING, {"feed": Inflow(0.0, Doubt("hard-layer", "g1"))}, {"h": Drop(0.004)})
    assert asked.doubt(RING[0].run("east"))[0] and not asked.levels
    two = site({"A": (0, 0), "B": (80, 0), "m": (40, 0)}, ("left", "Am", 0.0, 0.005), ("right", "Bm", 0.0, 0.005))
    even = settle(two, {}, {"m": Drop(0.001)})
    drowned = settle(two, {}, {"m": Drop(0.001)}, {"A": OutletRelation(0.0, stands=0.3)}.get)
    assert even.runs["left"].tops[0] == pytest.approx(0.0005, rel=1e-6)
    assert drowned.runs["left"].tops[0] < 0 < 0.001 < drowned.exits["B"].discharge and drowned.exits["A"].discharge == pytest.approx(drowned.runs["left"].tops[0])
    level = site({"A": (0, 0), "m": (40, 0)}, ("tube", "Am", 0.0, 0.0))
    lone = settle(level, {"tube": Inflow(1e-5)}, {"m": Drop(0.001)})
    assert lone.runs["tube"].tops[0] == pytest.approx(0.001, rel=1e-8) and lone.runs["tube"].shared == (None,) and lone.levels["m"] > lone.levels["A"]
    into = site({"O": (0, 0), "m": (30, 0), "t": (60, 0), "x": (30, 20)}, ("main", "Omt", 0.0, 0.01), ("tube", "mx", 0.3, 0.0))
    found = settle(into, {}, {"t": Drop(0.002), "x": Drop(0.0005)})  # a level pipe into one that falls: the water in that one holds it back
    assert found.runs["tube"].tops[0] == pytest.approx(0.0005, rel=1e-6) and found.runs["main"].tops == pytest.approx([0.0025, 0.002], rel=1e-12)
    assert 0.33 < found.levels["m"] < found.levels["x"] < 0.4 and found.doubt(into[0].run("tube")) == (None, None)
    before = accumulate(level[0], {}, {"m": Drop(0.001)})
    assert before.runs["tube"].shared == (EITHER_WAY,)


def test_moving_the_whole_mesh_up_or_turning_its_names_round_changes_no_flow():
    chance = np.random.default_rng(3)
    given = mesh(chance.uniform(0, 1, 6), [(a, b, 12.0, 0.1) for a, b in pairwise(range(6))] + [(5, 0, 30.0, 0.15), (4, 1, 9.0, 0.1)], {3: 0.003, 5: 0.001}, {0: 0.1})
    found = part(given)
    up = dataclasses.replace(given, low=given.low + 70, held=given.held + 70, invert_above=given.invert_above + 70, invert_below=given.invert_below + 70)
    turned = dataclasses.replace(given, above=given.below, below=given.above, invert_above=given.invert_below, invert_below=given.invert_above)
    assert part(up).flow == pytest.approx(found.flow, abs=1e-9) and part(turned).flow == pytest.approx(-found.flow, abs=1e-9)


@pytest.mark.parametrize(("way", "most"), [
    (OutletRelation(0.2, over_an_edge(0.3, 0.004)), 0.02), (OutletRelation(0.2, over_an_edge(0.3, 0.004), stands=0.35), 0.02), (OutletRelation(0.0, through_a_hole(0.06, 0.7)), 0.01),
    (OutletRelation(0.0, soaks=Soaking(-0.9, 2e-4, 3e-4, 0.6, -0.9)), 0.001), (OutletRelation(0.1, over_an_edge(0.3, 0.02), soaks=Soaking(-0.5, 1e-5, 1e-5, 0.1, -0.5)), 0.01),
    (OutletRelation(0.0, main=Main(-0.1, 0.2, 0.01, 0.013, 0.005)), 0.02),
])  # fmt: skip
def test_each_way_out_is_the_same_alone_and_in_a_mesh(way, most):
    """The level over an outlet by its relation and as part of the network solved at once, for little and much; a level tube so that it is solved at all."""
    level = site({"A": (0, 0), "m": (2, 0)}, ("tube", "Am", 0.0, 0.0))
    for flow in (most / 100, most / 5, most):
        found = settle(level, {}, {"m": Drop(flow)}, {"A": way}.get)
        assert found.exits["A"].discharge == pytest.approx(flow, rel=1e-6)
        wanted = way.level(flow) if way.passage or way.main else way.soaks.level(flow)
        assert found.levels["A"] == pytest.approx(wanted, abs=0.02 * max(abs(wanted - way.crest), 0.05))


def test_a_flap_keeps_water_out_and_a_well_takes_its_share():
    two = site({"A": (0, 0), "B": (80, 0), "m": (40, 0)}, ("left", "Am", 0.0, 0.005), ("right", "Bm", 0.0, 0.005))
    shut = settle(two, {}, {"m": Drop(0.001)}, {"A": OutletRelation(0.0, through_a_hole(0.1, 1.0), True, 0.3)}.get)
    assert shut.exits["A"].discharge == pytest.approx(0, abs=1e-9) and shut.exits["B"].discharge == pytest.approx(0.001)
    well = Soaking(-1.0, 1e-5, 2e-5, 0.5, -1.0)
    parted = settle(two, {}, {"m": Drop(0.001)}, {"A": OutletRelation(0.0, soaks=well)}.get)
    assert parted.exits["A"].discharge == pytest.approx(well.takes(parted.levels["A"]), rel=1e-6) and parted.exits["A"].discharge + parted.exits["B"].discharge == pytest.approx(0.001)


def test_openings_against_the_figures_of_the_published_grate_and_of_an_orifice():
    """HEC-22's grate in a sag (``grate-capacity``, itself checked with its examples): either regime, and back from flow to depth; a hole just full has half its
    width as the head over its middle: Q = 0.6 A sqrt(g d). Drowned, the fall counts."""
    grate = over_an_edge(1.2, 0.05)
    for depth in (0.02, 0.05, 0.1, 0.3):
        wanted = grate_capacity(1.2, 0.05, depth, 0.0).discharge
        assert grate.discharge(depth) == pytest.approx(wanted) and grate.head(wanted) == pytest.approx(depth)
    assert through_a_hole(0.1, 1.0).discharge(0.1) == pytest.approx(0.6 * math.pi * 0.05**2 * math.sqrt(2 * 9.80665 * 0.05))
    assert grate.head(grate.full * math.sqrt(0.07), 0.5) == pytest.approx(0.57) and grate.head(0.0, 0.5) == 0.5
    assert grate.head(0.01, 1e-12) == pytest.approx(grate.head(0.01)) and grate.head(0.01, 0.01) >= grate.head(0.01)  # whatever little stands outside
