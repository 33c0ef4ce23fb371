"""Things on the site in plan: buildings, trees with their roots, walks, buried lines, the boundary, shots."""

from __future__ import annotations

import math

from weirant.drawing.plan.lie import middle_of
from weirant.drawing.primitives import Area, Mark, Point, Shape, Stroke, Words
from weirant.job import Job
from weirant.job.identity import by_id
from weirant.job.site import Feature
from weirant.language import tr
from weirant.units.display import DEPTH, System, shown

_FILLED = {"building": "building", "slab": "slab", "lawn": "grass", "woodland": "woodland", "wet area": "wet area"}
_UNDER = ("lawn", "woodland", "wet area")


def lying_under(job: Job) -> list[Shape]:
    """What lies under the contours: lawns, woods, wet areas."""
    return [s for f in job.features if f.kind in _UNDER for s in _shapes(f, System(job.units))]


def standing(job: Job, chosen: str) -> list[Shape]:
    """Everything else, and the chosen thing ringed."""
    shapes = [s for f in job.features if f.kind not in _UNDER for s in _shapes(f, System(job.units))]
    feature = by_id(job.features, chosen) if chosen else None
    if feature is not None:
        points = _corners(feature)
        closed = feature.kind in _FILLED or feature.kind == "boundary"
        shapes.append(Stroke((*points, points[0]) if closed else points, "in hand"))
    return shapes


def _corners(feature: Feature) -> tuple[Point, ...]:
    return tuple((p.x, p.y) for p in feature.points)


def _shapes(feature: Feature, system: System) -> list[Shape]:
    points = _corners(feature)
    if not points:
        return []
    if feature.kind == "tree":
        return _tree(feature, points[0])
    if feature.kind in _FILLED and len(points) < 3:
        return [Stroke(points, "outline"), Words(points[0], tr("{feature}: corners missing", feature=feature.name), "doubt", "left", 6, 3)]
    if feature.kind in _FILLED:
        style = "lawn kept dry" if feature.kind == "lawn" and feature.dry_depth is not None else _FILLED[feature.kind]
        return [Area(points, style), Stroke((*points, points[0]), "outline"), *_name(feature, middle_of(points), system)]
    if feature.kind == "outlet":
        return [Mark(points[0], "joint"), Words(points[0], feature.name, "small", "left", 6, 3)]
    line = points if feature.kind != "boundary" else (*points, points[0])
    if feature.kind in ("boundary", "fence"):
        return [Stroke(line, feature.kind)]
    if feature.is_buried and not feature.is_located:
        return [Stroke(line, feature.kind), Words(_on_longest(points), tr("{feature}: not located", feature=feature.name), "doubt", "left", 6, 0)]
    return [Stroke(line, feature.kind), *_name(feature, _on_longest(points), system, -14)]


def _name(feature: Feature, at: Point, system: System, dy: float = 0.0) -> list[Shape]:
    """Its name; of what is to be kept dry also how deep, in a line below."""
    if feature.dry_depth is None:
        return [Words(at, feature.name, "label", "centre", 0, dy)]
    return [Words(at, feature.name, "strong", "centre", 0, dy + 4), Words(at, tr("dry to {dry_depth}", dry_depth=shown(feature.dry_depth, DEPTH, system)), "label", "centre", 0, dy - 9)]


def _on_longest(points: tuple[Point, ...]) -> Point:
    """The middle of the longest length of a line."""
    if len(points) < 2:
        return points[0]
    a, b = max(zip(points, points[1:], strict=False), key=lambda ends: math.dist(*ends))
    return (a[0] + b[0]) / 2, (a[1] + b[1]) / 2


def thing_words(feature: Feature, system: System) -> str:
    """A thing in a sentence: what it is, and for a buried line how deep and whether it is located."""
    if not feature.is_buried:
        dry = tr(", to be dry to {dry_depth}", dry_depth=shown(feature.dry_depth, DEPTH, system)) if feature.dry_depth is not None else ""
        return f"{feature.name}: {tr(feature.kind)}{dry}"
    deep = tr("{depth} deep", depth=shown(feature.depth, DEPTH, system)) if feature.depth is not None else tr("depth not known")
    if feature.is_located:
        return tr("{feature}: {kind}, {deep}, located", feature=feature.name, kind=tr(feature.kind), deep=deep)
    state = tr("not located by the public service") if feature.is_private else tr("not marked yet")
    return f"{feature.name}: {tr(feature.kind)}, {deep}, {state}"


def _tree(feature: Feature, at: Point) -> list[Shape]:
    shapes: list[Shape] = []
    if feature.root_radius is not None:
        ring = tuple((at[0] + feature.root_radius * math.cos(a / 12 * math.pi), at[1] + feature.root_radius * math.sin(a / 12 * math.pi)) for a in range(25))
        shapes = [Area(ring, "roots"), Stroke(ring, "fence")]
    return [*shapes, Mark(at, "tree trunk"), Words(at, feature.name, "small", "left", 6, 3)]


def shots(job: Job, places: list[tuple[str, Point]], *, names: bool) -> list[Shape]:
    """A small plus at every shot, with its name where there is room."""
    shapes: list[Shape] = [Mark(at, "point") for _, at in places]
    return shapes + ([Words(at, name, "small", "left", 4, 3) for name, at in places] if names else [])
