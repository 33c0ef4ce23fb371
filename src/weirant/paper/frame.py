"""How a drawing's world is laid on a rectangle of paper or screen."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPolygonF

from weirant.drawing.primitives import Area, Drawing, Flag, Mark, Point, Stroke, Words
from weirant.records import dataclass

EXAGGERATIONS = (1, 2, 3, 4, 5, 6, 8, 10, 12, 15, 20, 25, 30, 40, 50)
SIGN = 0.7  # half of what the sign of a finding takes, in heights of the letters
LEAST_SEEN, MOST_SEEN = 4, 15  # exaggeration: below it falls do not show, above it ground looks like a cliff


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


def zoomed(frame: Frame, middle: QPointF, zoom: float, centre: Point) -> Frame:
    """A frame enlarged, with a point of the world at a point of the paper."""
    x, y = frame.scale_x * zoom, frame.scale_y * zoom
    return Frame(x, y, middle.x() - centre[0] * x, middle.y() + centre[1] * y, frame.exaggeration)


def fit_beside(drawing: Drawing, area: QRectF, taken: QRectF, text: float) -> Frame:
    """The frame that shows a drawing, with letters ``text`` high, in an area of which a rectangle is taken: over all of it where nothing of the drawing
    lies there, else in the larger of what is left beside and below.
    """
    if drawing.may_exaggerate:
        for exaggeration in (e for e in reversed(EXAGGERATIONS) if LEAST_SEEN <= e <= MOST_SEEN):
            frame = _low(drawing, area, exaggeration)
            if frame is not None and not _lies_in(drawing, frame, taken, text):
                return frame
    if drawing.stretches or _lies_in(drawing, fit(drawing, area), taken, text):
        on_left = taken.center().x() < area.center().x()
        beside = QRectF(area)
        if on_left:
            beside.setLeft(max(taken.right(), area.left()))
        else:
            beside.setRight(min(taken.left(), area.right()))
        below = QRectF(area)
        below.setTop(max(taken.bottom(), area.top()))
        rooms = [room for room in (beside, below) if room.width() > 20 and room.height() > 20] or [area]
        area = max(rooms, key=lambda room: _size(fit(drawing, room), drawing, room))
    return fit(drawing, area)


def _low(drawing: Drawing, area: QRectF, exaggeration: int) -> Frame | None:
    """The frame that shows a drawing over the whole width, at the foot of an area; None where it is too high for it."""
    left, bottom, right, top = drawing.bounds
    scale = area.width() / max(right - left, 1e-6)
    if (top - bottom) * scale * exaggeration > area.height():
        return None
    return Frame(scale, scale * exaggeration, area.left() - left * scale, area.bottom() + bottom * scale * exaggeration, exaggeration)


def _size(frame: Frame, drawing: Drawing, room: QRectF) -> float:
    """How large a drawing comes out in a room."""
    if drawing.stretches or drawing.may_exaggerate:
        return room.width() * room.height()
    return frame.scale_x


def _lies_in(drawing: Drawing, frame: Frame, taken: QRectF, text: float) -> bool:
    """Whether anything of a drawing but its grid and its axes lies in a rectangle on the paper."""
    signs = taken.adjusted(-2.1 * text, -0.6 * text, 0.6 * text, 1.4 * text)  # about what a label or a mark at a point takes
    for shape in drawing.shapes:
        if isinstance(shape, Area | Stroke) and getattr(shape, "line", "") != "grid" and _overlaps([frame.to_paper(p) for p in shape.points], taken):
            return True
        if (isinstance(shape, Mark) or (isinstance(shape, Words) and shape.role != "axis")) and signs.contains(frame.to_paper(shape.at)):
            return True
        if isinstance(shape, Flag):
            foot = frame.to_paper(shape.at)
            if QRectF(foot.x() - SIGN * text, foot.y() - (shape.pole + SIGN) * text, 2 * SIGN * text, (shape.pole + SIGN) * text).intersects(taken):
                return True
    return False


def _overlaps(line: list[QPointF], taken: QRectF) -> bool:
    """Whether an outline or a line enters a rectangle."""
    outline = QPolygonF(line)
    if not outline.boundingRect().adjusted(-1, -1, 1, 1).intersects(taken):
        return False
    return outline.intersects(QPolygonF(taken))


def fit(drawing: Drawing, area: QRectF) -> Frame:
    """The frame that shows the drawing's bounds in an area; heights exaggerated by a round number where allowed."""
    left, bottom, right, top = drawing.bounds
    wide, high = max(right - left, 1e-6), max(top - bottom, 1e-6)
    scale_x = area.width() / wide
    if drawing.stretches:
        scale_y = area.height() / high
        return Frame(scale_x, scale_y, area.left() - left * scale_x, area.bottom() + bottom * scale_y)
    exaggeration = 1
    if drawing.may_exaggerate:
        room = min(area.height() / high / scale_x, MOST_SEEN)
        exaggeration = max((e for e in EXAGGERATIONS if e <= room), default=1)
    scale_x = min(scale_x, area.height() / (high * exaggeration))
    scale_y = scale_x * exaggeration
    cx, cy = (left + right) / 2, (bottom + top) / 2
    return Frame(scale_x, scale_y, area.center().x() - cx * scale_x, area.center().y() + cy * scale_y, exaggeration)
