"""From a job to its surface, its best grade and the papers of the trench; edits of the layout."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest

from weirant.design.as_built import profile_built, ways_on, with_reading, without_reading
from weirant.design.assess import assess
from weirant.design.best_grade import demand_of, plan_grade
from weirant.design.daylight import places_for, with_outlet_at
from weirant.design.layout import (
    add_run,
    add_thing,
    hold,
    move_corner,
    move_thing_corner,
    release,
    remove_run,
    remove_thing,
    rename_run,
    run_near,
    thing_near,
)
from weirant.design.sheets import crew_cut_sheet, instrument_height
from weirant.design.snapping import snap
from weirant.design.terrain import terrain_of
from weirant.errors import InputError
from weirant.ground.grade.demands import Aim
from weirant.ground.inverts import invert_at
from weirant.ground.network import run_named
from weirant.job.network import MAIN
from weirant.outcome.finding import State
from weirant.units.display import System

FT = 0.3048


def test_the_demo_site_has_its_low_spots_and_systems(outcome):
    terrain = terrain_of(outcome.site.surface, System.IMPERIAL)
    assert terrain.interval == pytest.approx(FT) and len(terrain.low_spots) == 2 and len(terrain.contours) > 8
    assert {r.run.line.system for r in outcome.site.runs} == {"ground", "roof"} and len(outcome.site.runs) == 4
    assert all(r.grade is not None for r in outcome.site.runs)


@pytest.mark.parametrize("aim", list(Aim))
def test_the_best_grade_satisfies_every_check(outcome, aim):
    plan = plan_grade(outcome, aim)
    after = assess(plan.job)
    assert [f.key for f in after.findings if f.state == State.FAILS] == []
    assert plan.dig == pytest.approx(after.takeoff.dug.value, rel=2e-3) and plan.dig_before == pytest.approx(outcome.takeoff.dug.value)
    if aim == Aim.LEAST_DIG:
        assert plan.dig < plan.dig_before and any("each 1 in costs" in words for words in plan.binding)


def test_held_inverts_stay_and_are_let_go(outcome):
    job = hold(outcome.job, "green side", 10.0, 28.80)
    plan = plan_grade(assess(job))
    assert float(invert_at(run_named(plan.job, "green side").line, np.array(10.0))) == pytest.approx(28.80, abs=1e-6)
    assert any(words.startswith("The invert you hold") for words in plan.binding)
    assert release(job, "green side", 10.0).branches[2].line.held == ()


def limited(job, **limits):
    return dataclasses.replace(job, limits=dataclasses.replace(job.limits, **limits))


def test_without_a_line_each_offer_leads_to_one(job):
    plan = plan_grade(assess(limited(job, least_slope=0.03, least_slope_solid=0.03)))
    assert plan.job is None and "A sump would stand" in plan.advice
    names = [offer.name for offer in plan.offers]
    assert any(n.startswith("Accept a slope of") for n in names) and any(n.startswith("Lower the outlet") for n in names)
    accept = next(o for o in plan.offers if o.name.startswith("Accept a slope"))
    eased = limited(accept.job, least_slope=accept.job.limits.least_slope - 1e-6, least_slope_solid=accept.job.limits.least_slope_solid - 1e-6)
    assert plan_grade(assess(eased)).job is not None


def test_an_outlet_above_everything_is_said(job):
    high = dataclasses.replace(job, line=dataclasses.replace(job.line, receiving_level=60.0))
    plan = plan_grade(assess(high))
    assert plan.job is None and any("Lower the outlet" in o.name for o in plan.offers) and plan.advice


def test_a_run_off_the_surveyed_ground_has_no_grade(job):
    far = dataclasses.replace(job, branches=(dataclasses.replace(job.branches[0], x=900.0, y=900.0),))
    outcome = assess(far)
    assert next(f for f in outcome.findings if f.key == "layout").state == State.UNKNOWN
    with pytest.raises(InputError, match="has no ground under it"):
        demand_of(outcome)


def test_daylight_moves_the_outlet_and_keeps_the_collecting_run(outcome):
    place = places_for(outcome, MAIN)[0]
    moved = with_outlet_at(outcome.job, MAIN, place)
    old, new = run_named(outcome.job, MAIN), run_named(moved, MAIN)
    for share in (0.0, 0.4, 1.0):
        before, after = (r.alignment.point(r.line.solid_length + share * (r.line.length - r.line.solid_length)) for r in (old, new))
        assert after == pytest.approx(before, abs=1e-3)
    assert new.alignment.point(0.0) == pytest.approx(place.at) and all(s.station is None for s in moved.survey.shots)
    found = {f.key: f for f in assess(moved).findings}
    assert found["daylight"].state == State.HOLDS and found["boundary"].state == State.HOLDS


def test_the_cut_sheet_names_joints_crossings_and_hand_dig(outcome):
    notes = {round(row.station / FT, 1): row.note for row in crew_cut_sheet(outcome, "green drain")}
    assert "wye to green side" in notes[16.0] and notes[68.0] == "end cap"
    crossing = next(note for note in notes.values() if "sprinkler main" in note)
    assert "NOT LOCATED" in crossing and "dig by hand" in crossing and "passes over" in crossing
    rows = crew_cut_sheet(outcome, MAIN, 1.0)
    assert all(row.rod == pytest.approx(instrument_height(outcome) - row.trench_bottom) for row in rows)
    assert rows[5].pole == pytest.approx(rows[5].trench_bottom - rows[0].trench_bottom)
    for name, step, says in (("none", None, "is not on this site"), (MAIN, 0.0, "step must be at least 0.05 m")):
        with pytest.raises(InputError, match=says):
            crew_cut_sheet(outcome, name, step)


def test_a_rock_is_told_with_what_each_way_does(outcome):
    station, line = 100 * FT, outcome.job.line
    level = float(invert_at(line, np.array(station))) + 3 * 0.0254
    job = with_reading(outcome.job, MAIN, station, level)
    assert profile_built(job, MAIN).readings[0].off == pytest.approx(0.0762)
    kept, raised = ways_on(assess(job), MAIN, station, level)
    assert kept.name.startswith("Keep the top end: slope above 100.0 ft becomes 0.85 %") and "still holds" in kept.name
    assert raised.name.startswith("Raise from 100.0 ft on by 3 in: slope above stays 1.20 %")
    assert float(invert_at(raised.job.line, np.array(line.length))) == pytest.approx(float(invert_at(line, np.array(line.length))) + 0.0762)
    assert without_reading(job, MAIN, station).as_built == ()


def test_runs_are_drawn_moved_renamed_and_taken_out(job):
    start = run_named(job, MAIN).alignment.point(6.0)
    added = add_run(job, [start, (start[0] - 9, start[1]), (start[0] - 9, start[1] + 5)], collects=True, joins=MAIN)
    new = added.branches[-1]
    assert (new.name, new.joins, new.joins_at) == ("drain 1", MAIN, pytest.approx(6.0)) and new.line.length == pytest.approx(14.0)
    assert new.line.outlet_invert == pytest.approx(job.line.outlet_invert + 6 * job.line.slope)
    own = add_run(job, [(1.0, 1.0), (1.0, 11.0)], collects=False, ground=28.9).branches[-1]
    assert own.line.solid_length == own.line.length and own.line.outlet_invert == 28.9
    moved = move_corner("drain 1", 2)(added, (start[0] - 9, start[1] + 8))
    assert moved.branches[-1].line.length == pytest.approx(17.0) and moved.branches[-1].line.bends[0].angle == pytest.approx(-90, abs=0.01)
    slid = move_corner("drain 1", 0)(added, (start[0] + 0.5, start[1] + 2.0))
    assert slid.branches[-1].joins_at == pytest.approx(8.0)
    renamed = rename_run(job, "green drain", "lawn")
    assert renamed.branches[2].joins == "lawn" and remove_run(added, "drain 1").branches == job.branches
    for edit, says in ((lambda: remove_run(job, "green drain"), "is joined by green side"), (lambda: remove_run(job, MAIN), "cannot be taken out"),
                       (lambda: rename_run(job, "roof line", "green side"), "empty or taken"), (lambda: add_run(job, [(0, 0)], collects=True), "two points")):  # fmt: skip
        with pytest.raises(InputError, match=says):
            edit()


def test_things_are_drawn_found_moved_and_taken_out(job):
    added = add_thing(job, "tree", [(3.0, 4.0)])
    assert added.features[-1].root_radius and thing_near(added, (3.1, 4.0), 0.5) == len(job.features)
    shed = add_thing(job, "building", [(5, 5), (8, 5), (8, 8)])
    assert thing_near(shed, (7.0, 6.0), 0.1) == len(job.features) and thing_near(shed, (-300.0, 0.0), 0.1) == -1
    assert move_thing_corner(len(job.features), 0)(added, (9.0, 9.0)).features[-1].points[0].x == 9.0
    assert remove_thing(added, len(job.features)).features == job.features
    with pytest.raises(InputError, match="building needs 3 points"):
        add_thing(job, "building", [(0, 0), (1, 1)])


def test_clicks_snap_to_corners_runs_and_right_angles(job):
    assert snap(job, (0.1, 6.1), 0.5).run == MAIN and run_near(job, (0.1, 6.1), 0.5)[1] == pytest.approx(6.1)
    corner = snap(job, (18.1 * FT, 14.2 * FT), 0.5)
    assert corner.words == "bowling green" and corner.at == pytest.approx((18 * FT, 14 * FT))
    square = snap(job, (-30.2, -60.0), 0.5, [(-40.0, -50.0), (-30.0, -50.0)])
    assert square.words == "square" and square.at == pytest.approx((-30.0, -60.0))
    assert snap(job, (-200.0, -200.0), 0.5) == type(square)((-200.0, -200.0))
