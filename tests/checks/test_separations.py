"""What lies between soil and stone: a lining, a sheet on top, all round, a sock: its area, what is asked of it, and how it is drawn."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest

from laying import one, reason_of
from weirant.design.across import section_at, stone_of
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.effects import effect_of, tried
from weirant.design.schools import schools
from weirant.drawing.primitives import Area, Measure, Stroke
from weirant.drawing.profile import profile_drawing
from weirant.drawing.section import section_drawing
from weirant.formats import job_file
from weirant.job.paths import with_value
from weirant.job.section import IN_SOIL, WRAPS
from weirant.library import shipped
from weirant.methods.gradation import gradation_of
from weirant.methods.granular_filter import granular_filter_limits
from weirant.outcome.amounts import FABRIC, STONE
from weirant.seepage.flow import at_rest, settle
from weirant.seepage.mesh import lay_out
from weirant.seepage.steady_line import steady_line

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
    ("cloth at the joints", {"soil-stone"}), (IN_SOIL, {"sock", "retention", "permittivity", "clogging", "cloth-head"}), ("graded sand", {"soil-stone", "sand-stone", "sand-room"}),
])  # fmt: skip
def test_each_contact_is_asked_of_what_lies_there(wrap, asked):
    outcome = assess(wrapped(wrap))
    of_contacts = {"soil-stone", "sock", "retention", "permittivity", "clogging", "cloth-head", "cloth-strength", "cloth-under-turf", "sand-stone", "sand-room"}
    assert {f.code for f in outcome.findings if f.subject == "r1"} & of_contacts == asked
    assert "soil-stone" not in asked or ("over it" in reason_of(outcome, "soil-stone", "r1")) == (wrap == "lining")
    in_open = assess(wrapped(wrap, top="open stone"))
    assert ("soil-stone" in {f.code for f in in_open.findings if f.subject == "r1"}) == (wrap not in ("lining", "full wrap", "wrap to a wall", IN_SOIL))
    if wrap == "cloth at the sides":
        assert "under it" in reason_of(in_open, "soil-stone", "r1") and "it wash" not in reason_of(outcome, "soil-stone", "r1")  # all round, where soil lies on it too
    assert job_file.from_text(job_file.to_text(outcome.job)) == outcome.job


# of floor, sides and top of the stone, in a trench with a soil cap and in one that is open
FACES = {"full wrap": ("111", "110"), "lining": ("110", "110"), "sheet on top": ("001", ""), "cloth at the sides": ("010", "010"), "wrap to a wall": ("111", "110"),
         "graded sand": ("111", "110")}  # fmt: skip


@pytest.mark.parametrize("wrap", WRAPS)
@pytest.mark.parametrize("lean", [0.0, 0.5])
def test_the_simulator_has_cloth_between_cells_where_it_lies_and_nowhere_else(wrap, lean):
    """By the faces of its grid whose conductance falls where the cloth is as good as shut: a row of the floor, one of the top, and the sides with the steps of a leaning one."""
    for top, told in zip(("soil cap", "open stone"), FACES.get(wrap, ("", "")), strict=True):
        section = section_at(assess(wrapped(wrap, top=top, side_slope=lean)), run="r1")
        cut, last = section.cut, section.strata[-1]
        section = dataclasses.replace(section, depth=section.depth + 0.5, strata=(*section.strata[:-1], dataclasses.replace(last, thickness=last.thickness + 0.5)))  # soil under the floor
        shut, free = (lay_out(dataclasses.replace(section, cut=dataclasses.replace(cut, wrap=wrap))) for wrap in (1e-9 if cut.wrap else None, None))
        edges = shut.grid.depth[1:-1]
        fallen = {"across": shut.mesh.across < 0.5 * free.mesh.across, "down": shut.mesh.down < 0.5 * free.mesh.down}
        at = {name: fallen["down"][:, np.isclose(edges, depth)].any() for name, depth in (("floor", cut.depth), ("over", cut.stone_top))}
        elsewhere = fallen["down"][:, ~(np.isclose(edges, cut.depth) | np.isclose(edges, cut.stone_top))].any()
        assert "".join(str(int(x)) for x in (at["floor"], fallen["across"].any(), at["over"])) == (told or "000"), top
        assert elsewhere == (lean > 0 and told[1:2] == "1")


def test_a_sock_in_the_soil_has_no_stone_anywhere():
    """None is bought, drawn, stored in or judged; its water passes the sock alone, and less comes in than into stone, by the line and by the simulator."""
    bare, outcome = assess(wrapped("sock", top="open stone")), assess(wrapped(IN_SOIL, top="open stone"))
    found, in_stone = outcome.run("r1"), bare.run("r1")
    make = found.make(40.0)
    assert not [key for key in found.amounts.goods if key[0] == STONE] and [key for key in in_stone.amounts.goods if key[0] == STONE]
    assert found.amounts.goods[FABRIC, "nonwoven-light"] == pytest.approx(found.run.collecting_length * math.pi * make.pipe.outer_diameter)
    assert (make.voids(0.5), make.section.top, make.passed) == (0.0, "soil cap", pytest.approx(math.pi * make.pipe.outer_diameter))
    assert not {f.code for f in outcome.findings if f.subject == "r1"} & {"stone-drains", "stone-pipe", "soil-stone", "stone-fits"}
    for drawing in (section_drawing(outcome, 40.0, "r1"), profile_drawing(outcome, "r1")):
        assert not [s for s in drawing.shapes if isinstance(s, Area) and s.material == "stone"]
    assert "stone" not in " ".join(m.text for m in section_drawing(outcome, 40.0, "r1").shapes if isinstance(m, Measure))
    section, other = (section_at(each, run="r1") for each in (outcome, bare))
    assert section.cut.stone_top == section.cut.depth and section.cut.wrap is None and section.cut.pipe.sock
    by_line = [steady_line(each, 1e-7).flow[0] for each in (section, other)]
    assert 0 < by_line[0] < by_line[1]
    drains = []
    for each in (section, other):
        laid = lay_out(each)
        drains.append(settle(laid, at_rest(laid, 0.3), 1e-7).pipe)
    assert 0 < drains[0] < drains[1] and by_line[0] == pytest.approx(drains[0], rel=0.3)
    told = schools(outcome, found, keys=["as-drawn", "sock"])
    assert told[0].built.stone == 0 and told[0].silted == 0 and told[1].built.stone > 0


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


@pytest.mark.parametrize(("d15", "state"), [(-1e-6, "holds"), (1e-6, "tight")])
def test_open_stone_is_asked_for_the_soil_of_the_surface_and_its_fixes_close_it(d15, state):
    """Both sides of what holds the upper layer, whatever lies below; a covered trench is not asked."""
    limit = granular_filter_limits(assess(DEMO).layer(DEMO.soils[0], 0).gradation).d15_max
    stone = dataclasses.replace(shipped().aggregate("no-57"), key="own", name="own", coarse_side=gradation_of([(2 * (limit + d15), 30.0), (limit + d15, 15.0), (1e-5, 0.0)]))
    outcome = assess(with_value(wrapped("full wrap", top="open stone"), "sections.s1.aggregate", "own"), dataclasses.replace(shipped(), aggregates={**shipped().aggregates, "own": stone}))
    found = one(outcome, "surface-fines", "r1")
    assert found.state == state and found.value == pytest.approx(limit + d15)
    for fix in found.fixes:
        assert "surface-fines" not in {f.code for f in assess(tried(fix, outcome.job, outcome.library), outcome.library).findings}
    assert len(found.fixes) == (0 if state == "holds" else 2) and "surface-fines" not in {f.code for f in assess(DEMO).findings}
