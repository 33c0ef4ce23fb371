"""Points and things on the site from GeoJSON (RFC 7946)."""

from __future__ import annotations

import json
import math
from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

from weirant.errors import JobFileError, short
from weirant.formats.points_read import NO_SHIFT, PointsRead, Refused, Shift, fault_in, shift_for, whole
from weirant.ground.flat_plan import FlatPlan
from weirant.job.faults import faults_of
from weirant.job.site import KINDS, Feature, SitePoint, Spot, lacking_corners
from weirant.language import tr

LARGEST = 200_000_000
Plane = Callable[[list[float]], tuple[float, float]]
_LEVELS = ("elevation", "elev", "z", "level", "height")


def read_geojson(data: bytes, origin: FlatPlan | None = None, of_job: Shift = NO_SHIFT) -> PointsRead:
    """Read points with levels, and lines and outlines as features where their ``kind`` is known here.

    Degrees, as the standard asks, are laid on a flat plan about ``origin``, or where none is known about the first position
    (good to centimetres over a site);
    coordinates that cannot be degrees are taken as metres, with ``of_job`` taken off as of every file of the job. Raises JobFileError where the text is no GeoJSON.
    """
    if len(data) > LARGEST:
        raise JobFileError(tr("The GeoJSON file is too large ({data:.0f} MB).", data=len(data) / 1000000.0))
    try:
        root = json.loads(data.decode("utf-8-sig"))
    except (UnicodeDecodeError, ValueError, RecursionError) as fault:
        raise JobFileError(tr("The GeoJSON file is damaged: {fault}.", fault=short(str(fault), 120))) from fault
    if not isinstance(root, dict) or root.get("type") not in ("FeatureCollection", "Feature", "Point", "LineString", "Polygon", "MultiPoint"):
        raise JobFileError(tr("This is no GeoJSON file of features."))
    parts = list(_parts(root))
    places = [p for _, geometry, _ in parts for p in _positions(geometry)]
    plan, notes = _plan(places, origin)
    shift, said = shift_for(places[0][0], places[0][1], of_job) if plan is None and places else (NO_SHIFT, "")
    plane = partial(_plane, plan=plan, shift=shift)
    notes += [said] if said else []
    points: list[SitePoint] = []
    features: list[Feature] = []
    refused: list[Refused] = []
    for number, (properties, geometry, where) in enumerate(parts, 1):
        name = whole(str(properties.get("name") or properties.get("id") or f"{where} {number}"))
        if geometry.get("type") in ("Point", "MultiPoint"):
            for position in _positions(geometry):
                found = _point(name, position, properties, plane)
                (points if isinstance(found, SitePoint) else refused).append(found)  # type: ignore[arg-type]
        elif geometry.get("type") in ("LineString", "Polygon"):
            thing = _feature(name, geometry, properties, plane)
            (features if isinstance(thing, Feature) else refused).append(thing)  # type: ignore[arg-type]
        else:
            refused.append(Refused(name, short(json.dumps(geometry)), tr("geometry {kind} is not read", kind=short(str(geometry.get("type")), 30))))
    return PointsRead(tuple(points), tuple(refused), tuple(notes), tuple(features), shift, plan)


def _parts(root: dict[str, Any]) -> Iterator[tuple[dict[str, Any], dict[str, Any], str]]:
    items = root.get("features") if root["type"] == "FeatureCollection" else [root]
    for item in items if isinstance(items, list) else []:
        if not isinstance(item, dict):
            continue
        is_feature = item.get("type") == "Feature"
        properties, geometry = (item.get("properties"), item.get("geometry")) if is_feature else ({}, item)
        yield (properties if isinstance(properties, dict) else {}), (geometry if isinstance(geometry, dict) else {}), "feature"


def _positions(geometry: dict[str, Any]) -> list[list[float]]:
    """Every position that is two or three numbers; others are left to be refused by their shape."""
    found: list[list[float]] = []

    def gather(part: Any, depth: int) -> None:
        if isinstance(part, list) and part and all(isinstance(v, (int, float)) and not isinstance(v, bool) for v in part):
            if len(part) >= 2:
                found.append([_float(v) for v in part])
        elif isinstance(part, list) and depth < 4:
            for inner in part:
                gather(inner, depth + 1)

    gather(geometry.get("coordinates"), 0)
    return found


def _float(value: float) -> float:
    """A number of the file; one of hundreds of digits is infinite, and is refused where it stands."""
    try:
        return float(value)
    except OverflowError:
        return math.inf


def _plan(positions: list[list[float]], origin: FlatPlan | None) -> tuple[FlatPlan | None, list[str]]:
    finite = [p for p in positions if math.isfinite(p[0]) and math.isfinite(p[1])]
    if not finite:
        return None, []
    spread = max(max(p[i] for p in finite) - min(p[i] for p in finite) for i in (0, 1))
    if any(abs(p[0]) > 180 or abs(p[1]) > 90 for p in finite) or spread > 0.5:
        return None, [tr("The coordinates are no degrees; they were taken as metres.")]
    if origin is not None:
        return origin, [tr("Degrees were laid on the plan of this job.")]
    return FlatPlan(finite[0][0], finite[0][1]), [tr("Degrees were laid on a flat plan whose origin is the first position.")]


def _plane(position: list[float], plan: FlatPlan | None, shift: Shift) -> tuple[float, float]:
    return plan.place(position[0], position[1]) if plan is not None else (position[0] - shift[0], position[1] - shift[1])


def _point(name: str, position: list[float], properties: dict[str, Any], plane: Plane) -> SitePoint | Refused:
    x, y = plane(position)
    given = [position[2]] if len(position) > 2 else [v for key in _LEVELS if isinstance(v := properties.get(key), (int, float)) and not isinstance(v, bool)]
    if not given:
        return Refused(name, short(str(position)), tr("has no level: give a third coordinate or a property elevation"))
    level = _float(given[0])
    why = fault_in(x, y, level)
    return Refused(name, short(str(position)), why) if why else SitePoint(name, x, y, level, whole(str(properties.get("code") or "")), "file")


def _feature(name: str, geometry: dict[str, Any], properties: dict[str, Any], plane: Plane) -> Feature | Refused:
    kind = str(properties.get("kind") or "")
    if kind not in KINDS:
        return Refused(name, short(json.dumps(properties)), tr("its kind must be one of {kinds}", kinds=", ".join(KINDS)))
    spots = tuple(Spot(*plane(p)) for p in _positions(geometry))
    if len(spots) < 2 or any(fault_in(s.x, s.y, 0.0) for s in spots):
        return Refused(name, short(json.dumps(geometry)), tr("needs two or more positions within 100 km"))
    lacks = lacking_corners(kind, spots)
    if lacks:
        return Refused(name, short(json.dumps(geometry)), lacks)
    given = {key: properties.get(key) for key in ("footing_depth", "depth", "diameter", "tolerance", "dry_depth")}
    numbers: dict[str, Any] = {key: _float(v) for key, v in given.items() if isinstance(v, (int, float)) and not isinstance(v, bool) and v > 0}
    thing = Feature("", kind, name, spots, **numbers, is_private=properties.get("is_private") is True, is_located=properties.get("is_located") is True)
    wrong = faults_of(thing)
    return Refused(name, short(json.dumps(properties)), wrong[0][1]) if wrong else thing
