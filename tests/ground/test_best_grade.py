"""The best grade against brute force, against another algorithm of the solver, and its ways out where there is none."""

from __future__ import annotations

import dataclasses
import itertools

import numpy as np
import pytest
from scipy.optimize import linprog

from weirant.design.best_grade import plan_grade, ways_out
from weirant.design.grade_demands import demand_of
from weirant.errors import InputError
from weirant.ground.grade.best import GiveWay, best_grade
from weirant.ground.grade.demands import (
    Aim,
    CrossingDemand,
    Family,
    JointDemand,
    MeetingDemand,
    NetworkDemand,
    RunDemand,
)
from weirant.ground.grade.programme import build
from weirant.words.grade import way_out_offer

GROUND = {0.0: 29.8, 5.0: 30.1, 10.0: 30.4, 15.0: 30.2, 20.0: 30.9, 25.0: 31.0, 30.0: 31.3}


def run(name="main", **changes):
    stations, ground = np.array(list(GROUND)), np.array(list(GROUND.values()))
    plain = RunDemand(name, stations, ground, np.array([0.0, 10.0, 20.0, 30.0]), np.full(3, 0.01), 0.08, 0.11, 0.06, 0.005, 0.3, 0.15,
                      stations > 4, 1.2, np.full(7, np.inf), stations > 8, outlet_least=29.7)  # fmt: skip
    return dataclasses.replace(plain, **changes)


def side():
    return run("side", outlet_least=None, ground=np.array(list(GROUND.values())) + 0.4)


JOINT = (JointDemand("side", 0.0, "main", 15.0, 0.3),)


def network(*runs, **more):
    return NetworkDemand(runs, 0.15, **more)


def dig(demand, levels):
    """Trapezia by hand, nothing where the pipe stands out of the ground."""
    cut = demand.ground + demand.below - np.interp(demand.stations, demand.nodes, levels)
    cut[~demand.covered] = np.maximum(cut[~demand.covered], 0)
    return float(np.trapezoid(cut, demand.stations) * demand.width)


def satisfies(demand, levels):
    slopes, z = np.diff(levels) / np.diff(demand.nodes), np.interp(demand.stations, demand.nodes, levels)
    return (levels[0] >= demand.outlet_least - 1e-9 and (slopes >= demand.least_slopes - 1e-9).all() and (slopes <= demand.most_slope + 1e-9).all()
            and (z[demand.covered] <= (demand.ground - demand.above - demand.cover)[demand.covered] + 1e-9).all()
            and (z >= demand.ground + demand.below - demand.most_depth - 1e-9).all())  # fmt: skip


def test_no_line_on_a_fine_grid_digs_less():
    """Brute force: every line on a grid of 5 cm; the best of them digs no less than the programme's, and only a little more."""
    demand = run()
    found = best_grade(network(demand))
    levels = found.levels["main"][1]
    assert satisfies(demand, levels) and found.dig == pytest.approx(dig(demand, levels))
    steps = [np.arange(29.7, z + 0.05, 0.05) for z in (29.9, 30.2, 30.6, 31.2)]
    grid = min(dig(demand, np.array(line)) for line in itertools.product(*steps) if satisfies(demand, np.array(line)))
    assert found.dig <= grid + 1e-9 and grid - found.dig < 0.3 * 0.05 * 30


@pytest.mark.parametrize("method", ["highs-ipm", "highs-ds"])
def test_another_algorithm_finds_the_same(method):
    programme = build(network(run(), side(), joints=JOINT))
    cost = np.zeros(programme.count)
    for column, value in programme.dig.items():
        cost[column] = value
    low = [programme.lower.get(i) for i in range(programme.count)]
    other = linprog(cost, A_ub=programme.matrix(), b_ub=programme.limits, bounds=[(v, None) for v in low], method=method)
    ours = best_grade(programme.demand)
    assert ours.dig == pytest.approx(other.fun + programme.constant)


def test_the_aims_differ_as_they_should():
    found = {aim: best_grade(network(run()), aim).levels["main"][1] for aim in Aim}
    slopes = {aim: np.diff(levels) / 10 for aim, levels in found.items()}
    assert np.ptp(slopes[Aim.FEWEST_BREAKS]) < 1e-6 < np.ptp(slopes[Aim.LEAST_DIG])
    assert found[Aim.DEEPEST].sum() < found[Aim.FEWEST_BREAKS].sum() and slopes[Aim.DEEPEST][0] == pytest.approx(0.01)


def test_a_branch_drops_into_its_parent_no_further_than_allowed():
    found = best_grade(network(run(), side(), joints=JOINT))
    parent = np.interp(15.0, *found.levels["main"])
    assert -1e-9 <= found.levels["side"][1][0] - parent <= 0.3 + 1e-9


def test_runs_that_both_go_on_through_a_joint_lie_at_one_level_there():
    cross = (JointDemand("main", 15.0, "side", 10.0, 0.0),)
    found = best_grade(network(run(), run("side", outlet_least=29.6), joints=cross)).levels
    assert np.interp(15.0, *found["main"]) == pytest.approx(np.interp(10.0, *found["side"]), abs=1e-6)


@pytest.mark.parametrize(("way", "top", "chosen"), [("best", 29.9, "over"), ("best", 30.25, "under"), ("over", 29.9, ""), ("under", 30.25, "")])
def test_a_buried_line_is_passed_over_or_under(way, top, chosen):
    gas = CrossingDemand(12.0, "gas", top, top - 0.2, way)
    found = best_grade(network(run(crossings=(gas,))))
    z = float(np.interp(12.0, *found.levels["main"]))
    assert z - 0.005 >= top - 1e-9 or z + 0.11 <= top - 0.2 + 1e-9
    assert found.ways == ((("main", "gas", chosen),) if chosen else ())


def test_what_a_crossing_costs_is_the_dig_without_it():
    free, held = (best_grade(network(run(crossings=c))) for c in ((), (CrossingDemand(12.0, "gas", 30.25, 29.95, "under"),)))
    (binding,) = (b for b in held.bindings if b.family == Family.CROSSING)
    assert binding.saving == pytest.approx(held.dig - free.dig) and binding.saving > 0.1 and binding.rate > 0


def test_the_dual_value_is_the_dig_saved():
    """Against a second solution with the cover eased by 1 mm."""
    tight, eased = (best_grade(network(run(cover=c))) for c in (0.15, 0.149))
    rate = sum(b.rate for b in tight.bindings if b.family == Family.COVER)
    assert tight.dig - eased.dig == pytest.approx(rate * 0.001, rel=1e-3)


def test_a_held_invert_is_kept():
    found = best_grade(network(run(held=((20.0, 30.05),))))
    assert np.interp(20.0, *found.levels["main"]) == pytest.approx(30.05)


def test_runs_that_cross_pass_clear_of_each_other():
    other = run("other", outlet_least=29.5, covered=np.arange(7) > 2, most_depth=1.5)
    found = best_grade(network(run(), other, meetings=(MeetingDemand("other", "main", 15.0, 15.0),)))
    gap = abs(float(np.interp(15.0, *found.levels["other"])) - float(np.interp(15.0, *found.levels["main"])))
    assert gap >= 0.11 + 0.005 + 0.15 - 1e-6


@pytest.mark.parametrize(("changes", "family", "amount"), [
    ({"outlet_least": 30.2}, Family.OUTLET, 0.2 + 0.01 * 5 - (30.1 - 0.26 - 30.0)),
    ({"least_slopes": np.full(3, 0.05)}, Family.SLOPE, None),
    ({"held": ((30.0, 31.25),)}, Family.HELD, None),
    ({"collect_levels": np.full(7, 28.0)}, Family.COLLECT, None),
])  # fmt: skip
def test_without_a_line_the_least_to_give_way_is_named(changes, family, amount):
    demand = run(**changes)
    found = best_grade(network(demand))
    assert not found.is_feasible and found.dig == 0.0
    give = next(g for g in found.gives if [f for f, _ in g.amounts] == [family])
    if amount is not None:
        assert give.amounts[0][1] == pytest.approx(amount, abs=1e-6)
    eased = {Family.OUTLET: lambda d, t: {"outlet_least": d.outlet_least - t}, Family.SLOPE: lambda d, t: {"least_slopes": d.least_slopes - t},
             Family.HELD: lambda d, t: {"held": ((30.0, 31.25 - t),)}, Family.COLLECT: lambda d, t: {"collect_levels": d.collect_levels + t}}  # fmt: skip
    for share, works in ((1.0001, True), (0.99, False)):
        assert best_grade(network(dataclasses.replace(demand, **eased[family](demand, give.amounts[0][1] * share)))).is_feasible is works


def test_a_finer_net_of_nodes_is_never_less_feasible_and_offers_are_never_nought(outcome):
    """One length in fourteen once found no line, because where cover begins was judged at the nodes themselves."""
    base = best_grade(demand_of(outcome), quick=True)
    for every in (0.2935224, 0.3048, 0.5, 0.7, 1.3, 3.9, 0.963 * 0.3048 * 2, 0.915, 1.83, 3.66):
        demand = demand_of(outcome, every if every > 0.3 else 0.3)
        assert all(set(coarse.nodes.tolist()) <= set(fine.nodes.tolist()) for coarse, fine in zip(demand_of(outcome).runs, demand.runs, strict=True))
        found = best_grade(demand, quick=True)
        assert found.is_feasible and found.dig < base.dig * 1.001, every
    for every in (0.0, -1.0, 0.2999):
        with pytest.raises(InputError, match=r"must be at least 1\.0 ft"):
            plan_grade(outcome, every=every)
    for family, amount, says in ((Family.OUTLET, 4e-4, "Lower the outlet 1/8 in"), (Family.OUTLET, 0.0033, "Lower the outlet 1/4 in"), (Family.SLOPE, 1e-6, "Accept a slope of 0.49 %")):
        (way,) = ways_out(outcome, (GiveWay(((family, amount),), base.levels),))  # by a hair: a figure that can be measured is told
        assert way_out_offer(outcome.job, way).name.startswith(says)
