"""From a job to its surface, its best grade and the papers of the trench; edits of the layout."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest

from laying import reason_of
from weirant.design.as_built import profile_built, ways_on, with_reading, without_reading
from weirant.design.assess import assess
from weirant.design.best_grade import plan_grade
from weirant.design.daylight import places_for
from weirant.design.grade_demands import demand_of
from weirant.design.layout import (
    add_run,
    add_thing,
    hold,
    move_node,
    move_thing_corner,
    release,
    rename_run,
    run_near,
    set_at_station,
    taken_out_at,
    thing_near,
)
from weirant.design.sheets import crew_cut_sheet, instrument_height, off_staff
from weirant.design.snapping import snap, typed_corner
from weirant.design.terrain import terrain_of
from weirant.errors import InputError
from weirant.formats.cut_sheet_csv import write_cut_sheet
from weirant.ground.grade.demands import Aim
from weirant.ground.inverts import invert_at
from weirant.ground.joining import detach, join
from weirant.ground.levels import reduce_book
from weirant.ground.network import laid_run, network_of
from weirant.ground.own_exit import with_outlet_at
from weirant.job.faults import faults
from weirant.job.geometry import run_of
from weirant.job.network import Outlet
from weirant.job.paths import value_at, with_value
from weirant.job.removal import without_run, without_thing
from weirant.outcome.finding import State
from weirant.units.display import System
from weirant.words.findings import offered, worded
from weirant.words.grade import bindings_words, sump_words, way_out_offer

FT = 0.3048


def test_the_demo_site_has_its_low_spots_and_systems(outcome):
    terrain = terrain_of(outcome.site.surface, System.IMPERIAL)
    assert terrain.interval == pytest.approx(FT) and len(terrain.low_spots) == 2 and len(terrain.contours) > 8
    assert {*outcome.site.carries.values()} == {("ground",), ("roof",)} and len(outcome.site.runs) == 4
    assert all(r.grade is not None for r in outcome.site.runs)


@pytest.mark.parametrize("aim", list(Aim))
def test_the_best_grade_satisfies_every_check(outcome, aim):
    plan = plan_grade(outcome, aim)
    after = assess(plan.job)
    assert [f.code for f in after.findings if f.state == State.FAILS] == []
    assert plan.dig == pytest.approx(after.takeoff.dug.value, rel=2e-3) and plan.dig_before == pytest.approx(outcome.takeoff.dug.value)
    if aim == Aim.LEAST_DIG:
        costs = " ".join(bindings_words(outcome.job, plan))
        assert plan.dig < plan.dig_before and "each 1 in costs" in costs and "next to no dig" in costs and "0.0 yd³" not in costs  # the roof line lies almost level


def test_the_best_grade_is_asked_for_every_joint_and_its_drop(outcome):
    (joint,) = demand_of(outcome).joints
    assert (joint.upper, joint.upper_station, joint.lower, joint.drop) == ("r4", 0.0, "r3", outcome.job.limits.drop_at_joints) and joint.lower_station == pytest.approx(4.8768)


def test_held_inverts_stay_and_are_let_go(outcome):
    job = hold(outcome.job, "r4", 10.0, 28.80)
    plan = plan_grade(assess(job))
    assert float(invert_at(laid_run(plan.job, "r4"), np.array(10.0))) == pytest.approx(28.80, abs=1e-6)
    assert any(words.startswith("The invert you hold") for words in bindings_words(job, plan))
    assert release(job, "r4", 10.0).runs[3].held == ()


def limited(job, **limits):
    return dataclasses.replace(job, limits=dataclasses.replace(job.limits, **limits))


def test_without_a_line_each_offer_leads_to_one(job):
    plan = plan_grade(assess(limited(job, least_slope=0.03, least_slope_solid=0.03)))
    assert plan.job is None and "A sump would stand" in sump_words(job, plan)
    offers = [way_out_offer(job, way) for way in plan.ways_out]
    names = [offer.name for offer in offers]
    assert any(n.startswith("Accept a slope of") for n in names) and any(n.startswith("Lower the outlet") for n in names)
    accept = next(o for o in offers if o.name.startswith("Accept a slope"))
    given = accept.made(job)
    eased = limited(given, least_slope=given.limits.least_slope - 1e-6, least_slope_solid=given.limits.least_slope_solid - 1e-6)
    assert plan_grade(assess(eased)).job is not None


def test_an_outlet_above_everything_is_said(job):
    plan = plan_grade(assess(with_value(job, "nodes.n1.outlet.water_level", 60.0)))
    assert plan.job is None and sump_words(job, plan).startswith("Gravity alone does not do it. A sump would stand where the solid pipe of slab drain")
    (lower,) = (name for name in (way_out_offer(job, way).name for way in plan.ways_out) if name.startswith("Lower the outlet of slab drain"))
    assert "under the water there when wet" in lower


def test_a_run_off_the_surveyed_ground_has_no_grade(job):
    outcome = assess(dataclasses.replace(job, nodes=tuple(dataclasses.replace(n, x=n.x + 900.0) if n.id in ("n4", "n5", "n6") else n for n in job.nodes)))
    assert next(f for f in outcome.findings if f.code == "ground").state == State.UNKNOWN
    with pytest.raises(InputError, match="has no ground under it"):
        demand_of(outcome)


def test_daylight_moves_the_outlet_and_keeps_the_collecting_run(outcome):
    place = places_for(outcome, "r1")[0]
    moved = with_outlet_at(outcome.job, "r1", place)
    old, new = laid_run(outcome.job, "r1"), laid_run(moved, "r1")
    for share in (0.0, 0.4, 1.0):
        before, after = (r.alignment.point(r.solid_length + share * (r.length - r.solid_length)) for r in (old, new))
        assert after == pytest.approx(before, abs=1e-3)
    assert new.alignment.point(0.0) == pytest.approx(place.at) and all(s.station is None for s in moved.survey.shots)
    found = {f.code: f for f in assess(moved).findings if f.subject == "r1"}
    assert found["daylight"].state == State.HOLDS and found["boundary"].state == State.HOLDS and faults(moved) == []


def test_daylight_of_a_solid_run_is_looked_for_from_its_top(outcome):
    """It once divided by nought."""
    place = places_for(outcome, "r2")[0]
    moved = laid_run(with_outlet_at(outcome.job, "r2", place), "r2")
    assert moved.length == pytest.approx(place.length) and moved.collecting_length == 0 and moved.alignment.point(moved.length) == pytest.approx((-18.288, 9.4488))


def test_the_cut_sheet_names_joints_crossings_and_hand_dig(outcome):
    notes = {round(row.station / FT, 1): row.note for row in crew_cut_sheet(outcome, "r3")}
    assert "tee to green side" in notes[16.0] and notes[68.0] == "end cap"
    crossing = next(note for note in notes.values() if "sprinkler main" in note)
    assert "NOT LOCATED" in crossing and "dig by hand" in crossing and "passes over" in crossing
    rows = crew_cut_sheet(outcome, "r1", 1.0)
    assert all(row.rod == pytest.approx(instrument_height(outcome) - row.trench_bottom) for row in rows)
    assert rows[5].pole == pytest.approx(rows[5].trench_bottom - rows[0].trench_bottom)
    for name, step, says in (("none", None, "is not on this site"), ("r1", 0.0, "step must be at least 2 in")):
        with pytest.raises(InputError, match=says):
            crew_cut_sheet(outcome, name, step)


def test_a_rock_is_told_with_what_each_way_does(outcome):
    station, run = 100 * FT, laid_run(outcome.job, "r1")
    level = float(invert_at(run, np.array(station))) + 3 * 0.0254
    job = with_reading(outcome.job, "r1", station, level)
    assert profile_built(job, "r1").readings[0].off == pytest.approx(0.0762)
    kept, raised = ways_on(assess(job), "r1", station, level)
    assert offered(kept, job).name.startswith("Keep the top end: slope above 100.0 ft becomes 0.85 %") and "still holds" in offered(kept, job).name
    assert offered(raised, job).name.startswith("Raise from 100.0 ft on by 3 in: slope above stays 1.20 %")
    strict = limited(job, least_slope=0.01)  # the first way then breaks a limit, and comes last
    assert [offered(way, job).name.split(":")[0] for way in ways_on(assess(strict), "r1", station, level)] == ["Raise from 100.0 ft on by 3 in", "Keep the top end"]
    top = np.array(run.length)
    assert float(invert_at(laid_run(raised.made(job), "r1"), top)) == pytest.approx(float(invert_at(run, top)) + 0.0762)
    assert without_reading(job, "r1", station).as_built == ()


def test_a_rod_that_cannot_be_on_the_staff_is_none_and_says_what_to_do(job):
    """After a survey from a file nobody knows where the instrument stands; later one stands too high for the low end, or below the trench."""
    from_file = dataclasses.replace(job, survey=dataclasses.replace(job.survey, shots=(), benchmark_elevation=-100.0))
    outcome = assess(from_file)
    lines = crew_cut_sheet(outcome)
    assert all(line.rod is None for line in lines) and off_staff(outcome).startswith("Give today's height of instrument")
    text = write_cut_sheet(lines, System.IMPERIAL)
    assert text.count(",,off staff,") == len(lines) and "nan" not in text
    bottoms = [line.trench_bottom for line in crew_cut_sheet(assess(job))]
    for height, all_seen in ((min(bottoms) + job.survey.staff_length, True), (min(bottoms) + job.survey.staff_length + 0.01, False), (min(bottoms), False)):
        seen = [line.rod is not None for line in crew_cut_sheet(assess(with_value(job, "survey.instrument_elevation", height)))]
        assert all(seen) == all_seen and any(seen)  # from the foot of the staff to its end, and no further


def test_readings_that_are_off_alike_are_a_moved_instrument(job):
    run, built = laid_run(job, "r1"), with_value(job, "survey.instrument_elevation", 31.8)
    for station in (10.0, 20.0, 30.0):
        built = with_reading(built, "r1", station, float(invert_at(run, np.array(station))) + 0.05)
    found = next(f for f in assess(built).findings if f.code == "as-built")
    assert found.state == State.UNKNOWN and "too high alike" in worded(found, built).reason
    mended = found.fixes[0].made(built)
    assert next(f for f in assess(mended).findings if f.code == "as-built").state == State.HOLDS and mended.survey.instrument_elevation == pytest.approx(31.75)
    one_off = with_reading(built, "r1", 20.0, float(invert_at(run, np.array(20.0))))
    assert next(f for f in assess(one_off).findings if f.code == "as-built").state == State.FAILS


def test_a_way_on_that_was_kept_does_not_hide_the_first_plan(job):
    station = 100 * FT
    level = float(invert_at(laid_run(job, "r1"), np.array(station))) + 0.0762
    built = with_reading(job, "r1", station, level)
    kept = ways_on(assess(built), "r1", station, level)[0].made(built)
    (reading,) = profile_built(kept, "r1").readings
    assert reading.off == pytest.approx(0, abs=1e-6) and reading.off_first == pytest.approx(0.0762, abs=1e-6)
    assert "3 in from what was first planned" in reason_of(assess(kept), "as-built")
    assert profile_built(with_reading(kept, "r1", station, level), "r1").readings[0].off_first == pytest.approx(0.0762, abs=1e-6)


def test_runs_are_drawn_moved_renamed_and_taken_out(job):
    start = laid_run(job, "r1").alignment.point(6.0)
    added = add_run(job, [start, (start[0] - 9, start[1]), (start[0] - 9, start[1] + 5)], collects=True, joins="r1")
    new, network = added.runs[-1], network_of(added)
    assert (new.id, new.name) == ("r5", "drain 1") and [(o.id, s) for o, s in network.drains_to(network.run("r5"))] == [("r1", pytest.approx(6.0))]
    assert value_at(added, "runs.r5.length") == pytest.approx(14.0) and new.invert == pytest.approx(job.runs[0].invert + 6 * job.runs[0].slope)
    own = add_run(job, [(1.0, 1.0), (1.0, 11.0)], collects=False, ground=28.9)
    assert value_at(own, "runs.r5.solid_length") == pytest.approx(10.0) and own.runs[-1].invert == 28.9 and own.nodes[-2].outlet == Outlet()
    side = laid_run(job, "r4")
    (x, y), level = side.alignment.point(4.0), float(invert_at(side, np.array(4.0)))
    assert add_run(job, [(x, y), (x - 5.0, y + 5.0)], collects=True).runs[-1].invert == pytest.approx(level, abs=1e-5)  # no ground known: from the run beside it
    moved = laid_run(move_node("r5", 2)(added, (start[0] - 9, start[1] + 8)), "r5")
    assert moved.length == pytest.approx(17.0) and moved.bends == [(pytest.approx(9.0), pytest.approx(-90, abs=0.01))]
    slid = network_of(move_node("r5", 0)(added, (start[0] + 0.5, start[1] + 2.0)))
    assert slid.drains_to(slid.run("r5"))[0][1] == pytest.approx(8.0) and slid.run("r1").length == pytest.approx(laid_run(job, "r1").length)
    renamed = rename_run(job, "r3", "lawn")
    as_told, told = ([(f.code, f.subject, f.state, f.value, f.limit) for f in assess(j).findings] for j in (job, renamed))
    assert told == as_told and any("lawn" in worded(f, renamed).reason for f in assess(renamed).findings) and renamed.runs[2].name == "lawn"
    assert without_run(added, "r5").job.runs == added.runs[:-1]
    for edit, says in ((lambda: rename_run(job, "r2", "green side"), "empty or taken"), (lambda: add_run(job, [(0, 0)], collects=True), "two points")):
        with pytest.raises(InputError, match=says):
            edit()


def test_a_run_is_joined_to_another_and_let_go_again(job):
    joined = join(job, "r2", "r1", 10.0)
    network = network_of(joined)
    roof = network.run("r2")
    assert roof.outlet is None and [(o.id, s) for o, s in network.drains_to(roof)] == [("r1", pytest.approx(10.0))] and faults(joined) == []
    assert roof.invert == pytest.approx(float(invert_at(laid_run(job, "r1"), np.array(10.0)))) and "n4" not in {n.id for n in joined.nodes}
    loose = detach(joined, "r2")
    assert laid_run(loose, "r2").outlet == Outlet() and network_of(loose).drains_to(laid_run(loose, "r2")) == [] and faults(loose) == []
    for run, other, station, says in (("r2", "r2", 5.0, "cannot join itself"), ("r3", "r4", 0.0, "where that ends"), ("r3", "r4", 10.0, "water would go round")):
        with pytest.raises(InputError, match=says):
            join(job, run, other, station)


def test_a_fitting_is_a_node_that_comes_and_goes(job):
    once = set_at_station(job, "r3", 12.0, "inlet")
    assert [(n.kind, s) for n, s in laid_run(once, "r3").nodes][2] == ("inlet", pytest.approx(12.0)) and faults(once) == []
    assert taken_out_at(once, "r3", 12.1) == job and len(taken_out_at(job, "r4", 5.5).nodes) == len(job.nodes)  # at the bend the node stays


def test_things_are_drawn_found_moved_and_taken_out(job):
    added = add_thing(job, "tree", [(3.0, 4.0)])
    assert added.features[-1].root_radius and thing_near(added, (3.1, 4.0), 0.5) == "t11"
    shed = add_thing(job, "building", [(5, 5), (8, 5), (8, 8)])
    assert thing_near(shed, (7.0, 6.0), 0.1) == "t11" and thing_near(shed, (-300.0, 0.0), 0.1) == ""
    assert move_thing_corner("t11", 0)(added, (9.0, 9.0)).features[-1].points[0].x == 9.0
    assert without_thing(added, "t11").job.features == job.features
    with pytest.raises(InputError, match="building needs 3 points"):
        add_thing(job, "building", [(0, 0), (1, 1)])


def test_clicks_snap_to_corners_runs_and_right_angles(job):
    assert snap(job, (0.1, 6.1), 0.5).run == "r1" and run_near(job, (0.1, 6.1), 0.5)[1] == pytest.approx(6.1)
    corner = snap(job, (18.1 * FT, 14.2 * FT), 0.5)
    assert corner.words == "bowling green" and corner.at == pytest.approx((18 * FT, 14 * FT))
    square = snap(job, (-30.2, -60.0), 0.5, [(-40.0, -50.0), (-30.0, -50.0)])
    assert square.words == "square to it" and square.at == pytest.approx((-30.0, -60.0))
    assert snap(job, (-200.0, -200.0), 0.5) == type(square)((-200.0, -200.0))


@pytest.mark.parametrize(("text", "at"), [
    ("40 ft at 90", (11 + 40 * FT, 22)), ("10 m @ 180°", (11, 12)), ("10 at N 45 E", (11 + 10 * FT * 0.5**0.5, 22 + 10 * FT * 0.5**0.5)), ("1,5 m at S 90 W", (9.5, 22)),
    ("E 12 ft N 30 ft", (12 * FT, 30 * FT)), ("W 3 m, S 4", (-3, -4 * FT)),
])  # fmt: skip
def test_a_corner_is_typed(text, at):
    assert typed_corner(text, (11.0, 22.0), "ft") == pytest.approx(at)


@pytest.mark.parametrize("text", ["", "40", "40 ft", "forty at 90", "40 ft at north", "40 ft at 400", "0 ft at 90", "9 km at 1", "E 12", "nan at 3", "N 30 E 12"])
def test_a_corner_that_cannot_be_is_refused(text):
    with pytest.raises(InputError):
        typed_corner(text, (0.0, 0.0), "ft")
    with pytest.raises(InputError):
        typed_corner("40 ft at 90", None, "ft")


def test_a_run_that_ends_on_another_meets_it_there(job):
    """A ring: its low end joins the drain, its top end meets it higher up, at its level, by nodes that they share; the water may then go either way."""
    line = laid_run(job, "r1").alignment
    ring = add_run(job, [line.point(26.0), (line.point(26.0)[0], line.point(26.0)[1] + 6), (line.point(48.0)[0], line.point(48.0)[1] + 6), line.point(48.0)],
                   collects=True, joins="r1", ends_on="r1")  # fmt: skip
    new, network = ring.runs[-1], network_of(ring)
    assert faults(ring) == [] and {new.nodes[0], new.nodes[-1]} <= set(run_of(ring, "r1").nodes)
    outcome = assess(ring)
    top = outcome.site.network.others_at(network.run(new.id), new.nodes[-1])
    assert top and float(invert_at(laid_run(ring, new.id), np.array(laid_run(ring, new.id).length))) == pytest.approx(float(invert_at(laid_run(ring, "r1"), np.array(48.0))), abs=1e-6)
    assert next(f for f in outcome.findings if (f.code, f.subject) == ("joints", new.id)).state == State.HOLDS
    with pytest.raises(InputError, match="begins and ends at one place"):
        add_run(job, [line.point(26.0), (line.point(26.0)[0], line.point(26.0)[1] + 6), line.point(26.0)], collects=True, joins="r1", ends_on="r1")


@pytest.mark.parametrize(("to_feet", "kept"), [(-10.0, 11), (30.0, 7), (0.9, 11), (1.1, 10)])
def test_ground_shot_along_a_line_stays_where_it_was_shot_when_its_end_slides(job, to_feet, kept):
    """On the line at its new station, beyond its end in plan; what was shot lies at the same place at the same level."""
    def ground(of):
        run = laid_run(of, "r1")
        shots = reduce_book(of.survey, System.IMPERIAL).shots
        return {b.shot.point: (run.alignment.point(b.shot.station) if b.shot.run else (b.shot.place.first, b.shot.place.second), b.elevation) for b in shots if b.shot.run or b.shot.place}

    moved = move_node("r1", 0)(job, (0.0, to_feet * FT))
    before, after = ground(job), ground(moved)
    assert before.keys() == after.keys() and sum(s.run == "r1" for s in moved.survey.shots) == kept
    for name, (place, level) in before.items():
        assert after[name][0] == pytest.approx(place, abs=1e-5 if to_feet != 0.9 else 0.28) and after[name][1] == level
    below = dataclasses.replace(job, survey=dataclasses.replace(job.survey, shots=(*job.survey.shots[:-1], dataclasses.replace(job.survey.shots[-2], point="G12", station=-2.0, run="r1"),
                                                                                   job.survey.shots[-1])))  # fmt: skip
    assert any(s.point == "G12" and s.station == -2.0 for s in move_node("r1", 2)(below, (-30.0, 26.0)).survey.shots)  # before the outlet, whatever its top does
    aside = move_node("r1", 0)(job, (6.0, 0.0))  # beside where it was: the line itself was no better known
    assert sum(s.run == "r1" for s in aside.survey.shots) == 11
