"""The network for others: LandXML alignments with their profiles, GeoJSON and KML where it is known where on earth the plan lies."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
from lxml import etree

from weirant.errors import InputError
from weirant.formats.landxml import NAMESPACE, clean
from weirant.ground.flat_plan import FlatPlan
from weirant.ground.inverts import grade_nodes, invert_at
from weirant.job import Job
from weirant.job.site import OUTLINED
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome

KML = "http://www.opengis.net/kml/2.2"
SOLID, COLLECTS = "solid", "collects"


def write_alignments(outcome: Outcome) -> bytes:
    """Every run as an alignment from its low end up, in metres, with the profile of its invert."""
    root = etree.Element(f"{{{NAMESPACE}}}LandXML", nsmap={None: NAMESPACE}, version="1.2", date=outcome.job.date or "2000-01-01", time="00:00:00")
    units = etree.SubElement(root, f"{{{NAMESPACE}}}Units")
    etree.SubElement(units, f"{{{NAMESPACE}}}Metric", areaUnit="squareMeter", linearUnit="meter", volumeUnit="cubicMeter", temperatureUnit="celsius", pressureUnit="milliBars",
                     elevationUnit="meter")  # fmt: skip
    etree.SubElement(root, f"{{{NAMESPACE}}}Project", name=clean(outcome.job.name) or "site")
    group = etree.SubElement(root, f"{{{NAMESPACE}}}Alignments")
    east, north = outcome.job.survey.shift
    for found in outcome.site.runs:
        run = found.run
        one = etree.SubElement(group, f"{{{NAMESPACE}}}Alignment", name=clean(run.name) or run.id, length=f"{run.length:.4f}", staStart="0.0000", desc=run.id)
        shape = etree.SubElement(one, f"{{{NAMESPACE}}}CoordGeom")
        points = [(x + east, y + north) for x, y in run.alignment.points.tolist()]
        for (x0, y0), (x1, y1) in zip(points, points[1:], strict=False):
            line = etree.SubElement(shape, f"{{{NAMESPACE}}}Line")
            for tag, x, y in (("Start", x0, y0), ("End", x1, y1)):
                etree.SubElement(line, f"{{{NAMESPACE}}}{tag}").text = f"{y:.4f} {x:.4f}"
        profile = etree.SubElement(one, f"{{{NAMESPACE}}}Profile", name=clean(run.name) or run.id)
        vertical = etree.SubElement(profile, f"{{{NAMESPACE}}}ProfAlign", name=tr("invert"))
        for station, level in zip(*(values.tolist() for values in grade_nodes(run)), strict=True):
            etree.SubElement(vertical, f"{{{NAMESPACE}}}PVI").text = f"{station:.4f} {level:.4f}"
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8", pretty_print=True))


def read_alignments(data: bytes) -> dict[str, tuple[list[tuple[float, float]], list[tuple[float, float]]]]:
    """What was written, by the identity of the run: its points (east, north) and the points of its profile (station, level), m."""
    root = etree.fromstring(data, etree.XMLParser(resolve_entities=False, no_network=True, huge_tree=False))
    names = {"n": NAMESPACE}
    found = {}
    for one in root.iterfind(".//n:Alignment", names):
        ends = [tuple(map(float, (node.text or "").split())) for line in one.iterfind("n:CoordGeom/n:Line", names) for node in line]
        points = [(east, north) for north, east in (ends[:1] + ends[1::2])]
        found[one.get("desc", "")] = (points, [(float(s), float(level)) for s, level in ((node.text or "").split() for node in one.iterfind(".//n:PVI", names))])
    return found


def _origin(job: Job) -> FlatPlan:
    if job.survey.longitude is None or job.survey.latitude is None:
        raise InputError(tr("longitude and latitude of the plan's origin"), tr("are not known: type them in Shoot the grades, or read points in degrees"))
    return FlatPlan(job.survey.longitude, job.survey.latitude)


def write_network_geojson(outcome: Outcome) -> bytes:
    """Runs by stretch, nodes and things in degrees. Raises InputError where it is not known where the plan lies."""
    origin, features = _origin(outcome.job), list[dict[str, Any]]()

    def add(kind: str, points: list[tuple[float, float]], properties: dict[str, Any], *, closes: bool = False) -> None:
        at = [[round(v, 9) for v in origin.position(x, y)] for x, y in points]
        places: Any = at[0] if kind == "Point" else [[*at, at[0]]] if closes else at
        features.append({"type": "Feature", "geometry": {"type": "Polygon" if closes else kind, "coordinates": places}, "properties": properties})

    for found in outcome.site.runs:
        for low, high, is_solid, name, pipe in _stretches(found):
            stations = [low, *(s for s in found.run.alignment.stations.tolist() if low < s < high), high]
            lies = {f"invert_{end}_m": round(float(invert_at(found.run, np.array(at))), 4) for end, at in (("low", low), ("high", high))}
            add("LineString", [found.run.alignment.point(s) for s in stations], {"run": found.run.name, "id": found.id, "stretch": name, "kind": SOLID if is_solid else COLLECTS,
                                                                                 "pipe": pipe, **lies})  # fmt: skip
    for node in outcome.job.nodes:
        add("Point", [(node.x, node.y)], {"node": node.id, "name": node.name, "kind": node.kind, "outlet": node.outlet.kind if node.outlet else None})
    for thing in outcome.job.features:
        points = [(p.x, p.y) for p in thing.points]
        add("LineString" if len(points) > 1 else "Point", points, {"thing": thing.id, "name": thing.name, "kind": thing.kind}, closes=thing.kind in OUTLINED and len(points) > 2)
    return json.dumps({"type": "FeatureCollection", "features": features}, ensure_ascii=False, indent=1, allow_nan=False).encode("utf-8")


def _stretches(found: RunOutcome) -> list[tuple[float, float, bool, str, str]]:
    return [(s.low, s.high, s.is_solid, s.id, s.make.pipe.key) for s in found.stretches]


def write_kml(outcome: Outcome) -> bytes:
    """Runs, nodes and things for a globe. Raises InputError as ``write_network_geojson``."""
    told = json.loads(write_network_geojson(outcome))
    root = etree.Element(f"{{{KML}}}kml", nsmap={None: KML})
    book = etree.SubElement(root, f"{{{KML}}}Document")
    etree.SubElement(book, f"{{{KML}}}name").text = clean(outcome.job.name) or "site"
    for feature in told["features"]:
        properties, shape = feature["properties"], feature["geometry"]
        mark = etree.SubElement(book, f"{{{KML}}}Placemark")
        etree.SubElement(mark, f"{{{KML}}}name").text = clean(str(properties.get("run") or properties.get("name") or properties.get("kind")))
        etree.SubElement(mark, f"{{{KML}}}description").text = clean(", ".join(f"{key}: {value}" for key, value in properties.items() if value not in (None, "")))
        parent = etree.SubElement(mark, f"{{{KML}}}{shape['type']}")
        places = shape["coordinates"]
        if shape["type"] == "Polygon":
            parent = etree.SubElement(etree.SubElement(parent, f"{{{KML}}}outerBoundaryIs"), f"{{{KML}}}LinearRing")
            places = places[0]
        elif shape["type"] == "Point":
            places = [places]
        etree.SubElement(parent, f"{{{KML}}}coordinates").text = " ".join(f"{longitude},{latitude}" for longitude, latitude in places)
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8", pretty_print=True))
