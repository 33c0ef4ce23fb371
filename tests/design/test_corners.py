"""Corners typed after drawing, runs carried on and crossed with joints: what counts along a run stays where it lies."""

from __future__ import annotations

import math

import pytest

from laying import one, with_changes
from weirant.design.assess import assess
from weirant.design.corners import continued, corners_of, with_corner_at, with_leg
from weirant.design.demo import demo_job
from weirant.design.layout import add_run
from weirant.design.snapping import bearing_of, bearing_words
from weirant.errors import InputError
from weirant.ground.network import laid_run
from weirant.ground.set_in import fittings_of
from weirant.job.faults import faults
from weirant.job.network import Held

JOB = demo_job()
FT = 0.3048


def legs(job, owner):
    corners = corners_of(job, owner)
    return [(math.dist(a, b), math.degrees(math.atan2(b[0] - a[0], b[1] - a[1])) % 360) for a, b in zip(corners, corners[1:], strict=False)]


@pytest.mark.parametrize("owner", ["r1", "r4", "t10", "t5"])
def test_a_leg_is_typed_and_those_that_follow_keep_theirs(owner):
    before = legs(JOB, owner)
    longer = with_leg(JOB, owner, 1, before[0][0] + 2.0, math.radians(before[0][1]))
    assert legs(longer, owner) == [pytest.approx((before[0][0] + 2.0, before[0][1])), *(pytest.approx(leg) for leg in before[1:])] and faults(longer) == []
    turned = with_leg(JOB, owner, 1, before[0][0], math.radians(before[0][1] + 7.0))
    assert legs(turned, owner) == [pytest.approx((before[0][0], (before[0][1] + 7.0) % 360)), *(pytest.approx(leg) for leg in before[1:])]
    assert corners_of(turned, owner)[0] == corners_of(JOB, owner)[0]
    alone = with_corner_at(JOB, owner, 1, (corners_of(JOB, owner)[1][0] + 0.5, corners_of(JOB, owner)[1][1]))
    assert corners_of(alone, owner)[2:] == corners_of(JOB, owner)[2:] and faults(alone) == []


def test_what_is_joined_and_held_goes_with_a_longer_leg():
    """The green drain's joint moves east: the branch begins there, its held invert and the drain's stretches stretch with their legs, levels stay."""
    job = with_changes(JOB, "r4", held=(Held(5.4864, 28.8),))
    wider = with_leg(job, "r3", 1, 6.0, 0.0)  # the joint, 6 m north of the outlet instead of 16 ft
    side = laid_run(wider, "r4")
    assert side.alignment.point(0.0) == pytest.approx(laid_run(wider, "r3").alignment.point(6.0)) and faults(wider) == []
    before, after = (assess(j).run("r3") for j in (job, wider))
    assert after.run.length == pytest.approx(before.run.length + 6.0 - 16 * FT) and after.run.spans[0][1] == pytest.approx(6.0)
    ends = [(float(f.run.grade[1][0]), float(f.run.grade[1][-1])) for f in (before, after)]
    assert ends[0] == pytest.approx(ends[1])


def test_a_run_is_carried_on_and_may_meet_another():
    longer = continued(JOB, "r4", [(24.0, 30.0), (10.0, 30.0)])
    run = laid_run(longer, "r4")
    old = laid_run(JOB, "r4")
    assert run.alignment.points[:3].tolist() == old.alignment.points.tolist() and run.alignment.point(run.length) == (10.0, 30.0) and faults(longer) == []
    assert run.slope == old.slope and assess(longer).run("r4").collecting.high == pytest.approx(run.length)
    ring = continued(JOB, "r4", [(12.0, 26.0), laid_run(JOB, "r1").alignment.point(10.0)], ends_on="r1")
    assert [other.id for other, _ in assess(ring).site.network.others_at(laid_run(ring, "r4"), laid_run(ring, "r4").nodes[-1][0].id)] == ["r1"] and faults(ring) == []
    with pytest.raises(InputError, match="would meet itself"):
        continued(JOB, "r4", [(20.0, 26.0), laid_run(JOB, "r4").alignment.point(3.0)], ends_on="r4")
    with pytest.raises(InputError, match="wants a corner"):
        continued(JOB, "r4", [])
    with pytest.raises(InputError, match="whole length must be at most"):
        continued(JOB, "r4", [(9000.0, 0.0)])


def test_a_run_that_crosses_with_a_joint_makes_a_cross():
    """Without the joint the two are told to pass each other; with it they share a node, and their water."""
    at = laid_run(JOB, "r4").alignment.point(12.0)
    corners = [(at[0] + 8.0, at[1]), at, (at[0] - 12.0, at[1])]
    apart, joined = (add_run(JOB, corners, collects=True, ground=28.2, crosses=crosses) for crosses in (None, {at: "r4"}))
    assert faults(joined) == [] and not any(f.code == "runs-apart" and f.subject == "r5" for f in assess(joined).findings) and one(assess(apart), "runs-apart", "r5")
    network = assess(joined).site.network
    assert "cross to green side" in [words for _, words in fittings_of(network, network.run("r5"))]
    assert math.dist(network.run("r5").alignment.point(8.0), at) < 1e-9 and network.run("r5").nodes[1][0].id in {node.id for node, _ in network.run("r4").nodes}


def test_bearings_are_read_as_they_are_said():
    assert [bearing_words(bearing_of(text)) for text in ("90", "N 45 E", "S10W", "-10", "360°")] == ["90.0°", "45.0°", "190.0°", "350.0°", "0.0°"]
    with pytest.raises(InputError, match="between -360 and 360"):
        bearing_of("400")
