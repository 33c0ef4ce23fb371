"""From the drawing to an order and a price: rows with their origin, parts by the layout, lengths cut, sums to the cent."""

from __future__ import annotations

import csv
import dataclasses
import io
import json
import math
from decimal import Decimal

import numpy as np
import pytest
import shapely
from scipy.stats import triang

from weirant.cli.main import main
from weirant.design.assess import assess
from weirant.design.bill import bill_of, dig_time
from weirant.design.demo import demo_job
from weirant.design.job_price import job_price
from weirant.design.kit import kit_at, kit_of, length_of
from weirant.design.laid_parts import wanted_parts
from weirant.design.layout import set_at_station
from weirant.design.offer import priced_option
from weirant.design.order import in_unit, order_of, pipe_cuts
from weirant.design.patterns import PATTERNS, pattern
from weirant.design.priced import quote_of
from weirant.design.schedule import plan_of
from weirant.design.takeoff import length_in_ground
from weirant.design.work import tasks_of
from weirant.drawing.primitives import Area, Stroke
from weirant.drawing.section import section_drawing
from weirant.errors import InputError, JobFileError
from weirant.formats.job_file import from_text, to_text
from weirant.formats.price_list import open_price_list, read_price_list
from weirant.job.drilling import with_drilled
from weirant.job.network import INLET, OPEN_PIPE, OUTLETS, Basin
from weirant.job.part_rules import WANTED, OwnPart, PartRule, PartRules
from weirant.job.paths import with_value
from weirant.job.products import OwnPipe, SoldIn
from weirant.job.section import IN_SOIL
from weirant.job.soil import ROCK
from weirant.library.each import each_words
from weirant.library.parts import parts as library_parts
from weirant.outcome.amounts import PAVED, PAVING, Amounts
from weirant.outcome.bill import CLOTH, DIG, PART, PIPE, STONE, Bill
from weirant.outcome.finding import State
from weirant.outcome.prices import Terms
from weirant.units.display import System
from weirant.words.machines import fit_words

OUTCOMES = {key: assess(pattern(key).job()) for key in PATTERNS} | {"demo": assess(demo_job())}


def parts(key, outcome=None):
    found = {}
    for (what, part, _), amount in bill_of(outcome or OUTCOMES[key]).totals().items():
        if what == PART:
            found[part] = found.get(part, 0.0) + amount
    return found


@pytest.mark.parametrize("key", sorted(OUTCOMES))
def test_the_rows_add_up_to_what_is_told_of_the_whole_job_and_each_names_a_place_that_is_there(key):
    outcome, bill = OUTCOMES[key], bill_of(OUTCOMES[key])
    sums = {what: sum(row.amount for row in bill.rows if row.what == what) for what in (STONE, CLOTH, PIPE)}
    dug, spoil, backfill = (sum(row.amount for row in bill.rows if row.key == key) for key in ("dug", "spoil", "backfill"))
    told = outcome.takeoff
    assert sums[STONE] == pytest.approx(told.stone.value) and sums[CLOTH] == pytest.approx(sum(f.value for f in told.fabrics))
    assert sums[PIPE] == pytest.approx(told.perforated_pipe.value + told.solid_pipe.value)
    assert dug == pytest.approx(told.dug.value) and backfill == pytest.approx(told.backfill.value) and spoil == pytest.approx(told.spoil_loose.value)
    places = {(f.id, piece) for f in outcome.site.runs for piece in (*(s.id for s in f.stretches), *(node.id for node, _ in f.run.nodes))}
    assert all((row.origin.run, row.origin.piece) in places and row.amount > 0 for row in bill.rows)


@pytest.mark.parametrize(("key", "asked"), [
    ("swale", {"box": 4, "grate": 4, "curb-cut": 1, "end-cap": 0, "animal-guard": 0}), ("eave", {"box": 6, "bend-90": 0}), ("ring", {"gutter-adaptor": 5, "pit": 1, "box": 6}),
    ("grid", {"cross": 4, "tee": 7, "end-cap": 0}), ("footing", {"animal-guard": 3, "wye": 1}), ("laterals", {"vent-cap": 3, "adaptor": 3, "coupler": 22}),
    ("old-drain", {"blind-tee": 1, "wye": 0, "end-cap": 1}), ("three-pipes", {"end-cap": 3}),
    ("nearly-level", {"pop-up": 1, "bend-90": 1, "end-cap": 1}), ("curtain", {"bubbler": 1, "end-cap": 1})])  # fmt: skip
def test_parts_follow_from_the_layout_as_one_counts_them_on_the_drawing(key, asked):
    found = parts(key)
    assert {part: found.get(part, 0) for part in asked} == asked


@pytest.mark.parametrize(("counts", "own", "asked"), [
    ([("end-cap", "end", 2.0)], [], {"end-cap": 6}), ([("end-cap", "end", 0.0)], [], {"end-cap": 0}),
    ([("coupler", "joint top", 3.0)], [], {"end-cap": 3, "coupler": parts("three-pipes")["coupler"]}),
    ([], [OwnPart("own-post", "Marker post", "end", 2.0)], {"own-post": 6, "end-cap": 3}),
    ([], [OwnPart("own-seed", "Seed", "turf", 0.03, "m2")], {"own-seed": 0.03 * sum(r.amount for r in bill_of(OUTCOMES["three-pipes"]).rows if r.key == "turf")}),
])  # fmt: skip
def test_parts_are_counted_by_the_rules_of_the_job_in_the_place_of_the_librarys_and_beside_them(counts, own, asked):
    job = dataclasses.replace(pattern("three-pipes").job(), parts=PartRules(tuple(PartRule(*one) for one in counts), tuple(own)))
    outcome = assess(job)
    assert {part: parts("", outcome).get(part, 0) for part in asked} == pytest.approx(asked)
    assert {key: n for key, n in parts("", outcome).items() if key not in asked} == {key: n for key, n in parts("three-pipes").items() if key not in asked}  # and nothing else is
    lines = {line.key: line for line in order_of(outcome)}
    assert all(("own rule" in lines[key].note) == (key in {part for part, *_ in counts} or key.startswith("own-")) for key in asked if key in lines and key != "coupler")
    assert from_text(to_text(job)) == job
    prices = read_price_list("item,per,price\nown-post,piece,4.50\n", "x")
    priced = {line.line.name: line.cost for line in quote_of(order_of(outcome), (), prices).lines if line.cost is not None}
    assert priced == ({"Marker post": Decimal("27.00")} if "own-post" in asked else {})


@pytest.mark.parametrize(("rules", "says"), [
    (PartRules((PartRule("end-cap", "end", 1.0), PartRule("end-cap", "end", 2.0))), "told twice"), (PartRules((PartRule("rocket", "end", 1.0),)), "not in the library"),
    (PartRules((PartRule("end-cap", "end", -1.0),)), "at least 0"),
    (PartRules((), (OwnPart("post", "Post", "end"),)), "begins with own-"), (PartRules((), (OwnPart("own-p", " ", "end"),)), "needs a name"),
    (PartRules((PartRule("end-cap", "moon", 1.0),)), "parts.counts"), (PartRules((), (OwnPart("own-p", "P", "end", 1.0, "mile"),)), "parts.own")])  # fmt: skip
def test_rules_of_parts_that_cannot_be_are_refused_with_their_place(rules, says):
    with pytest.raises(JobFileError) as refused:
        from_text(to_text(dataclasses.replace(demo_job(), parts=rules)))
    assert says in str(refused.value)


def test_whatever_a_layout_has_can_be_counted_and_told_in_the_units_of_the_job():
    codes = {wanted.code for outcome in OUTCOMES.values() for wanted in wanted_parts(outcome)}
    assert codes | {part.wanted for part in library_parts()} | set(OUTLETS) - {OPEN_PIPE} <= set(WANTED)
    pins = next(part for part in library_parts() if part.key == "pins")
    told = {system: each_words(pins.each, pins.unit, pins.wanted, system) for system in System}
    assert told == {System.IMPERIAL: "33.53 for each 100 ft of cloth edge", System.METRIC: "110 for each 100 m of cloth edge"}
    assert each_words(0.5, "m", "pipe joint", System.IMPERIAL).startswith("1.64 ft for each joint")


@pytest.mark.parametrize("key", sorted(OUTCOMES))
def test_a_hundred_feet_take_a_hundred_feet_of_pipe_in_each_run_and_where_one_stands(key):
    outcome, bill = OUTCOMES[key], bill_of(OUTCOMES[key])
    for found in outcome.site.runs:
        own = bill.at([found.id])
        if not found.amounts_of or not own.rows:
            continue
        pipe = sum(line.needed for line in kit_of(outcome, own, length_of(outcome, own)) if line.what == PIPE)
        assert pipe == pytest.approx(30.48 * found.run.run.pipes, rel=0.01)
        for stretch, amounts in zip(found.stretches, found.amounts_of, strict=True):
            kit = {(line.what, line.key): line for line in kit_at(outcome, bill, found, (stretch.low + stretch.high) / 2, 10.0)}
            if stretch.high - stretch.low > 0.1 and amounts.dug > 0 and not outcome.site.in_trench_of(found.id):
                assert kit[DIG, "dug"].needed == pytest.approx(amounts.dug * 10 / (stretch.high - stretch.low))
                assert all(line.what != PART or (outcome.library is not None and row_goes_by_length(line.key)) for line in kit.values())
    if key in ("demo", "old-drain", "curtain"):  # a pipe in each trench; what lies there already is none of them
        assert sum(line.needed for line in kit_of(outcome, bill, length_of(outcome, bill)) if line.what == PIPE) == pytest.approx(30.48, rel=0.01)
    hosts = [found.run.length for found in outcome.site.runs if found.run.run.status == "planned" and not found.run.run.trench_of]
    assert length_of(outcome, bill) == pytest.approx(sum(hosts))  # three pipes side by side lie in one trench
    assert kit_of(outcome, Bill(()), length_of(outcome, Bill(()))) == ()
    whole = {line.key: line for line in kit_of(outcome, bill, length_of(outcome, bill))}
    foot = {line.key: line for line in kit_of(outcome, bill, length_of(outcome, bill), 0.3048)}
    assert all(foot[one].needed == pytest.approx(line.needed / 100) for one, line in whole.items())


def row_goes_by_length(key):
    return key not in ("end-cap", "wye", "tee", "cross", "box", "grate", "pit", "pump", "clean-out-tee", "animal-guard", "erosion-stone")


def test_the_order_of_one_run_has_the_cloth_and_the_cuts_of_that_run_alone(capsys):
    outcome = OUTCOMES["demo"]
    sold = {run: next(line for line in order_of(outcome, bill=bill_of(outcome).at(run)) if line.what == CLOTH).sold_as["m2"] for run in (("r1",), ("r1", "r3"))}
    assert 0 < sold["r1",] < sold["r1", "r3"]
    assert main(["takeoff", "demo", "--run", "slab drain"]) == 0 and "green" not in capsys.readouterr().out
    assert main(["takeoff", "pattern:old-drain", "--per-ft", "--run", pattern("old-drain").job().runs[0].name]) == 0 and capsys.readouterr().out.strip() == ""  # it is there already
    assert main(["takeoff", "demo", "--run", "slab drain", "--per-ft", "--json"]) == 0
    assert sum(float(line["needed"]) for line in json.loads(capsys.readouterr().out) if line["what"] == "pipe") == pytest.approx(0.3048)


@pytest.mark.parametrize(("length", "coils", "price", "costs"), [(None, 3, "coil,68", "204.00"), (30.48, 3, "coil,68", "204.00"), (76.2, 1, "250 ft,150", "150.00"),
    (914.4, 1, "3000 ft,1500", "1500.00"),
    (76.2, 1, "coil,68", None)])  # fmt: skip
def test_pipe_is_cut_and_priced_in_the_length_in_which_it_is_bought_for_the_job(length, coils, price, costs):
    job = with_value(demo_job(), "runs.r1.sold_in", length)
    outcome = assess(job)
    line = next(line for line in order_of(outcome) if (line.key, line.size) == ("corrugated-100", ""))
    told = quote_of((line,), (), read_price_list(f"item,per,price\ncorrugated-100,{price}\n", "x")).lines[0].cost
    assert line.sold == coils and told == (None if costs is None else Decimal(costs)) and from_text(to_text(job)) == job
    assert with_value(job, "runs.r1.sold_in", None) == demo_job()


@pytest.mark.parametrize(("width", "length", "rolls", "price", "costs"), [
    (None, None, 1, "roll,310", "310.00"), (3.81, 90.0, 1, "roll,310", "310.00"), (1.8288, None, None, "roll,310", None), (None, 15.24, 3, "roll,310", None),
    (None, 15.24, 3, "ft2,0.18", "247.00")])  # fmt: skip
def test_cloth_is_cut_off_the_roll_that_is_bought_for_the_job(width, length, rolls, price, costs):
    job = with_value(with_value(demo_job(), "sections.s1.roll_width", width), "sections.s1.roll_length", length)
    outcome = assess(job)
    line = next(line for line in order_of(outcome) if line.what == CLOTH)
    usual = next(line for line in order_of(OUTCOMES["demo"]) if line.what == CLOTH)
    assert (rolls is None or line.sold == rolls) and from_text(to_text(job)) == job
    assert (line.sold_as["m2"] >= usual.sold_as["m2"]) and ("6.0 ft wide" in line.note) == (width == 1.8288) and ("50.0 ft long" in line.note) == (length == 15.24)
    with pytest.raises(InputError, match=r"neither wide nor long enough.*how it is sold"):
        order_of(assess(with_value(with_value(job, "sections.s1.roll_width", 0.6), "sections.s1.roll_length", 0.6)))
    told = quote_of((line,), (), read_price_list(f"item,per,price\nnonwoven-light,{price}\n", "x")).lines[0].cost
    assert (told is None) == (costs is None) and (told is None or float(told) == pytest.approx(float(costs), rel=0.01))
    assert with_value(with_value(job, "sections.s1.roll_width", None), "sections.s1.roll_length", None) == demo_job()
    assert {f.code: f.state for f in outcome.findings} == {f.code: f.state for f in OUTCOMES["demo"].findings}  # how it is sold is nothing to the ground


def test_long_coils_want_fewer_couplers_and_a_length_of_no_pipe_is_refused():
    job = pattern("laterals").job()
    longer = with_value(job, f"runs.{job.runs[-1].id}.sold_in", 914.4)
    assert parts("", assess(longer)).get("coupler", 0) < parts("laterals")["coupler"]
    for wrong in (SoldIn("rocket", 30.0), SoldIn("corrugated-100", 0.2)):
        with pytest.raises(JobFileError, match="sold_in"):
            from_text(to_text(dataclasses.replace(job, products=dataclasses.replace(job.products, sold_in=(wrong,)))))
    with pytest.raises(JobFileError, match="stands 2 times"):
        from_text(to_text(dataclasses.replace(job, products=dataclasses.replace(job.products, sold_in=(SoldIn("corrugated-100", 30.0),) * 2))))


def test_pipe_that_is_drilled_on_the_job_takes_hours_before_it_is_laid():
    own = OwnPipe("", "6 in drilled", 0.15, 0.16, 0.01, 0.0127, 0.0, supply="stick", supply_length=6.096)
    job, key = with_drilled(demo_job(), own)
    outcome = assess(with_value(job, "runs.r1.pipe", key))
    rows = {row.origin.run: row.amount for row in bill_of(outcome).rows if row.key == "holes"}
    metres = sum(row.amount for row in bill_of(outcome).rows if row.what == PIPE and (row.key, row.size) == (key, "") and row.origin.run == "r1")
    assert rows == {"r1": pytest.approx(metres * (1 / 0.2032 + 2 / 0.4064))}  # one along the bottom, two at the sides
    line = next(line for line in order_of(outcome) if line.key == "holes")
    assert line.sold == math.ceil(rows["r1"]) and "at 120° on both sides" in line.note and not any(row.key == "holes" for row in bill_of(OUTCOMES["demo"]).rows)
    task = next(task for task in tasks_of(bill_of(outcome)) if task.rate.key == "drill")
    assert task.hours == pytest.approx(rows["r1"] / 120)
    assert {"drill r1", "dig r1"} <= set(next(task for task in plan_of(outcome).tasks if task.id == "lay r1").after)
    plan = plan_of(outcome).slots
    assert plan["drill r1"].begins >= plan["bring-pipe"].ends and plan["lay r1"].begins >= plan["drill r1"].ends and "drill r3" not in plan
    told = job_price(OUTCOMES["demo"], order_of(OUTCOMES["demo"]), bill_of(OUTCOMES["demo"]), read_price_list("item,per,price\npvc-sewer-100,stick,50\n", "x"))
    lacks = {line.line.size: line.lacks for line in told.lines if line.line.key == "corrugated-100"}
    assert "or drill solid 4 in" in lacks[""] and "drill" not in lacks["solid"]  # solid pipe lets nothing in


def test_new_turf_seed_and_weed_barrier_follow_the_ground_that_is_opened_and_spread():
    job = dataclasses.replace(pattern("three-pipes").job(), parts=PartRules((PartRule("weed-barrier", "open side", 1.0),)))
    cut = next(row.amount for row in bill_of(OUTCOMES["three-pipes"]).rows if row.key == "turf")
    assert parts("three-pipes")["sod"] == pytest.approx(sum(row.amount for row in bill_of(OUTCOMES["three-pipes"]).rows if row.key == "turf") / 10) and cut > 1
    assert not {"seed", "weed-barrier"} & parts("three-pipes").keys() and "weed-barrier" not in parts("", assess(job))
    spread = assess(with_value(job, "work.spoil", "spread on the left"))
    rings = sum(shapely.Polygon(ring).area for band in spread.site.spoil for ring in band.rings)
    assert parts("", spread)["seed"] == pytest.approx(rings) and rings > 1
    bare = dataclasses.replace(job, sections=tuple(dataclasses.replace(s, top="open stone", wrap="none", side_slope=0.0) for s in job.sections))
    opened = assess(bare)
    laid = [piece for found in opened.site.runs for piece in zip(found.stretches, found.amounts_of, strict=True)]
    sides = sum(2 * amounts.dug / stretch.make.section.width for stretch, amounts in laid if not stretch.is_solid)
    assert parts("", opened)["weed-barrier"] == pytest.approx(sides, rel=0.01) and sides > 1


def test_what_is_there_already_is_not_bought_and_what_no_pipe_comes_with_is_to_be_found():
    job = pattern("swale").job()
    there = with_value(job, f"nodes.{next(n.id for n in job.nodes if n.kind == 'inlet')}.status", "existing")
    assert parts("", assess(there))["box"] == 3
    small = assess(with_value(demo_job(), "runs.r3.pipe", "pvc-100-two-row"))
    rows = [row for row in bill_of(small).rows if row.what == PART and row.size]
    assert all(row.to_be_found == (row.key in ("wye", "tee", "coupler", "adaptor") and {"wye": "wye", "tee": "tee", "coupler": "coupler", "adaptor": "reducer"}[row.key]
                                   not in small.library.pipe(row.size).fittings) or row.key in ("cross", "end-cap") for row in rows)  # fmt: skip


def test_pipe_is_cut_between_what_cuts_it_and_a_joint_of_a_coil_wants_a_coupler():
    outcome = OUTCOMES["laterals"]
    bill = bill_of(outcome)
    cuts = pipe_cuts(outcome, bill)
    for (key, size), cut in cuts.items():
        assert sum(cut.pieces) == pytest.approx(bill.totals()[PIPE, key, size])
    couplers = sum(row.amount for row in bill.rows if row.key == "coupler" and row.origin.piece.startswith("p"))
    assert couplers == sum(cut.plan.joints for cut in cuts.values())


def test_a_wider_trench_orders_more_and_a_run_alone_no_more_than_the_whole():
    def sold(outcome, what):
        return sum(line.sold_as.get("t", line.sold) for line in order_of(outcome) if line.what == what)

    told = [sold(assess(with_value(demo_job(), "sections.s1.width", width)), STONE) for width in (0.25, 0.3, 0.4, 0.6)]
    assert told == sorted(told) and told[0] < told[-1]
    outcome = OUTCOMES["demo"]
    alone = [order_of(outcome, bill=bill_of(outcome).at([run.id])) for run in outcome.job.runs]
    assert sum(line.needed for lines in alone for line in lines if line.what == DIG) == pytest.approx(sum(line.needed for line in order_of(outcome) if line.what == DIG))


@pytest.mark.parametrize("lean", [0.0, 0.5])
def test_what_lies_in_the_hard_layer_is_summed_as_laid_back_prisms_are_by_hand(lean):
    """Between two stations the trench deepens evenly: w·h + s·h² over the hard layer, added up in slices a thousandth as long."""
    job = with_value(with_value(demo_job(), "sections.s1.side_slope", lean), "soils.g1.hard_layer_depth", 0.7)
    found = assess(job).run("r1")
    grade, total = found.grade, 0.0
    for stretch, amounts in zip(found.stretches, found.amounts_of, strict=True):
        at = np.linspace(stretch.low, stretch.high, 20001)
        height = np.maximum(np.interp(at, grade.stations, grade.ground - grade.invert) + stretch.make.below - 0.7, 0.0)
        area = stretch.make.section.width * height + lean * height**2
        assert amounts.all_of("hard") == pytest.approx(np.trapezoid(area, at), rel=2e-3, abs=1e-4)
        total += amounts.all_of("hard")
    assert 0 < total < found.amounts.dug and bill_of(assess(job)).totals()[DIG, "hard", ""] > 0


@pytest.mark.parametrize(("lean", "wide", "up"), [(0.0, 0.5, 0.6), (0.3, 0.25, 0.1), (0.0, 0.5, 9.0)])
def test_a_trench_with_benches_is_dug_as_wide_as_it_is_drawn(lean, wide, up):
    """The section as drawn, cut across every centimetre, its area by shapely; the bench is never drawn in the stone."""
    job = with_value(with_value(with_value(demo_job(), "sections.s1.side_slope", lean), "sections.s1.bench_width", wide), "sections.s1.bench_height", min(up, 4.0))
    job = with_value(job, "soils.g1.hard_layer_depth", 0.3)
    outcome = assess(job)
    found, made = outcome.run("r1"), outcome.run("r1").amounts
    at = np.linspace(0.0, found.run.length, math.ceil(100 * found.run.length))
    walls = [next(shape.points for shape in section_drawing(outcome, float(s), "r1").shapes if isinstance(shape, Stroke) and shape.line == "trench") for s in at]
    drawn = [shapely.Polygon(points) for points in walls]
    across = shapely.box(-9, -9, 9, -0.3)
    assert made.dug == pytest.approx(np.trapezoid([area.area for area in drawn], at), rel=2e-3)
    assert made.all_of("hard") == pytest.approx(np.trapezoid([area.intersection(across).area for area in drawn], at), rel=4e-3)
    filled = [shapely.Polygon(shape.points).area for shape in section_drawing(outcome, float(at[-1]), "r1").shapes if isinstance(shape, Area) and shape.material in ("stone", "backfill")]
    assert len(filled) == 2 and sum(filled) == pytest.approx(drawn[-1].area)
    turf = sum(amount for (_, part, _), amount in bill_of(outcome).at(["r1"]).totals().items() if part == "turf")
    assert turf == pytest.approx(np.trapezoid([2 * max(x for x, _ in points) + 0.2 for points in walls], at), rel=8e-3)  # none where there is no cut
    plain = assess(with_value(job, "sections.s1.bench_width", 0.0)).run("r1").amounts
    assert made.goods.get(("stone", "no-57")) == plain.goods.get(("stone", "no-57")) and (made.dug > plain.dug) == (up < 4)


def test_solid_rock_is_broken_at_a_rate_and_a_price_of_its_own():
    soft = with_value(demo_job(), "soils.g1.hard_layer_depth", 0.5)
    outcomes = [assess(soft), assess(with_value(soft, "soils.g1.hard_layer", ROCK))]
    (ripped, broken), tasks = [bill_of(o).totals() for o in outcomes], [{t.rate.key: t for t in tasks_of(bill_of(o))} for o in outcomes]
    assert ripped[DIG, "hard", ""] == broken[DIG, "rock", ""] > 0 and (DIG, "hard", "") not in broken and (DIG, "rock", "") not in ripped
    assert tasks[1]["rock-excavator"].hours == pytest.approx(broken[DIG, "rock", ""] / 0.8) and "hard-excavator" not in tasks[1]
    assert tasks[0]["dig-excavator"].amount == pytest.approx(tasks[1]["dig-excavator"].amount)
    costs = [priced_option("", o, open_price_list("larkmead")).quote.cost for o in outcomes]
    assert costs[0] < costs[1] and any("Breaking rock" in line for line in fit_words(outcomes[1], ())) and not any("Breaking" in line for line in fit_words(outcomes[0], ()))
    assert any(task.machine == "breaker" for task in plan_of(outcomes[1]).tasks)


def test_a_box_is_dug_wider_than_the_trench_and_takes_its_room_of_what_is_put_back():
    """By hand: a pit 15 cm larger all round than the box with its walls, down to the floor under the sump, less the trench that is dug there anyway."""
    job = pattern("swale").job()
    outcome = assess(job)
    inlets = [(node, station) for node, station in outcome.run("r1").run.nodes if node.basin is not None and node.basin.size]
    found, grade, more, taken = outcome.run("r1"), outcome.run("r1").grade, 0.0, 0.0
    for node, station in inlets:
        make, cut = found.make(station), grade.at(grade.cut, station)
        outer, deep = node.basin.size + 0.1, max(cut - make.below + (node.basin.sump or 0) + 0.05, cut)
        beside = min(station + outer / 2 + 0.15, found.run.length) - max(station - outer / 2 - 0.15, 0)
        more += max((outer + 0.3) ** 2 * deep - make.section.width * cut * beside, 0)
        taken += outer**2 * deep * (math.pi / 4 if node.basin.shape == "round" else 1)
    bare = assess(dataclasses.replace(job, nodes=tuple(dataclasses.replace(n, basin=dataclasses.replace(n.basin, size=None)) if n.basin is not None else n for n in job.nodes)))
    dug, back = ([o.takeoff.dug.value for o in (outcome, bare)], [o.takeoff.backfill.value for o in (outcome, bare)])
    assert len(inlets) > 1 and dug[0] - dug[1] == pytest.approx(more, rel=1e-6) and back[0] - back[1] == pytest.approx(more - taken, rel=1e-6)


@pytest.mark.parametrize("lean", [0.0, 0.5])
def test_pavement_takes_no_more_of_the_earth_than_was_dug(lean):
    """Swept from thin to thicker than the trench is deep; thin, over straight sides, it is its area by its thickness."""
    poured, job = [], with_value(demo_job(), "sections.s1.side_slope", lean)
    for thick in (0.02, 0.1, 0.3, 0.6, 1.0):
        outcome = assess(with_value(job, "sections.s1.pavement", thick))
        made = sum((found.amounts for found in outcome.site.runs), Amounts())
        totals = bill_of(outcome).totals()
        assert totals.get((DIG, "backfill", ""), 0.0) == pytest.approx(outcome.takeoff.backfill.value) and outcome.takeoff.backfill.value >= 0
        poured.append(made.all_of(PAVED))
        assert thick > 0.1 or lean or made.all_of(PAVED) == pytest.approx(thick * made.all_of(PAVING), rel=0.03)  # less where the trench runs out
        assert made.all_of(PAVED) <= made.dug
    assert poured == sorted(poured)


@pytest.mark.parametrize(("shape", "lean", "size"), [("square", 0.0, 0.2), ("square", 0.5, 0.6), ("round", 0.0, 0.5), ("round", 0.4, 0.25)])
def test_where_a_box_stands_there_is_no_stone(shape, lean, size):
    """The box and the stone as prisms, cut level by level with shapely, without the pipe that went through."""
    job = with_value(demo_job(), "sections.s1.side_slope", lean)
    station, network = 12.0, assess(job)
    job = set_at_station(job, "r4", station, INLET)
    bare, boxed = (assess(dataclasses.replace(job, nodes=tuple(dataclasses.replace(n, basin=Basin(shape, found, 0.2)) if n.kind == INLET and n.basin else n for n in job.nodes)))
                   for found in (None, size))  # fmt: skip
    make, cut = network.run("r4").make(station), network.run("r4").grade.at(network.run("r4").grade.cut, station)
    box = shapely.Point(0, 0).buffer((size + 0.1) / 2, 256) if shape == "round" else shapely.box(*([-(size + 0.1) / 2] * 2), *([(size + 0.1) / 2] * 2))
    up = np.linspace(0, float(make.stone(np.array(cut))), 400)
    cleared = np.trapezoid([box.intersection(shapely.box(-9, -make.section.width / 2 - lean * h, 9, make.section.width / 2 + lean * h)).area for h in up], up)
    pipe = math.pi / 4 * make.pipe.outer_diameter**2 * (size + 0.1)
    stone = [outcome.run("r4").amounts.goods["stone", make.aggregate.key] for outcome in (bare, boxed)]
    assert stone[0] - stone[1] == pytest.approx(cleared - pipe, rel=5e-3)


def test_a_box_where_runs_meet_is_dug_once():
    job = demo_job()
    meets = next(node.id for node in job.nodes if sum(node.id in run.nodes for run in job.runs) > 1)
    box = Basin("square", 0.4, 0.2)
    outcome = assess(dataclasses.replace(job, nodes=tuple(dataclasses.replace(n, kind=INLET, basin=box) if n.id == meets else n for n in job.nodes)))
    taken = [found.amounts.all_of("boxes") for found in outcome.site.runs]
    found = next(f for f, room in zip(outcome.site.runs, taken, strict=True) if room)
    station = next(s for n, s in found.run.nodes if n.id == meets)
    assert sum(map(bool, taken)) == 1 and max(taken) == pytest.approx(0.5**2 * (found.grade.at(found.grade.cut, station) - found.make(station).below + 0.25))


@pytest.mark.parametrize(("upper", "lower"), [("clay", "clay"), ("sand", "sand"), ("loam", "clay")])
def test_digging_takes_as_long_as_the_layers_that_are_cut_by_how_thick_they_are(upper, lower):
    job = demo_job()
    layers = job.soils[0].layers
    job = with_value(job, "soils.g1.layers", (dataclasses.replace(layers[0], texture=upper), *(dataclasses.replace(layer, texture=lower) for layer in layers[1:])))
    outcome = assess(job)
    times, found = {key: outcome.library.texture(key).dig_time for key in (upper, lower)}, outcome.run("r1")
    stretch = found.stretches[-1]
    cut = found.grade.cut[(found.grade.stations >= stretch.low) & (found.grade.stations <= stretch.high)].mean()
    top = min(layers[0].thickness, cut) / cut
    assert dig_time(outcome, found, stretch) == pytest.approx(times[upper] * top + times[lower] * (1 - top))
    hours = [{t.rate.key: t.hours for t in tasks_of(bill_of(o))} for o in (OUTCOMES["demo"], outcome)]
    assert {key for key in hours[0] if hours[0][key] != pytest.approx(hours[1][key])} == {"dig-excavator"}
    assert (hours[1]["dig-excavator"] > hours[0]["dig-excavator"]) == (lower == "clay")


def test_a_plough_lays_what_has_no_stone_and_nothing_is_dug_for_it():
    """Of the demo the solid stretches alone; every run with its pipe in a sock in the soil goes in without a trench, and the rest is dug by an excavator."""
    dug = {}
    for name, job in (("excavator", demo_job()), ("plough", with_value(demo_job(), "work.method", "plough"))):
        outcome = assess(job)
        dug[name] = outcome.takeoff.dug.value
        totals = bill_of(outcome).totals()
        solid = sum(length_in_ground(f.grade, s.low, s.high) for f in outcome.site.runs for s in f.stretches if s.is_solid)
        assert totals.get((DIG, "ploughed", ""), 0.0) == pytest.approx(solid if name == "plough" else 0.0)
    assert 0 < dug["plough"] < dug["excavator"]
    bare = with_value(with_value(job, "sections.s1.wrap", IN_SOIL), "runs", tuple(run for run in job.runs if not run.trench_of))
    bare = dataclasses.replace(bare, sections=tuple(dataclasses.replace(s, wrap=IN_SOIL) for s in bare.sections))
    outcome = assess(bare)
    assert outcome.takeoff.dug.value == outcome.takeoff.spoil_loose.value == 0 and not any(code == "hard" for _, code, _ in bill_of(outcome).totals())
    paved = assess(dataclasses.replace(bare, sections=tuple(dataclasses.replace(s, pavement=0.1) for s in bare.sections)))
    assert paved.takeoff.dug.value > 0 and (DIG, "ploughed", "") not in bill_of(paved).totals()  # no plough goes through it
    work = {t.rate.key: t for t in tasks_of(bill_of(outcome), "plough")}
    laid = sum(length_in_ground(f.grade, 0.0, f.run.length) for f in outcome.site.runs)
    assert work["plough"].amount == pytest.approx(laid) and not {"dig-excavator", "fill", "spread", "turf", "stone-loader"} & set(work)
    assert not priced_option("", outcome, open_price_list("larkmead")).quote.missing
    assert priced_option("", outcome, read_price_list(BY_HOURS + "list contingency,,by soil\n", "x")).quote.prices.terms.contingency == 0  # nothing is dug


def test_a_longer_way_takes_barrows_longer_than_loaders_and_digging_as_long_as_ever():
    """A third of a barrow's time was the way, and is now three times as long."""
    hours = [{t.rate.key: t.hours for method in ("hand", "excavator") for t in tasks_of(bill_of(OUTCOMES["demo"]), method, haul=haul)} for haul in (None, 30.48, 91.44, 0.0)]
    assert hours[0] == pytest.approx(hours[1]) and hours[2]["stone-barrow"] == pytest.approx(1.66 * hours[0]["stone-barrow"])
    assert 1.3 < hours[2]["stone-loader"] / hours[0]["stone-loader"] < 1.5 and hours[2]["dig-hand"] == hours[0]["dig-hand"] and hours[3]["stone-barrow"] < hours[0]["stone-barrow"]


def test_notes_tell_how_far_a_load_reaches_and_how_many_strips_the_turf_is():
    lines = {line.key: line for line in order_of(assess(demo_job()))}
    stone, turf = lines["no-57"], lines["turf"]
    laid = sum(float(row.amount) for row in bill_of(assess(demo_job())).rows if row.what == PIPE and not row.size)  # m that collect, in stone
    assert f"a load fills {laid / 0.3048 / (float(stone.sold) / 10):.1f} ft" in stone.note and stone.sold_as["load"] == 2
    assert f"{math.ceil(turf.needed / (0.3048 * 1.2192))} strips of 12.0 in by 4.0 ft" in turf.note
    small = {line.key: line for line in order_of(assess(with_value(demo_job(), "work.truck", 3 * 907.18474)))}
    assert (small["no-57"].sold_as["load"], small["no-57"].sold) == (4, stone.sold) and small["spoil"].sold_as["load"] > lines["spoil"].sold_as["load"]


def test_a_quote_adds_up_to_the_cent_and_takes_what_comes_cheapest():
    outcome = OUTCOMES["demo"]
    lines, tasks = order_of(outcome), tasks_of(bill_of(outcome))
    told = quote_of(lines, tasks, open_price_list("larkmead"))
    assert not told.missing and told.cost == sum(line.cost for line in told.lines)
    cost, overhead, contingency, margin, tax, price = (amount for _, amount in told.sums)
    assert price == cost + overhead + contingency + margin + tax and all(amount == amount.quantize(Decimal("0.01")) for _, amount in told.sums)
    assert margin / (price - tax) == pytest.approx(Decimal("0.15"), abs=Decimal("0.0001"))
    hired = {line.line.key: line for line in told.lines if line.line.what == "work"}
    assert hired["excavator"].price.per == "day" and hired["crew"].price.per == "h"
    dearer = read_price_list("item,per,price\nexcavator,day,295\nexcavator,week,290\n", "x")
    assert next(line for line in quote_of(lines, tasks, dearer).lines if line.line.key == "excavator").price.per == "week"
    assert dearer.terms == Terms()
    both = read_price_list("item,per,price\nexcavator,h,60\nexcavator,week,1050\nno-57,ton,38\nno-57,t,40\n", "x")
    found = {line.line.key: line for line in quote_of(lines, tasks, both).lines}
    assert found["excavator"].price.per == "h" and "per week it would be 1050.00 (the week pays from 17.5 h on)" in found["excavator"].line.note
    assert found["no-57"].price.per == "t" and "pays" not in found["no-57"].line.note and "per ton it would be 433.20" in found["no-57"].line.note


BY_HOURS = "item,per,price\ncrew,h,40\nexcavator,h,50\nloader,day,150\nlist overhead,,10 %\n"


@pytest.mark.parametrize(("each", "is_hired"), [("14.9", True), ("15.5", False)])  # 6 m³ an hour by one person and an excavator are 15 a cubic metre, and a little more by the quarter hour
def test_work_is_hired_where_that_saves_more_than_it_costs(each, is_hired):
    option = priced_option("", OUTCOMES["demo"], read_price_list(BY_HOURS + f"hired dig-excavator,m3,{each}\nhired stone-loader,yd3,0.5\n", "x"))
    work = {line.line.key: line for line in option.quote.lines if line.line.what == "work"}
    assert ("hired dig-excavator" in work, work["excavator"].line.needed > 3600) == (is_hired, not is_hired) and "loader" not in work
    dug = option.bill.totals()[DIG, "dug", ""] - option.bill.totals()[DIG, "hard", ""]
    assert not is_hired or (float(work["hired dig-excavator"].cost) == pytest.approx(dug * 14.9, abs=0.01) and "your own crew" in work["hired dig-excavator"].line.note)


@pytest.mark.parametrize(("holes", "spread"), [((), 1.0), (None, 0.5)])
def test_contingency_by_the_soil_is_what_the_ground_may_take_longer_eight_times_of_ten(holes, spread):
    """Against the triangular distribution of scipy, all that hangs on the ground being late at once."""
    job = demo_job()
    outcome = assess(job if holes is None else dataclasses.replace(job, holes=holes))
    quote = priced_option("", outcome, read_price_list(BY_HOURS + "list contingency,,By  Soil\n", "x")).quote
    more = 0.0
    for task in tasks_of(bill_of(outcome)):
        if task.rate.of in ("dug", "hard", "backfill", "spoil"):
            (low, high), usual = task.band, task.hours
            late = triang.ppf(0.8, (usual - low) / (high - low), loc=low, scale=high - low) / usual - 1
            more += usual * (40 * task.rate.crew + (50 if task.rate.machine else 0)) * late * spread
    share = float(quote.prices.terms.contingency)
    assert 0 <= share - more / (float(quote.cost) * 1.1) < 0.001 and share > 0  # told to a tenth of a hundredth, rounded up
    assert dict(quote.sums)["contingency"] == pytest.approx((quote.cost + dict(quote.sums)["overhead"]) * quote.prices.terms.contingency, abs=Decimal("0.01"))
    sure = read_price_list(BY_HOURS + "list contingency,,by soil\n" + "".join(f"rate {key},m3/h,3\n" for key in ("dig-excavator", "hard-excavator", "fill", "spread")), "x")
    assert priced_option("", outcome, sure).quote.prices.terms.contingency == 0  # the crew measured it itself


@pytest.mark.parametrize(("least", "far", "cost"), [("", "70", 11.4 * 38), ("20", "70", 20 * 38), ("20", "39", 11.4 * 39), ("11", "70", 11.4 * 38)])
def test_what_is_sold_in_no_less_is_paid_for_so_and_the_other_yard_may_be_cheaper(least, far, cost):
    """11.4 tons are wanted: of a yard that sends 20 at least 20 are paid, unless the other one asks less for what is needed."""
    prices = read_price_list(f"item,per,price,supplier,min\nno-57,ton,38,near,{least}\nno-57,ton,{far},far,\n", "x")
    line = next(line for line in priced_option("", OUTCOMES["demo"], prices).quote.lines if line.line.key == "no-57")
    assert float(line.cost) == pytest.approx(cost) and ("at least 20 ton are sold: 8.6" in line.line.note) == (cost == 20 * 38)


@pytest.mark.parametrize(("lacks", "what", "has", "says"), [
    ("no-57", STONE, "stone-19,ton,40\npea-gravel,ton,40\nround-38,ton,40\n", "3/4 in washed stone / "),
    ("nonwoven-light", CLOTH, "nonwoven-medium,roll,300\nslit-film,roll,100\n", "medium (6 oz)"),
    ("corrugated-100", PIPE, "corrugated-75,coil,50\ncorrugated-150,coil,90\npvc-100-two-row,stick,12\n", "4 in (100 mm) smooth PVC"), ("no-57", STONE, "wye,piece,9\n", "")])  # fmt: skip
def test_what_the_list_has_in_its_place_holds_as_well_and_the_nearest_comes_first(lacks, what, has, says):
    prices = read_price_list("item,per,price\n" + has, "x")
    line = next(line for line in priced_option("x", OUTCOMES["demo"], prices).quote.lines if (line.line.what, line.line.key, line.line.size) == (what, lacks, ""))
    assert (f"it has what holds as well: {says}" if says != "medium (6 oz)" else says) in line.lacks if says else line.lacks == f"no price for {lacks} in the list"
    assert "weed" not in line.lacks and "3 in (75 mm)" not in line.lacks and "6 in (150 mm)" not in line.lacks and line.cost is None
    field = {STONE: "aggregate", CLOTH: "geotextile"}.get(what)
    products = {product.name: product.key for product in (*OUTCOMES["demo"].library.aggregates.values(), *OUTCOMES["demo"].library.geotextiles.values())}
    for name in line.lacks.partition("as well: ")[2].split(" / ") if field and says else ():  # put in its place it fails nothing that it did not fail
        job = demo_job()
        for section in job.sections:
            job = with_value(job, f"sections.{section.id}.{field}", products[name])
        assert {f.about for f in assess(job).findings if f.state == State.FAILS} <= {f.about for f in OUTCOMES["demo"].findings if f.state == State.FAILS}


@pytest.mark.parametrize(("item", "per", "says"), [("no-57", "m", "counted by"), ("erosion-stone", "ton", "density is not known"), ("no-57", "parsec", "counted by"),
                                                 ("box", "t", "counted by")])
def test_a_price_in_a_unit_that_does_not_fit_is_named_and_never_nought(item, per, says):
    outcome = OUTCOMES["swale"] if item == "box" else OUTCOMES["demo"]
    told = quote_of(order_of(outcome), (), read_price_list(f"item,per,price\n{item},{per},5\n", "x"))
    line = next(line for line in told.lines if line.line.key == item)
    assert line.cost is None and (says in line.lacks or item == "box") and told.cost == 0 and line in told.missing


@pytest.mark.parametrize(("per", "wants"), [("coil", 3), ("100 ft", 3), ("ft", 300), ("m", Decimal("91.44")), ("1 coil", 3)])
def test_a_unit_is_counted_in_what_is_bought(per, wants):
    line = next(line for line in order_of(OUTCOMES["demo"]) if (line.key, line.size) == ("corrugated-100", ""))
    assert in_unit(line, per) == pytest.approx(Decimal(wants), abs=Decimal("0.001"))


def test_the_commands_tell_the_same_and_a_formula_in_a_name_stays_text(tmp_path, capsys):
    assert main(["takeoff", "demo", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert {line["item"] for line in told} >= {"no-57", "corrugated-100"} and all(line["origins"] for line in told)
    assert main(["quote", "demo", "--prices", "larkmead", "--csv", str(tmp_path / "q.csv")]) == 0
    rows = list(csv.DictReader(io.StringIO((tmp_path / "q.csv").read_text(encoding="utf-8"))))
    assert main(["quote", "demo", "--prices", "larkmead", "--json"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert sum(Decimal(row["cost"]) for row in rows) == Decimal(found["sums"]["cost"])
    (tmp_path / "p.csv").write_text("item,per,price\nno-57,ton,38\nwye,piece,-1\n", encoding="utf-8")
    assert main(["quote", "demo", "--prices", str(tmp_path / "p.csv")]) == 1
    assert "line 3 of the list is not used" in (said := capsys.readouterr().out) and "Not in this price" in said
    for wrong in (["quote", "demo", "--prices", "nowhere.csv"], ["quote", "demo", "--prices", "larkmead", "--method", "spoon"], ["takeoff", "demo", "--json", "--csv", "x.csv"]):
        assert main(wrong) == 2
