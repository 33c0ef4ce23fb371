"""Shots that stand out from their neighbours in plan: marked for a second look, never dropped."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from weirant.ground.surface.triangles import Surface, Whole

Array = NDArray[np.float64]
SPIKE = 1.0  # m off its neighbours: more is looked at twice (common practice, no source)


def spikes(surface: Surface, least: float = SPIKE) -> Whole:
    """Numbers of the corners that stand off their neighbours by more than ``least`` m and more than twice their spread.

    The height expected at a corner is that of its neighbours' plane, near enough their mean weighted by nearness.
    """
    a, b = surface.edges.T
    source, target = np.concatenate([a, b]), np.concatenate([b, a])
    near = 1 / np.maximum(np.hypot(*(surface.corners[source] - surface.corners[target]).T), 1e-3)
    number, total = len(surface.corners), np.bincount(source, near, len(surface.corners))
    known = total > 0  # a corner without neighbours stands off nothing
    total = np.where(known, total, 1.0)
    mean = np.bincount(source, near * surface.levels[target], number) / total
    spread = np.sqrt(np.maximum(np.bincount(source, near * surface.levels[target] ** 2, number) / total - mean**2, 0.0))
    return np.nonzero(known & (np.abs(surface.levels - mean) > least + 2 * spread))[0]
