"""The grounds of a site that a drain may be thought of in: along the line, and at each test hole that was tested."""

from __future__ import annotations

import math

from weirant.design.across import edges_at
from weirant.design.holes import PLACE, fit
from weirant.errors import InputError
from weirant.job import Job
from weirant.job.holes import TestHole
from weirant.job.site import Feature
from weirant.job.soil import Band
from weirant.job.soils import soil_at
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.records import dataclass


@dataclass(frozen=True)
class SiteGround:
    """A ground by its name: conductivity (None: that of the line), share of pores that drain, and the width across m of the area that is to be
    dry there (nought: none is); and the name of that.
    """

    name: str
    conductivity: Band | None
    porosity: float | None
    width: float
    area: str


def grounds_of(outcome: Outcome, run: str = "") -> tuple[SiteGround, ...]:
    """The ground along a run first, then every hole with a test that can be fitted."""
    job, of_line = outcome.job, _along(outcome, run)
    found = [of_line]
    for hole in job.holes:
        band = _band(hole)
        if band is not None:
            area = nearest_wet_area(job, hole)
            texture = hole.log[-1].texture if hole.log else soil_at(job, hole.x, hole.y).layers[-1].texture
            found.append(SiteGround(tr("at {hole}", hole=hole.name), band, outcome.library.texture(texture).drainable_porosity, width_across(area) if area else of_line.width,
                                    area.name if area else of_line.area))  # fmt: skip
    return tuple(found)


def _along(outcome: Outcome, run: str) -> SiteGround:
    """The ground along a run, with the place that it keeps dry as wide as it lies across the run."""
    found = outcome.chosen(run)
    place, edges = found.part.place, edges_at(found, found.part, found.part.station)
    if place is None or edges is None:
        return SiteGround(tr("along the line"), None, None, 0.0, "")
    return SiteGround(tr("along the line"), None, None, edges[1] - edges[0], place.name)


def _band(hole: TestHole) -> Band | None:
    for test in hole.tests:
        try:
            best = fit(test).best
        except InputError:
            continue
        return Band(best / PLACE, best, best * PLACE)
    return None


def nearest_wet_area(job: Job, hole: TestHole) -> Feature | None:
    """The wet area that holds a hole, or the nearest within 10 m."""
    areas = [f for f in job.features if f.kind == "wet area" and len(f.points) > 2]

    def away(area: Feature) -> float:
        x, y = [p.x for p in area.points], [p.y for p in area.points]
        return math.hypot(max(min(x) - hole.x, 0.0, hole.x - max(x)), max(min(y) - hole.y, 0.0, hole.y - max(y)))

    near = [a for a in areas if away(a) < 10.0]
    return min(near, key=away) if near else None


def width_across(area: Feature) -> float:
    """The smaller side of the box round an area, m: laterals run along the longer one."""
    x, y = [p.x for p in area.points], [p.y for p in area.points]
    return max(min(max(x) - min(x), max(y) - min(y)), 0.1)
