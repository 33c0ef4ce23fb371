"""What a job may hold of runs and nodes, what refers to what, and what goes with what is taken out."""

from __future__ import annotations

import dataclasses
from functools import partial

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from laying import with_changes
from weirant.design.assess import assess
from weirant.design.corners import without_corner
from weirant.design.demo import demo_job
from weirant.design.layout import taken_out_at
from weirant.design.patterns import pattern
from weirant.errors import InputError
from weirant.ground.joining import join
from weirant.ground.turning import turned_round
from weirant.job.audit import reference_faults
from weirant.job.faults import faults
from weirant.job.identity import THING, fresh
from weirant.job.network import FITTINGS, AsBuilt, CrossingChoice, Stretch
from weirant.job.paths import label_at, value_at, with_value
from weirant.job.removal import without_hole, without_run, without_thing
from weirant.job.run_edits import of_node_kind, with_node, with_solid_length
from weirant.job.site import Feature, SitePoint, Spot
from weirant.job.survey import Place, Shot

JOB = dataclasses.replace(
    demo_job(), as_built=(AsBuilt("r1", 3.0, 29.0), AsBuilt("r4", 3.0, 28.7)), crossings=(CrossingChoice("r1", "t7", "under"), CrossingChoice("r3", "t8", "over")),
    assumed=("runs.r1.slope", "runs.r4.length", "features.t7.depth", "nodes.n7.outlet.water_level", "sections.s1.width"))  # fmt: skip
SOLID = Stretch(is_solid=True)


def feature(**changes):
    return Feature("t99", "gas line", "gas", (Spot(0, 0), Spot(1, 1)), **changes)


@pytest.mark.parametrize(("changes", "path", "says"), [
    ({"points": (SitePoint("a", 2e5, 0.0, 1.0),)}, "points[0].x", "distance east must be at most 100000"),
    ({"points": (SitePoint("a", 0.0, 0.0, float("nan")),)}, "points[0].level", "must be a finite number"),
    ({"features": (feature(depth=-1.0),)}, "features[0].depth", "depth to its top must be at least 0"),
    ({"features": (dataclasses.replace(feature(), kind="castle"),)}, "features[0].kind", "kind must be one of"),
    ({"features": (dataclasses.replace(feature(), points=(Spot(float("inf"), 0),)),)}, "features[0].points", "within 100 km"),
    ({"as_built": (AsBuilt("r1", -1.0, 30.0),)}, "as_built[0].station", "station must be at least 0"),
])  # fmt: skip
def test_what_a_site_may_not_hold(job, changes, path, says):
    assert [(p, t) for p, t in faults(dataclasses.replace(job, **changes)) if p == path and says in t]


@pytest.mark.parametrize(("changes", "path", "says"), [
    ({"name": " "}, "runs[1].name", "a run needs a name"), ({"pipes": 5}, "runs[1].pipes", "1 to 4"),
    ({"nodes": ("n4",)}, "runs[1].nodes", "needs a node at each end"), ({"nodes": ("n4", "n99")}, "runs[1].nodes", "goes through node n99, which is not there"),
    ({"nodes": ("n4", "n4")}, "runs[1].nodes", "are one place"), ({"trench_of": "r2"}, "runs[1].trench_of", "in its own trench"),
    ({"trench_of": "r9"}, "runs[1].trench_of", "the trench of r9, which is not there"),
    ({"bore": "b1"}, "runs[1].bore", "but none is named"), ({"trench_of": "r1", "bore": "b9"}, "runs[1].bore", "has none such all along"),
    ({"trench_of": "r1", "bore": "b1"}, "runs[1].bore", "is taken; give it another"), ({"stretches": (Stretch(section="s9"),)}, "runs[1].stretches[0].section", "s9, which is not there"),
    ({"stretches": (Stretch(True, 5.0), SOLID)}, "runs[1].stretches[0].id", "stands 2 times"),
    ({"stretches": ()}, "runs[1].stretches", "needs a stretch"), ({"stretches": (Stretch(True, 5.0),)}, "runs[1].stretches[0].to_station", "leave its station open"),
    ({"stretches": (Stretch(True, 5.0), Stretch(False, 4.0, id="p2"), dataclasses.replace(SOLID, id="p3"))}, "runs[1].stretches", "one above the other"),
])  # fmt: skip
def test_what_a_run_may_not_be(job, changes, path, says):
    assert any(p == path and says in t for p, t in faults(with_changes(job, "r2", **changes)))


def test_trenches_are_not_shared_in_a_chain_or_a_circle(job):
    chain = with_changes(with_changes(job, "r2", trench_of="r1"), "r3", trench_of="r2")
    assert [p for p, _ in faults(chain)] == ["runs[2].trench_of"]
    circle = with_changes(with_changes(job, "r2", trench_of="r3"), "r3", trench_of="r2")
    assert [p for p, _ in faults(circle)] == ["runs[1].trench_of", "runs[2].trench_of"]


def test_every_dangling_or_doubled_reference_is_told_at_once(job):
    shots = (Shot("a", 1.0, None, 1.0), Shot("b", None, None, 1.0, run="r8"))
    bad = dataclasses.replace(job, as_built=(AsBuilt("main", 1.0, 29.0),), crossings=(CrossingChoice("r7", "t99"),), assumed=("runs.r5.slope", "soils.g1.layers.7.texture"),
                              survey=dataclasses.replace(job.survey, shots=shots), features=tuple(f for f in job.features if f.id != "t10"))  # fmt: skip
    assert [p for p, _ in reference_faults(bad)] == ["runs[0].stretches[1].situation.place", "survey.shots[0].run", "survey.shots[1].run", "as_built[0].run",
                                                     "crossings[0].run", "crossings[0].thing", "assumed[0]", "assumed[1]"]  # fmt: skip
    twice = dataclasses.replace(job, nodes=(*job.nodes, job.nodes[0]), features=(*job.features, dataclasses.replace(job.features[0], id="12")))
    assert {(p, "2 times" in t) for p, t in reference_faults(twice)} == {("nodes[0].id", True), ("nodes[11].id", True), ("features[10].id", False)}
    assert reference_faults(dataclasses.replace(job, runs=()))[0] == ("runs", "a job needs one run at least")


def test_a_shot_takes_its_place_from_the_three_ways(job):
    shot = Shot("a", None, None, 1.0, place=Place("orbit", 1.0, 2.0))
    (fault,) = faults(dataclasses.replace(job, survey=dataclasses.replace(job.survey, shots=(shot,))))
    assert fault[0] == "survey.shots[0].place.how" and "plan, tape, angle" in fault[1]


def test_a_path_leads_by_identity_whatever_comes_before(job):
    """Reordering and removing never points a path elsewhere; length and solid length are read and set like any field."""
    back = dataclasses.replace(job, runs=job.runs[::-1])
    for path in ("runs.r2.slope", "runs.r4.length", "nodes.n7.outlet.water_level", "features.t8.depth", "holes.h2.x"):
        assert value_at(back, path) == value_at(job, path) and label_at(job, path)
    longer = with_value(back, "runs.r2.length", 12.0)
    assert (value_at(longer, "runs.r2.length"), value_at(longer, "runs.r2.solid_length")) == (pytest.approx(12.0), pytest.approx(12.0))
    drained = with_value(with_value(longer, "runs.r2.solid_length", 5.0), "runs.r2.solid_length", 0.0)
    assert [r.stretches for r in drained.runs if r.id == "r2"] == [(Stretch(is_solid=False, id="p2", pipe="pvc-150-two-row"),)]
    for path, value, says in (("runs.r3.length", 4.0, "to the last bend or joint"), ("runs.r1.solid_length", 60.0, "not be more than the whole length"),
                              ("runs.r1.length", 0.1, "at least 0.3")):  # fmt: skip
        with pytest.raises(InputError, match=says):
            with_value(job, path, value)
    with pytest.raises(KeyError):
        value_at(job, "runs.r9.slope")


def test_an_identity_is_never_one_that_is_in_use():
    assert fresh(JOB.features, THING) == "t11" and fresh(JOB.features[:3], THING) == "t4" and fresh((), THING) == "t1"


def test_what_goes_with_a_run_is_told():
    gone = without_run(JOB, "r1")
    assert gone.with_it == ("1 reading as built", "1 way past a buried line", "11 shots booked along it keep their places in plan", "no run keeps the clubhouse slab dry any more")
    places = {s.point: s.place for s in gone.job.survey.shots if s.place is not None}
    assert (places["G7"].first, places["G7"].second) == pytest.approx((0.0, 12.192)) and faults(gone.job) == [] and "runs.r1.slope" not in gone.job.assumed
    green = without_run(with_changes(JOB, "r2", trench_of="r3"), "r3")
    assert green.with_it == ("1 way past a buried line", "roof line gets a trench of its own", "green side then leads nowhere")
    assert {n.id for n in JOB.nodes} - {n.id for n in green.job.nodes} == {"n7", "n9"}  # the joint stays with the run that began there
    assert without_thing(JOB, "t10").with_it == ("slab drain then keeps no place dry",)
    assert without_thing(JOB, "t7").with_it == ("1 way past it",) and without_hole(JOB, "h1").with_it == ("1 test",)
    last = without_run(without_run(without_run(JOB, "r4").job, "r3").job, "r2").job
    with pytest.raises(InputError, match="is the only run"):
        without_run(last, "r1")


@settings(max_examples=40, deadline=None)
@given(st.lists(st.integers(0, 400), max_size=12))
def test_whatever_is_taken_out_nothing_is_left_dangling(picks):
    """And what is left can be worked out."""
    job = JOB
    for pick in picks:
        things = [(without_run, r.id) for r in job.runs if len(job.runs) > 1] + [(without_thing, f.id) for f in job.features] + [(without_hole, h.id) for h in job.holes]
        if things:
            take, identity = things[pick % len(things)]
            job = take(job, identity).job
        assert reference_faults(job) == []
    assert {f.subject for f in assess(job).findings} <= {"", *(thing.id for thing in (*job.runs, *job.features, *job.old_drains))}


def marked_everywhere(job):
    """With every number of its nodes and runs marked as assumed."""
    def fields_of(base, thing):
        for field in dataclasses.fields(thing):
            inner = getattr(thing, field.name)
            yield from fields_of(f"{base}.{field.name}", inner) if dataclasses.is_dataclass(inner) else [f"{base}.{field.name}"] if "spec" in field.metadata else []

    paths = [path for kind in ("nodes", "runs") for thing in getattr(job, kind) for path in fields_of(f"{kind}.{thing.id}", thing)]
    paths += [path for run in job.runs for stretch in run.stretches for path in fields_of(f"runs.{run.id}.stretches.{stretch.id}", stretch)]
    return dataclasses.replace(job, assumed=tuple(paths))


@pytest.mark.parametrize("name", ["ring", "swale", "eave", "footing"])
def test_whatever_is_joined_moved_or_set_anew_no_mark_is_left_on_what_is_gone(name):
    """What was taken out of a pattern was refused once, since its box had been assumed."""
    job = marked_everywhere(pattern(name).job())
    ways = [lambda n=node, k=kind: with_node(job, of_node_kind(n, k)) for node in job.nodes for kind in FITTINGS]
    for run in job.runs:
        ways += [partial(without_corner, job, run.id, index) for index in range(len(run.nodes))] + [partial(with_solid_length, job, run.id, 0.0), partial(turned_round, job, run.id)]
        ways += [partial(taken_out_at, job, run.id, node=node) for node in run.nodes] + [partial(join, job, run.id, other.id, 3.0) for other in job.runs if other is not run]
    done = 0
    for way in ways:
        try:
            found = faults(way())
        except InputError:
            continue
        done += 1
        assert found == []
    assert done > 30


def test_a_long_list_is_looked_through_once_and_its_faults_are_not_forgotten(job):
    good = tuple(SitePoint(str(i), float(i), 0.0, 1.0) for i in range(500))
    fine = dataclasses.replace(job, points=good)
    assert faults(fine) == faults(fine) == []
    bad = dataclasses.replace(job, points=(*good, SitePoint("x", 0.0, 0.0, 1e9)))
    assert [p for p, _ in faults(bad)] == [p for p, _ in faults(bad)] == ["points[500].level"]
