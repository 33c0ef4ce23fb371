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
    """Wash the cells of a shade, smoothly from cell to cell. Drier than saturated fades fast, so that the edge of the groundwater is seen."""
    corner, other = frame.to_paper((float(shade.x[0]), float(shade.y[-1]))), frame.to_paper((float(shade.x[-1]), float(shade.y[0])))
    area = QRectF(corner, other)
    wide, high = (min(max(round(side), 1), MOST) for side in (area.width(), area.height()))
    wet = shade.wetness
    of_cells = np.where(np.isnan(wet), np.nan, np.where(wet >= 0.999, FULL, FAINT + (0.55 * FULL - FAINT) * np.nan_to_num(np.clip(wet, 0, 1)) ** 4))
    opacity = _smooth(_smooth(of_cells, shade.x, wide).T, shade.y, high)[::-1]
    opacity = np.nan_to_num(opacity)
    image = np.empty((high, wide, 4), dtype=np.uint8)
    for channel, value in enumerate((colour.blue(), colour.green(), colour.red())):
        image[..., channel] = np.round(value * opacity)  # the format wants colours already weighed
    image[..., 3] = np.round(255 * opacity)
    picture = QImage(image.tobytes(), wide, high, 4 * wide, QImage.Format.Format_ARGB32_Premultiplied)
    painter.drawImage(area, picture)


def _smooth(values: NDArray[np.float64], edges: NDArray[np.float64], pixels: int) -> NDArray[np.float64]:
    """Values of cells (cells, n) at even pixels (pixels, n): straight from middle to middle of the cells, and as in its cell beside what is not a number."""
    at = edges[0] + (np.arange(pixels) + 0.5) / pixels * (edges[-1] - edges[0])
    middles = (edges[1:] + edges[:-1]) / 2
    own: NDArray[np.int64] = np.clip(np.searchsorted(edges, at, side="right") - 1, 0, len(middles) - 1)
    if len(middles) == 1:
        return np.asarray(values[own])
    low = np.clip(np.searchsorted(middles, at) - 1, 0, len(middles) - 2)
    share = np.clip((at - middles[low]) / (middles[low + 1] - middles[low]), 0.0, 1.0)[:, None]
    between = values[low] * (1 - share) + values[low + 1] * share
    return np.asarray(np.where(np.isnan(between), values[own], between))
