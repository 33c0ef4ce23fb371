"""Where water that comes out over the ground runs to: over the lowest ground round it first, filling hollows on its way."""

from __future__ import annotations

from heapq import heappop, heappush
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from weirant.ground.surface.triangles import Surface

Array = NDArray[np.float64]
STEP, MOST = 1.0, 1500  # m between places, and how many of them are looked at
NEAR = 1.5  # m within which an inlet catches what runs by (common practice, no source)
DEEPEST = 0.15  # m to which a hollow fills before water leaves it: deeper ones hold what comes (common practice, no source)
FALLS = 0.005  # m by which an inlet must lie lower
OFF = (10**9, 10**9)  # stands for all places off the known ground
ROUND = [(i, j) for i in (-1, 0, 1) for j in (-1, 0, 1) if i or j]


MET, HOLLOW, OFF_IT, LOST = "met", "hollow", "off", "lost"  # how a trail ends: at what was looked for, in a hollow, over the edge of the known ground, or nobody knows


class Trail(NamedTuple):
    """Where water from a place runs over the ground: how that ends, which of the places looked for it met, and the place m east and north."""

    ends: str
    met: int | None
    at: tuple[float, float]


def runs_to(surface: Surface, start: tuple[float, float], inlets: Array) -> int | None:
    """The first of some inlets, (n, 2) m, that water from a place comes by; None where it comes by none, stays in a hollow, or leaves the ground that is known."""
    return trail(surface, start, inlets).met


def trail(surface: Surface, start: tuple[float, float], looked_for: Array) -> Trail:
    """Follow water from a place over the ground, m, until it comes by one of the places looked for, (n, 2) m.

    Flooding by priority from the place on (Barnes et al. 2014): of all places that it touches water goes to the lowest.
    """
    begins = np.array(start, dtype=float)
    level = float(surface.at(begins)[0][0])
    seen, waiting, stood, last = {(0, 0)}, [(level, 0.0, (0, 0))], level, start
    for _ in range(MOST):
        if not waiting:
            return Trail(LOST, None, last)
        here, far, (i, j) = heappop(waiting)  # of places as low the one by the shortest way
        if (i, j) == OFF:
            return Trail(OFF_IT, None, last)
        place = begins + STEP * np.array((i, j))
        stood = here if here < stood else stood
        if here > stood + DEEPEST:
            return Trail(HOLLOW, None, last)
        last = (float(place[0]), float(place[1])) if here <= stood else last
        off = np.hypot(*(looked_for - place).T) if len(looked_for) else np.full(1, np.inf)
        if off.min() <= NEAR and here <= level - FALLS:
            return Trail(MET, int(off.argmin()), last)
        fresh = [(i + a, j + b) for a, b in ROUND if (i + a, j + b) not in seen]
        seen.update(fresh)
        if fresh:
            levels, known = surface.at(begins + STEP * np.array(fresh, dtype=float), nearest=False)
            for cell, found, is_known in zip(fresh, levels.tolist(), known.tolist(), strict=True):
                way = far + float(np.hypot(cell[0] - i, cell[1] - j))
                heappush(waiting, (found, way, cell) if is_known else (here, way, OFF))  # over the edge of what is known it goes
    return Trail(LOST, None, last)
