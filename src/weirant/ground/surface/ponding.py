"""Low spots: where water stands after rain, how deep, how much, what feeds it and where it spills.

The surface is straight between shots, so that its low points and its saddles are corners of triangles; filling the
corners in order of level from the rim inwards therefore gives the spill levels exactly, and the volumes are integrals
over triangles, not counts of cells. Source: priority-flood filling, Barnes, Lehman and Mulla 2014 (recalled), on the
edges of the triangles instead of a raster.
"""

from __future__ import annotations

import heapq

import numpy as np
from numpy.typing import NDArray

from weirant.ground.surface.contours import contours
from weirant.ground.surface.triangles import Surface, Whole
from weirant.records import dataclass

Array = NDArray[np.float64]
SHALLOWEST = 0.01  # m: a dip less deep than this is no low spot but the roughness of the ground


@dataclass(frozen=True, eq=False)
class LowSpot:
    """A place where water stands: lowest point and spill point (m, m), levels m, depth m, area m², volume m³.

    ``catchment`` m² is the ground that drains to it first; ``feeds`` are the numbers of the triangles that lie in it for
    the most part; ``outline`` holds the edge of the water, closed lines of shape (k, 2).
    """

    lowest: tuple[float, float]
    bottom: float
    level: float
    spill: tuple[float, float]
    area: float
    volume: float
    catchment: float
    feeds: Whole
    outline: tuple[Array, ...]

    @property
    def depth(self) -> float:
        """Depth of the water when it begins to spill, m."""
        return self.level - self.bottom


def low_spots(surface: Surface, shallowest: float = SHALLOWEST) -> list[LowSpot]:
    """Every low spot deeper than ``shallowest`` m, the largest volume first."""
    fill, parent, order = _flooded(surface)
    wet = fill - surface.levels > 1e-9
    pond = _ponds(surface, wet)
    label = _drained_to(surface, parent, pond)
    share = _corner_areas(surface)
    spots = []
    for number in range(int(pond.max()) + 1 if len(pond) else 0):
        members = np.nonzero(pond == number)[0]
        deepest = members[np.argmin(surface.levels[members])]
        level = float(fill[deepest])
        if level - surface.levels[deepest] < shallowest:
            continue
        touching = np.nonzero((pond[surface.triangles] == number).any(axis=1))[0]
        area, volume = _held(surface, touching, level)
        fed = label == number
        feeds = np.nonzero(fed[surface.triangles].sum(axis=1) >= 2)[0]
        spill = _spill(members, parent, order, pond, number)
        lines = contours(surface, np.array([level]), touching)
        spots.append(LowSpot(_place(surface, int(deepest)), float(surface.levels[deepest]), level, _place(surface, spill), area, volume,
                             float(share[fed].sum()), feeds, tuple(line.points for line in lines)))  # fmt: skip
    return sorted(spots, key=lambda spot: -spot.volume)


def _place(surface: Surface, corner: int) -> tuple[float, float]:
    return float(surface.corners[corner, 0]), float(surface.corners[corner, 1])


def _neighbours(surface: Surface) -> tuple[list[int], list[int]]:
    """Neighbours of every corner, one after the other, and where those of each begin."""
    both = np.concatenate([surface.edges, surface.edges[:, ::-1]])
    both = both[np.argsort(both[:, 0], kind="stable")]
    starts = np.searchsorted(both[:, 0], np.arange(len(surface.corners) + 1))
    return both[:, 1].tolist(), starts.tolist()


def _flooded(surface: Surface) -> tuple[Array, Whole, Whole]:
    """Water level at each corner if it rained without end, the corner it leaves by, and the order of filling."""
    beside, starts = _neighbours(surface)
    z = surface.levels.tolist()
    fill, parent, order = list(z), [-1] * len(z), [0] * len(z)
    seen = bytearray(len(z))
    heap = [(z[rim], int(rim)) for rim in surface.rim]
    for _, rim in heap:
        seen[rim] = 1
    heapq.heapify(heap)
    count = 0
    while heap:
        level, here = heapq.heappop(heap)
        order[here] = count
        count += 1
        for near in beside[starts[here] : starts[here + 1]]:
            if not seen[near]:
                seen[near] = 1
                parent[near] = here
                fill[near] = max(z[near], level)
                heapq.heappush(heap, (fill[near], near))
    return np.array(fill), np.array(parent, dtype=np.int64), np.array(order, dtype=np.int64)


def _ponds(surface: Surface, wet: NDArray[np.bool_]) -> Whole:
    """Number of the pond each corner lies under, −1 where dry: corners under water that touch are one pond."""
    pond = np.where(wet, np.arange(len(wet)), -1)
    joined = surface.edges[wet[surface.edges].all(axis=1)]
    while len(joined):
        lower = np.minimum(pond[joined[:, 0]], pond[joined[:, 1]])
        before = pond.copy()
        np.minimum.at(pond, joined[:, 0], lower)
        np.minimum.at(pond, joined[:, 1], lower)
        pond[wet] = pond[pond[wet]]
        if (pond == before).all():
            break
    _names, number = np.unique(pond[wet], return_inverse=True)
    pond[wet] = number
    return pond


def _drained_to(surface: Surface, parent: Whole, pond: Whole) -> Whole:
    """Pond to which each corner drains first, −1 for off the surveyed ground: down the steepest edge, then onwards."""
    a, b = surface.edges.T
    drop = surface.levels[a] - surface.levels[b]
    grade = drop / np.hypot(*(surface.corners[a] - surface.corners[b]).T)
    source, target, steep = np.concatenate([a, b]), np.concatenate([b, a]), np.concatenate([grade, -grade])
    falls = steep > 0
    source, target, steep = source[falls], target[falls], steep[falls]
    best = np.lexsort((steep, source))
    ahead = parent.copy()
    ahead[source[best]] = target[best]  # of several the last, which is the steepest, stays
    everyone = np.arange(len(ahead))
    ends = (pond >= 0) | (ahead < 0)
    ahead[ends] = everyone[ends]
    while not (ahead[ahead] == ahead).all():
        ahead = ahead[ahead]
    return pond[ahead]


def _corner_areas(surface: Surface) -> Array:
    """A third of the area of the triangles round each corner, m²."""
    _, areas = surface.planes
    return np.bincount(surface.triangles.reshape(-1), np.repeat(areas / 3, 3), len(surface.corners)).astype(float)


def _held(surface: Surface, touching: Whole, level: float) -> tuple[float, float]:
    """Area m² and volume m³ of water up to a level over some triangles, exact for straight ground."""
    depth = np.sort(level - surface.levels[surface.triangles[touching]], axis=1)[:, ::-1]  # deepest first
    areas = surface.planes[1][touching]
    d0, d1, d2 = depth.T
    with np.errstate(divide="ignore", invalid="ignore"):
        one = np.where(d0 > 0, d0**2 / ((d0 - d1) * (d0 - d2)), 0.0)  # share of the area where one corner is wet
        dry = d2**2 / ((d0 - d2) * (d1 - d2))  # dry share where one corner is dry
    share = np.where(d2 >= 0, 1.0, np.where(d1 > 0, 1 - dry, one))
    mean = np.where(d2 >= 0, (d0 + d1 + d2) / 3, np.where(d1 > 0, (d0 + d1 + d2 - d2 * dry) / 3, d0 * one / 3))
    wet = d0 > 0
    return float(np.sum(areas[wet] * share[wet])), float(np.sum(areas[wet] * mean[wet]))


def _spill(members: Whole, parent: Whole, order: Whole, pond: Whole, number: int) -> int:
    """The corner over which the pond runs off: the way out of the member that was filled first."""
    first = int(members[np.argmin(order[members])])
    return int(parent[first]) if parent[first] >= 0 else first
