"""What is set at nodes and where water is led within the ground: boxes, rims, mains and dry wells; paved and dressed trenches; what is built."""

from __future__ import annotations

import dataclasses
import re

import numpy as np
import pytest
import shapely

from laying import one, reason_of
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.grade_demands import demand_of
from weirant.design.layout import set_at_station, taken_out_at
from weirant.design.sheets import crew_cut_sheet
from weirant.design.takeoff import _amounts
from weirant.errors import InputError
from weirant.ground.inverts import invert_at
from weirant.ground.network import laid_run, network_of
from weirant.ground.set_in import fittings_of
from weirant.job.faults import faults
from weirant.job.network import OUTLETS, Basin
from weirant.job.paths import with_value
from weirant.job.run_edits import of_node_kind, with_node
from weirant.job.soil import Band
from weirant.outcome.amounts import DRESSING, PAVING, STONE
from weirant.outcome.finding import State
from weirant.words.findings import worded

DEMO, IN = demo_job(), 0.0254


def set_in(kind="inlet", run="r3", station=12.0, **more):
    job = set_at_station(DEMO, run, station, kind)
    node = next(node for node, at in laid_run(job, run).nodes if at == pytest.approx(station))
    return with_node(job, dataclasses.replace(node, **more)), node.id


def leading_into(kind, **outlet):
    node = laid_run(DEMO, "r3").nodes[0][0]
    return with_node(DEMO, dataclasses.replace(node, outlet=dataclasses.replace(node.outlet, kind=kind, **outlet)))


@pytest.mark.parametrize(("more", "key", "state", "says"), [
    ({"rim": 25.0}, "rim", "fails", "under the top of the pipe"), ({"rim": 40.0}, "rim", "fails", "water lies before it gets in"),
    ({"basin": Basin("round", 0.1, None)}, "basin", "fails", "has no room in the side of the inlet"), ({"basin": Basin("square", 0.13, 0.2)}, "basin", "tight", "hardly any wall"),
    ({"basin": Basin("square", 0.3, 0.02)}, "basin", "tight", "silt goes on into the pipe"), ({"basin": Basin("square", 0.3, 0.2)}, "basin", "holds", "have room"),
])  # fmt: skip
def test_what_is_set_into_a_run_is_judged_at_its_node(more, key, state, says):
    job, node = set_in(**more)
    found = one(assess(job), key, "r3")
    assert (found.state, found.piece, found.station) == (state, node, pytest.approx(12.0)) and says in reason_of(assess(job), key, "r3")
    assert not any(f.code in ("rim", "basin") for f in assess(set_in()[0]).findings)  # what nobody said is not judged
    assert key != "rim" or (found.margin < 0 < found.value)


def test_a_rim_is_set_to_the_ground_by_its_fix_and_a_box_goes_with_what_it_is():
    job, node = set_in(rim=40.0)
    (fix,) = one(assess(job), "rim", "r3").fixes
    assert one(assess(fix.made(job)), "rim", "r3").state == State.HOLDS
    assert next(n for n in job.nodes if n.id == node).basin == Basin()
    plain = taken_out_at(set_in(station=0.0, rim=3.0)[0], "r3", node=laid_run(DEMO, "r3").nodes[0][0].id)
    assert {(n.rim, n.basin) for n in plain.nodes} == {(None, None)}
    there = set_in("vent", status="existing", name="old vent")[0]
    assert (12.0, "vent old vent (there already)") in fittings_of(network_of(there), laid_run(there, "r3"))


@pytest.mark.parametrize(("inches", "units", "says"), [
    (0.4, "imperial", ""), (3.0, "imperial", "riser 3 in over the pipe: one cut to 3 in"), (5.6, "imperial", "riser 5 5/8 in over the pipe: 1 of 6 in"),
    (6.4, "imperial", "riser 6 3/8 in over the pipe: 1 of 6 in"), (6.6, "imperial", "1 of 6 in, one cut to 5/8 in"),
    (14.0, "imperial", "riser 14 in over the pipe: 2 of 6 in, one cut to 2 in"),
    (12.0, "metric", "riser 305 mm over the pipe: 2 of 150 mm"),
])  # fmt: skip
def test_the_cut_sheet_tells_the_risers_of_a_box(inches, units, says):
    """From the top of the pipe to the rim, in whole steps and one cut; what is within half an inch is worked in."""
    job, node = set_in()
    found = assess(job).run("r3")
    crown = float(invert_at(found.run, np.array(12.0))) + found.make(12.0).above
    job = dataclasses.replace(with_value(job, f"nodes.{node}.rim", crown + inches * IN), units=units)
    note = next(line.note for line in crew_cut_sheet(assess(job), "r3") if "inlet" in line.note)
    assert ("riser" in note) == bool(says) and says in note


def test_water_led_on_within_the_ground_is_not_said_to_come_to_daylight_or_to_be_taken():
    """A main or a dry well: the pipe lies in the ground, the water in it is asked for, and nobody can say whether it is taken before its figures are given."""
    before = assess(DEMO)
    for kind, asked in (("existing main", "ask its owner"), ("dry well", "Fill a test hole")):
        outcome = assess(leading_into(kind, water_level=None))
        assert "outlet-level" not in {f.code for f in outcome.findings if f.subject == "r3"} and asked in reason_of(outcome, "takes-it", "r3")
        assert one(before, "daylight", "r3") and one(outcome, "takes-it", "r3").state == State.UNKNOWN
        run = outcome.run("r3")
        deep = with_value(outcome.job, "runs.r3.invert", run.run.invert - (run.make(0.0).above - float(run.grade.ground[0] - run.run.invert)) - 0.01)
        proud = with_value(deep, "runs.r3.invert", deep.runs[2].invert + 0.02)
        assert not any((f.code, f.subject) == ("daylight", "r3") for f in assess(deep).findings) and one(assess(proud), "daylight", "r3").state == State.FAILS
    level = DEMO.runs[2].invert - 0.5
    for water, state in ((level, "holds"), (DEMO.runs[2].invert + 0.01, "fails")):
        assert one(assess(leading_into("dry well", water_level=water)), "outlet-level", "r3").state == state


def test_the_best_grade_ends_in_a_main_over_its_water_and_may_lie_deep():
    for below in (0.2, 3.0):
        level = DEMO.runs[2].invert - below
        outcome = assess(leading_into("existing main", water_level=level))
        ground = float(outcome.run("r3").grade.ground[0])
        assert demand_of(outcome).run("r3").outlet_least == pytest.approx(max(level + outcome.rules.freeboard, ground - outcome.rules.deepest_outlet))


def trench(depth, width, side):
    """A trench cut across, by shapely."""
    return shapely.Polygon([(-width / 2, 0), (width / 2, 0), (width / 2 + side * depth, depth), (-width / 2 - side * depth, depth)])


@pytest.mark.parametrize(("top", "turf", "pavement"), [("open stone", 0.05, 0.1), ("dressed stone", 0.08, 0.0), ("soil cap", 0.05, 0.12), ("turf on the stone", 0.05, 0.0)])
def test_pavement_and_dressing_are_taken_off_as_they_lie(top, turf, pavement):
    """A run of one depth: against areas cut by shapely, times its length."""
    side, width = 0.5, 0.4
    job = dataclasses.replace(DEMO, sections=tuple(dataclasses.replace(s, top=top, turf=turf, pavement=pavement, width=width, side_slope=side, wrap="none") for s in DEMO.sections))
    found = assess(job).run("r1")
    cut = 1.1
    flat = dataclasses.replace(found.grade, ground=found.grade.invert + cut - found.make(20.0).below)
    amounts, length = _amounts(found, flat, None, [], ())[0], sum(s.high - s.low for s in found.stretches if not s.is_solid)
    whole, layer = trench(cut, width, side), turf if top in ("dressed stone", "turf on the stone") else 0.0
    high = min(cut - pavement - layer, found.make(20.0).natural_stone) if top == "soil cap" else cut - pavement - layer
    bore = np.pi * found.make(20.0).pipe.outer_diameter ** 2 / 4

    def between(low, up):
        return shapely.intersection(whole, shapely.box(-9, low, 9, up)).area

    assert amounts.all_of(STONE) == pytest.approx((between(0, high) - bore) * length, rel=1e-6)
    assert amounts.all_of(DRESSING) == pytest.approx(between(high, cut) * length if top == "dressed stone" else 0.0, rel=1e-6)
    assert amounts.all_of(PAVING) == pytest.approx((width + 2 * side * cut) * found.run.length if pavement else 0.0, rel=1e-6)


def test_a_paved_trench_makes_the_walk_it_passes_good_and_wants_soil_for_its_pavement_only():
    paved = dataclasses.replace(DEMO, sections=tuple(dataclasses.replace(s, pavement=0.1) for s in DEMO.sections))
    before, after = (one(assess(job), "paving", "r1") for job in (DEMO, paved))
    assert (before.state, after.state, after.station) == (State.TIGHT, State.HOLDS, before.station)
    assert one(assess(paved), "cap", "r1").limit == 0.1 and "for 3.9 in of pavement" in reason_of(assess(paved), "cap", "r1")
    dressed = assess(dataclasses.replace(DEMO, sections=tuple(dataclasses.replace(s, top="dressed stone", turf=0.08) for s in DEMO.sections)))
    rows, whole = {f.label: f.value for f in dressed.takeoff.rows()}, sum(f.amounts.dug - f.amounts.pipe_volume for f in dressed.site.runs)
    assert rows["Backfill"] == pytest.approx(whole - rows["Stone in place"] - rows["Stone that dresses the top"]) and rows["Stone that dresses the top"] > 0.1
    rows = {f.label: f.value for f in assess(paved).takeoff.rows()}
    assert rows["Pavement to cut and make good"] > 0 and "Pavement to cut and make good" not in {f.label for f in assess(DEMO).takeoff.rows()}
    bad = dataclasses.replace(paved, sections=tuple(dataclasses.replace(s, top="turf on the stone") for s in paved.sections))
    assert [path for path, _ in faults(bad)] == [f"sections[{i}].pavement" for i in range(len(bad.sections))]
    job, node = set_in()
    bare = with_node(job, dataclasses.replace(next(n for n in job.nodes if n.id == node), basin=None))
    for wrong, told in ((set_in(kind="vent", basin=Basin())[0], "vent n12 has no box"), (bare, "inlet n12 is a box; say its shape")):
        assert told in " ".join(words for _, words in faults(wrong)) and not faults(job)
    with pytest.raises(InputError, match="must be at most"):
        with_value(DEMO, "sections.s1.pavement", 1.2)


def test_what_is_built_stays_as_it_lies_and_is_still_counted():
    built = with_value(DEMO, "runs.r3.status", "built")
    before, after = assess(DEMO), assess(built)
    assert after.run("r3").amounts == before.run("r3").amounts and assess(with_value(DEMO, "runs.r3.status", "existing")).run("r3").amounts.dug == 0
    asked = {f.code for f in after.findings if f.subject == "r3"}
    drowned = with_value(set_in(rim=40.0, basin=Basin("round", 0.1, None))[0], "runs.r3.status", "built")
    assert {"rim"} == {f.code for f in assess(drowned).findings} & {"rim", "basin"}  # whether water gets in is asked of what stands there too
    assert not asked & {"walls", "depth", "cap"} and {"capacity", "slope"} <= asked and "walls" in {f.code for f in before.findings if f.subject == "r3"}
    held = demand_of(after).run("r3")
    assert not held.dug and held.held and demand_of(before).run("r3").dug


@pytest.mark.parametrize(("traffic", "invert", "pipe", "state", "case"), [
    ("people", 28.0, "corrugated-100", None, ""), ("mowers", 28.0, "corrugated-100", None, ""), ("cars", 28.0, "corrugated-100", "holds", ""),
    ("cars", 29.6, "corrugated-100", "fails", "out"), ("trucks", 28.0, "corrugated-100", "tight", "flattens"),
    ("trucks", 28.0, "pvc-thick-100", "holds", ""), ("trucks", 29.0, "pvc-thick-100", "fails", "shallow"),
])  # fmt: skip
def test_wheels_want_cover_by_what_drives_there_and_a_pipe_that_stands_it(traffic, invert, pipe, state, case):
    job = with_value(with_value(with_value(DEMO, "sections.s1.traffic", traffic), "runs.r1.invert", invert), "runs.r1.pipe", pipe)
    told = [f for f in assess(job).findings if (f.code, f.subject) == ("wheels", "r1")]
    assert [(f.state, f.case) for f in told] == ([(state, case)] if state else [])
    branch = [f for f in assess(job).findings if (f.code, f.subject) == ("wheels", "r4")]  # its 10 in of cover are too few for any of them
    assert [(f.state, f.case, f.limit) for f in branch] == ([("fails", "shallow", pytest.approx(0.6096 if traffic == "trucks" else 0.3048))] if state else [])


@pytest.mark.parametrize(("depth", "state"), [(5.0, "holds"), (0.3, "tight"), (None, None)])
def test_a_pit_in_wet_ground_floats(depth, state):
    job = with_value(with_value(DEMO, "nodes.n1.outlet.kind", "pump in a pit"), "soils.g1.water_table_depth", depth)
    told = [f for f in assess(job).findings if f.code == "pit-uplift"]
    assert [f.state for f in told] == ([state] if state else [])
    if state == "tight":
        assert told[0].facts["lifted"].value == pytest.approx(1000 * 0.4572**2 * told[0].facts["over"].value)


def test_roof_water_in_a_pipe_that_collects_soaks_out_of_it_in_dry_ground_and_more_in_open_ground():
    assert not any(f.code == "gives-back" for f in assess(DEMO).findings)  # its roof has a solid pipe of its own
    mixed, lost = with_value(DEMO, "sources.w1.node", "n3"), []
    for high in (1e-6, 1e-5, 1e-4):
        band = Band(high / 10, high / 3, high)
        layers = tuple(dataclasses.replace(layer, conductivity=band) for layer in mixed.soils[0].layers)
        lost.append(one(assess(dataclasses.replace(mixed, soils=(dataclasses.replace(mixed.soils[0], layers=layers),))), "gives-back", "r1").facts["lost"].value)
    assert lost[0] < lost[1] < lost[2] and lost[2] == pytest.approx(100 * lost[0], rel=0.01)


@pytest.mark.parametrize("kind", OUTLETS)
def test_every_kind_of_outlet_is_told_of_in_whole_sentences_proud_of_the_ground_and_deep_in_it(kind):
    job = with_value(DEMO, "nodes.n7.outlet.kind", kind)
    for invert in (28.9, 28.575, 28.0):
        outcome = assess(with_value(job, "runs.r3.invert", invert))
        assert not faults(outcome.job)
        for finding in outcome.findings:
            assert not re.search(r"  |\( |[{}\[\]]| ,| \.", worded(finding, outcome.job).reason), (finding.code, finding.case)


@pytest.mark.parametrize(("entry", "state", "case"), [("straight in", "tight", "straight"), ("through a leaf basket", "tight", "basket"), ("over a grate", "holds", ""),
                                                      ("over an air gap", "holds", "")])
def test_roof_entries_are_judged_by_where_blocked_water_goes(entry, state, case):
    job = with_value(with_value(DEMO, "nodes.n6.kind", "roof entry"), "nodes.n6.entry", entry)
    finding = one(assess(job), "entry", "r2")
    assert (finding.state, finding.case) == (state, case) and [one(assess(fix.made(job)), "entry", "r2").case for fix in finding.fixes] == ([""] if case == "straight" else [])
    assert with_node(job, of_node_kind(next(n for n in job.nodes if n.id == "n6"), "vent")).nodes[5].entry == "straight in" and not any(f.code == "entry" for f in assess(DEMO).findings)
