"""Runs laid out in plan, joined to a tree, and their inverts."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest

from weirant.errors import InputError
from weirant.ground.alignment import alignment_of, bends_of
from weirant.ground.inverts import grade_nodes, invert_at, least_slope, slope_at, with_inverts
from weirant.ground.network import fittings_of, meetings, run_named, runs_of, with_line
from weirant.job.line import Bend, GradeBreak, Line
from weirant.job.network import MAIN, Branch

LINE = Line(10.0, 0.01, 5.0, 40.0, breaks=(GradeBreak(20.0, 0.03),))


def branch(name, joins, at=10.0, **more):
    return Branch(name, Line(10.2, 0.01, 0.0, 20.0), joins, at, **more)


def test_corners_and_bends_are_one_thing():
    corners = [(1.0, 2.0), (1.0, 12.0), (9.0, 18.0), (20.0, 18.0)]
    length, bearing, bends = bends_of(corners)
    lie = alignment_of(dataclasses.replace(LINE, length=length, bends=bends), corners[0], bearing)
    assert lie.points == pytest.approx(np.array(corners)) and length == pytest.approx(31.0)
    assert [b.angle for b in bends] == pytest.approx([-53.1301, -36.8699], abs=1e-3)
    assert lie.point(15.0) == pytest.approx((5.0, 15.0)) and lie.bearing(25.0) == pytest.approx(0.0)
    assert lie.nearest((5.0, 30.0)) == pytest.approx((20.0, math.hypot(4, 12)))
    with pytest.raises(InputError, match="two points that stand apart"):
        bends_of([(1, 1), (1, 1)])


def test_inverts_and_slopes_with_a_break():
    assert invert_at(LINE, np.array([0, 20, 40, 50, -10.0])) == pytest.approx([10, 10.2, 10.8, 11.1, 9.9])
    assert slope_at(LINE, np.array([20.0, 20.1])).tolist() == [0.01, 0.03] and least_slope(LINE) == (0.01, 0.0)
    stations, levels = grade_nodes(LINE)
    again = with_inverts(LINE, [0, 10, *stations[1:]], [10, 10.1, *levels[1:]])
    assert (again.slope, len(again.breaks)) == (pytest.approx(0.01), 1)  # the length of one slope is joined
    with pytest.raises(InputError, match=r"must fall towards the outlet between stations 0\.00 m and 20\.00 m"):
        with_inverts(LINE, [0, 20, 40], [10, 10, 11])


@pytest.mark.parametrize(("branches", "says"), [
    ((branch("a", "b"), branch("b", "a")), "runs in a circle"),
    ((branch("a", "a"),), "runs in a circle"),
    ((branch("a", "nowhere"),), "joins nowhere, which is not there"),
    ((branch("a", MAIN), branch("a", MAIN)), "is named twice"),
    ((branch(MAIN, MAIN),), "is named twice"),
    ((branch("a", MAIN, 4000.0),), "beyond its end; move it to station 52.43 m or less"),
])  # fmt: skip
def test_networks_that_have_no_way_out(job, branches, says):
    with pytest.raises(InputError, match=says):
        runs_of(dataclasses.replace(job, branches=branches))


def test_runs_come_after_those_they_join_and_start_on_them(job):
    job = dataclasses.replace(job, branches=(branch("b", "a"), branch("a", MAIN)))
    runs = runs_of(job)
    assert [r.name for r in runs] == [MAIN, "a", "b"]
    assert runs[1].alignment.point(0.0) == pytest.approx(runs[0].alignment.point(10.0))
    moved = with_line(job, "a", dataclasses.replace(run_named(job, "a").line, slope=0.05))
    assert run_named(moved, "a").line.slope == 0.05 and moved.line == job.line


def test_fittings_follow_from_the_layout(job):
    east, west = branch("east", MAIN, bearing=0.0), branch("west", MAIN, bearing=180.0)
    slant = branch("slant", MAIN, 15.0, bearing=45.0)
    runs = runs_of(dataclasses.replace(job, branches=(east, west, slant)))
    names = [words for _, words in fittings_of(runs, runs[0])]
    assert names == ["cross to east, west", "wye to slant", "bend 86° left", "end cap"]


def test_runs_that_cross_without_a_joint(job):
    across = Branch("across", Line(29.0, 0.01, 0.0, 20.0), x=-10.0, y=12.0, bearing=0.0)
    (met,) = meetings(runs_of(dataclasses.replace(job, branches=(across,))))
    assert (met.first, met.second) == ("across", MAIN) and (met.first_station, met.second_station) == pytest.approx((10.0, 12.0))
    beside = dataclasses.replace(across, trench_of=MAIN)
    assert meetings(runs_of(dataclasses.replace(job, branches=(beside, branch("a", MAIN, bearing=0.0))))) == []


def test_a_bend_beyond_the_end_is_left_out():
    lie = alignment_of(dataclasses.replace(LINE, bends=(Bend(60.0, 90.0),)), (0.0, 0.0), 0.0)
    assert lie.points.tolist() == [[0.0, 0.0], [40.0, 0.0]]
