"""The ground that sheds its surface water to a line: every spot whose way of steepest fall crosses it."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from weirant.ground.surface.triangles import Surface

Array = NDArray[np.float64]
CELL, MOST = 0.75, 60_000  # m; cells


def area_draining_to(surface: Surface, line: Array) -> float:
    """Area in plan, m², that drains over a line (n, 2) m, by steepest fall between the eight neighbours on square cells.

    The cell is 0.75 m, or larger where there would be more than 60,000. What lies beyond the shots is not counted.
    Source of the method: O'Callaghan and Mark 1984, The extraction of drainage networks from digital elevation data.
    """
    west, south, east, north = surface.bounds
    cell = max(CELL, float(np.sqrt((east - west) * (north - south) / MOST)))
    x, y = np.arange(west + cell / 2, east, cell), np.arange(south + cell / 2, north, cell)
    if len(x) < 2 or len(y) < 2:
        return 0.0
    grid_x, grid_y = np.meshgrid(x, y)
    levels, inside = surface.at(np.column_stack((grid_x.ravel(), grid_y.ravel())))
    level = np.where(inside, levels, np.inf).reshape(grid_x.shape)
    near = shapely.distance(shapely.linestrings(line), shapely.points(grid_x, grid_y)) <= 0.71 * cell
    to = _receivers(level)
    reached = (near & np.isfinite(level)).ravel()
    # from the lowest up, so that what a cell drains to is settled before it
    for index in np.argsort(level, axis=None).tolist():
        if not reached[index] and to[index] >= 0:
            reached[index] = reached[to[index]]
    return float(np.count_nonzero(reached & np.isfinite(level).ravel()) * cell * cell)


def _receivers(level: Array) -> NDArray[np.int64]:
    """Number of the cell that each cell drains to (n,); −1 for a low spot and beyond the shots."""
    rows, columns = level.shape
    padded = np.pad(level, 1, constant_values=np.inf)
    best, to = np.zeros(level.shape), np.full(level.shape, -1, dtype=np.int64)
    number = np.arange(rows * columns).reshape(rows, columns)
    numbers = np.pad(number, 1, constant_values=-1)
    for down in (-1, 0, 1):
        for along in (-1, 0, 1):
            if not (down or along):
                continue
            other = padded[1 + down : 1 + down + rows, 1 + along : 1 + along + columns]
            with np.errstate(invalid="ignore"):
                fall = (level - other) / np.hypot(down, along)
            steeper = np.isfinite(fall) & (fall > best + 1e-12)
            best = np.where(steeper, fall, best)
            to = np.where(steeper, numbers[1 + down : 1 + down + rows, 1 + along : 1 + along + columns], to)
    return to.ravel()
