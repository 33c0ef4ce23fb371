"""Points in and out: CSV however it is cut, LandXML against its published structure, GeoJSON, and files that are no such thing."""

from __future__ import annotations

import csv
import dataclasses
import io
import json
import math
import re

import pytest
from lxml import etree

from weirant.errors import JobFileError
from weirant.formats.geojson import read_geojson
from weirant.formats.landxml import NAMESPACE, read_landxml, write_landxml
from weirant.formats.points_csv import Layout, decoded, read_points, recognise, shift_wanted, write_points
from weirant.formats.survey_csv import read_survey, write_survey
from weirant.ground.flat_plan import FlatPlan
from weirant.job.faults import faults
from weirant.job.removal import without_thing
from weirant.job.site import SitePoint
from weirant.job.survey import Shot

POINTS = (SitePoint("A <1>", 12.3456, -7.5, 30.25, "ground & all"), SitePoint("A <1>", 0.0, 0.0, 29.0), SitePoint("Böschung", 5.0, 6.0, 31.125, "x"))


@pytest.mark.parametrize(("data", "layout", "first"), [
    (b"point,x,y,z,code\nA,1.5,2.5,3.5,gr\nB,2,3,4,gr\n", Layout("utf-8", ",", ".", True, {"point": 0, "x": 1, "y": 2, "z": 3, "code": 4}), ("A", 1.5, 2.5, 3.5)),
    (b"\xef\xbb\xbfNo;Northing;Easting;Elev\n7;2,5;1,5;3,5\n8;2;1;3\n", Layout("utf-8-sig", ";", ",", True, {"point": 0, "y": 1, "x": 2, "z": 3}), ("7", 1.5, 2.5, 3.5)),
    (b"1.5\t2.5\t3.5\n2\t3\t4\n", Layout("utf-8", "\t", ".", False, {"x": 0, "y": 1, "z": 2}), ("line 1", 1.5, 2.5, 3.5)),
    (b"A 1.5  2.5 3.5\nB  2 3 4\n", Layout("utf-8", " ", ".", False, {"point": 0, "x": 1, "y": 2, "z": 3}), ("A", 1.5, 2.5, 3.5)),
    ('"Müller, oben",1.5,2.5,3.5\nB,1,2,3\n'.encode("cp1252"), Layout("cp1252", ",", ".", False, {"point": 0, "x": 1, "y": 2, "z": 3}), ("Müller, oben", 1.5, 2.5, 3.5)),
    ("point,x,y,z\nA,1.5,2.5,3.5\n".encode("utf-16"), Layout("utf-16", ",", ".", True, {"point": 0, "x": 1, "y": 2, "z": 3}), ("A", 1.5, 2.5, 3.5)),
])  # fmt: skip
def test_layouts_are_recognised(data, layout, first):
    preview = recognise(data)
    assert preview.layout.delimiter == layout.delimiter and preview.layout == layout
    read = read_points(data, preview.layout)
    point = read.points[0]
    assert (point.name, point.x, point.y, point.level) == first and read.refused == ()
    assert bool(read.notes) == (layout.encoding == "cp1252")


def test_lines_that_cannot_be_used_are_kept_with_the_reason():
    data = b"x,y,z\n1,2,3\n4,5,nan\n7,8,1e9\nabc\n1e300,2,3\n4,5,inf\n,,\n1,2\n" + b"9" * 10_000_000 + b"\n4,5,6"
    read = read_points(data, recognise(data).layout)
    assert [p.level for p in read.points] == [3.0, 6.0]
    assert [(r.where, r.why.split(";")[0]) for r in read.refused] == [
        ("line 3", "coordinates and level must be finite numbers"), ("line 4", "its level is not one on land"), ("line 5", "x, y and z must be numbers in their columns"),
        ("line 6", "lies more than 100 km from the origin"), ("line 7", "coordinates and level must be finite numbers"),
        ("line 8", "x, y and z must be numbers in their columns"), ("line 9", "x, y and z must be numbers in their columns"),
        ("line 10", "the line is 10,000,000 characters long")]  # fmt: skip


def test_reading_can_be_stopped_and_keeps_what_it_has():
    data = b"\n".join(b"1,2,3" for _ in range(20_000))
    told = []
    read = read_points(data, recognise(data).layout, progress=lambda share: told.append(share) or len(told) < 2)
    assert 0 < len(read.points) < 20_000 and "Stopped at line 10000" in read.notes[-1] and told == sorted(told)


def test_far_coordinates_are_shifted_and_feet_turned():
    data = b"x,y,z\n1640420.5,8202100.2,98.4252\n1640425,8202105,98.5\n"
    layout = recognise(data).layout
    shift, said = shift_wanted(data, layout, "ft")
    (point, _) = read_points(data, layout, "ft", shift).points
    assert shift == (500_000.0, 2_500_000.0) and point.x == pytest.approx(1640420.5 * 0.3048 - 5e5) and point.level == pytest.approx(30.0, abs=1e-4)
    assert len(read_points(data, layout, "ft").refused) == 2 and shift_wanted(b"x,y,z\n1,2,3\n", layout) == ((0.0, 0.0), "") and "put back on writing" in said


def test_the_files_of_one_site_are_moved_alike_and_moved_back_on_writing():
    """A corner and a bench mark of one made-up site, 0.6 m apart, either side of a whole kilometre: one in CSV, one in LandXML, one in GeoJSON."""
    one, other = SitePoint("one", 500_999.8, 2_500_999.9, 30.0), SitePoint("other", 501_000.4, 2_501_000.5, 30.0)
    csv_file = write_points((one,), "m").encode()
    layout = recognise(csv_file).layout
    shift, _ = shift_wanted(csv_file, layout)
    first = read_points(csv_file, layout, "m", shift)
    second = read_landxml(write_landxml((other,), "m", "site", "2026-11-25"), first.shift)
    third = read_geojson(json.dumps({"type": "Point", "coordinates": [other.x, other.y, 30.0]}).encode(), None, first.shift)
    near, far = first.points[0], second.points[0]
    assert (far.x - near.x, far.y - near.y) == (pytest.approx(0.6), pytest.approx(0.6)) and third.points[0].x == pytest.approx(far.x) and second.shift == shift
    assert f"{near.x + shift[0]:.1f},{near.y + shift[1]:.1f}" == "500999.8,2500999.9"
    assert b"500999.8000,2500999.9000" in write_points(first.points, "m", shift).encode() and b"2501000.5000 501000.4000" in write_landxml(second.points, "m", "s", "2026-11-25", shift)
    moved = read_landxml(write_landxml((SitePoint("a", 3.0, 4.0, 30.0),), "m", "site", "2026-11-25"), shift)  # moved near its origin by somebody else
    assert (moved.points[0].x, moved.shift) == (3.0, (0.0, 0.0)) and "moved already" in moved.notes[-1]


def test_a_later_file_in_degrees_is_laid_on_the_plan_of_the_first():
    site = [{"type": "Feature", "properties": {}, "geometry": {"type": "Point", "coordinates": [-30.0 + 1e-4 * n, 45.0, 30.0]}} for n in range(2)]
    first = read_geojson(json.dumps(site[0]).encode())
    assert read_geojson(json.dumps(site[1]).encode(), first.origin).points[0].x == pytest.approx(7.88, abs=0.01) and first.points[0].x == 0.0


@pytest.mark.parametrize("name", ["=cmd|' /C calc'!A0", "+1", "-2", "@x", "'=x", "''=x", "a\nb", "two\r\nlines", '"', "", "ﬂat", "＝1", "'plain"])
def test_names_come_back_from_csv_and_no_spreadsheet_runs_them(name):
    text = write_points((SitePoint(name, 1.0, 2.0, 3.0, name), SitePoint("next", 4.0, 5.0, 6.0)), "m")
    cells = list(csv.reader(io.StringIO(text)))
    assert not re.match("[=+@\t\r-]", cells[1][0]) and not re.match("[=+@\t\r-]", cells[1][4])
    first, second = read_points(text.encode(), recognise(text.encode()).layout).points
    assert (first.name, second.name, second.x) == (name.replace("\r\n", "\n").strip() or "line 2", "next", 4.0)
    readings = write_survey((Shot(name or "x", None, 1.0, None, name), Shot("next")), "m")
    back = read_survey(readings)
    assert [s.point for s in back] == [name.replace("\r\n", "\n").strip() or "x", "next"]


def test_a_quote_that_is_never_closed_swallows_nothing():
    data = b'point,x,y,z\n"5 in,1,2,3\nB,4,5,6\nC,7,8,9\n'
    read = read_points(data, recognise(data).layout)
    assert [p.name for p in read.points][-2:] == ["B", "C"] and len(read.points) + len(read.refused) == 3


@pytest.mark.parametrize(("read", "data"), [
    (read_geojson, json.dumps({"type": "Point", "coordinates": [1, 2, 3]}).replace("1,", "9" * 400 + ",").encode()),
    (read_geojson, b'{"type": "Feature", "properties": {"name": "\\ud83d", "code": "\\ude00"}, "geometry": {"type": "Point", "coordinates": [1, 2, 3]}}'),
    (read_geojson, b'{"type": "Feature", "properties": {"kind": "gas line", "depth": 1e999, "diameter": 7777}, "geometry": {"type": "LineString", "coordinates": [[300, 0], [310, 0]]}}'),
    (read_geojson, b'{"type": "Feature", "properties": {"kind": "lawn"}, "geometry": {"type": "LineString", "coordinates": [[300, 0], [310, 0]]}}'),
    (read_landxml, b'<LandXML><Units><?pi x?><Metric linearUnit="meter"/></Units><CgPoints><CgPoint name="a">1 2 3</CgPoint></CgPoints></LandXML>'),
    (read_landxml, b'<!DOCTYPE a [<!ENTITY x "y">]><LandXML><Units>&x;</Units><CgPoints><CgPoint name="a">1 ' + b"9" * 400 + b" 3</CgPoint></CgPoints></LandXML>"),
    (lambda d: read_points(d, recognise(d).layout), b'x,y,z,code\n1,2,3,"' + b"a" * 140_000 + b'"\n4,5,6,b\n'),
])  # fmt: skip
def test_files_that_once_ended_the_program_are_read_or_refused(job, read, data):
    found = read(data)
    assert len(found.points) + len(found.refused) + len(found.features) > 0 and all(r.why for r in found.refused)
    assert faults(dataclasses.replace(without_thing(job, "t10").job, points=found.points, features=found.features)) == []


@pytest.mark.parametrize(("data", "says"), [(b"", "is empty"), (b"\n \n", "is empty"), (b"\x7fELF\0\0\0", "no text file"), (b"\xff\xfe\x00", "damaged at byte")])
def test_what_is_no_csv_is_refused(data, says):
    with pytest.raises(JobFileError, match=says):
        recognise(data)


def test_csv_round_trip():
    data = write_points(POINTS, "ft").encode()
    again = read_points(data, recognise(data).layout, "ft").points
    assert [(p.name, p.code) for p in again] == [(p.name, p.code) for p in POINTS]
    assert [p.x for p in again] == pytest.approx([p.x for p in POINTS], abs=2e-5)
    with pytest.raises(JobFileError, match="too large"):
        decoded(memoryview(bytearray(200_000_001)))


@pytest.mark.parametrize("unit", ["m", "ft"])
def test_landxml_round_trip_and_structure(unit):
    """Names, order and required attributes as in the LandXML-1.2 schema (recalled): Units before Project before CgPoints; a
    CgPoint holds north, east, elevation; Metric and Imperial need area, linear, volume, temperature and pressure units."""
    data = write_landxml(POINTS, unit, "a & b", "2026-11-24")
    root = etree.fromstring(data)
    assert root.tag == f"{{{NAMESPACE}}}LandXML" and {"version", "date", "time"} <= set(root.attrib)
    assert [etree.QName(child).localname for child in root] == ["Units", "Project", "CgPoints"]
    system = root[0][0]
    assert etree.QName(system).localname == {"m": "Metric", "ft": "Imperial"}[unit]
    assert {"areaUnit", "linearUnit", "volumeUnit", "temperatureUnit", "pressureUnit"} <= set(system.attrib)
    names = [p.get("name") for p in root[2]]
    assert len(set(names)) == 3  # names are keys
    factor = 1.0 if unit == "m" else 0.3048
    north, east, level = map(float, root[2][0].text.split())
    assert (north * factor, east * factor, level * factor) == pytest.approx((-7.5, 12.3456, 30.25), abs=2e-5)
    again = read_landxml(data).points
    assert [p.code for p in again] == [p.code for p in POINTS] and [p.y for p in again] == pytest.approx([p.y for p in POINTS], abs=2e-5)


XML = f'<LandXML xmlns="{NAMESPACE}" version="1.2">%s</LandXML>'


@pytest.mark.parametrize(("body", "points", "refused"), [
    ('<CgPoints><CgPoint name="a">1 2 3</CgPoint><CgPoint name="b">1 2</CgPoint><CgPoint name="c">x y z</CgPoint></CgPoints>', 1,
     ["has no level", "must hold north, east and elevation"]),
    ('<CgPoints><CgPoint name="a">1 2 NaN</CgPoint><CgPoint name="b">1 9e9 3</CgPoint><CgPoint pntRef="a"/></CgPoints>', 0, ["coordinates and level must be", "lies more"]),
    ("", 0, []),
])  # fmt: skip
def test_landxml_oddities(body, points, refused):
    read = read_landxml((XML % body).encode())
    assert len(read.points) == points and len(read.refused) == len(refused) and all(r.why.startswith(w) for r, w in zip(read.refused, refused, strict=True))
    assert "names no units" in read.notes[0]


def test_far_points_of_landxml_are_moved_near_the_origin_and_it_is_said():
    read = read_landxml((XML % '<CgPoints><CgPoint name="a">5400123.5 432001.25 12</CgPoint></CgPoints>').encode())
    assert (read.points[0].x, read.points[0].y) == (1.25, 123.5) and "432,000 m were taken off east" in read.notes[-1]


@pytest.mark.parametrize(("data", "says"), [
    (b"<LandXML", "is damaged"), (b"<html/>", "no LandXML"), (b"", "is damaged"),
    ((XML % '<Units><Metric linearUnit="furlong"/></Units>').encode(), "unit that is not known: furlong"),
])  # fmt: skip
def test_what_is_no_landxml_is_refused(data, says):
    with pytest.raises(JobFileError, match=says):
        read_landxml(data)


def test_no_entity_is_followed(tmp_path):
    secret = tmp_path / "secret"
    secret.write_text("1 2 3")
    evil = f'<!DOCTYPE LandXML [<!ENTITY e SYSTEM "file://{secret}">]>' + XML % '<CgPoints><CgPoint name="a">&e;</CgPoint></CgPoints>'
    assert read_landxml(evil.encode()).points == ()


def geo(*features):
    return json.dumps({"type": "FeatureCollection", "features": [
        {"type": "Feature", "properties": p, "geometry": {"type": kind, "coordinates": c}} for kind, c, p in features]}).encode()  # fmt: skip


def test_geojson_points_and_things():
    read = read_geojson(geo(("Point", [-30.0, 45.0, 12.0], {"name": "a", "code": "gr"}), ("Point", [-30.0, 45.001], {"elevation": 13}), ("Point", [-30.0, 45.0], {}),
                            ("LineString", [[-30.0, 45.0], [-29.999, 45.0]], {"kind": "gas line", "depth": 0.6, "is_located": True}),
                            ("Polygon", [[[-30, 45], [-29.999, 45], [-30, 45.001], [-30, 45]]], {"kind": "castle"}), ("MultiPolygon", [], {})))  # fmt: skip
    a, b = read.points
    assert (a.name, a.x, a.y, a.level, a.code) == ("a", 0.0, 0.0, 12.0, "gr") and b.y == pytest.approx(111.13, abs=0.02)
    (gas,) = read.features
    assert (gas.kind, gas.depth, gas.is_located) == ("gas line", 0.6, True) and gas.points[1].x == pytest.approx(78.85, abs=0.02)
    assert [r.why.split(":")[0].split(" ")[0] for r in read.refused] == ["has", "its", "geometry"]
    placed = read_geojson(geo(("Point", [-30.0, 45.001, 12.0], {})), FlatPlan(-30.0, 45.0))
    assert placed.points[0].y == pytest.approx(111.13, abs=0.02) and "plan of this job" in placed.notes[0]
    plane = read_geojson(geo(("Point", [500.0, 900.0, 12.0], {}), ("Point", [math.nan, 1.0, 1.0], {})))
    assert plane.points[0].x == 500.0 and "taken as metres" in plane.notes[0] and "finite" in plane.refused[0].why


@pytest.mark.parametrize("data", [b"{", b"[]", b'{"type":"Topology"}', b"\xff\xff", b"[" * 100_000])
def test_what_is_no_geojson_is_refused(data):
    with pytest.raises(JobFileError):
        read_geojson(data)
