"""Runs laid out in plan through their nodes, joined by sharing one, and their inverts."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest

from laying import laid
from weirant.errors import InputError
from weirant.ground.alignment import alignment_of, turn_at
from weirant.ground.inverts import grade_nodes, invert_at, least_slope, slope_at, with_inverts
from weirant.ground.network import laid_run, meetings, network_of, run_called
from weirant.ground.set_in import fittings_of
from weirant.job.network import GradeBreak, Node, Run

RUN = laid(10.0, 0.01, 5.0, 40.0, breaks=(GradeBreak(20.0, 0.03),))


def with_runs(job, places, *runs):
    """The job with other nodes by name and place, and runs by name and nodes, beside its own."""
    nodes = tuple(Node(name, *place) for name, place in places.items())
    return dataclasses.replace(job, nodes=(*job.nodes, *nodes), runs=(*job.runs, *(Run(f"r{i + 9}", name, tuple(ns), 29.3, 0.01) for i, (name, ns) in enumerate(runs))))


def test_corners_give_stations_bearings_and_turns():
    corners = [(1.0, 2.0), (1.0, 12.0), (9.0, 18.0), (20.0, 18.0)]
    lie = alignment_of(corners)
    assert lie.points == pytest.approx(np.array(corners)) and lie.length == pytest.approx(31.0)
    assert [turn_at(lie, s) for s in (0.0, 10.0, 15.0, 20.0, 31.0)] == pytest.approx([0.0, -53.1301, 0.0, -36.8699, 0.0], abs=1e-3)
    assert lie.point(15.0) == pytest.approx((5.0, 15.0)) and lie.bearing(25.0) == pytest.approx(0.0)
    assert lie.nearest((5.0, 30.0)) == pytest.approx((20.0, math.hypot(4, 12)))
    with pytest.raises(InputError, match="two points that stand apart"):
        alignment_of([(1, 1), (1, 1)])


def test_inverts_and_slopes_with_a_break():
    assert invert_at(RUN, np.array([0, 20, 40, 50, -10.0])) == pytest.approx([10, 10.2, 10.8, 11.1, 9.9])
    assert slope_at(RUN, np.array([20.0, 20.1])).tolist() == [0.01, 0.03] and least_slope(RUN) == (0.01, 0.0)
    stations, levels = grade_nodes(RUN)
    again = with_inverts(RUN, [0, 10, *stations[1:]], [10, 10.1, *levels[1:]])
    assert (again.slope, len(again.breaks)) == (pytest.approx(0.01), 1)  # the length of one slope is joined
    assert with_inverts(RUN, [0, 40], [10, 10]).slope == 0.0  # a level tube is no fault of the grade
    for stations, levels, says in (([0, 20, 40], [10, 9.9, 11], r"must not rise towards its low end between stations 0\.0 ft \(0\.00 m\) and 65\.6 ft \(20\.00 m\)"),
                                   ([0, 20, 20, 40], [10, 11, 11, 12], "twice at one")):  # fmt: skip
        with pytest.raises(InputError, match=says):
            with_inverts(RUN, stations, levels)


def test_stretches_tell_what_collects_where():
    thrice = dataclasses.replace(RUN, spans=((0.0, 5.0, True), (5.0, 20.0, False), (20.0, 30.0, True), (30.0, 40.0, False)))
    assert thrice.collects(np.array([0, 5, 12, 20, 25, 30, 40.0])).tolist() == [False, True, True, True, False, True, True]
    assert (thrice.solid_length, thrice.collecting_length, thrice.is_solid_at(25.0), thrice.is_solid_at(30.0)) == (5.0, 25.0, True, False)
    assert thrice.collecting_above(np.array([0, 12, 25, 40.0])) == pytest.approx([25, 18, 10, 0])


def test_runs_that_share_a_node_are_joined_there(job):
    """A wye and a cross, a ring of two runs between the same nodes, and a level tube between two runs: none is the main one."""
    network = network_of(with_runs(job, {"a": (5.0, 12.0), "b": (9.0, 3.0)}, ("tube", ("n1", "a")), ("side", ("n2", "b"))))
    slab, side = network.run("r1"), network.run("r10")
    assert [(other.name, station) for other, station in network.drains_to(side)] == [("slab drain", pytest.approx(23.7744))]
    assert [other.name for other, _ in network.joined_by(slab)] == ["side"]  # what begins at its low end leaves beside it
    assert network.ends_in_the_open(slab) and not network.ends_in_the_open(side)
    ring = network_of(with_runs(job, {"a": (5.0, 12.0), "b": (9.0, 3.0), "c": (20.0, 12.0)}, ("east leg", ("b", "c", "a")), ("west leg", ("b", "a"))))
    assert [other.name for other, at in ring.others_at(ring.run("r9"), "a") if at > 0] == ["west leg"] and ring.drains_to(ring.run("r9")) == []


def test_fittings_follow_from_the_layout(job):
    job = with_runs(job, {"a": (5.0, 12.0), "e": (9.0, 23.7744), "w": (-9.0, 40.0), "s": (8.0, 30.0)}, ("east", ("n2", "e")), ("west", ("n2", "w")), ("slant", ("n3", "s")))
    names = [words for _, words in fittings_of(network_of(job), network_of(job).run("r1"))]
    assert names == ["bend 86° left", "cross to east, west", "coupler to slant"]
    green = [words for _, words in fittings_of(network_of(job), network_of(job).run("r3"))]
    assert green == ["bend 90° left", "tee to green side", "end cap"]


def test_runs_that_cross_without_a_joint(job):
    crossing = with_runs(job, {"a": (-10.0, 12.0), "b": (10.0, 12.0)}, ("across", ("a", "b")))
    (met,) = meetings(network_of(crossing))
    assert (met.first, met.second) == ("r9", "r1") and (met.first_station, met.second_station) == pytest.approx((10.0, 12.0))
    beside = dataclasses.replace(crossing, runs=(*crossing.runs[:-1], dataclasses.replace(crossing.runs[-1], trench_of="r1")))
    assert meetings(network_of(beside)) == []


def test_a_run_is_found_by_name_or_identity(job):
    assert run_called(job, "green drain").id == run_called(job, "r3").id == "r3" and laid_run(job, "r3").length == pytest.approx(20.7264)
    for look in (lambda: run_called(job, "moat"), lambda: laid_run(job, "r77")):
        with pytest.raises(InputError, match="is not on this site"):
            look()
