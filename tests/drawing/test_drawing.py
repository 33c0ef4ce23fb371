"""Drawings carry meaning, agree with the figures, and their handles move what they say."""

from __future__ import annotations

import math
from itertools import product

import pytest
import shapely
from PyQt6.QtCore import QRectF

from weirant.design.assess import assess
from weirant.drawing.across import across_drawing
from weirant.drawing.grain_sizes import grain_size_drawing
from weirant.drawing.plan import plan_drawing
from weirant.drawing.primitives import Area, Flag, Measure, Ring, Stroke, Words, snapped
from weirant.drawing.profile import profile_drawing
from weirant.drawing.section import section_drawing
from weirant.errors import InputError
from weirant.ground.inverts import grade_nodes
from weirant.ground.network import laid_run
from weirant.job.faults import faults
from weirant.job.paths import value_at, with_value
from weirant.paper.frame import fit, fit_beside
from weirant.units.display import STATION, System, unit_of

FT = 0.3048
DRAWERS = {"plan": plan_drawing, "section": section_drawing, "across": across_drawing, "grains": grain_size_drawing,
           "profile": lambda outcome, station: profile_drawing(outcome)}  # fmt: skip


def shapes(drawing, kind, **having):
    return [s for s in drawing.shapes if isinstance(s, kind) and all(getattr(s, k) == v for k, v in having.items())]


@pytest.mark.parametrize("name", DRAWERS)
@pytest.mark.parametrize("change", [{}, {"units": "metric"}, {"sections.s1.top": "open stone"}, {"sections.s1.wrap": "sock"}, {"runs.r1.source": "both sides"},
                                    {"features.t10.kind": "lawn"}, {"soils.g1.hard_layer_depth": None}, {"nodes.n1.outlet.water_level": None}, {"runs.r1.pipes": 3}])  # fmt: skip
def test_everything_is_drawn_in_finite_places(job, name, change):
    for path, value in change.items():
        job = with_value(job, path, value)
    outcome = assess(job)
    for station in (0.0, 10.0, 40.0, outcome.chosen().run.length):
        drawing = DRAWERS[name](outcome, station)
        assert drawing.shapes and drawing.bounds[0] < drawing.bounds[2] and drawing.bounds[1] < drawing.bounds[3]
        for shape in drawing.shapes:
            for point in getattr(shape, "points", ()):
                assert all(map(math.isfinite, point))


def test_the_profile_shows_pipe_ground_and_the_failing_place(outcome):
    drawing = profile_drawing(outcome)
    (ground,) = shapes(drawing, Stroke, line="ground")
    assert ground.points[0] == pytest.approx((0.0, outcome.run("r1").grade.ground[0]))
    assert ground.points[-1] == pytest.approx((172 * FT, outcome.run("r1").grade.ground[-1]))
    assert len(ground.points) < len(outcome.run("r1").grade.stations)  # points that lie straight are left out
    assert [(f.state, f.at[0]) for f in shapes(drawing, Flag)] == [("fails", 0.0), ("tight", pytest.approx(78 * FT)), ("tight", pytest.approx(26 * FT))]
    assert drawing.may_exaggerate


def test_without_ground_the_profile_says_what_to_type(bare):
    (hint,) = profile_drawing(assess(bare)).shapes
    assert "two rod readings" in hint.text


def test_the_section_is_the_trench_at_the_station(outcome):
    station = 126 * FT
    drawing, trench = section_drawing(outcome, station), outcome.job.sections[0]
    cut = outcome.run("r1").grade.at(outcome.run("r1").grade.cut, station)
    (walls,) = shapes(drawing, Stroke, line="trench")
    assert walls.points[1] == pytest.approx((-trench.width / 2, -cut))
    (ring,) = shapes(drawing, Ring)
    assert ring.centre[1] == pytest.approx(-cut + trench.bedding + outcome.run("r1").make(station).pipe.outer_diameter / 2)
    stone = max(p[1] for p in shapes(drawing, Area, material="stone")[0].points)
    assert stone == pytest.approx(-cut + trench.bedding + outcome.run("r1").make(station).pipe.outer_diameter + trench.stone_cover)
    texts = {m.path: m.text for m in shapes(drawing, Measure) if m.path}
    assert texts == {"sections.s1.width": "12 in", "sections.s1.bedding": "2 in bedding", "sections.s1.stone_cover": "6 in stone"}


def test_the_solid_run_has_neither_stone_nor_fabric(outcome):
    drawing = section_drawing(outcome, 30 * FT)
    assert not shapes(drawing, Area, material="stone") and not shapes(drawing, Stroke, line="fabric")
    assert shapes(drawing, Ring)[0].holes == ""


@pytest.mark.parametrize(
    ("name", "key", "move", "path", "expected"),
    [
        ("section", "width", (0.1016, 0.0), "sections.s1.width", 0.508),
        ("section", "bedding", (0.0, 0.0381), "sections.s1.bedding", 0.0889),
        ("section", "stone", (0.0, 0.0508), "sections.s1.stone_cover", 0.2032),
        ("section", "bottom", (0.0, -0.03048), "runs.r1.invert", 94.95 * FT),
        ("profile", "bottom", (0.0, 0.03048), "runs.r1.invert", 95.15 * FT),
        ("profile", "outlet", (0.0, 0.1 * FT), "runs.r1.invert", 95.15 * FT),
        ("profile", "top-end", (0.0, 0.172 * FT), "runs.r1.slope", 0.013),
        ("profile", "solid-end", (2 * FT, 0.0), "runs.r1.solid_length", 80 * FT),
        ("profile", "length", (-10 * FT, 0.0), "runs.r1.length", 162 * FT),
        ("across", "distance", (FT, 0.0), "runs.r1.distance", 10 * FT),
        ("across", "dry", (0.0, -0.0508), "features.t10.dry_depth", 0.508),
    ],
)
def test_handles_move_what_they_say(outcome, name, key, move, path, expected):
    handle = next(h for h in DRAWERS[name](outcome, 126 * FT).handles if h.key == key)
    to = (handle.at[0] + move[0], handle.at[1] + move[1])
    assert value_at(handle.move(outcome.job, to), path) == pytest.approx(expected, abs=2e-4)


def test_dragging_the_outlet_keeps_the_top_end(outcome):
    handle = next(h for h in profile_drawing(outcome).handles if h.key == "outlet")
    before, after = (laid_run(job, "r1") for job in (outcome.job, handle.move(outcome.job, (0.0, 95.5 * FT))))
    assert grade_nodes(after)[1] == pytest.approx([95.5 * FT, grade_nodes(before)[1][1]])


@pytest.mark.parametrize("name", ["section", "profile", "across", "plan"])
def test_no_drag_leaves_what_the_job_may_be(outcome, name):
    for handle in DRAWERS[name](outcome, 126 * FT).handles:
        for far in ((-1e4, -1e4), (1e4, 1e4), (0.0, 0.0)):
            try:
                assert faults(handle.move(outcome.job, far)) == [], handle.key
            except InputError as fault:
                assert str(fault)


def test_plan_geometry(job):
    run = laid_run(job, "r1")
    lie = run.alignment
    assert [round(s / FT) for _, s in run.nodes] == [0, 78, 172]
    assert lie.point(78 * FT) == pytest.approx((0.0, 78 * FT), abs=1e-6) and math.degrees(lie.bearing(100 * FT)) == pytest.approx(176)
    for station in (3.0, 20.0, 30.0, 50.0):
        assert lie.nearest(lie.point(station))[0] == pytest.approx(station, abs=1e-6)


def test_the_place_lies_where_it_is_drawn_and_its_distance_follows(job, outcome):
    """By shapely: how far off its nearest edge lies, and what the line square to the run meets of it."""
    run, lie = laid_run(job, "r1"), outcome.run("r1").part.lie
    outline, collecting = shapely.polygons([(p.x, p.y) for p in lie.place.points]), shapely.linestrings([run.alignment.point(s) for s in (78 * FT, run.length)])
    assert lie.distance == pytest.approx(float(shapely.distance(outline, collecting)), abs=1e-9) and lie.on_left
    assert [s / FT for s in (lie.low, lie.high)] == pytest.approx([88, 164], abs=1e-4)
    for station in (90 * FT, 120 * FT, 160 * FT):
        (x, y), bearing = run.alignment.point(station), run.alignment.bearing(station)
        square = shapely.linestrings([(x, y), (x - 60 * math.sin(bearing), y + 60 * math.cos(bearing))])
        cut = shapely.get_coordinates(shapely.intersection(square, outline))
        assert sorted(math.dist((x, y), p) for p in cut) == pytest.approx(lie.across((x, y), bearing), abs=1e-9)
    assert lie.across(run.alignment.point(20.0), run.alignment.bearing(20.0)) is not None and lie.across(run.alignment.point(5.0), run.alignment.bearing(5.0)) is None
    assert len(across_drawing(outcome, 5.0).handles) == 0  # the place is not drawn where it does not lie
    nearer = with_value(job, "runs.r1.distance", 1.0)
    assert value_at(nearer, "runs.r1.distance") == pytest.approx(1.0) and nearer.runs == job.runs and nearer.nodes == job.nodes


def test_turning_a_bend_turns_the_line(outcome):
    handle = next(h for h in plan_drawing(outcome, 0.0).handles if h.key == "run-2")
    turned = laid_run(handle.move(outcome.job, (30.0, 78 * FT)), "r1")
    assert turned.bends == [(pytest.approx(78 * FT), pytest.approx(-90))]


def test_labels_follow_the_units(job):
    for units in System:
        drawing = plan_drawing(assess(with_value(job, "units", str(units))), 10.0)
        (at,) = shapes(drawing, Words, role="station")
        assert unit_of(STATION, units) in at.text
    assert snapped(0.33, 0.05) == pytest.approx(0.35)


def test_grain_chart_bars_what_each_contact_allows(outcome):
    """From limit to limit, as the findings have them; a bare stone has no cloth to ask of."""
    def bars(of):
        return {m.text.split()[0]: (10 ** m.start[0], 10 ** m.end[0]) for m in shapes(grain_size_drawing(of, 40.0, "r1"), Measure)}

    found, by_code = bars(outcome), {f.code: f for f in outcome.findings if f.subject == "r1"}
    bare = assess(with_value(outcome.job, "sections.s1.wrap", "none"))
    stone = next(f for f in bare.findings if f.code == "soil-stone" and f.subject == "r1")
    assert found["D15"] == (pytest.approx(0.1), pytest.approx(stone.limit * 1e3)) and found["D85"][0] == pytest.approx(1.2 * outcome.run("r1").make(40.0).pipe.opening * 1e3)
    assert found["O95"] == (pytest.approx(by_code["clogging"].limit * 1e3), pytest.approx(by_code["retention"].limit * 1e3)) and set(bars(bare)) == {"D15", "D85"}


def test_grain_chart_marks_the_openings(outcome):
    drawing = grain_size_drawing(outcome, 0.0)
    slots = shapes(drawing, Stroke, line="pipe opening")[0]
    assert slots.points[0][0] == pytest.approx(math.log10(1.6))
    assert any("fabric O95 0.21 mm" in w.text for w in shapes(drawing, Words))


def test_a_drawing_keeps_clear_of_the_card_and_heights_stay_believable(outcome):
    """Over the whole width where the sky leaves room for the card, at the largest exaggeration that does; else beside it. Never more than 15 times too high."""
    profile, area = profile_drawing(outcome, "r1"), QRectF(4, 26, 820, 520)
    ground = max((s for s in profile.shapes if getattr(s, "line", "") == "ground"), key=lambda s: len(s.points)).points
    found = {}
    for high in (60, 250, 330, 500):
        card = QRectF(4, 26, 266, high)
        frame = found[high] = fit_beside(profile, area, card, 14.0)
        places = [frame.to_paper(point) for point in ground]
        assert not any(card.contains(place) for place in places) and all(area.adjusted(-1, -1, 1, 1).contains(place) for place in places)
    assert found[60].exaggeration == found[250].exaggeration == 15 > found[330].exaggeration and found[60].scale_x == found[330].scale_x
    assert found[500].scale_x < 0.75 * found[60].scale_x and found[500].to_paper((0.0, 29.0)).x() > 266
    assert fit(profile, QRectF(0, 0, 300, 900)).exaggeration == 15
    for high, text in product(range(40, 460, 10), (14.0, 21.0)):
        card = QRectF(4, 26, 266, high)
        frame = fit_beside(profile, area, card, text)
        for flag in shapes(profile, Flag):
            foot = frame.to_paper(flag.at)
            assert not QRectF(foot.x() - 0.62 * text, foot.y() - (flag.pole + 0.62) * text, 1.24 * text, 1.24 * text).intersects(card), (high, text, flag)
