"""Earth that is spread beside the trenches: as much as is left, kept clear of what stands there, and what it does to the fall."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest
import shapely

from weirant.cli.main import main
from weirant.design.assess import assess
from weirant.design.bill import SPOIL, bill_of
from weirant.design.demo import demo_job
from weirant.design.offer import priced_option
from weirant.drawing.plan.sheet import plan_drawing
from weirant.drawing.primitives import Area, Stroke
from weirant.drawing.section import section_drawing
from weirant.formats import job_file
from weirant.formats.price_list import open_price_list
from weirant.job.paths import with_value
from weirant.job.site import Feature, SitePoint, Spot
from weirant.job.work_terms import SPREAD_BOTH, SPREAD_LEFT, SPREAD_RIGHT
from weirant.outcome.bill import DIG
from weirant.words.spoil import spread_words

WIDE = 1.8288


def spread(where, job=None):
    return assess(with_value(job or demo_job(), "work.spoil", where))


def on_a_plane(slope):
    """One straight run up north over ground that falls so much to the east."""
    job = demo_job()
    points = tuple(SitePoint(f"p{n}", x, y, 30.0 - slope * x + 0.02 * y, "", "instrument") for n, (x, y) in enumerate((x, y) for x in (-30, 0, 30) for y in (-5, 20, 60)))
    nodes = tuple(dataclasses.replace(node, x=0.0, y=y) for node, y in zip((n for n in job.nodes if n.id in job.runs[0].nodes), (0.0, 20.0, 40.0), strict=True))
    return dataclasses.replace(job, points=points, survey=dataclasses.replace(job.survey, shots=()), nodes=nodes, runs=job.runs[:1], features=(), sources=(), crossings=(), holes=())


@pytest.mark.parametrize("where", [SPREAD_LEFT, SPREAD_RIGHT, SPREAD_BOTH])
def test_all_that_is_left_lies_in_the_bands_and_none_on_what_stands_there(where):
    outcome = spread(where)
    bands = outcome.site.spoil
    assert sum(band.volume for band in bands) == pytest.approx(bill_of(outcome).totals()[DIG, SPOIL, ""])
    building = shapely.Polygon([(p.x, p.y) for p in next(f for f in outcome.job.features if f.kind == "slab").points])
    for band in bands:
        area = sum(shapely.Polygon(ring).area for ring in band.rings)
        assert band.depth * area / 2 == pytest.approx(band.volume, rel=0.02)  # a wedge
        assert all(shapely.Polygon(ring).intersection(building).area < 1e-6 for ring in band.rings)
    drawn = [shape for shape in plan_drawing(outcome, 0.0).shapes if isinstance(shape, Area) and shape.material == "spoil"]
    assert len(drawn) == sum(len(band.rings) for band in bands) and len(spread_words(outcome)) == len(bands) + 1


@pytest.mark.parametrize("wider", [{}, {"side_slope": 1.0}, {"bench_width": 0.5, "bench_height": 0.1}])
def test_earth_lies_beside_the_trench_and_not_in_it(wider):
    job = on_a_plane(0.03)
    for field, value in wider.items():
        job = with_value(job, f"sections.s1.{field}", value)
    outcome = spread(SPREAD_BOTH, job)
    walls = [shape.points for s in np.linspace(0, 40, 9) for shape in section_drawing(outcome, float(s), "r1").shapes if isinstance(shape, Stroke) and shape.line == "trench"]
    nearest = min(abs(x) for ring in outcome.site.spoil[0].rings for x, _ in ring)
    edge = max(x for points in walls for x, _ in points)
    assert edge - 1e-9 <= nearest < edge + 0.11 and (edge > 0.4) == bool(wider)


@pytest.mark.parametrize(("where", "side"), [(SPREAD_LEFT, -1), (SPREAD_RIGHT, 1), (SPREAD_BOTH, 0)])
def test_on_a_plane_the_fall_is_that_of_the_plane_and_the_depth_that_of_a_wedge(where, side):
    outcome = spread(where, on_a_plane(0.03))
    (band,) = outcome.site.spoil
    length = outcome.run("r1").run.length
    assert band.fell == pytest.approx(0.03 * side, abs=1e-6) and band.fall == pytest.approx(band.depth / WIDE)
    assert band.depth == pytest.approx(2 * band.volume / (length * WIDE * (2 if side == 0 else 1)), rel=1e-3)
    corners = np.array([corner for ring in band.rings for corner in ring])
    assert np.all(np.sign(corners[:, 0]) == side) if side else corners[:, 0].min() < 0 < corners[:, 0].max()


def test_hauled_away_there_is_none_and_spread_nothing_is_paid_for_hauling(tmp_path, capsys):
    assert assess(demo_job()).site.spoil == ()
    hauled, left = (priced_option("", outcome, open_price_list("larkmead")).quote for outcome in (assess(demo_job()), spread(SPREAD_LEFT)))
    saved = next(line.cost for line in hauled.lines if line.line.key == SPOIL)
    seed = next(line.cost for line in left.lines if line.line.key == "seed")
    assert hauled.cost - (left.cost - seed) == saved > seed > 0 and not left.missing
    walled = dataclasses.replace(on_a_plane(0.0), features=(Feature("t1", "building", "hall", (Spot(-9, -9), Spot(-0.01, -9), Spot(-0.01, 60), Spot(-9, 60))),))
    assert [bool(spread(side, walled).site.spoil[0].rings) for side in (SPREAD_LEFT, SPREAD_RIGHT)] == [False, True]
    assert "no room for spoil" in spread_words(spread(SPREAD_LEFT, walled))[0]
    job_file.save(spread(SPREAD_LEFT).job, tmp_path / "left.weirant")
    assert main(["takeoff", str(tmp_path / "left.weirant")]) == 0 and "slab drain: 3 3/8 in of spoil at the trench, feathered to nothing over 6.0 ft; there it" in capsys.readouterr().out
