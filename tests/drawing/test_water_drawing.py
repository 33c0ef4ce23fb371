"""Pictures of water: section in a storm, chart, holes, soil classes, box; they agree with the figures behind them."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QImage, QPainter

from weirant.design.assess import assess
from weirant.design.bench import DRY, SOILS, WALLED, Box, laid_out, rain_on
from weirant.design.simulation import Wish, peak_bracket, refined, simulated
from weirant.design.storms import DESIGN, storm_named
from weirant.drawing.across import across_drawing
from weirant.drawing.axes import nice
from weirant.drawing.bench import bench_drawing
from weirant.drawing.holes import hole_drawing, readings_drawing
from weirant.drawing.primitives import Area, Drawing, Mark, Ring, Shade, Stroke, Words
from weirant.drawing.soil_classes import soil_class_drawing
from weirant.drawing.storm import storm_section
from weirant.drawing.storm_chart import frame_at, storm_chart
from weirant.job.paths import with_value
from weirant.paper.frame import fit
from weirant.paper.shade import draw_shade
from weirant.seepage.grid import ROUGH
from weirant.seepage.storm import simulate
from weirant.units.display import System, shown_span
from weirant.words.storm import words_of_volume


@pytest.fixture(scope="module")
def outcome():
    from weirant.design.demo import demo_job

    return assess(demo_job())


@pytest.fixture(scope="module")
def storm(outcome):
    wish = Wish(storm_named(outcome.job, DESIGN), hours=48.0, fineness=ROUGH)
    return simulated(outcome, wish), simulated(outcome, dataclasses.replace(wish, drained=False))


def finite(drawing: Drawing) -> None:
    for shape in drawing.shapes:
        for point in getattr(shape, "points", ()) or [getattr(shape, "at", (0.0, 0.0))]:
            assert math.isfinite(point[0]) and math.isfinite(point[1])


def words(drawing: Drawing) -> str:
    return " | ".join([drawing.title, *(s.text for s in drawing.shapes if isinstance(s, Words))])


def test_the_section_shows_table_wetness_pipe_and_what_is_told_in_words(outcome, storm):
    for simulation in storm:
        for index in (0, len(simulation.course.frames) // 2, len(simulation.course.frames) - 1):
            drawing = storm_section(outcome, "r1", simulation, index, "A title")
            finite(drawing)
            table = next(s for s in drawing.shapes if isinstance(s, Stroke) and s.line == "water")
            assert all(-simulation.course.laid.section.depth - 1e-9 <= y <= 1e-9 for _, y in table.points)
            assert "under the clubhouse slab water stands" in drawing.title and "dry to 18.0 in" in words(drawing)
        assert bool([s for s in drawing.shapes if isinstance(s, Ring)]) == (simulation is storm[0])
    x = storm[0].course.laid.x
    banded = storm_section(outcome, "r1", storm[0], 3, "A title", likely=(x, np.full(len(x), 0.2), np.full(len(x), 0.5)))
    edges = [s for s in banded.shapes if isinstance(s, Stroke) and s.line == "band edge"]
    assert [{y for _, y in edge.points} for edge in edges] == [{-0.2}, {-0.5}]
    assert next(s for s in banded.shapes if isinstance(s, Area) and s.material == "water band").points[0] == (banded.bounds[0], -0.2)


def test_the_chart_puts_flow_depth_and_moment_where_they_are(outcome, storm):
    drawing = storm_chart(outcome, *storm, 12 * 3600.0, (np.array([0.0, 86400.0]), np.array([0.2, 0.3]), np.array([0.5, 0.6])))
    finite(drawing)
    moment = next(s for s in drawing.shapes if isinstance(s, Stroke) and s.line == "moment")
    assert moment.points[0][0] == 12.0 and drawing.bounds[2] == pytest.approx(48.0 * 1.02)
    assert "without the drain" in words(drawing) and "0.33 in/h at most" in words(drawing) and "gpm/100 ft" in words(drawing)
    assert any(isinstance(s, Area) and s.material == "water band" for s in drawing.shapes)
    metric = assess(with_value(outcome.job, "units", "metric"))
    assert "8 mm/h at most" in words(storm_chart(metric, storm[0], None, 0.0)) and "without" not in words(storm_chart(metric, storm[0], None, 0.0))
    assert frame_at([0, 10, 20], 14) == 1 and [nice(v) for v in (0.0, 0.011, 2.1, 9.5)] == [1.0, 0.015, 3.0, 10.0]


def test_figures_in_words(outcome, storm):
    low, high = peak_bracket(storm[0].course)
    assert 0 < low <= high and storm[0].after_rain is not None and storm[1].after_rain is None and storm[1].wet_before
    assert [shown_span(t) for t in (None, 120.0, 7200.0, 200000.0)] == ["not within the time looked at", "2 min", "2 h", "2.3 days"]
    assert words_of_volume(0.1, System.METRIC) == "100 L per m" and words_of_volume(0.1, System.IMPERIAL) == "805 gal per 100 ft"
    wish = Wish(storm[0].storm, hours=24.0)
    assert refined(outcome, wish, simulated(outcome, wish)).change < 0.05  # the demo's own section, halved


@pytest.mark.parametrize("hours", [6.0])
def test_water_at_its_fullest_is_drawn_fullest(storm, hours):
    shade = Shade(np.array([0.0, 1.0, 2.0]), np.array([0.0, 1.0]), np.array([[1.0], [np.nan]]))
    image = QImage(200, 100, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(QColor("white"))
    painter = QPainter(image)
    draw_shade(painter, shade, fit(Drawing((), (0.0, 0.0, 2.0, 1.0)), QRectF(0, 0, 200, 100)), QColor("#1B66A0"))
    painter.end()
    assert image.pixelColor(50, 50).blue() > image.pixelColor(50, 50).red() and image.pixelColor(150, 50) == QColor("white")


def test_holes_and_their_readings(outcome):
    for hole in outcome.job.holes:
        drawing = hole_drawing(hole, System.IMPERIAL)
        finite(drawing)
        assert hole.name in drawing.title and "Loam" in words(drawing)
        chart = readings_drawing(hole.tests[0], System.METRIC)
        finite(chart)
        marks = [s for s in chart.shapes if isinstance(s, Mark)]
        assert [m.at[0] for m in marks] == [r.time for r in hole.tests[0].readings] and "mm" in words(chart)
        assert any(isinstance(s, Stroke) and s.line == "target" for s in chart.shapes)
    finite(readings_drawing(dataclasses.replace(outcome.job.holes[0].tests[0], readings=()), System.METRIC))


def test_soil_classes_say_what_is_wanted_and_what_is_found(outcome):
    drawing = soil_class_drawing(outcome, 0.0)
    finite(drawing)
    assert "48 % silt" in drawing.title and "loam" in drawing.title and "fines ML" in drawing.title
    bare = assess(with_value(with_value(outcome.job, "soils.g1.layers.1.gradation", ()), "soils.g1.layers.1.liquid_limit", None))
    assert "hydrometer result down to 0.002 mm is wanted" in words(soil_class_drawing(bare, 0.0)) and "liquid limit and plasticity index are wanted" in words(soil_class_drawing(bare, 0.0))


def test_the_box_rains_while_it_rains_and_runs_while_it_runs():
    box = Box("clay", 0.1, 3600.0)
    course = simulate(laid_out(box), rain_on(box), SOILS["clay"], start_table=DRY, means=WALLED)
    first, last = bench_drawing(box, course, 1), bench_drawing(box, course, len(course.frames) - 1)
    finite(first)
    assert "it rains" in words(first) and any(isinstance(s, Stroke) and s.line == "rain" for s in first.shapes)
    assert "the rain is over" in words(last) and not any(isinstance(s, Stroke) and s.line == "rain" for s in last.shapes)
    wet = int(np.searchsorted(course.times, course.peak[1]))
    assert "the drain runs" in words(bench_drawing(box, course, min(wet, len(course.frames) - 1)))


def test_the_simulated_table_lies_beside_the_formulas(outcome):
    x = np.linspace(-15, 10, 50)
    drawing = across_drawing(outcome, 38.0, (x, np.full(50, 0.4)))
    line = next(s for s in drawing.shapes if isinstance(s, Stroke) and s.line == "without")
    assert all(y == pytest.approx(-0.4) for _, y in line.points) and "simulated" in words(drawing)
    assert "simulated" not in words(across_drawing(outcome, 38.0))
