"""One run in hand: seen as the main line, edited, and put back where it belongs."""

from __future__ import annotations

import dataclasses

import pytest

from weirant.job.faults import faults
from weirant.job.in_hand import as_main, index_of, path_in, put_back, run_names
from weirant.job.network import MAIN, AsBuilt, Branch
from weirant.job.paths import label_at, value_at, with_value
from weirant.job.site import Feature, SitePoint, Spot
from weirant.job.survey import Place, Shot


def test_an_edit_goes_to_the_run_in_hand_and_the_rest_stays(job):
    seen = as_main(job, "green side")
    assert seen.line == job.branches[2].line and index_of(job, "green side") == 2
    edited = with_value(dataclasses.replace(seen, line=dataclasses.replace(seen.line, slope=0.03)), "trench.width", 0.5)
    after = put_back(job, edited, "green side")
    assert (after.line, after.branches[2].line.slope, after.trench.width) == (job.line, 0.03, 0.5)
    assert after.branches[:2] == job.branches[:2] and run_names(after) == (MAIN, "roof line", "green drain", "green side")


def test_the_main_line_is_its_own_view(job):
    assert as_main(job, MAIN) is job and put_back(job, job, MAIN) is job and as_main(job, "nowhere") is job


@pytest.mark.parametrize(("run", "path", "where"), [
    (MAIN, "line.slope", "line.slope"), ("roof line", "line.slope", "branches.0.line.slope"), ("roof line", "trench.width", "trench.width")])  # fmt: skip
def test_paths_lead_to_the_run_in_hand(job, run, path, where):
    assert path_in(job, run, path) == where
    assert value_at(job, where) == value_at(as_main(job, run), path) and label_at(job, where) == label_at(job, path)


def feature(**changes):
    return Feature("gas line", "gas", (Spot(0, 0), Spot(1, 1)), **changes)


@pytest.mark.parametrize(("changes", "path", "says"), [
    ({"points": (SitePoint("a", 2e5, 0.0, 1.0),)}, "points[0].x", "distance east must be at most 100000"),
    ({"points": (SitePoint("a", 0.0, 0.0, float("nan")),)}, "points[0].level", "must be a finite number"),
    ({"features": (feature(depth=-1.0),)}, "features[0].depth", "depth to its top must be at least 0"),
    ({"features": (dataclasses.replace(feature(), kind="castle"),)}, "features[0].kind", "kind must be one of"),
    ({"features": (dataclasses.replace(feature(), points=(Spot(float("inf"), 0),)),)}, "features[0].points", "within 100 km"),
    ({"as_built": (AsBuilt("main", -1.0, 30.0),)}, "as_built[0].station", "station must be at least 0"),
])  # fmt: skip
def test_what_a_site_may_not_hold(job, changes, path, says):
    assert [(p, t) for p, t in faults(dataclasses.replace(job, **changes)) if p == path and says in t]


def test_what_a_branch_and_a_shot_may_not_hold(job):
    line = dataclasses.replace(job.branches[0].line, solid_length=99.0)
    found = faults(dataclasses.replace(job, branches=(Branch(" ", line),)))
    assert {p for p, _ in found} == {"branches[0].line.solid_length", "branches[0].name"}
    shot = Shot("a", None, None, 1.0, place=Place("orbit", 1.0, 2.0))
    (fault,) = faults(dataclasses.replace(job, survey=dataclasses.replace(job.survey, shots=(shot,))))
    assert fault[0] == "survey.shots[0].place.how" and "plan, tape, angle" in fault[1]


def test_a_long_list_is_looked_through_once_and_its_faults_are_not_forgotten(job):
    good = tuple(SitePoint(str(i), float(i), 0.0, 1.0) for i in range(500))
    fine = dataclasses.replace(job, points=good)
    assert faults(fine) == faults(fine) == []
    bad = dataclasses.replace(job, points=(*good, SitePoint("x", 0.0, 0.0, 1e9)))
    assert [p for p, _ in faults(bad)] == [p for p, _ in faults(bad)] == ["points[500].level"]
