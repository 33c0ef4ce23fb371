"""Checks of every run and of what stands round them: each turned both ways by the one thing it is about."""

from __future__ import annotations

import dataclasses

import pytest

from laying import one, only, with_changes
from weirant.design.assess import assess
from weirant.design.effects import clears, effect_of, is_enough
from weirant.design.layout import add_run, add_thing
from weirant.design.patterns import pattern
from weirant.ground.joining import join
from weirant.job.network import EXISTING, AsBuilt, Outlet, Stretch
from weirant.job.paths import with_value
from weirant.job.removal import without_run, without_thing
from weirant.job.site import SitePoint
from weirant.job.situations import places_of, with_place
from weirant.job.source_edits import with_new_source, without_source
from weirant.job.water import PUMPED, ROOF_WATER
from weirant.outcome.figure import Figure
from weirant.outcome.finding import State
from weirant.outcome.place import PlaceOutcome, Serving
from weirant.outcome.water import CollectedWater
from weirant.units import display as k
from weirant.words.findings import as_told, worded

FT = 0.3048
F, T, U, H = State.FAILS, State.TIGHT, State.UNKNOWN, State.HOLDS
ROOF, GREEN, SIDE = "r2", "r3", "r4"


def with_limit(job, **changes):
    return dataclasses.replace(job, limits=dataclasses.replace(job.limits, **changes))


def with_feature(job, name, **changes):
    return dataclasses.replace(job, features=tuple(dataclasses.replace(f, **changes) if f.name == name else f for f in job.features))


def with_node(job, name, **changes):
    return dataclasses.replace(job, nodes=tuple(dataclasses.replace(n, **changes) if n.id == name else n for n in job.nodes))


def beside(job, kind, **changes):
    """A thing 0.5 m from what collects of the green drain."""
    job = add_thing(job, kind, [(12.0, 2.0), (12.0, 2.55), (15.0, 2.55)])
    return dataclasses.replace(job, features=(*job.features[:-1], dataclasses.replace(job.features[-1], **changes)))


def built(job, level):
    return dataclasses.replace(job, as_built=(AsBuilt("r1", 20.0, level),))


def across(job):
    """A solid run that crosses the slab drain at 19.7 ft."""
    job = add_run(job, [(-6.0, 6.0), (6.0, 6.0)], collects=False, ground=29.05)
    return with_changes(job, "r5", slope=0.01)


def led_to(job, kind, node):
    return with_new_source(job, kind, node)[0]


RISES = Outlet("pop-up emitter", 28.5, 0.05)
CASES = [
    ("ground", "r2", lambda j: with_node(j, "n4", y=-9.0), U, "of the run lie beyond"),
    ("points", "", lambda j: dataclasses.replace(j, points=(*j.points, SitePoint("slip", -20.0, 20.0, 40.0))), T, "Slip stand far off"),
    ("unread", "", lambda j: dataclasses.replace(j, unread=("a.csv, line 3: x",)), T, "1 lines of files could not be used"),
    ("names", "", lambda j: with_changes(j, ROOF, name="green drain"), T, "Two runs are called green drain"),
    ("slope", ROOF, lambda j: with_changes(j, ROOF, slope=0.002), F, "falls 0.20 %"),
    ("slope", GREEN, lambda j: with_limit(j, least_slope_solid=0.011), F, "in the solid pipe at station 0.0 ft"),
    ("way-out", SIDE, lambda j: only(with_node(j, "n8", x=21.0), "r1", SIDE), F, "neither an outlet nor joined"),
    ("daylight", GREEN, lambda j: with_changes(j, GREEN, invert=28.2), F, "does not daylight"),
    ("daylight", GREEN, lambda j: with_node(j, "n7", outlet=RISES), F, "wants the pipe in the ground"),
    ("daylight", GREEN, lambda j: with_node(with_changes(j, GREEN, invert=28.2), "n7", outlet=RISES), F, "under the ground: earth and turf close it"),
    ("daylight", GREEN, lambda j: with_node(with_changes(j, GREEN, invert=28.2), "n7", outlet=dataclasses.replace(RISES, rise=None)), H, "to the pop-up emitter to get out"),
    ("outlet-level", GREEN, lambda j: with_node(j, "n7", outlet=Outlet(water_level=28.7)), F, "under the water there"),
    ("outlet-level", ROOF, lambda j: with_node(j, "n4", outlet=Outlet()), U, "highest mark"),
    ("cover", SIDE, lambda j: with_changes(j, SIDE, slope=0.05), F, "It stands 12.3 in out of the ground"),
    ("depth", SIDE, lambda j: with_changes(j, SIDE, invert=40.0), None, ""),  # above the ground all along there is no trench
    ("walls", SIDE, lambda j: with_changes(j, SIDE, invert=40.0), None, ""),
    *((key, SIDE, lambda j: with_changes(with_limit(j, most_depth=0.7), SIDE, status=EXISTING), None, "") for key in ("depth", "walls", "fits", "cap", "retention")),  # it lies there
    ("cap", SIDE, lambda j: with_changes(j, SIDE, slope=0.02), F, "of soil are left"),
    ("depth", SIDE, lambda j: with_limit(j, most_depth=0.7), F, "deep where it is deepest"),
    ("joints", SIDE, lambda j: with_changes(j, SIDE, invert=28.5), F, "under the invert of green drain"),
    ("joints", SIDE, lambda j: with_limit(j, drop_at_joints=0.005), F, "It drops 0.5 in into green drain"),
    ("capacity", GREEN, lambda j: with_value(j, "soils.g1.hard_layer_depth", None), U, "Not known until you have the depth of the hard layer"),
    ("capacity", ROOF, lambda j: without_source(j, "w1"), U, "nothing is led into it"),
    ("capacity", ROOF, lambda j: with_value(j, "sources.w1.area", 3000.0), F, "are expected; the pipe carries"),
    ("capacity", ROOF, lambda j: with_value(j, "sources.w1.area", None), U, "the area of clubhouse roof"),
    ("capacity", ROOF, lambda j: dataclasses.replace(j, rainfall=()), U, "the short, heavy rain of the place for clubhouse roof"),
    ("capacity", ROOF, lambda j: dataclasses.replace(j, rainfall=j.rainfall[-2:]), U, "the short, heavy rain of the place for clubhouse roof"),
    ("capacity", ROOF, lambda j: with_value(dataclasses.replace(j, rainfall=()), "sources.w1.intensity", 3e-5), H, "are expected; the pipe carries"),
    ("capacity", GREEN, lambda j: led_to(j, PUMPED, "n10"), U, "how much pump 1 brings: time a bucket"),
    ("capacity", GREEN, lambda j: with_value(led_to(j, PUMPED, "n10"), "sources.w2.inflow", 0.01), F, "are expected; the pipe carries"),
    ("source-led", "", lambda j: with_value(j, "sources.w1.node", ""), U, "Where the water of clubhouse roof goes is not said"),
    ("roof", SIDE, lambda j: led_to(j, ROOF_WATER, "n11"), F, "Water of roof 1 runs through the perforated pipe of green side"),
    ("roof", "", lambda j: with_value(without_run(j, ROOF).job, "sources.w1.node", "away"), H, "kept out"),
    ("roof", "r1", lambda j: join(j, ROOF, "r1", 40.0), F, "Water of clubhouse roof runs through the perforated pipe of slab drain"),
    ("roof", "", lambda j: join(j, ROOF, "r1", 10.0), H, "kept out"),
    ("roof", ROOF, lambda j: with_changes(j, ROOF, stretches=(Stretch(is_solid=False),)), F, "Water of clubhouse roof runs through the perforated pipe of roof line"),
    ("crossings", "r1", lambda j: with_feature(j, "gas line", depth=0.55), F, "cuts into gas line"),
    ("crossings", "r1", lambda j: with_feature(j, "gas line", depth=None), U, "The depth of gas line"),
    ("lines-located", "", lambda j: with_feature(j, "gas line", is_located=False), U, "Gas line is not marked yet"),
    ("lines-located", "", lambda j: with_feature(j, "sprinkler main", is_located=True), None, ""),
    ("boundary", ROOF, lambda j: with_node(j, "n6", y=75.0), F, "leaves the owner's land"),
    ("runs-apart", "r5", across, F, "crosses slab drain at station 19.7 ft without a joint"),
    ("footing", GREEN, lambda j: beside(j, "building"), U, "which it passes close to, is not known"),
    ("footing", GREEN, lambda j: beside(j, "building", footing_depth=0.02), F, "inside the 45° line"),
    ("footing", GREEN, lambda j: beside(j, "building", footing_depth=1.5), H, "outside the 45° line"),
    ("footing", GREEN, lambda j: beside(j, "wall", footing_depth=1.5), H, "outside the 45° line"),
    ("footing", GREEN, lambda j: with_value(beside(j, "wall", footing_depth=1.5), "sections.s1.side_slope", 1.0), F, "reaches under wall itself"),
    ("footing", GREEN, lambda j: with_value(with_value(beside(j, "wall", footing_depth=1.5), "sections.s1.bench_width", 1.0), "sections.s1.bench_height", 0.1), F, "reaches under wall"),
    ("footing", GREEN, lambda j: with_value(with_value(beside(j, "wall", footing_depth=1.5), "sections.s1.bench_width", 1.0), "sections.s1.bench_height", 3.0), H, "outside the 45° line"),
    ("buildings", GREEN, lambda j: add_thing(j, "building", [(10.0, 2.0), (14.0, 2.0), (14.0, 5.0), (10.0, 5.0)]), F, "goes through building"),
    ("buildings", GREEN, lambda j: add_thing(j, "wall", [(10.0, 2.0), (10.0, 5.0)]), F, "goes under wall"),
    ("paving", GREEN, lambda j: add_thing(j, "slab", [(10.0, 2.0), (14.0, 2.0), (14.0, 5.0), (10.0, 5.0)]), T, "passes slab 2 at station"),
    ("paving", GREEN, lambda j: add_thing(j, "fence", [(10.0, 3.0), (30.0, 3.5)]), T, "passes fence at station"),
    ("roots", "r1", lambda j: with_feature(j, "the old beech", root_radius=12.0), T, "passes the roots of the old beech"),
    ("as-built", "r1", lambda j: built(j, 28.9), F, "runs backwards"),
    ("as-built", "r1", lambda j: built(j, 28.97124 + 0.012 * 20 + 0.02), F, "largest departure"),
    ("as-built", "r1", lambda j: built(j, 28.97124 + 0.012 * 20), H, "largest departure"),
    ("fits", "r1", lambda j: with_value(j, "sections.s1.width", 0.11), F, "do not fit into"),
    ("fits", "r1", lambda j: with_value(j, "sections.s1.width", 0.2), T, "fits, but with less than 2 in"),
    ("fits", "r1", lambda j: with_value(j, "runs.r1.pipes", 3), F, "3 pipes side by side"),
    ("fits", GREEN, lambda j: with_changes(with_value(j, "sections.s1.width", 0.24), SIDE, trench_of=GREEN), T, "2 pipes side by side"),
    ("served", "t10", lambda j: with_value(j, "runs.r1.place", ""), U, "Take the one that does in hand"),
    ("place-wanted", "", lambda j: without_thing(j, "t10").job, U, "nothing is said to be kept dry"),
    ("reach", "t10", lambda j: with_place(with_value(j, "runs.r1.length", 40.0), "r3", "t10"), F, "What collects of slab drain and green drain misses"),
    ("table", "r3", lambda j: with_place(j, "r3", "t2"), H, "Water is expected"),
]  # fmt: skip


@pytest.mark.parametrize(("key", "subject", "change", "state", "says"), CASES, ids=[f"{c[0]}-{i}" for i, c in enumerate(CASES)])
def test_each_check_turns_on_what_it_is_about(job, key, subject, change, state, says):
    found = {(f.code, f.subject): f for f in assess(change(job)).findings}
    if state is None:
        assert (key, subject) not in found
        return
    reason = worded(found[key, subject], change(job)).reason
    assert found[key, subject].state == state and says in reason, reason
    was = {(f.code, f.subject): f.state for f in assess(job).findings}
    assert was.get((key, subject)) != state or state in (U, H)


def test_a_joint_that_lies_too_low_is_lifted_by_its_fix(job):
    job = with_changes(job, SIDE, invert=28.5)
    low = one(assess(job), "joints", SIDE)
    assert low.fixes and all(one(assess(fix.made(job)), "joints", SIDE).state == H for fix in low.fixes)


def test_a_run_that_leads_nowhere_is_let_out_by_its_fix(job):
    loose = only(job, "r1", SIDE)
    (fix,) = one(assess(loose), "way-out", SIDE).fixes
    assert "way-out" not in {f.code for f in assess(fix.made(loose)).findings} and {f.code for f in assess(fix.made(loose)).findings if f.subject == SIDE} >= {"daylight", "outlet-level"}


def test_a_site_with_one_run_and_no_things_says_nothing_of_others(job):
    bare = dataclasses.replace(only(job, "r1"), features=(), points=(), old_drains=())
    outcome = assess(bare)
    assert not {f.code for f in outcome.findings} & {"joints", "crossings", "boundary", "roots", "footing", "as-built", "lines-located", "paving", "runs-apart"}
    assert {f.subject for f in outcome.findings} <= {"", "r1"} and all(as_told(t, outcome.job) == worded(f, outcome.job) for t, f in zip(outcome.told, outcome.findings, strict=True))


def test_equal_findings_of_many_runs_are_told_once_with_their_list(job):
    outcome = assess(with_limit(job, least_slope=0.05, least_slope_solid=0.05))
    (slope,) = (f for f in outcome.told if f.code == "slope")
    assert slope.subject == ROOF and set(slope.also) == {"r1", GREEN, SIDE} and as_told(slope, outcome.job).title.startswith("Slope: ")
    assert "Also: slab drain, green drain, green side." in as_told(slope, outcome.job).reason
    assert len([f for f in outcome.findings if f.code == "slope"]) == 4
    places = assess(with_place(job, GREEN, "t2"))  # what two runs find of two places is two matters
    assert sorted((f.subject, f.place, f.also) for f in places.told if f.code == "table") == [("r1", "t10", ()), (GREEN, "t2", ())]
    court = assess(pattern("court").job())  # a level tube is another matter than a flat pipe, and so is what is asked of it
    named = {run.id: run.name for run in court.job.runs}
    assert sorted((f.code, f.case, named[f.subject], len(f.also)) for f in court.told if f.code in ("slope", "capacity") and f.state != H) == [
        ("capacity", "level", "balance tube", 0), ("capacity", "missing", "main", 1), ("slope", "", "far parallel", 1), ("slope", "level", "balance tube", 0)]  # fmt: skip


def test_what_lacks_another_measurement_is_another_matter(job):
    wanting = with_value(led_to(job, PUMPED, "n10"), "sources.w1.area", None)
    told = [f for f in assess(wanting).told if (f.code, f.state) == ("capacity", U)]
    assert sorted((f.subject, f.facts["missing"].code, f.also) for f in told) == [(ROOF, "area", ()), (GREEN, "brings", (SIDE,))]


def test_a_place_is_as_dry_as_beside_the_run_that_holds_it_least_and_unknown_where_one_is():
    known = [Serving(run, ((0.0, 1.0),), 2.0, CollectedWater(None, None, Figure("", depth, k.WATER_DEPTH, ""))) for run, depth in (("r1", 0.6), ("r2", 0.4))]
    guess = Serving("r2", (), 2.0, dataclasses.replace(known[1].water, waits=True))
    assert [PlaceOutcome(None, served).table_depth for served in ((*known,), (known[0],), (*known, Serving("r3", (), 1.0, None)), (), (known[0], guess))] == [0.4, 0.6, None, None, None]


@pytest.mark.parametrize(("beyond", "missed"), [(6.096, 0.0), (8.096, 2.0)])
def test_between_parallel_lines_half_a_spacing_past_their_ends_is_theirs(beyond, missed):
    """Beds that reach past the tops of laterals 40 ft apart: 20 ft of that is drained by them, as much as between two of them."""
    laid = pattern("laterals").job()
    beds = next(f for f in laid.features if f.dry_depth)
    longer = dataclasses.replace(beds, points=tuple(dataclasses.replace(p, y=p.y + beyond) if p.y > 100 else p for p in beds.points))
    found = one(assess(dataclasses.replace(laid, features=tuple(longer if f is beds else f for f in laid.features))), "reach", beds.id)
    assert found.value == pytest.approx(missed, abs=1e-6) and found.state == (F if missed else H)


def test_lines_farther_apart_than_they_are_worked_out_for_are_told_and_the_fix_works_them_out():
    narrow = pattern("grid").job()
    for run in narrow.runs:
        narrow = with_value(narrow, f"runs.{run.id}.reach", 5.0)
    outcome = assess(narrow)
    told = next(f for f in outcome.findings if f.code == "spacing")
    effect = effect_of(told.fixes[0], outcome)
    assert told.state == F and told.value == pytest.approx(28 * FT, rel=0.01) and told.about in {f.about for f in effect.cured}
    tables = [next(f.value for f in assess(job).findings if f.code == "table" and f.subject == "r4") for job in (narrow, effect.job)]
    assert tables[1] < tables[0] - 0.02 and "Type what the plan has" in worded(told, narrow).reason  # it is wetter than it seemed
    one_line = narrow
    for run in narrow.runs[1:]:
        one_line = without_run(one_line, run.id).job
    assert not any(f.code == "spacing" for f in assess(one_line).findings)  # the others are not drawn


@pytest.mark.parametrize(("reach", "dry", "which"), [(14.0, 0.5, []), (20.0, 0.5, [0, 3]), (25.0, 0.4, [1, 3]), (22.0, 0.6, [2, 4]), (31.0, 0.5, [5])])
def test_what_makes_a_place_drier_is_tried_in_growing_steps_and_the_first_that_does_is_enough(reach, dry, which):
    """The water at the place falls less than its drain; and one line that stands for several may lie nearer to the next. None that does not clear is offered."""
    job = pattern("laterals").job()
    for run in job.runs[1:-1]:
        job = without_run(job, run.id).job
    line = job.runs[-1].id
    outcome = assess(with_value(with_value(job, f"runs.{line}.reach", reach), f"features.{places_of(job)[0].id}.dry_depth", dry))
    found = next(f for f in outcome.findings if f.code == "table" and f.subject == line)
    clearing = [fix for fix in found.fixes if clears(found, effect_of(fix, outcome))]
    offered = [fix for at, fix in enumerate(clearing) if not is_enough(fix, clearing[:at])]
    assert (found.state == F) == bool(which) and [found.fixes.index(fix) for fix in offered] == which
    assert [fix.code for fix in found.fixes] == (["lower-run"] * 3 + ["closer"] * 3 if which else [])
