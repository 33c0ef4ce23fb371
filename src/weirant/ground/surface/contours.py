"""Contour lines across the triangles."""

from __future__ import annotations

from collections import defaultdict

import numpy as np
from numpy.typing import NDArray

from weirant.ground.surface.triangles import Surface, Whole
from weirant.records import dataclass

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Contour:
    """One line of one level: m; points of shape (k, 2), the first again as the last where it closes."""

    level: float
    points: Array

    @property
    def closed(self) -> bool:
        """Whether the line runs back into itself."""
        return len(self.points) > 3 and bool(np.all(self.points[0] == self.points[-1]))


def contour_levels(surface: Surface, interval: float) -> Array:
    """Levels at whole multiples of an interval m (> 0) that the surface crosses."""
    low, high = float(surface.levels.min()), float(surface.levels.max())
    return np.arange(np.ceil(low / interval), np.floor(high / interval) + 1) * interval


def contours(surface: Surface, levels: Array, only: Whole | None = None) -> list[Contour]:
    """The contour lines of levels m, shape (k,); ``only`` keeps to some triangles, by number.

    A corner exactly on a level counts as above it, so that every line crosses edges and none is doubled.
    """
    triangles = surface.triangles if only is None else surface.triangles[only]
    found: list[Contour] = []
    z = surface.levels[triangles]
    for level in levels.tolist():
        above = z >= level
        cut = above.any(axis=1) & ~above.all(axis=1)
        if cut.any():
            found += _chained(surface, triangles[cut], above[cut], level)
    return found


def _chained(surface: Surface, triangles: Whole, above: NDArray[np.bool_], level: float) -> list[Contour]:
    """Segments, one a triangle, strung into lines by the edges they share."""
    ends = np.empty((len(triangles), 2), dtype=np.int64)
    number = len(surface.corners)
    filled = np.zeros(len(triangles), dtype=np.int64)
    for i, j in ((0, 1), (1, 2), (2, 0)):
        crosses = np.nonzero(above[:, i] != above[:, j])[0]
        a, b = triangles[crosses, i], triangles[crosses, j]
        ends[crosses, filled[crosses]] = np.minimum(a, b) * number + np.maximum(a, b)
        filled[crosses] += 1
    edges, inverse = np.unique(ends, return_inverse=True)
    a, b = edges // number, edges % number
    share = (level - surface.levels[a]) / (surface.levels[b] - surface.levels[a])
    points = surface.corners[a] + share[:, None] * (surface.corners[b] - surface.corners[a])
    return [Contour(level, points[chain]) for chain in _chains(inverse.reshape(-1, 2).tolist())]


def _chains(segments: list[list[int]]) -> list[list[int]]:
    """Strings of points from segments; each point lies on one or two of them."""
    beside: dict[int, list[int]] = defaultdict(list)
    for a, b in segments:
        beside[a].append(b)
        beside[b].append(a)
    chains = []
    starts = [p for p, near in beside.items() if len(near) == 1] + list(beside)
    for start in starts:
        if not beside[start]:
            continue
        chain = [start]
        while beside[chain[-1]]:
            here = chain[-1]
            ahead = beside[here].pop()
            beside[ahead].remove(here)
            chain.append(ahead)
        chains.append(chain)
    return chains
