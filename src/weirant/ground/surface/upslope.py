"""The ground that sheds its surface water to a line: every spot by the share of its water that crosses it."""

from __future__ import annotations

import heapq

import numpy as np
import shapely
from numpy.typing import NDArray

from weirant.ground.surface.triangles import Surface

Array = NDArray[np.float64]
Whole = NDArray[np.int64]
CELL, MOST = 0.75, 60_000  # m; cells
WAYS = tuple((down, along) for down in (-1, 0, 1) for along in (-1, 0, 1) if down or along)
TILT = 1e-6  # m from cell to cell by which a filled hollow falls to where it spills
ROUGH, LEAST = 4.0, 1e-3  # times the roughness, and m, that water may stand deep before it leaves over the rim of what was shot
SPREAD = 4.0  # power of the fall by which water is shared out


def area_draining_to(surface: Surface, line: Array) -> float:
    """Area in plan, m², that drains over a line (n, 2) m, on square cells of 0.75 m, or larger where there would be more than 60,000.

    Hollows are filled to where they spill (Barnes, Lehman and Mulla 2014), so that a shot a little low does not keep the water of all that lies above;
    from each cell water goes to all lower neighbours by a power of their fall (Freeman 1991). What lies beyond the shots is not counted.
    """
    west, south, east, north = surface.bounds
    cell = max(CELL, float(np.sqrt((east - west) * (north - south) / MOST)))
    x, y = np.arange(west + cell / 2, east, cell), np.arange(south + cell / 2, north, cell)
    if len(x) < 2 or len(y) < 2:
        return 0.0
    grid_x, grid_y = np.meshgrid(x, y)
    levels, inside = surface.at(np.column_stack((grid_x.ravel(), grid_y.ravel())))
    level = np.where(inside, levels, np.inf).reshape(grid_x.shape)
    near = _near(line, grid_x, grid_y, cell)
    # water leaves over the rim of what was shot where it would have to stand deeper than the ground is rough to come to the line
    to_line = _filled(level, near)
    spacing = float(np.sqrt((east - west) * (north - south) / max(len(surface.corners), 1)))
    with np.errstate(invalid="ignore"):  # where nothing was shot
        stands = to_line - level
    leaves = _rim(level) & (stands > ROUGH * _roughness(level, spacing / cell) + LEAST)
    filled = _filled(level, near | leaves)
    return float(_crossing(filled, near).sum() * cell * cell)


def _near(line: Array, grid_x: Array, grid_y: Array, cell: float) -> NDArray[np.bool_]:
    """Cells that a line goes through, with no gap at their corners; beyond its ends none."""
    drawn, places = shapely.linestrings(line), shapely.points(grid_x, grid_y)
    away, along = shapely.distance(drawn, places), shapely.line_locate_point(drawn, places)
    is_beyond = ((along <= 0) | (along >= shapely.length(drawn))) & (away > cell / 4)
    return np.asarray((away <= 0.71 * cell) & ~is_beyond)


def _rim(level: Array) -> NDArray[np.bool_]:
    """Cells beside which nothing was shot."""
    (rows, columns), padded = level.shape, np.pad(level, 1, constant_values=np.inf)
    beside = [~np.isfinite(padded[1 + down : 1 + down + rows, 1 + along : 1 + along + columns]) for down, along in WAYS]
    return np.asarray(np.isfinite(level) & np.any(beside, axis=0))


def _roughness(level: Array, spacing: float) -> float:
    """How far the ground usually lies off its mean round about, m, over some shots; ``spacing`` of shots in cells. Even slopes are not rough."""
    from scipy.ndimage import uniform_filter  # a third of a second to load, and seldom asked for

    size, inside = 2 * max(1, round(1.5 * spacing)) + 1, np.isfinite(level)
    mean = uniform_filter(np.where(inside, level, 0.0), size)
    whole = inside & (uniform_filter(inside.astype(float), size) > 1 - 1e-9)
    off = np.abs(level[whole] - mean[whole])
    return 1.4826 * float(np.median(off)) if off.size else 0.0


def _filled(level: Array, open_: NDArray[np.bool_]) -> Array:
    """Levels with every hollow filled to where it spills into one of the ``open_`` cells."""
    padded = np.pad(level, 1, constant_values=np.inf)
    is_seed, wide = np.isfinite(level) & open_, level.shape[1] + 2
    found, is_done = padded.ravel().tolist(), (~np.isfinite(padded)).ravel().tolist()
    heap = []
    for row, column in zip(*np.nonzero(is_seed), strict=True):
        number = (int(row) + 1) * wide + int(column) + 1
        is_done[number] = True
        heap.append((found[number], number))
    heapq.heapify(heap)
    steps = [down * wide + along for down, along in WAYS]
    while heap:
        here, number = heapq.heappop(heap)
        for step in steps:
            other = number + step
            if not is_done[other]:
                is_done[other] = True
                found[other] = max(found[other], here + TILT)
                heapq.heappush(heap, (found[other], other))
    return np.array(found).reshape(padded.shape)[1:-1, 1:-1]


def _crossing(level: Array, near: NDArray[np.bool_]) -> Array:
    """Share of each cell's water that comes to a cell ``near`` the line (cells,)."""
    rows, columns = level.shape
    from scipy.sparse import csr_array, eye_array
    from scipy.sparse.linalg import spsolve_triangular

    padded, numbers = np.pad(level, 1, constant_values=np.inf), np.pad(np.arange(rows * columns).reshape(rows, columns), 1, constant_values=0)
    falls, to = [], []
    for down, along in WAYS:
        place = slice(1 + down, 1 + down + rows), slice(1 + along, 1 + along + columns)
        with np.errstate(invalid="ignore"):
            fall = (level - padded[place]) / np.hypot(down, along)
        falls.append(np.where(np.isfinite(fall) & (fall > 0), fall, 0.0).ravel() ** SPREAD)
        to.append(numbers[place].ravel())
    weights, towards = np.array(falls), np.array(to)
    whole, reached, inside = weights.sum(axis=0), near.ravel(), np.isfinite(level).ravel()
    leads = inside & ~reached & (whole > 0)
    order = np.argsort(level, axis=None, kind="stable")
    rank = np.empty_like(order)
    rank[order] = np.arange(len(order))
    way, cell = np.nonzero(weights * leads)
    shares = csr_array((weights[way, cell] / whole[cell], (rank[cell], rank[towards[way, cell]])), shape=(len(order), len(order)))
    # from the lowest up, so that what a cell drains to is settled before it
    found = spsolve_triangular(csr_array(eye_array(len(order)) - shares), (reached & inside)[order].astype(float), lower=True, unit_diagonal=True)
    return np.asarray(found)
