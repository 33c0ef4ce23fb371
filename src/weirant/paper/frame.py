"""How a drawing's world is laid on a rectangle of paper or screen."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF

from weirant.drawing.primitives import Drawing, Point

EXAGGERATIONS = (1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 20, 25, 30, 40, 50)


@dataclass(frozen=True)
class Frame:
    """World to paper: scales in pixels per metre (y may be exaggerated) and the offset of the world's origin."""

    scale_x: float
    scale_y: float
    left: float
    top: float
    exaggeration: int = 1

    def to_paper(self, point: Point) -> QPointF:
        """A world point on the paper."""
        return QPointF(self.left + point[0] * self.scale_x, self.top - point[1] * self.scale_y)

    def to_world(self, point: QPointF) -> Point:
        """A point on the paper in the world."""
        return (point.x() - self.left) / self.scale_x, (self.top - point.y()) / self.scale_y


def fit(drawing: Drawing, area: QRectF, zoom: float = 1.0, centre: Point | None = None) -> Frame:
    """The frame that shows the drawing's bounds in an area; heights exaggerated by a round number where allowed."""
    left, bottom, right, top = drawing.bounds
    wide, high = max(right - left, 1e-6), max(top - bottom, 1e-6)
    scale_x = area.width() / wide
    if drawing.stretches:
        scale_y = area.height() / high
        return Frame(scale_x, scale_y, area.left() - left * scale_x, area.bottom() + bottom * scale_y)
    exaggeration = 1
    if drawing.may_exaggerate:
        room = area.height() / high / scale_x
        exaggeration = max((e for e in EXAGGERATIONS if e <= room), default=1)
    scale_x = min(scale_x, area.height() / (high * exaggeration)) * zoom
    scale_y = scale_x * exaggeration
    cx, cy = centre or ((left + right) / 2, (bottom + top) / 2)
    return Frame(scale_x, scale_y, area.center().x() - cx * scale_x, area.center().y() + cy * scale_y, exaggeration)
