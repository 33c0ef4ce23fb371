"""What is read off a simulated section: water table, depth to water, times."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from weirant.seepage.kernel.step import intake
from weirant.seepage.mesh import Laid

Array = NDArray[np.float64]
EVERY = slice(None)


def table_depths(laid: Laid, head: Array) -> Array:
    """Depth of the water table in every column, m (columns,): the top of the water that rests on the hard layer.

    NaN in no case: a column without water has its table at the hard layer; within a footing it is that of the ground below.
    """
    h = head.reshape(laid.media.shape)
    depth, tilt = laid.depth, math.cos(math.atan(laid.section.slope))
    rows = len(depth)
    wet = (h >= 0) & ~laid.solid
    dry_from_below = np.argmin(wet[:, ::-1], axis=1)  # rows of water counted from the bottom
    dry_from_below[wet.all(axis=1)] = rows
    top = rows - dry_from_below  # first row of that water
    at = np.clip(top, 0, rows - 1)
    column = np.arange(len(h))
    rise = h[column, at] / tilt
    above = np.clip(at - 1, 0, rows - 1)
    # between the centres of the last dry and the first wet row the head runs on straight
    over = h[column, above]
    gap = depth[at] - depth[above]
    between = np.where((over < 0) & (h[column, at] > 0) & ~laid.solid[column, above], gap * h[column, at] / np.maximum(h[column, at] - over, 1e-12), rise)
    found = depth[at] - np.minimum(between, np.maximum(rise, gap))
    return np.where(dry_from_below == 0, laid.section.depth, np.clip(found, 0.0, laid.section.depth))


def depth_to_water(laid: Laid, head: Array, columns: slice = EVERY) -> Array:
    """Depth at which a hole would first meet water, m (columns,): also water that stands above a dry layer. Of all columns, or of some."""
    h, solid = head.reshape(laid.media.shape)[columns], laid.solid[columns]
    wet = (h >= 0) & ~solid
    first = np.argmax(wet, axis=1)
    column, depth = np.arange(len(h)), laid.depth
    here, above = h[column, first], h[column, np.maximum(first - 1, 0)]
    rise = here / math.cos(math.atan(laid.section.slope))
    gap = depth[first] - depth[np.maximum(first - 1, 0)]
    # between the centres of the last dry and the first wet row the head runs on straight
    is_free = (first > 0) & (above < 0) & ~solid[column, np.maximum(first - 1, 0)]
    found = depth[first] - np.where(is_free, gap * here / np.maximum(here - above, 1e-12), rise)
    return np.where(wet.any(axis=1), np.clip(found, 0.0, laid.section.depth), laid.section.depth)


def pipe_flow(laid: Laid, head: Array) -> float:
    """What the pipe takes at pressure heads (n,) m, m²/s."""
    mesh, total = laid.mesh, 0.0
    for cell, conductance, square, level in zip(mesh.sink_cell, mesh.sink_conductance, mesh.sink_square, mesh.sink_level, strict=True):
        h = float(head[cell])
        wet = float(laid.materials[mesh.material[cell]].permeability(h)) if h < 0 else 1.0
        total += wet * intake(h + float(mesh.elevation[cell]) - level, conductance, square)[0]
    return total
