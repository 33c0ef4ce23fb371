"""What is written for other programs, read back by others where there are such."""

from __future__ import annotations

import io
import json
import math
import re

import ezdxf
import numpy as np
import pytest
import shapely
from lxml import etree
from PyQt6.QtGui import QImage

from weirant.cli.main import main
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.patterns import PATTERNS, pattern
from weirant.errors import InputError
from weirant.formats import job_file
from weirant.formats.dxf import LAYERS, PREFIX, dxf
from weirant.formats.geojson import read_geojson
from weirant.formats.grade_csv import grade_csv, read_grade_csv
from weirant.formats.network_out import KML, read_alignments, write_alignments, write_kml, write_network_geojson
from weirant.ground.flat_plan import FlatPlan
from weirant.ground.inverts import invert_at
from weirant.job.paths import with_value

DEMO = assess(demo_job())
JOBS = {"demo": DEMO} | {key: assess(pattern(key).job()) for key in PATTERNS}


def on_earth(job):
    return with_value(with_value(job, "survey.longitude", 7.25), "survey.latitude", 51.5)


@pytest.mark.parametrize("key", sorted(JOBS))
def test_a_drawing_is_free_of_faults_and_as_long_as_the_runs_are(key):
    outcome = JOBS[key]
    book = ezdxf.read(io.StringIO(dxf(outcome).decode()))
    audit = book.audit()
    assert not audit.errors and not audit.fixes and {PREFIX + name for name in LAYERS} <= {layer.dxf.name for layer in book.layers}
    by = 1.0 if outcome.job.units == "metric" else 0.3048
    drawn = {"PIPE-SOLID": 0.0, "PIPE-COLLECTS": 0.0}
    for line in book.modelspace().query("LWPOLYLINE"):
        name = line.dxf.layer.removeprefix(PREFIX)
        assert name in LAYERS and len(line) > 1
        if name in drawn:
            drawn[name] += sum(math.dist(a[:2], b[:2]) for a, b in zip(list(line), list(line)[1:], strict=False)) * by
    for name, is_solid in (("PIPE-SOLID", True), ("PIPE-COLLECTS", False)):
        assert drawn[name] == pytest.approx(sum(s.high - s.low for f in outcome.site.runs for s in f.stretches if s.is_solid == is_solid), abs=1e-6)
    assert any(found.run.name in text.dxf.text for found in outcome.site.runs[:1] for text in book.modelspace().query("TEXT"))


@pytest.mark.parametrize("lean", [0.0, 0.4])
def test_the_section_is_drawn_as_it_is_dug(lean):
    """Benched, its area is that of the dig there."""
    job = with_value(with_value(with_value(demo_job(), "sections.s1.side_slope", lean), "sections.s1.bench_width", 0.4), "sections.s1.bench_height", 0.1)
    found, dug = assess(job).run("r1"), []
    for line in ezdxf.read(io.StringIO(dxf(assess(job)).decode())).modelspace().query("LWPOLYLINE"):
        if line.dxf.layer == f"{PREFIX}TRENCH" and len(line) == 8:
            dug.append(shapely.Polygon([(x * 0.3048, y * 0.3048) for x, y, *_ in line]).area)
    assert dug[0] == pytest.approx(found.make(found.part.station).dug(found.grade.at(found.grade.cut, found.part.station)))


def test_names_of_any_kind_stay_one_line_of_text():
    job = with_value(demo_job(), "runs.r1.name", "a\n0\nLINE %%c ^J \x07 \u2028 ü" + "x" * 400)
    texts = [t.dxf.text for t in ezdxf.read(io.StringIO(dxf(assess(job)).decode())).modelspace().query("TEXT")]
    assert any("a 0 LINE" in text or "a0LINE" in text for text in texts) and not any("\n" in text or "%%" in text or "^" in text or len(text) > 250 for text in texts)


@pytest.mark.parametrize("key", sorted(JOBS))
def test_alignments_and_grades_come_back_as_they_lie(key):
    outcome = JOBS[key]
    back = read_alignments(write_alignments(outcome))
    grades = read_grade_csv(grade_csv(outcome, tuple(f for f in outcome.site.runs if f.grade is not None), 2.0))
    for found in outcome.site.runs:
        points, profile = back[found.id]
        assert np.allclose(points, found.run.alignment.points, atol=1e-4)
        assert all(level == pytest.approx(float(invert_at(found.run, np.array(station))), abs=1e-4) for station, level in profile)
        rows = grades[found.run.name]
        assert rows[0][0] == 0 and rows[-1][0] == pytest.approx(found.run.length, abs=1e-3)
        for station, east, north, level, over in rows:
            assert (east, north) == pytest.approx(found.run.alignment.point(station), abs=2e-3) and level + over == pytest.approx(float(invert_at(found.run, np.array(station))), abs=2e-3)
    moved = assess(with_value(demo_job(), "survey.shift_east", 1000.0))
    assert np.allclose(np.array(read_alignments(write_alignments(moved))["r1"][0]) - read_alignments(write_alignments(DEMO))["r1"][0], [1000, 0])


def test_the_network_on_the_globe_comes_back_to_its_place():
    """By our own reader of points and things, and to a millimetre; the KML has the same positions."""
    outcome = assess(on_earth(demo_job()))
    data = write_network_geojson(outcome)
    told = json.loads(data)
    plan = FlatPlan(7.25, 51.5)
    line = next(f for f in told["features"] if f["properties"].get("run") == "slab drain")
    assert np.allclose(plan.place(*line["geometry"]["coordinates"][0]), outcome.run("r1").run.alignment.point(0.0), atol=1e-3)
    read = read_geojson(data, plan)
    assert len(read.features) >= len([f for f in outcome.job.features if len(f.points) > 1])
    placed = etree.fromstring(write_kml(outcome)).findall(f".//{{{KML}}}coordinates")
    assert len(placed) == len(told["features"]) and placed[0].text.split()[0] == ",".join(map(str, told["features"][0]["geometry"]["coordinates"][0]))
    for write in (write_network_geojson, write_kml):
        with pytest.raises(InputError, match="are not known"):
            write(DEMO)


@pytest.mark.parametrize(("what", "scale"), [("plan", 500), ("section", 20), ("profile", 250)])
def test_a_picture_is_at_the_scale_that_it_says(what, scale, tmp_path):
    """A metre is so many dots in the PNG, and the SVG is as large."""
    for ending in ("png", "svg"):
        assert main(["export", "demo", "-o", str(tmp_path / f"x.{ending}"), "--what", what, "--scale", f"1:{scale}"]) == 0
    twice = tmp_path / "twice.png"
    assert main(["export", "demo", "-o", str(twice), "--what", what, "--scale", f"1:{scale / 2:g}"]) == 0
    one, other = QImage(str(tmp_path / "x.png")), QImage(str(twice))
    margin = 24 / 25.4 * 300
    assert (other.width() - margin) / (one.width() - margin) == pytest.approx(2, rel=0.01) and one.dotsPerMeterX() == pytest.approx(300 / 0.0254, rel=1e-3)
    svg = (tmp_path / "x.svg").read_text(encoding="utf-8")
    assert re.search(rf'viewBox="0 0 {one.width()} {one.height()}"', svg) and svg.count("<path") + svg.count("<polyline") > 10


def test_wrong_calls_are_refused_and_leave_no_file(tmp_path):
    for words in (["x.doc"], ["x.kml"], ["x.png", "--scale", "2:1"], ["x.png", "--scale", "1:0"], ["x.png", "--scale", "1:1"], ["x.svg", "--scale", "1:inf"], ["x.svg", "--scale", "1:1e9"],
                  ["x.png", "--what", "map"], ["x.csv", "--step", "0"], ["x.csv", "--run", "nowhere"],
                  ["x.xml", "--run", "nowhere"], ["x.xml", "--scale", "1:100"], ["x.dxf", "--step", "1 m"], ["x.csv", "--what", "plan"]):
        assert main(["export", "demo", "-o", str(tmp_path / words[0]), *words[1:]]) == 2
    assert not list(tmp_path.iterdir())
    job_file.save(on_earth(demo_job()), tmp_path / "a.weirant")
    assert main(["export", str(tmp_path / "a.weirant"), "-o", str(tmp_path / "a.kml")]) == 0 and (tmp_path / "a.kml").stat().st_size > 500


@pytest.mark.parametrize("ending", ["xml", "geojson", "kml", "dxf", "csv"])
def test_one_run_is_written_alone_with_its_nodes(ending, tmp_path):
    job_file.save(on_earth(demo_job()), tmp_path / "a.weirant")
    texts = []
    for more in ([], ["--run", "roof line"]):
        assert main(["export", str(tmp_path / "a.weirant"), "-o", str(tmp_path / f"x.{ending}"), *more]) == 0
        texts.append((tmp_path / f"x.{ending}").read_text(encoding="utf-8"))
    assert "green drain" in texts[0] and "roof line" in texts[1] and "green drain" not in texts[1]
    if ending == "geojson":
        nodes = {feature["properties"]["node"] for feature in json.loads(texts[1])["features"] if "node" in feature["properties"]}
        assert nodes == {node.id for node, _ in DEMO.run("r2").run.nodes}
