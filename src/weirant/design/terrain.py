"""The shape of the ground for the plan: contours with their interval, arrows of fall, low spots."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from weirant.ground.surface import Surface
from weirant.ground.surface.contours import Contour, contour_levels, contours
from weirant.ground.surface.ponding import LowSpot, low_spots
from weirant.records import dataclass
from weirant.units.display import System

Array = NDArray[np.float64]
LINES = 14  # contours at the most, so that the plan stays a plan
ARROWS = 9  # along the longer side
FLAT = 0.003  # m/m: less fall than this is shown as none


@dataclass(frozen=True)
class FallArrow:
    """Where the ground falls to: place and direction (unit vector, downhill), slope m/m."""

    at: tuple[float, float]
    way: tuple[float, float]
    slope: float


@dataclass(frozen=True, eq=False)
class Terrain:
    """Contours at an interval m, arrows, low spots the largest first."""

    interval: float
    contours: tuple[Contour, ...]
    arrows: tuple[FallArrow, ...]
    low_spots: tuple[LowSpot, ...]


def terrain_of(surface: Surface, system: System) -> Terrain:
    """Work out the shape of a surface; a tenth of a second for 5,000 shots, so beside the interface where there are many."""
    interval = contour_interval(surface, system)
    return Terrain(interval, tuple(contours(surface, contour_levels(surface, interval))), tuple(fall_arrows(surface)), tuple(low_spots(surface)))


def contour_interval(surface: Surface, system: System) -> float:
    """The closest round interval, m, that gives no more than a plan's worth of lines."""
    unit, steps = (0.3048, (0.1, 0.25, 0.5, 1, 2, 5, 10, 20, 50)) if system == System.IMPERIAL else (1.0, (0.05, 0.1, 0.25, 0.5, 1, 2, 5, 10, 25))
    height = float(np.ptp(surface.levels))
    return next((s * unit for s in steps if height / (s * unit) <= LINES), height / LINES)


def fall_arrows(surface: Surface) -> list[FallArrow]:
    """Arrows on an even net over the surveyed ground; level places have none."""
    west, south, east, north = surface.bounds
    pitch = max(east - west, north - south) / ARROWS
    x, y = np.meshgrid(np.arange(west + pitch / 2, east, pitch), np.arange(south + pitch / 2, north, pitch))
    places = np.column_stack([x.ravel(), y.ravel()])
    triangle = surface.triangle_at(places)
    gradient = surface.planes[0][triangle]
    slope = np.hypot(*gradient.T)
    return [FallArrow((float(px), float(py)), (float(-gx / s), float(-gy / s)), float(s))
            for (px, py), (gx, gy), s, t in zip(places, gradient, slope, triangle, strict=True) if t >= 0 and s > FLAT]  # fmt: skip
