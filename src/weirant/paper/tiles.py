"""Tiles that fill an area: hatches, and stones at their size. Each is made once and kept."""

from __future__ import annotations

import random
from functools import lru_cache

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPen


@lru_cache(maxsize=24)
def stones(size: float, fill: str, edge: str, line: float) -> QImage:
    """A tile of stones of a size, jittered so that no pattern shows; it joins on to itself on every side."""
    columns, rows, chance = 9, 10, random.Random(7)
    wide, high = columns * size, rows * size * 0.86
    tile = QImage(max(1, round(wide)), max(1, round(high)), QImage.Format.Format_RGB32)
    tile.fill(QColor(fill))
    painter = QPainter(tile)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(QColor(edge), min(line, 0.07 * size)))
    painter.setBrush(QColor(fill))
    for row in range(rows):
        for column in range(columns):
            x = (column + 0.5 * (row % 2) + 0.22 * (chance.random() - 0.5)) * size
            y = (row + 0.5 + 0.2 * (chance.random() - 0.5)) * size * 0.86
            half_wide, half_high = size * (0.36 + 0.13 * chance.random()), size * (0.32 + 0.12 * chance.random())
            beyond = half_wide + size, half_high + size  # with its outline; a copy that is farther off is not seen
            for dx in (at for at in (-wide, 0, wide) if -beyond[0] < x + at < wide + beyond[0]):
                for dy in (at for at in (-high, 0, high) if -beyond[1] < y + at < high + beyond[1]):
                    painter.drawEllipse(QPointF(x + dx, y + dy), half_wide, half_high)
    painter.end()
    return tile


@lru_cache(maxsize=64)
def tile(pattern: str, colour: str, size: int) -> QImage:
    """A small transparent tile that repeats as a hatch."""
    tile = QImage(2 * size, 2 * size, QImage.Format.Format_ARGB32_Premultiplied)
    tile.fill(Qt.GlobalColor.transparent)
    painter = QPainter(tile)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink = QColor(colour)
    ink.setAlphaF(0.55)
    painter.setPen(QPen(ink, max(1.0, size / 14)))
    s = float(size)
    for start, end in _TILES.get(pattern, ()):
        painter.drawLine(QPointF(start[0] * s, start[1] * s), QPointF(end[0] * s, end[1] * s))
    for x, y, radius in _DOTS.get(pattern, ()):
        painter.drawEllipse(QPointF(x * s, y * s), radius * s, radius * s)
    painter.end()
    return tile


_TILES = {
    "brick": (((0.1, 0.3), (0.8, 0.3)), ((1.2, 0.3), (1.9, 0.3)), ((0.6, 1.3), (1.3, 1.3)), ((0.45, 0.3), (0.25, 0.65)), ((1.55, 0.3), (1.35, 0.65)), ((0.95, 1.3), (0.75, 1.65))),
    "dashes": (((0.2, 0.5), (0.7, 0.5)), ((1.2, 1.5), (1.7, 1.5))),
    "strokes": (((0.0, 1.0), (1.0, 0.0)), ((1.0, 2.0), (2.0, 1.0))),
    "level": (((0.2, 0.6), (0.9, 0.6)), ((1.1, 1.6), (1.8, 1.6))),
    "trees": (((0.5, 0.9), (0.5, 0.5)), ((1.5, 1.9), (1.5, 1.5))),
}  # fmt: skip
_DOTS = {
    "dots": ((0.4, 0.5, 0.06), (1.4, 1.4, 0.06)),
    "pebbles": ((0.45, 0.5, 0.36), (1.45, 0.55, 0.33), (0.95, 1.45, 0.38), (1.9, 1.5, 0.3)),
    "trees": ((0.5, 0.35, 0.22), (1.5, 1.35, 0.22)),
}
