"""The site from above: ground, things on it, runs of pipe, the protected place."""

from weirant.drawing.plan.lie import bearing_at, point_at, protected_outline, station_near, vertices
from weirant.drawing.plan.sheet import plan_drawing

__all__ = ["bearing_at", "plan_drawing", "point_at", "protected_outline", "station_near", "vertices"]
