"""Several soils: which holds where, what each run meets, and that every figure is of the soil it lies in."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from laying import one, reason_of
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.holes import own_soil
from weirant.drawing.profile import profile_drawing
from weirant.drawing.section import section_drawing
from weirant.errors import InputError
from weirant.formats import job_file
from weirant.ground.network import laid_run
from weirant.ground.soils import soils_along
from weirant.job.faults import faults
from weirant.job.holes import TestHole
from weirant.job.paths import with_value
from weirant.job.removal import without_hole, without_thing
from weirant.job.site import Feature, Spot
from weirant.job.soil import Layer, Soil
from weirant.job.soils import everywhere, placed, soil_at, where_words, with_new_soil, without_soil
from weirant.outcome.finding import State

JOB = demo_job()
CLAY = own_soil(JOB, "h2")  # of the clay corner, by its log and its test


def test_a_hole_dug_in_another_soil_makes_one_of_its_own():
    soil = CLAY.soils[1]
    assert faults(CLAY) == [] and (soil.name, soil.hole, [x.texture for x in soil.layers]) == ("soil at TH2", "h2", ["loam", "clay"])
    assert soil.layers[0].thickness == pytest.approx(7 * 0.0254) and soil.layers[1].conductivity.best < JOB.soils[0].layers[1].conductivity.best / 3
    assert (soil.hard_layer_depth, soil.water_table_depth) == (None, pytest.approx(5 * 0.0254)) and CLAY.soils[0] == JOB.soils[0]
    assert job_file.from_text(job_file.to_text(CLAY)) == CLAY and where_words(CLAY, soil) == "round TH2" and where_words(CLAY, CLAY.soils[0]) == "everywhere else"
    with pytest.raises(InputError, match="has a soil of its own already"):
        own_soil(CLAY, "h2")


def test_each_run_is_told_by_the_soil_it_lies_in():
    """The green's drains lie nearer to the clay's hole: they ask for its hard layer; the slab drain says what it said. Then the depth is found."""
    before, after = assess(JOB), assess(CLAY)
    for run, changed in (("r1", False), ("r3", True), ("r4", True)):
        assert (one(before, "capacity", run) != one(after, "capacity", run)) == changed
    assert one(after, "capacity", "r3").state == State.UNKNOWN and "hard layer" in reason_of(after, "capacity", "r3")
    assert one(after, "retention", "r3").state != one(before, "retention", "r3").state or one(after, "retention", "r3").limit != one(before, "retention", "r3").limit
    assert [f for f in before.findings if f.subject == "r1"] == [f for f in after.findings if f.subject == "r1"]
    known = assess(with_value(CLAY, "soils.g2.hard_layer_depth", 1.2))
    slow, quick = (o.run("r4").water.parts[0].inflow.value for o in (known, assess(with_value(JOB, "soils.g1.hard_layer_depth", 1.2))))
    assert 0 < slow < quick
    assert len(profile_drawing(known, "r3").shapes) >= len(profile_drawing(before, "r3").shapes) and section_drawing(known, 15.0, "r3") != section_drawing(before, 15.0, "r3")


def test_a_run_through_two_soils_takes_in_from_each_by_its_length():
    """Cut by shapely where it enters the outline; half as quick a soil there brings so much less, to the last digit."""
    run = laid_run(JOB, "r1")
    (x, y), (x1, y1) = run.alignment.point(28.0), run.alignment.point(40.0)
    patch = Feature("t20", "wet area", "the patch", tuple(Spot(a, b) for a, b in ((x - 1, y - 3), (x1, y1 - 3), (x1, y1 + 3), (x - 1, y + 3))))
    like = dataclasses.replace(JOB.soils[0], id="g2", name="patch", area="t20")
    same = dataclasses.replace(JOB, features=(*JOB.features, patch), soils=(*JOB.soils, like))
    assert faults(same) == [] and assess(same).run("r1").flow.discharge[0] == pytest.approx(assess(JOB).run("r1").flow.discharge[0], rel=0.05)
    slow = dataclasses.replace(like, layers=tuple(dataclasses.replace(x, conductivity=dataclasses.replace(x.conductivity, best=x.conductivity.best * 0.7)) for x in like.layers))
    found = assess(dataclasses.replace(same, soils=(JOB.soils[0], slow))).run("r1")
    parts = {part.of.soil.id: part for part in found.water.parts}
    inside = shapely.length(shapely.intersection(shapely.polygons([(p.x, p.y) for p in patch.points]), shapely.linestrings([run.alignment.point(s) for s in (23.7744, run.length)])))
    assert parts["g2"].of.length == pytest.approx(float(inside), abs=1e-6) and parts["g1"].of.length + parts["g2"].of.length == pytest.approx(run.collecting_length)
    storm = found.water.storm_flow
    assert found.flow.discharge[0] == pytest.approx(storm + sum(p.inflow.value * p.of.length for p in parts.values()), rel=1e-9)
    assert parts["g2"].inflow.value < 0.8 * parts["g1"].inflow.value


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.integers(-600, 600), st.integers(-300, 600)), min_size=1, max_size=5, unique=True), st.integers(0, 31))
def test_the_soil_at_every_station_is_that_of_the_point_there(places, with_soils):
    """Exactly parted: between any two partings the soil does not change. Holes with and without soils, and an outline over some of them."""
    holes = tuple(TestHole(f"h{i}", f"TH{i}", x / 10, y / 10) for i, (x, y) in enumerate(places))
    own = tuple(Soil((Layer("clay"),), id=f"g{i + 2}", name=f"s{i}", hole=f"h{i}") for i in range(len(holes)) if with_soils >> i & 1)
    area = Feature("t30", "lawn", "patch", tuple(Spot(x, y) for x, y in ((-20, 5), (-5, 12), (-8, 24), (-22, 26))))
    within = Soil((Layer("sand"),), id="g40", name="patch", area="t30")
    job = dataclasses.replace(JOB, holes=holes, soils=(JOB.soils[0], *own, within), features=(*JOB.features, area))
    assert faults(job) == []
    run = laid_run(job, "r1")
    along = soils_along(run.alignment, job)
    assert along[0].low == 0.0 and along[-1].high == run.length and all(a.high == b.low and a.soil is not b.soil for a, b in zip(along, along[1:], strict=False))
    for piece in along:
        for share in (1e-6, 0.31, 0.5, 0.77, 1 - 1e-6):
            station = piece.low + share * (piece.high - piece.low)
            if min(station - piece.low, piece.high - station) > 1e-6:
                assert soil_at(job, *run.alignment.point(station)).id == piece.soil.id


def test_what_order_soils_and_holes_stand_in_changes_nothing():
    back = dataclasses.replace(CLAY, soils=CLAY.soils[::-1], holes=CLAY.holes[::-1])
    assert faults(back) == [] and [(f.code, f.subject, f.state, f.value) for f in assess(back).findings] == [(f.code, f.subject, f.state, f.value) for f in assess(CLAY).findings]


@pytest.mark.parametrize(("change", "path", "says"), [
    (lambda s: (s[1],), "soils", "one soil, and only one"), (lambda s: (s[0], dataclasses.replace(s[0], id="g3")), "soils", "one soil, and only one"),
    (lambda s: (s[0], dataclasses.replace(s[1], hole="h9")), "soils[1].hole", "which is not there"),
    (lambda s: (s[0], dataclasses.replace(s[1], hole="", area="t5")), "soils[1].area", "which is no outline"),
    (lambda s: (s[0], dataclasses.replace(s[1], area="t4")), "soils[1].area", "take one of them"),
    (lambda s: (*s, dataclasses.replace(s[1], id="g3")), "soils[2].hole", "where another soil does"),
    (lambda s: (s[0], dataclasses.replace(s[1], name=" ")), "soils[1].name", "needs a name"),
    (lambda s: (s[0], dataclasses.replace(s[1], id="g1")), "soils[0].id", "stands 2 times"),
])  # fmt: skip
def test_what_a_list_of_soils_may_not_be(change, path, says):
    assert any(p == path and says in words for p, words in faults(dataclasses.replace(CLAY, soils=change(CLAY.soils))))


def test_a_soil_goes_with_what_it_holds_round_and_is_placed_made_and_taken_out():
    assert without_hole(CLAY, "h2").with_it == ("1 test", "the soil soil at TH2, which held there") and without_hole(CLAY, "h2").job.soils == JOB.soils
    job, made = with_new_soil(JOB, "g1")
    assert (made, job.soils[1].hole) == ("g2", "h1") and faults(job) == []
    corner = placed(job, "g2", "", "t4")
    assert where_words(corner, corner.soils[1]) == "within the clay corner" and without_thing(corner, "t4").job.soils == JOB.soils
    swapped = placed(corner, "g2", "", "")
    assert everywhere(swapped).id == "g2" and (swapped.soils[0].area, faults(swapped)) == ("t4", [])
    with pytest.raises(InputError, match="let another hold everywhere"):
        placed(corner, "g1", "h1", "")
    with pytest.raises(InputError, match="a job needs it"):
        without_soil(corner, "g1")
    full = dataclasses.replace(JOB, holes=(), features=())
    with pytest.raises(InputError, match="dig a hole first"):
        with_new_soil(full, "g1")
    assert without_soil(with_value(corner, "soils.g2.sideways", 2.0), "g2") == JOB and np.isfinite(assess(corner).run("r1").flow.discharge).all()


@pytest.mark.parametrize("order", [(0, 1), (1, 0)])
def test_of_outlines_one_in_another_the_smaller_tells_the_soil(order):
    """A wet patch within a fill, whichever was drawn or named first, at a point and along a run."""
    run = laid_run(JOB, "r1")
    x, y = run.alignment.point(33.0)
    things = [Feature(f"t{20 + i}", "wet area", f"patch {i}", tuple(Spot(x + a * r, y + b * r) for a, b in ((-1, -1), (1, -1), (1, 1), (-1, 1)))) for i, r in enumerate((6.0, 2.0))]
    soils = [dataclasses.replace(JOB.soils[0], id=f"g{2 + order[i]}", name=f"of {i}", area=things[i].id) for i in (0, 1)]
    job = dataclasses.replace(JOB, features=(*JOB.features, *(things[i] for i in order)), soils=(JOB.soils[0], *(soils[i] for i in order)))
    assert faults(job) == [] and soil_at(job, x, y) == soils[1] and soil_at(job, x + 4, y) == soils[0] and soil_at(job, x + 7, y) == JOB.soils[0]
    assert next(s for s in soils_along(run.alignment, job) if s.low < 33.0 < s.high).soil == soils[1]
