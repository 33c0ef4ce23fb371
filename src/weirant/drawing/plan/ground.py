"""The ground in plan: contours with their labels, arrows of fall, low spots with what they hold and what feeds them."""

from __future__ import annotations

import math

import numpy as np
import shapely

from weirant.design.terrain import Terrain
from weirant.drawing.primitives import Area, Point, Shape, Stroke, Words
from weirant.ground.surface import Surface
from weirant.ground.surface.ponding import LowSpot
from weirant.language import tr
from weirant.units.display import AREA, DEPTH, LEVEL, WATER_VOLUME, System, shown

EVERY = 5  # of the contours one is drawn heavier and bears its level
TOLD = 3  # low spots that are told in words, the largest


def ground_shapes(surface: Surface, terrain: Terrain, system: System, *, chosen: int = -1) -> list[Shape]:
    """Contours, arrows and low spots; the catchment of the chosen low spot."""
    shapes: list[Shape] = []
    for index, spot in enumerate(terrain.low_spots):
        if index == chosen:
            shapes += _catchment(surface, spot)
        shapes += [Area(tuple(map(tuple, line.tolist())), "pond") for line in spot.outline if len(line) > 2]
        shapes += [Stroke(tuple(map(tuple, line.tolist())), "pond edge") for line in spot.outline if len(line) > 2]
    shapes += _contours(terrain, system)
    west, south, east, north = surface.bounds
    for arrow in terrain.arrows:
        shapes += _arrow(arrow.at, arrow.way, 0.028 * max(east - west, north - south))
    for index, spot in enumerate(terrain.low_spots[:TOLD]):
        words = spot_words(spot, system) if index == chosen else tr("low {depth}", depth=shown(spot.depth, DEPTH, system))
        shapes.append(Words(spot.lowest, words, "water", "centre", 0, -14))
    return shapes


def spot_words(spot: LowSpot, system: System) -> str:
    """A low spot in a line."""
    return (tr("low spot: {depth} deep, holds {volume}, fed by {catchment}", depth=shown(spot.depth, DEPTH, system),
               volume=shown(spot.volume, WATER_VOLUME, system), catchment=shown(spot.catchment, AREA, system)))  # fmt: skip


def _contours(terrain: Terrain, system: System) -> list[Shape]:
    shapes: list[Shape] = []
    longest: dict[float, tuple[float, Point]] = {}
    for line in terrain.contours:
        main = round(line.level / terrain.interval) % EVERY == 0
        points: tuple[Point, ...] = tuple((x, y) for x, y in line.points.tolist())
        shapes.append(Stroke(points, "main contour" if main else "contour"))
        size = float(np.sum(np.hypot(*np.diff(line.points, axis=0).T)))
        if size > longest.get(line.level, (0.0, (0.0, 0.0)))[0]:
            longest[line.level] = (size, points[len(points) // 2])
    room = 4 * terrain.interval
    for level, (size, at) in longest.items():
        if size > room and (round(level / terrain.interval) % EVERY == 0 or len(longest) <= 6):
            shapes.append(Words(at, shown(level, LEVEL, system), "contour", "centre", 0, -3))
    return shapes


def _arrow(at: Point, way: tuple[float, float], size: float) -> list[Shape]:
    tip = (at[0] + way[0] * size, at[1] + way[1] * size)
    turn = math.atan2(way[1], way[0])
    barbs = [(tip[0] - 0.4 * size * math.cos(turn + a), tip[1] - 0.4 * size * math.sin(turn + a)) for a in (0.5, -0.5)]
    return [Stroke((at, tip), "fall"), Stroke((barbs[0], tip, barbs[1]), "fall")]


def _catchment(surface: Surface, spot: LowSpot) -> list[Shape]:
    if not len(spot.feeds):
        return []
    whole = shapely.unary_union(shapely.polygons(surface.corners[surface.triangles[spot.feeds]]))
    return [Stroke(tuple((float(x), float(y)) for x, y in shapely.get_coordinates(part.exterior)), "catchment")
            for part in shapely.get_parts(whole) if shapely.get_type_id(part) == 3]  # fmt: skip
