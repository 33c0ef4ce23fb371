"""Draws how wet the ground is, as a wash of the water's colour over soil and stone."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QColor, QImage, QPainter

from weirant.drawing.primitives import Shade
from weirant.paper.frame import Frame

FAINT, FULL = 0.04, 0.62  # opacity of dry and of saturated ground
MOST = 1600  # pixels across


def draw_shade(painter: QPainter, shade: Shade, frame: Frame, colour: QColor) -> None:
    """Wash the cells of a shade. Drier than saturated fades fast, so that the edge of the groundwater is seen."""
    corner, other = frame.to_paper((float(shade.x[0]), float(shade.y[-1]))), frame.to_paper((float(shade.x[-1]), float(shade.y[0])))
    area = QRectF(corner, other)
    wide, high = (min(max(round(side), 1), MOST) for side in (area.width(), area.height()))
    columns = _cells(shade.x, wide)
    rows = _cells(shade.y, high)[::-1]
    wet = shade.wetness[np.ix_(columns, rows)].T
    opacity = np.where(np.isnan(wet), 0.0, np.where(wet >= 0.999, FULL, FAINT + (0.55 * FULL - FAINT) * np.nan_to_num(np.clip(wet, 0, 1)) ** 4))
    image = np.empty((high, wide, 4), dtype=np.uint8)
    for channel, value in enumerate((colour.blue(), colour.green(), colour.red())):
        image[..., channel] = np.round(value * opacity)  # the format wants colours already weighed
    image[..., 3] = np.round(255 * opacity)
    picture = QImage(image.tobytes(), wide, high, 4 * wide, QImage.Format.Format_ARGB32_Premultiplied)
    painter.drawImage(area, picture)


def _cells(edges: NDArray[np.float64], pixels: int) -> NDArray[np.int64]:
    """Which cell each pixel lies in."""
    at = edges[0] + (np.arange(pixels) + 0.5) / pixels * (edges[-1] - edges[0])
    cells: NDArray[np.int64] = np.clip(np.searchsorted(edges, at, side="right") - 1, 0, len(edges) - 2)
    return cells
