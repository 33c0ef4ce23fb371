"""Storms through pipes: against closed forms, against scipy's integration of the same network, and against the steady state they come to."""

from __future__ import annotations

import dataclasses
import math
import sys
from pathlib import Path

import numpy as np
import pytest
from scipy.integrate import solve_ivp

sys.path.append(str(Path(__file__).parents[2] / "tools"))

from random_networks import drawn, soaking, stores_of, storm_fault

from weirant.hydraulics import routing
from weirant.hydraulics.elimination import eliminated
from weirant.hydraulics.parting import PipeMesh, part
from weirant.hydraulics.routing import Brings, Lift, Stores, route

FULL = math.pi * 0.1**2 / 4 * (0.1 / 4) ** (2 / 3) / 0.012


def mesh(levels, reaches, held):
    """Sections by their inverts m; reaches by the sections they join, and length m; levels that are held, by section. All pipes 100 mm, n 0.012."""
    above, below = (np.array(ends, dtype=np.intp) for ends in zip(*((a, b) for a, b, _ in reaches), strict=True))
    low, lengths = np.array(levels, dtype=float), np.array([length for *_, length in reaches], dtype=float)
    stands = np.array([held.get(k, np.nan) for k in range(len(levels))])
    return PipeMesh(low, np.zeros(len(low)), stands, above, below, low[above], low[below], lengths, np.full(len(above), 0.1), np.full(len(above), FULL), np.zeros_like(above),
                    np.zeros((3, len(low))))  # fmt: skip


def bare(of, **changed):
    """No stone, boxes of nothing, no rims."""
    count, pieces = len(of.low), len(of.above)
    plain = Stores(np.ones(pieces), np.zeros(pieces), np.zeros(pieces), np.zeros(count), np.full(count, np.inf), np.zeros(count), np.full(count, -1, dtype=np.intp))
    return dataclasses.replace(plain, **changed)


def test_a_pond_falls_over_its_edge_as_the_closed_form_says():
    """Level-pool routing of a vertical pond over a weir, Q = 1.66 L h^1.5 (HEC-22): h = (h0^-1/2 + 1.66 L t / (2 A))^-2. The pipe beside lies higher."""
    pond = mesh([0.0, 1.0, 0.9], [(1, 2, 10.0)], {2: 0.9})
    stores = bare(pond, plan=np.array([50.0, 0, 0]), rim=np.array([0.0, np.inf, np.inf]), edge=np.array([2.0, 0, 0]))
    found = route(pond, stores, [Brings(np.array([0.0, 1.0]), np.array([0.0, 50 * 0.4]), ((0, 1.0),))], 3600.0, even=1e-3)
    after = found.kept > 5
    wanted = (0.4**-0.5 + 1.66 * 2.0 * (found.kept[after] - 1) / 2 / 50) ** -2
    assert found.level[after, 0] == pytest.approx(wanted, abs=0.01) and found.came == pytest.approx(20.0)
    assert found.highest[0] == pytest.approx(0.4, abs=0.02) and found.over[0] == pytest.approx(20 - 50 * wanted[-1], rel=0.02) and found.off < 1e-9


def test_a_detention_basin_passes_its_flood_on_as_the_textbook_table_says():
    """Level-pool routing, Chow, Maidment and Mays 1988, ex. 8.2.1 and 8.2.2 (recalled): an acre with upright sides under a 5 ft pipe, whose stage and discharge
    are tabled; the flood rises to 360 ft³/s in an hour. Its most is 272 ft³/s or close to it, 80 minutes after it began, at a depth of 9.8 ft."""
    foot, acre = 0.3048, 4046.856
    table = [0, 3, 8, 17, 30, 43, 60, 78, 97, 117, 137, 156, 173, 190, 205, 218, 231, 242, 253, 264, 275]  # ft³/s every half foot
    slopes = np.diff(table) * foot**3 / (0.5 * foot)
    lifts = [Lift(0, -1, 0.5 * foot * k, 0.5 * foot * k + 1e-4, 0.0, more * 1e-4) for k, more in enumerate(np.diff(slopes, prepend=0.0))]
    moments = np.arange(0, 9001, 60.0)
    rates = np.interp(moments, np.arange(0, 9001, 600.0), [0, 60, 120, 180, 240, 300, 360, 320, 280, 240, 200, 160, 120, 80, 40, 0]) * foot**3
    flood = Brings(moments, np.concatenate(([0.0], np.cumsum((rates[1:] + rates[:-1]) / 2 * 60))), ((0, 1.0),))
    pond = mesh([0.0, 30.0, 29.0], [(1, 2, 10.0)], {2: 29.0})
    found = route(pond, bare(pond, plan=np.array([acre, 0, 0])), [flood], 9000.0, even=2e-3, lifts=lifts)
    leaves = found.lifts.sum(axis=1) / foot**3
    assert leaves.max() == pytest.approx(272, rel=0.01) and found.times[leaves.argmax()] == pytest.approx(4800, abs=180) and found.highest[0] / foot == pytest.approx(9.8, abs=0.1)


def conveyed(depth):
    """Manning in a round pipe, never over full: textbook geometry."""
    if depth <= 0:
        return 0.0
    if depth >= 0.1:
        return FULL
    angle = 2 * math.acos(1 - 2 * depth / 0.1)
    area, wet = 0.1**2 / 8 * (angle - math.sin(angle)), 0.1 * angle / 2
    return min(area * (area / wet) ** (2 / 3) / 0.012, FULL)


def test_a_burst_through_a_line_of_boxes_is_that_of_scipy():
    """Three boxes of 0.5 m² in line, each 0.2 m over the next, joined by 20 m of pipe; a burst into the top one fills them over their crowns. Each is a
    pool of so much area (the pipes hold a hundredth of it and are counted with half their length at the ends); solved by LSODA at 1e-8."""
    chain = mesh([0.6, 0.4, 0.2, 0.0], [(0, 1, 20.0), (1, 2, 20.0), (2, 3, 20.0)], {3: 0.0})
    boxes = bare(chain, plan=np.array([50.0, 50.0, 50.0, 0.0]))
    rain = Brings(np.array([0.0, 600.0, 1200.0]), np.array([0.0, 6.0, 12.0]), ((0, 1.0),))

    def held(depth):
        angle = 2 * math.acos(1 - 2 * min(max(depth, 1e-9), 0.1 - 1e-9) / 0.1)
        return 0.1 * math.sin(angle / 2)

    def change(time, level):
        levels = [*level, 0.0]
        flows = []
        for k in range(3):
            fall = max(levels[k], chain.low[k]) - max(levels[k + 1], chain.low[k + 1])
            flows.append(math.copysign(conveyed(max(levels[k], levels[k + 1]) - chain.low[k]) * math.sqrt(abs(fall) / 20.0), fall))
        comes = [0.01 if time < 1200 else 0.0, flows[0], flows[1]]
        areas = [50.0 + (10.0 if k == 0 else 20.0) * held(levels[k] - chain.low[k]) for k in range(3)]
        return [(comes[k] - flows[k]) / areas[k] for k in range(3)]

    found = route(chain, boxes, [rain], 6 * 3600.0, even=1e-3)
    other = solve_ivp(change, (0, 6 * 3600.0), chain.low[:3] + 1e-9, method="LSODA", rtol=1e-8, atol=1e-8, max_step=30, dense_output=True)
    assert found.level[1:, :3] == pytest.approx(other.sol(found.kept[1:]).T, abs=0.003)  # 3 mm of 240 mm
    assert found.leaves.max() == pytest.approx(max(conveyed(y) * math.sqrt(max(y + 0.2, 0) / 20) for y in other.y[2] - 0.2), rel=0.01)
    assert found.off < 1e-10 and found.highest_at[0] == pytest.approx(1200, abs=60)


@pytest.mark.parametrize("seed", [2, 12, 26, 31])
def test_steps_as_long_as_usual_tell_the_peaks_of_short_ones(seed):
    """Showers of ten minutes, the last the hardest, with the stone of the trench; against steps a twentieth as uneven."""
    of, stores = drawn(seed), stores_of(drawn(seed), np.random.default_rng(seed))
    stores = dataclasses.replace(stores, rim=np.full(len(of.low), np.inf))
    showers = Brings(np.arange(0, 5401, 600.0), np.concatenate(([0.0], np.cumsum([1, 0, 3, 0, 0, 2, 0, 6, 0]))), ((int(np.nanargmax(np.where(np.isnan(of.held), of.low, np.nan))), 0.3),))
    usual, fine = route(of, stores, [showers], 6 * 3600.0), route(of, stores, [showers], 6 * 3600.0, even=5e-4)
    assert usual.leaves.max(axis=0) == pytest.approx(fine.leaves.max(axis=0), rel=0.02, abs=0.02 * fine.leaves.max()) and usual.highest == pytest.approx(fine.highest, rel=0.02, abs=0.01)


def test_a_course_of_more_steps_than_there_was_room_for_is_told_whole(monkeypatch):
    pond = mesh([0.5, 0.0], [(0, 1, 20.0)], {1: 0.0})
    rain = Brings(np.array([0.0, 600.0, 3600.0]), np.array([0.0, 1.0, 1.2]), ((0, 1.0),))
    whole = route(pond, bare(pond), [rain], 7200.0)
    monkeypatch.setattr(routing, "MOST_STEPS", 20)
    again = route(pond, bare(pond), [rain], 7200.0)
    assert len(again.times) == len(whole.times) > 20 and float(again.leaves[:, 0] @ again.lengths) == pytest.approx(again.left) == pytest.approx(1.2, abs=1e-3)


@pytest.mark.parametrize("seed", range(40))
def test_storms_through_networks_by_chance_close_their_balance_and_come_to_rest_in_the_steady_state(seed):
    of = drawn(seed)
    assert storm_fault(of, seed) == ""
    if of.inflow.sum() > 0:  # else what stands in hollows is what happens to be left there
        found = route(of, dataclasses.replace(stores_of(of, np.random.default_rng(seed)), rim=np.full(len(of.low), np.inf)), [], 3600.0, lifts=soaking(of))
        steady = part(of)
        moves = np.abs(steady.flow) > 1e-3 * of.inflow.sum()
        assert found.level[-1][of.above][moves] == pytest.approx(steady.level[of.above][moves], abs=2e-3)


def test_sections_counted_otherwise_give_the_same():
    of, chance = drawn(11), np.random.default_rng(3)
    stores, order = stores_of(of, chance), chance.permutation(len(of.low))
    back = np.argsort(order)
    moved = PipeMesh(of.low[order], of.inflow[order], of.held[order], back[of.above], back[of.below], of.invert_above, of.invert_below, of.length, of.diameter, of.full, of.kind, of.soaks)
    leads = np.where(stores.leads >= 0, back[stores.leads], -1)[order].astype(np.intp)
    other = dataclasses.replace(stores, plan=stores.plan[order], rim=stores.rim[order], edge=stores.edge[order], leads=leads)
    bursts = np.array([0.0, 600.0, 1200.0]), np.array([0.0, 5.0, 6.0])
    first, second = route(of, stores, [Brings(*bursts, ((4, 1.0),))], 7200.0), route(moved, other, [Brings(*bursts, ((int(back[4]), 1.0),))], 7200.0)
    assert second.highest[back] == pytest.approx(first.highest, abs=1e-5) and second.most == pytest.approx(first.most, abs=1e-6)


@pytest.mark.parametrize("seed", range(5))
def test_eliminating_by_its_plan_solves_what_numpy_solves(seed):
    """The plan of elimination carried out on a matrix of random entries in its places."""
    chance = np.random.default_rng(seed)
    pairs = [(k, int(chance.integers(0, k))) for k in range(1, 30)] + [tuple(chance.integers(0, 30, 2)) for _ in range(12)]
    way = eliminated(30, pairs)
    dense = np.diag(chance.uniform(9, 12, 30))
    for a, b in pairs:
        if a != b:
            dense[a, b], dense[b, a] = chance.uniform(-1, 1, 2)
    wanted = chance.uniform(-1, 1, 30)
    values, right, solution = np.array([dense[a, b] for a, b in way.at]), wanted.copy(), np.zeros(30)
    for k, p in enumerate(way.order):
        ahead = range(way.start[k], way.start[k + 1])
        for i, m in enumerate(ahead):
            share = values[way.column[m]] / values[p]
            right[way.neighbour[m]] -= share * right[p]
            for j, n in enumerate(ahead):
                values[way.meets[way.meets_from[k] + i * len(ahead) + j]] -= share * values[way.row[n]]
    for k in range(29, -1, -1):
        p = way.order[k]
        solution[p] = (right[p] - sum(values[way.row[m]] * solution[way.neighbour[m]] for m in range(way.start[k], way.start[k + 1]))) / values[p]
    assert solution == pytest.approx(np.linalg.solve(dense, wanted))
