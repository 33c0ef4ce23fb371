"""What can be flushed and joints for the flow; and ways out of a pipe that is too small: each fix does what it says."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest

from laying import one, reason_of
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.effects import clears, effect_of, tried
from weirant.design.patterns import PATTERNS, pattern
from weirant.errors import InputError
from weirant.ground.inverts import invert_at
from weirant.ground.joining import led_in_slanting
from weirant.ground.network import laid_run, network_of
from weirant.ground.set_in import fittings_of
from weirant.ground.ways_in import betweens, with_clean_outs
from weirant.hydraulics.losses import losses_along
from weirant.job.network import MAIN, OPEN_PIPE, Node, Outlet, Run, Stretch
from weirant.job.paths import with_value
from weirant.library import shipped
from weirant.outcome.finding import State

DEMO, WITHIN, FT = demo_job(), 15.24, 0.3048
CALM = with_value(DEMO, "water.storm_depth", 0.0)


def line(length, low=OPEN_PIPE, top="plain", bend=None):
    """A run straight up, or with a square bend at a station."""
    places = [(0.0, 0.0), (0.0, length)] if bend is None else [(0.0, 0.0), (0.0, bend), (length - bend, bend)]
    nodes = [Node(f"n{i}", *place) for i, place in enumerate(places)]
    nodes[0], nodes[-1] = dataclasses.replace(nodes[0], outlet=Outlet(low)), dataclasses.replace(nodes[-1], kind=top)
    return dataclasses.replace(DEMO, nodes=tuple(nodes), runs=(Run("r1", "line", tuple(n.id for n in nodes), 10.0, 0.01, (Stretch(),)),), sources=())


@pytest.mark.parametrize(("job", "farthest", "set_in"), [
    (line(15.2), 15.2, 0), (line(15.3), 15.3, 1), (line(30.4, top="clean-out"), 15.2, 0), (line(30.6, top="clean-out"), 15.3, 1), (line(60.0), 60.0, 2), (line(62.0), 62.0, 3),
    (line(20.0, MAIN), math.inf, 2), (line(15.0, MAIN), math.inf, 1), (line(20.0, MAIN, "inlet"), 20.0, 1), (line(20.0, bend=8.0), math.inf, 1), (line(20.0, MAIN, "vent", 8.0), math.inf, 1),
    (line(40.0, MAIN, "vent", 8.0), math.inf, 2), (line(400.0), 400.0, 14),
])  # fmt: skip
def test_clean_outs_are_set_where_a_hose_does_not_get_in_and_no_more_than_it_takes(job, farthest, set_in):
    """Ends and square bends shut a pipe."""
    assert max(b.farthest for b in betweens(laid_run(job, "r1"))) == pytest.approx(farthest)
    after = with_clean_outs(job, "r1", WITHIN)
    assert all(b.farthest <= WITHIN for b in betweens(laid_run(after, "r1"))) or set_in == 0
    kinds = [sum(n.kind == "clean-out" for n in of.nodes) for of in (job, after)]
    assert kinds[1] - kinds[0] == set_in and laid_run(after, "r1").length == pytest.approx(laid_run(job, "r1").length)
    assert set_in == 0 or with_clean_outs(after, "r1", WITHIN) == after


@pytest.mark.parametrize("key", PATTERNS)
def test_every_layout_can_be_flushed_and_joined_for_the_flow_by_its_fixes(key):
    """Each cures what it is offered for, and where it costs something says what."""
    outcome = assess(pattern(key).job())
    asked = [f for f in outcome.findings if f.code in ("clean-outs", "wye") and f.state == State.TIGHT]
    assert all(f.fixes for f in asked)
    for found in asked:
        effect = effect_of(found.fixes[0], outcome)
        assert clears(found, effect) and not any(f.state == State.FAILS for f in effect.spoiled), found.subject


@pytest.mark.parametrize("mirrored", [1.0, -1.0])
def test_a_tee_becomes_a_wye_a_bend_before_it_and_all_else_stays(mirrored):
    job = dataclasses.replace(DEMO, nodes=tuple(dataclasses.replace(n, x=mirrored * n.x) for n in DEMO.nodes))
    after = led_in_slanting(job, "r4")
    (before_side, before_main), (side, main) = ([laid_run(of, run) for run in ("r4", "r3")] for of in (job, after))
    joints = [next((s, words) for s, words in fittings_of(network_of(of), run) if "green side" in words) for of, run in ((job, before_main), (after, main))]
    assert [words.split()[0] for _, words in joints] == ["tee", "wye"] and joints[0][0] - joints[1][0] == pytest.approx(0.3)
    assert abs(side.bends[0][1]) == pytest.approx(45.0, abs=0.1) and main.length == before_main.length and len(main.nodes) == len(before_main.nodes) + 1  # the bend of the other stays
    drops = [run.invert - float(invert_at(of, np.array(at))) for run, of, (at, _) in ((before_side, before_main, joints[0]), (side, main, joints[1]))]
    assert drops[0] == pytest.approx(drops[1], abs=1e-9) and float(invert_at(side, np.array(side.length))) == pytest.approx(float(invert_at(before_side, np.array(before_side.length))))
    heads = [losses_along(network_of(of), run)[0] for of, run in ((job, before_side), (after, side))]
    assert heads == [pytest.approx(1.0), pytest.approx(0.75)]  # HEC-22


def test_what_has_no_room_for_a_wye_is_refused_and_not_offered():
    near = dataclasses.replace(DEMO, nodes=tuple(dataclasses.replace(n, y=n.y if n.id != "n7" else 10 * FT - 0.15) for n in DEMO.nodes))
    with pytest.raises(InputError, match="no room there for a wye"):
        led_in_slanting(near, "r4")
    found = one(assess(near), "wye", "r4")
    assert (found.state, found.fixes) == (State.TIGHT, ()) and "square" in reason_of(assess(near), "wye", "r4")
    against = dataclasses.replace(DEMO, nodes=tuple(dataclasses.replace(n, y=n.y if n.id not in ("n10", "n11") else n.y - 20) for n in DEMO.nodes))
    assert one(assess(against), "wye", "r4").case == "against"


def test_half_of_what_is_too_much_for_a_pipe_leaves_by_an_exit_of_its_own():
    """Within the boundary, off the buildings; not where each half would still be too much."""
    job = with_value(with_value(CALM, "runs.r3.pipe", "corrugated-50"), "limits.fullest", 0.03)
    outcome = assess(job)
    found = one(outcome, "capacity", "r3")
    fix = next(fix for fix in found.fixes if fix.code == "own-exit")
    effect = effect_of(fix, outcome)
    after = assess(effect.job)
    upper = next(run for run in after.site.runs if run.id not in {r.id for r in job.runs})
    lower = after.run("r3")
    assert lower.run.length == pytest.approx(fix.facts["from"].value - 0.6, abs=1e-5)  # earth left standing between the two
    assert found.state == State.FAILS and clears(found, effect) and upper.run.outlet is not None and upper.run.run.stretches[0].is_solid
    assert one(after, "capacity", upper.id).state != State.FAILS and one(after, "boundary", upper.id).state == State.HOLDS and one(after, "daylight", upper.id).state == State.HOLDS
    worse = with_value(job, "limits.fullest", found.value / 2.5)
    assert "own-exit" not in {fix.code for fix in one(assess(worse), "capacity", "r3").fixes}


def test_solid_pipe_alone_is_made_larger_where_that_is_the_narrow_part():
    job = with_value(with_value(CALM, "runs.r1.stretches.p1.pipe", "corrugated-50"), "limits.fullest", 0.03)
    fixes = {fix.code: fix for fix in one(assess(job), "capacity", "r1").fixes}
    after = tried(fixes["solid-leg"], job, shipped())
    assert one(assess(after), "capacity", "r1").state != State.FAILS and after.runs[0].stretches[1] == job.runs[0].stretches[1]
    both = with_value(job, "runs.r1.pipe", "corrugated-50")
    assert "solid-leg" not in {fix.code for fix in one(assess(both), "capacity", "r1").fixes}  # that alone would not do


@pytest.mark.parametrize(("kind", "says"), [("curb cut", "the town's"), ("existing main", "somebody else's"), ("wall of a storm basin", "consent"), ("dry well", "wells"),
                                            ("spread over a lawn", "neighbour's."), ("open pipe", "the neighbour.")])  # fmt: skip
def test_whose_leave_is_asked_hangs_on_where_the_water_goes(kind, says):
    job = with_value(with_value(with_value(DEMO, "permissions.discharge_allowed", None), "nodes.n1.outlet.kind", kind), "nodes.n4.outlet.kind", kind)
    reason = reason_of(assess(with_value(job, "nodes.n7.outlet.kind", kind)), "discharge-allowed", "")
    assert reason.endswith(says) or says in reason
    assert (kind == "open pipe") == reason.endswith("the neighbour.")
