"""What lies between soil and stone: a lining, a sheet on top, all round, a sock: its area, what is asked of it, and how it is drawn."""

from __future__ import annotations

import math

import numpy as np
import pytest

from laying import one, reason_of
from weirant.design.across import section_at, stone_of
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.effects import effect_of, tried
from weirant.design.schools import schools
from weirant.drawing.primitives import Stroke
from weirant.drawing.section import section_drawing
from weirant.formats import job_file
from weirant.job.paths import with_value
from weirant.job.section import WRAPS
from weirant.library import shipped
from weirant.outcome.amounts import FABRIC, STONE

DEMO = demo_job()


def wrapped(wrap, **section):
    job = with_value(DEMO, "sections.s1.wrap", wrap)
    for field, value in section.items():
        job = with_value(job, f"sections.s1.{field}", value)
    return job


def fabric(job):
    return assess(job).run("r1").amounts.goods.get((FABRIC, "nonwoven-light"), 0.0)


@pytest.mark.parametrize("slope", [0.0, 0.5])
@pytest.mark.parametrize("top", ["soil cap", "open stone"])
def test_a_wrap_is_a_lining_and_a_sheet_on_top_and_each_is_what_a_hand_sum_has(slope, top):
    """In an open trench nothing lies on top, and a wrap is a lining."""
    areas = {wrap: fabric(wrapped(wrap, side_slope=slope, top=top)) for wrap in WRAPS}
    assert areas["none"] == areas["graded sand"] == 0 and areas["full wrap"] == pytest.approx(areas["lining"] + areas["sheet on top"])
    assert (areas["sheet on top"] == 0) == (top == "open stone")
    if top == "soil cap":
        job = wrapped("lining", side_slope=slope)
        found = assess(job).run("r1")
        make, length = found.make(40.0), found.run.collecting_length
        assert areas["lining"] == pytest.approx(length * (make.section.width + 2 * math.hypot(1, slope) * make.natural_stone), rel=2e-3)
        over, laid = make.section.width + 2 * slope * make.natural_stone, make.section.overlap
        assert areas["sheet on top"] == pytest.approx(length * (over + laid), rel=2e-3)
        assert fabric(wrapped("sheet on top", side_slope=slope, layers=3)) == pytest.approx(length * (3 * over + laid), rel=2e-3)
        side = math.hypot(1, slope) * make.natural_stone
        assert areas["cloth at the sides"] == pytest.approx(length * 2 * side, rel=2e-3)
        assert areas["wrap to a wall"] == pytest.approx(areas["full wrap"] - length * side, rel=2e-3)
        pipe = make.pipe
        strips = math.ceil(length / pipe.supply_length) - 1
        assert areas["cloth at the joints"] == pytest.approx(strips * 0.3 * (math.pi * pipe.outer_diameter + laid), rel=1e-9)


@pytest.mark.parametrize(("wrap", "asked"), [
    ("none", {"soil-stone"}), ("sock", {"soil-stone", "sock", "retention", "permittivity", "clogging", "cloth-head"}),
    ("sheet on top", {"soil-stone", "retention", "cloth-strength", "cloth-under-turf"}),
    ("lining", {"soil-stone", "retention", "permittivity", "clogging", "cloth-strength", "cloth-head"}),
    ("full wrap", {"retention", "permittivity", "clogging", "cloth-strength", "cloth-head", "cloth-under-turf"}),
    ("wrap to a wall", {"retention", "permittivity", "clogging", "cloth-strength", "cloth-head", "cloth-under-turf"}),
    ("cloth at the sides", {"soil-stone", "retention", "permittivity", "clogging", "cloth-strength", "cloth-head"}),
    ("cloth at the joints", {"soil-stone"}), ("graded sand", {"soil-stone", "sand-stone", "sand-room"}),
])  # fmt: skip
def test_each_contact_is_asked_of_what_lies_there(wrap, asked):
    outcome = assess(wrapped(wrap))
    of_contacts = {"soil-stone", "sock", "retention", "permittivity", "clogging", "cloth-head", "cloth-strength", "cloth-under-turf", "sand-stone", "sand-room"}
    assert {f.code for f in outcome.findings if f.subject == "r1"} & of_contacts == asked
    assert "soil-stone" not in asked or ("over it" in reason_of(outcome, "soil-stone", "r1")) == (wrap == "lining")
    in_open = assess(wrapped(wrap, top="open stone"))
    assert ("soil-stone" in {f.code for f in in_open.findings if f.subject == "r1"}) == (wrap not in ("lining", "full wrap", "wrap to a wall"))
    if wrap == "cloth at the sides":
        assert "under it" in reason_of(in_open, "soil-stone", "r1") and "it wash" not in reason_of(outcome, "soil-stone", "r1")  # all round, where soil lies on it too
    assert (section_at(outcome, run="r1").cut.wrap is not None) == (wrap in ("lining", "full wrap", "wrap to a wall", "cloth at the sides", "graded sand"))
    assert job_file.from_text(job_file.to_text(outcome.job)) == outcome.job


@pytest.mark.parametrize(("wrap", "corners"), [("none", 0), ("lining", 4), ("sheet on top", 4), ("full wrap", 6), ("wrap to a wall", 5),
                                             ("cloth at the joints", 41), ("graded sand", 0)])
def test_cloth_is_drawn_where_it_lies(wrap, corners):
    cloth = [s for s in section_drawing(assess(wrapped(wrap)), 40.0, "r1").shapes if isinstance(s, Stroke) and s.line == "fabric"]
    assert [len(s.points) for s in cloth] == ([corners] if corners else [])
    if wrap == "sheet on top":
        (x0, y0), (_, y1), (x2, y2), _ = cloth[0].points
        assert y1 == y2 > y0 and x0 < 0 < x2


@pytest.mark.parametrize(("off", "state"), [(1e-4, "holds"), (-1e-4, "tight")])
def test_sod_wants_earth_over_cloth_and_a_lining_eases_it(off, state):
    """Both sides of four inches; a lining leaves the stone open to the soil over it, and that is told."""
    least = one(assess(DEMO), "cloth-under-turf", "r1").value
    job = wrapped("full wrap", stone_cover=DEMO.sections[0].stone_cover + least - 0.1016 - off)
    outcome = assess(job)
    found = one(outcome, "cloth-under-turf", "r1")
    assert found.state == state and found.value == pytest.approx(0.1016 + off)
    if found.fixes:
        effect = effect_of(found.fixes[0], outcome)
        assert "soil-stone" in {f.code for f in effect.spoiled}
        assert not [f for f in assess(tried(found.fixes[0], job, shipped())).findings if f.code == "cloth-under-turf"]


def test_a_layer_of_sand_costs_the_water_what_its_conductivity_and_thickness_say():
    """And not what the stone's would: a sheet of that permittivity round the stone, in the simulator."""
    told = [section_at(assess(wrapped("graded sand", sand_thickness=thick)), run="r1").cut.wrap for thick in (0.05, 0.1)]
    sand = stone_of(shipped().aggregate("c33-sand"))
    assert told == pytest.approx([sand.conductivity / 0.05, sand.conductivity / 0.1]) and sand.conductivity < 0.1 * stone_of(shipped().aggregate("no-57")).conductivity


def test_over_the_years_a_lining_holds_what_a_sheet_on_top_does_not():
    told = {}
    for wrap in ("lining", "sheet on top", "none", "full wrap"):
        outcome = assess(wrapped(wrap))
        told[wrap] = schools(outcome, outcome.run("r1"), keys=["as-drawn"])[0].silted
    assert told["lining"] == pytest.approx(told["full wrap"]) and told["sheet on top"] == told["none"] > 2 * told["lining"]


def test_sand_is_bought_for_what_the_stone_leaves_and_needs_room():
    """Stone and sand together fill what stone alone fills; both sides of the room there is in width; the stone that is offered holds the sand."""
    bare, job = assess(wrapped("none")).run("r1"), wrapped("graded sand", sand_thickness=0.05, bedding=0.06)
    outcome = assess(job)
    found = outcome.run("r1")
    make, length = found.make(40.0), found.run.collecting_length
    stone, sand = (found.amounts.goods[STONE, key] for key in (make.aggregate.key, "c33-sand"))
    inside = (make.section.width - 0.1) * (make.natural_stone - 0.1)
    assert stone == pytest.approx(length * (inside - math.pi / 4 * make.pipe.outer_diameter**2), rel=5e-3)
    assert stone + sand == pytest.approx(bare.amounts.goods[STONE, make.aggregate.key] + length * make.section.width * (0.06 - DEMO.sections[0].bedding), rel=2e-3)
    room = make.section.width / 2 - make.pipe.outer_diameter / 2 - 0.05
    for thick, state in ((room - 1e-6, "holds"), (room + 1e-6, "fails")):
        tight = wrapped("graded sand", sand_thickness=thick, bedding=0.2, stone_cover=0.2)
        told = one(assess(tight), "sand-room", "r1")
        assert told.state == state and told.value == pytest.approx(room)
    assert one(assess(tried(told.fixes[0], tight, shipped())), "sand-room", "r1").state == "holds"
    whole, core = (float(area(np.array(make.natural_stone))) for area in (make.area, make.core))
    assert make.voids(make.natural_stone) == pytest.approx((core * make.aggregate.voids + (whole - core) * make.sand.voids) / whole) != pytest.approx(make.aggregate.voids)
    runs_in = one(outcome, "sand-stone", "r1")
    assert runs_in.state == "fails" and one(assess(tried(runs_in.fixes[0], job, shipped())), "sand-stone", "r1").state != "fails"
