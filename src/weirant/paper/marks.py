"""Small signs of one size on the paper; the shape of each tells what it is, in black and white too."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

LOUD = ("built off", "crossing", "crossing unknown")


def draw_mark(painter: QPainter, at: QPointF, kind: str, half: float, colour: Callable[[str], QColor]) -> None:
    """Draw a sign of half size ``half`` in the painter's units; colours come from the palette by name."""
    if kind == "point":
        painter.setPen(QPen(colour("muted"), max(0.8, 0.16 * half)))
        _plus(painter, at, 0.45 * half)
        return
    pen = QPen(colour("rust" if kind in LOUD else "ink"), max(1.0, 0.28 * half))
    if kind == "crossing unknown":
        pen.setStyle(Qt.PenStyle.DotLine)
    painter.setPen(pen)
    painter.setBrush(colour("field"))
    if kind == "held":
        painter.setBrush(colour("ink"))
        painter.drawPolygon(QPolygonF([at + QPointF(0, -half), at + QPointF(half, half), at + QPointF(-half, half)]))
    elif kind in ("built", "built off"):
        painter.drawLine(at + QPointF(-half, -half), at + QPointF(half, half))
        painter.drawLine(at + QPointF(-half, half), at + QPointF(half, -half))
    elif kind in ("crossing", "crossing unknown"):
        painter.drawRect(QRectF(at.x() - half, at.y() - half, 2 * half, 2 * half))
        painter.drawLine(at + QPointF(-half, half), at + QPointF(half, -half))
    elif kind == "hole":
        painter.drawEllipse(at, 0.8 * half, 0.8 * half)
        painter.drawLine(at - QPointF(0, 0.8 * half), at + QPointF(0, 0.8 * half))
    elif kind == "fitting":
        painter.drawRect(QRectF(at.x() - 0.7 * half, at.y() - 0.7 * half, 1.4 * half, 1.4 * half))
    else:
        painter.setBrush(colour("ink" if kind == "joint" else "leaf"))
        painter.drawEllipse(at, 0.7 * half, 0.7 * half)


def _plus(painter: QPainter, at: QPointF, half: float) -> None:
    painter.drawLine(at - QPointF(half, 0), at + QPointF(half, 0))
    painter.drawLine(at - QPointF(0, half), at + QPointF(0, half))
