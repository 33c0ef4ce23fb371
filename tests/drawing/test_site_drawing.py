"""The site drawn: what is on the plan and in the profile, what can be taken hold of, and labels that keep apart."""

from __future__ import annotations

import dataclasses
import math
from itertools import combinations

import numpy as np
import pytest
from PyQt6.QtCore import QRectF

from laying import only, with_changes
from weirant.design.assess import assess
from weirant.design.best_grade import plan_grade
from weirant.design.layout import add_run, add_thing, hold, move_node
from weirant.design.terrain import contour_interval, terrain_of
from weirant.drawing.plan import plan_drawing
from weirant.drawing.primitives import Area, Mark, Ring, Stroke, Words
from weirant.drawing.profile import profile_drawing
from weirant.drawing.section import section_drawing
from weirant.drawing.way import way_drawing, ways_of
from weirant.ground.inverts import grade_nodes, invert_at, least_slope
from weirant.ground.network import laid_run
from weirant.ground.surface import build_surface
from weirant.job.network import AsBuilt
from weirant.paper.frame import fit
from weirant.paper.labels import MOST, placed_labels
from weirant.units.display import System

FT = 0.3048


def of(drawing, what, **having):
    return [s for s in drawing.shapes if isinstance(s, what) and all(getattr(s, k) == v for k, v in having.items())]


def texts(drawing):
    return " | ".join(s.text for s in of(drawing, Words))


@pytest.fixture
def terrain(outcome):
    return terrain_of(outcome.site.surface, System.IMPERIAL)


def test_the_plan_shows_ground_runs_and_what_they_cross(outcome, terrain):
    drawing = plan_drawing(outcome, 10.0, run="r3", terrain=terrain, whole=True)
    assert len(of(drawing, Stroke, line="contour")) + len(of(drawing, Stroke, line="main contour")) == len(terrain.contours)
    assert len(of(drawing, Area, material="pond")) == 2 and len(of(drawing, Stroke, line="fall")) == 2 * len(terrain.arrows)
    assert len(of(drawing, Stroke, line="solid run")) == len(of(drawing, Stroke, line="collecting run")) == 1
    assert len(of(drawing, Stroke, line="other run")) == 2 and len(of(drawing, Mark, kind="crossing")) == 2
    assert "sprinkler main: not located" in texts(drawing) and "at 32.8 ft" in texts(drawing) and "low 2." in texts(drawing)
    assert len(of(drawing, Mark, kind="point")) == 150
    for shape in drawing.shapes:
        assert all(math.isfinite(v) for point in getattr(shape, "points", ()) for v in point)


def test_a_low_spot_in_hand_tells_what_it_holds_and_shows_what_feeds_it(outcome, terrain):
    drawing = plan_drawing(outcome, 10.0, terrain=terrain, spot=0, whole=True)
    assert of(drawing, Stroke, line="catchment") and "holds" in texts(drawing) and "fed by" in texts(drawing)


@pytest.mark.parametrize("kind", ["tree", "wall", "fence", "outlet", "wet area", "slab", "water line", "boundary", "brook"])
def test_every_kind_of_thing_is_drawn(job, kind):
    changed = add_thing(job, kind, [(5.0, 5.0), (8.0, 5.0), (8.0, 9.0)])
    before, after = (plan_drawing(assess(j), 0.0, thing=j.features[-1].id) for j in (job, changed))
    assert len(after.shapes) > len(before.shapes) and any(h.key.startswith("corner-") for h in after.handles)
    assert of(after, Stroke, line="in hand")


def test_the_whole_site_is_shown_where_it_is_mapped(outcome):
    runs, whole = (plan_drawing(outcome, 0.0, whole=w).bounds for w in (False, True))
    assert whole[0] < -150 * FT < runs[0] and whole[3] > 150 * FT > runs[3]


def test_handles_of_a_branch_move_its_corners(outcome):
    drawing = plan_drawing(outcome, 0.0, run="r4")
    handle = next(h for h in drawing.handles if h.key == "run-2")
    moved = handle.move(outcome.job, (handle.at[0], handle.at[1] + 2.0))
    assert laid_run(moved, "r4").length == pytest.approx(outcome.run("r4").run.length + 2.0)
    assert [h.key for h in plan_drawing(outcome, 0.0).handles] == ["distance", "run-0", "run-1", "run-2"] and "distance" not in {h.key for h in drawing.handles}


@pytest.mark.parametrize(("height", "system", "interval"), [(0.4, System.METRIC, 0.05), (3.0, System.METRIC, 0.25), (4.0, System.IMPERIAL, FT), (900.0, System.METRIC, 900 / 14)])
def test_the_contour_interval_is_round_and_the_lines_few(height, system, interval):
    surface = build_surface(np.array([[0, 0], [9, 0], [0, 9.0]]), np.array([0, 0, height]))
    assert contour_interval(surface, system) == pytest.approx(interval)


def test_the_profile_of_a_branch_shows_joints_crossings_and_hand_dig(outcome):
    drawing = profile_drawing(outcome, "r3")
    assert len(of(drawing, Mark, kind="joint")) == 1 and len(of(drawing, Mark, kind="crossing")) == 1
    (dig,) = of(drawing, Stroke, line="by hand")
    assert dig.points[1][0] - dig.points[0][0] == pytest.approx(2 * 0.6096, rel=0.05)
    assert "sprinkler main (not located), 7 5/8 in clear below" in texts(drawing)
    unknown = dataclasses.replace(outcome.job, features=tuple(dataclasses.replace(f, depth=None) for f in outcome.job.features))
    assert "gas line, depth?" in texts(profile_drawing(assess(unknown)))


def test_held_and_built_inverts_are_marked_in_the_profile(outcome):
    job = hold(outcome.job, "r1", 20.0, 29.3)
    low, high = invert_at(laid_run(job, "r1"), np.array([15.0, 20.0])).tolist()
    job = dataclasses.replace(job, as_built=(AsBuilt("r1", 15.0, low), AsBuilt("r1", 20.0, high + 0.0508)))
    drawing = profile_drawing(assess(job))
    assert len(of(drawing, Mark, kind="held")) == len(of(drawing, Mark, kind="built")) == len(of(drawing, Mark, kind="built off")) == 1
    assert "2 in high" in texts(drawing) and len(of(drawing, Stroke, line="as built")) == 1


def test_a_broken_grade_has_a_fall_and_a_handle_for_each_length(outcome):
    job = plan_grade(outcome).job
    drawing = profile_drawing(assess(job))
    nodes, levels = grade_nodes(laid_run(job, "r1"))
    assert texts(drawing).count("% fall") == 2
    handle = next(h for h in drawing.handles if h.key == "break-1")
    assert handle.at == pytest.approx((nodes[1], levels[1]))
    moved = handle.move(job, (nodes[1], levels[1] + 0.05))
    assert grade_nodes(laid_run(moved, "r1"))[1] == pytest.approx([levels[0], levels[1] + 0.05, levels[2]], abs=0.004)
    stopped = handle.move(job, (nodes[1], levels[0] - 1.0))
    assert least_slope(laid_run(stopped, "r1"))[0] > 0
    top = next(h for h in drawing.handles if h.key == "top-end").move(job, (nodes[2], levels[2] + 0.1))
    raised = grade_nodes(laid_run(top, "r1"))[1]
    assert raised[1] == pytest.approx(levels[1]) and raised[2] > levels[2]


def test_a_guest_in_the_trench_is_drawn_in_its_section(job):
    """One that lies deeper deepens the trench for both; where it goes on alone it digs for itself; its pipe makes room in the stone."""
    lie = laid_run(job, "r1").alignment
    job = add_run(only(job, "r1"), [lie.point(26.0), lie.point(48.0)], collects=False, ground=job.runs[0].invert + 26 * 0.012, name="guest")
    guest = with_changes(job, "r2", slope=0.012, trench_of="r1")
    alone, beside, deeper = (assess(j) for j in (job, guest, with_changes(guest, "r2", invert=job.runs[1].invert - 0.1)))
    assert len(of(section_drawing(beside, 36.0), Ring)) == 2 and "guest" in texts(section_drawing(beside, 36.0))
    assert len(of(section_drawing(beside, 10.0), Ring)) == 1
    own, host = (alone.run(r).amounts for r in ("r2", "r1"))
    width, bore = job.sections[0].width, math.pi * beside.run("r1").make(0.0).pipe.outer_diameter**2 / 4
    assert beside.run("r2").amounts.dug == 0 and beside.run("r1").amounts.dug == pytest.approx(host.dug) and own.dug > 3
    assert host.all_of("stone") - beside.run("r1").amounts.all_of("stone") == pytest.approx(bore * 22.0, rel=0.02) and beside.takeoff.solid_pipe.value == alone.takeoff.solid_pipe.value
    assert deeper.run("r1").amounts.dug - host.dug == pytest.approx(0.1 * 22.0 * width, rel=0.05)
    off = move_node("r2", 1)(guest, (lie.point(48.0)[0], lie.point(48.0)[1] + 8.0))
    assert 0 < assess(off).run("r2").amounts.dug < 0.9 * assess(with_changes(off, "r2", trench_of="")).run("r2").amounts.dug


def test_labels_keep_apart_the_weightier_first(outcome):
    words = [Words((0.1 * i, 0.0), "a label", "small") for i in range(40)] + [Words((1.0, 0.0), "what matters", "strong"), Words((500.0, 0.0), "far away", "label")]
    frame = fit(dataclasses.replace(plan_drawing(outcome, 0.0), bounds=(-2.0, -2.0, 6.0, 4.0)), QRectF(0, 0, 800, 600))
    paper, wide = QRectF(0, 0, 800, 600), lambda text, size, bold: 7.0 * len(text)
    kept = placed_labels(words, frame, 14.0, wide, paper)
    assert id(words[40]) in kept and id(words[41]) not in kept and 1 < len(kept) < 40
    assert all(not a.rect.intersects(b.rect) and paper.contains(a.rect) for a, b in combinations(kept.values(), 2))
    two = [Words((1.0, 0.0), "upper", "strong"), Words((1.0, 0.0), "lower", "label"), Words((1.0, 0.1), "level", "axis")]
    placed = placed_labels(two, frame, 14.0, wide, paper, [QRectF(frame.to_paper((1.0, 0.0)).x() - 40, 0, 80, frame.to_paper((1.0, 0.0)).y() + 16)])
    assert placed[id(two[0])].leader is not None and placed[id(two[1])].rect.top() > placed[id(two[0])].rect.top() and id(two[2]) not in placed
    many = [Words((-2.0 + 0.05 * (i % 160), -2.0 + 0.6 * (i // 160)), "x", "small") for i in range(4 * MOST)]
    assert len(placed_labels(many, frame, 14.0, lambda *_: 0.5, paper)) == MOST


def test_on_the_whole_way_nothing_is_drawn_of_a_run_above_where_the_way_comes_into_it(outcome):
    """Readings of the green drain on both sides of the joint: their line ends at the joint, half way between them in level."""
    joint = next(at for other, at in outcome.site.network.drains_to(outcome.run("r4").run) if other.id == "r3")
    built = tuple(AsBuilt("r3", joint + by, 28.9 + by / 100) for by in (-1.0, 1.0))
    found = assess(dataclasses.replace(outcome.job, as_built=built))
    drawing = way_drawing(found, ways_of(found, "r4")[0], "r4")
    (line,) = of(drawing, Stroke, line="as built")
    assert line.points[-1] == pytest.approx((joint, 28.9)) and len(of(drawing, Mark, kind="built off")) + len(of(drawing, Mark, kind="built")) == 1
