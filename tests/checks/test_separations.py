"""What lies between soil and stone: a lining, a sheet on top, all round, a sock: its area, what is asked of it, and how it is drawn."""

from __future__ import annotations

import math

import pytest

from laying import one, reason_of
from weirant.design.across import section_at
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
from weirant.outcome.amounts import FABRIC

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
    assert areas["none"] == 0 and areas["full wrap"] == pytest.approx(areas["lining"] + areas["sheet on top"]) and (areas["sheet on top"] == 0) == (top == "open stone")
    if top == "soil cap":
        job = wrapped("lining", side_slope=slope)
        found = assess(job).run("r1")
        make, length = found.make(40.0), found.run.collecting_length
        assert areas["lining"] == pytest.approx(length * (make.section.width + 2 * math.hypot(1, slope) * make.natural_stone), rel=2e-3)
        assert areas["sheet on top"] == pytest.approx(length * (make.section.width + 2 * slope * make.natural_stone + make.section.overlap), rel=2e-3)


@pytest.mark.parametrize(("wrap", "asked"), [
    ("none", {"soil-stone"}), ("sock", {"soil-stone", "sock", "retention", "permittivity", "clogging", "cloth-head"}),
    ("sheet on top", {"soil-stone", "retention", "cloth-strength", "cloth-under-turf"}),
    ("lining", {"soil-stone", "retention", "permittivity", "clogging", "cloth-strength", "cloth-head"}),
    ("full wrap", {"retention", "permittivity", "clogging", "cloth-strength", "cloth-head", "cloth-under-turf"}),
])  # fmt: skip
def test_each_contact_is_asked_of_what_lies_there(wrap, asked):
    outcome = assess(wrapped(wrap))
    of_contacts = {"soil-stone", "sock", "retention", "permittivity", "clogging", "cloth-head", "cloth-strength", "cloth-under-turf"}
    assert {f.code for f in outcome.findings if f.subject == "r1"} & of_contacts == asked
    assert "soil-stone" not in asked or ("over it" in reason_of(outcome, "soil-stone", "r1")) == (wrap == "lining")
    assert ("soil-stone" in {f.code for f in assess(wrapped(wrap, top="open stone")).findings if f.subject == "r1"}) == (wrap in ("none", "sock", "sheet on top"))
    assert (section_at(outcome, run="r1").cut.wrap is not None) == (wrap in ("lining", "full wrap"))
    assert job_file.from_text(job_file.to_text(outcome.job)) == outcome.job


@pytest.mark.parametrize(("wrap", "corners"), [("none", 0), ("lining", 4), ("sheet on top", 4), ("full wrap", 6)])
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


def test_over_the_years_a_lining_holds_what_a_sheet_on_top_does_not():
    told = {}
    for wrap in ("lining", "sheet on top", "none", "full wrap"):
        outcome = assess(wrapped(wrap))
        told[wrap] = schools(outcome, outcome.run("r1"), keys=["as-drawn"])[0].silted
    assert told["lining"] == pytest.approx(told["full wrap"]) and told["sheet on top"] == told["none"] > 2 * told["lining"]
