"""Triangles through scattered shots, level and fall at any place.

The triangulation is Delaunay's, from GEOS by way of shapely: it loads in a twentieth of the time that SciPy's takes,
which the command line feels; the tests hold it against SciPy's.
"""

from __future__ import annotations

from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from weirant.errors import InputError
from weirant.language import tr
from weirant.records import dataclass

Array = NDArray[np.float64]
Whole = NDArray[np.int64]
TOGETHER = 1e-3  # m: shots nearer than this are one
FARTHEST = 1e5  # m from the origin


@dataclass(frozen=True, eq=False)
class Surface:
    """Corners m east and north, shape (n, 2); their levels m, shape (n,); triangles as corner numbers, shape (m, 3).

    Triangles turn anticlockwise. ``merged`` counts shots that fell on another and were averaged with it.
    """

    corners: Array
    levels: Array
    triangles: Whole
    merged: int = 0

    @cached_property
    def planes(self) -> tuple[Array, Array]:
        """Fall of each triangle, m/m: gradient east and north, shape (m, 2), and area m², shape (m,)."""
        a, b, c = (self.corners[self.triangles[:, i]] for i in range(3))
        za, zb, zc = (self.levels[self.triangles[:, i]] for i in range(3))
        ab, ac = b - a, c - a
        double = ab[:, 0] * ac[:, 1] - ab[:, 1] * ac[:, 0]
        east = ((zb - za) * ac[:, 1] - (zc - za) * ab[:, 1]) / double
        north = (ab[:, 0] * (zc - za) - ac[:, 0] * (zb - za)) / double
        return np.column_stack([east, north]), double / 2

    @cached_property
    def _index(self) -> shapely.STRtree:
        return shapely.STRtree(shapely.polygons(self.corners[self.triangles]))

    @cached_property
    def _sides(self) -> tuple[Whole, Whole]:
        """A key for each edge, rising, and of how many triangles it is a side.

        By sorting; np.unique would do, but costs the start of the program a twentieth of a second.
        """
        ends = np.sort(np.concatenate([self.triangles[:, [0, 1]], self.triangles[:, [1, 2]], self.triangles[:, [2, 0]]]), axis=1)
        keys = np.sort(ends[:, 0] * len(self.corners) + ends[:, 1])
        first = np.nonzero(np.concatenate([[True], np.diff(keys) > 0]))[0]
        return keys[first], np.diff(np.append(first, len(keys)))

    @cached_property
    def edges(self) -> Whole:
        """Each edge once, as pairs of corner numbers with the smaller first, shape (k, 2)."""
        keys, _ = self._sides
        return np.column_stack([keys // len(self.corners), keys % len(self.corners)])

    @cached_property
    def rim(self) -> Whole:
        """Numbers of the corners on the edge of the surveyed ground, shape (r,)."""
        _, count = self._sides
        on_rim = np.zeros(len(self.corners), dtype=bool)
        on_rim[self.edges[count == 1]] = True
        return np.nonzero(on_rim)[0]

    @cached_property
    def bounds(self) -> tuple[float, float, float, float]:
        """West, south, east and north edge, m."""
        (left, bottom), (right, top) = self.corners.min(axis=0), self.corners.max(axis=0)
        return float(left), float(bottom), float(right), float(top)

    def triangle_at(self, points: Array) -> Whole:
        """Number of the triangle under each point of shape (k, 2); −1 outside the surveyed ground."""
        found = np.full(len(points), -1, dtype=np.int64)
        which, triangle = self._index.query(shapely.points(points), predicate="intersects")
        found[which] = triangle
        return found

    def at(self, points: Array, *, nearest: bool = True) -> tuple[Array, NDArray[np.bool_]]:
        """Levels m at points of shape (k, 2), and whether each lies on surveyed ground.

        Outside, the level is that of the nearest corner, or 0 where that is not wanted.
        """
        points = np.asarray(points, dtype=float).reshape(-1, 2)
        triangle = self.triangle_at(points)
        inside = triangle >= 0
        levels = np.zeros(len(points))
        gradient, _ = self.planes
        corner = self.triangles[triangle[inside], 0]
        levels[inside] = self.levels[corner] + np.sum(gradient[triangle[inside]] * (points[inside] - self.corners[corner]), axis=1)
        for index in np.nonzero(~inside)[0] if nearest else ():
            levels[index] = self.levels[int(np.argmin(np.hypot(*(self.corners - points[index]).T)))]
        return levels, inside


def build_surface(points: Array, levels: Array) -> Surface:
    """Triangulate shots at points (n, 2), m, with levels (n,), m.

    Shots within 1 mm of each other are averaged. Raises InputError where a number is not finite or beyond 100 km, where
    there are fewer than three shots, or where all lie on one line. Source: Delaunay triangulation, by GEOS.
    """
    points, levels = np.asarray(points, dtype=float).reshape(-1, 2), np.asarray(levels, dtype=float)
    usable = np.isfinite(points).all(axis=1) & np.isfinite(levels) & (np.abs(points) <= FARTHEST).all(axis=1)
    if not usable.all():
        raise InputError(tr("shot {usable}", usable=int(np.argmin(usable)) + 1), tr("must have finite coordinates within 100 km and a level"))
    corners, levels, merged = _apart(points, levels)
    if len(corners) < 3:
        raise InputError("ground", tr("needs at least three shots at different places"), len(corners))
    triangles = _triangulate(corners)
    if not len(triangles):
        raise InputError("ground", tr("cannot be told from shots on one line; shoot some to the side of it"))
    return Surface(corners, levels, triangles, merged)


def _apart(points: Array, levels: Array) -> tuple[Array, Array, int]:
    """Shots at one place averaged; places are told apart on a millimetre grid."""
    cells = np.round(points / TOGETHER)
    order = np.lexsort((cells[:, 1], cells[:, 0]))
    new = np.concatenate([[True], np.any(np.diff(cells[order], axis=0) != 0, axis=1)]) if len(points) else np.zeros(0, dtype=bool)
    group = np.cumsum(new) - 1
    count = np.bincount(group)
    return points[order][new], np.bincount(group, levels[order]) / count, int(len(points) - new.sum())


def _triangulate(corners: Array) -> Whole:
    if np.linalg.matrix_rank(corners - corners.mean(axis=0), tol=1e-6 * max(1.0, float(np.ptp(corners)))) < 2:
        return np.empty((0, 3), dtype=np.int64)
    rings = shapely.get_coordinates(shapely.delaunay_triangles(shapely.multipoints(corners))).reshape(-1, 4, 2)[:, :3]
    order = np.lexsort((corners[:, 1], corners[:, 0]))
    # as complex numbers, which NumPy orders by x and then by y, and compares four times as fast as pairs
    key = corners[order].view(np.complex128).reshape(-1)
    wanted = np.ascontiguousarray(rings.reshape(-1, 2)).view(np.complex128).reshape(-1)
    triangles: Whole = order[np.minimum(np.searchsorted(key, wanted), len(key) - 1)].reshape(-1, 3)
    a, b, c = (corners[triangles[:, i]] for i in range(3))
    double = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    triangles[double < 0] = triangles[double < 0][:, ::-1]
    longest = np.maximum.reduce([np.sum((a - b) ** 2, axis=1), np.sum((b - c) ** 2, axis=1), np.sum((c - a) ** 2, axis=1)])
    return np.asarray(triangles[np.abs(double) > 1e-9 * longest])  # slivers on a straight rim have no level of their own
