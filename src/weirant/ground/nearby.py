"""Which things of a site lie near a run: by the boxes round them, so that the many that do not are not looked at."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from weirant.ground.network import LaidRun
from weirant.job.site import Feature
from weirant.records import dataclass

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Things:
    """The things of a site with the boxes round them: west, south, east and north, m, shape (n, 4)."""

    things: tuple[Feature, ...]
    boxes: Array

    def near(self, run: LaidRun, reach: float) -> list[Feature]:
        """The things whose boxes come within a reach m of the box round a run, in the order of the job."""
        if not self.things:
            return []
        (west, south), (east, north) = run.alignment.points.min(axis=0) - reach, run.alignment.points.max(axis=0) + reach
        here = (self.boxes[:, 0] <= east) & (self.boxes[:, 2] >= west) & (self.boxes[:, 1] <= north) & (self.boxes[:, 3] >= south)
        return [self.things[i] for i in np.flatnonzero(here).tolist()]


def things_of(features: tuple[Feature, ...]) -> Things:
    """The things that have a place, with their boxes."""
    placed = tuple(f for f in features if f.points)
    boxes = [(min(xs := [p.x for p in f.points]), min(ys := [p.y for p in f.points]), max(xs), max(ys)) for f in placed]
    return Things(placed, np.array(boxes, dtype=float).reshape(-1, 4))
