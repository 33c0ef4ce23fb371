"""The drain that a kind of water wants, placed on the plan with first dimensions."""

from __future__ import annotations

import dataclasses
import math

import numpy as np

from weirant.design.grounds import SiteGround, grounds_of, nearest_wet_area
from weirant.design.hand_methods import grid_of
from weirant.design.layout import add_run
from weirant.errors import InputError
from weirant.ground.alignment import Point
from weirant.ground.network import laid_run
from weirant.job import Job
from weirant.job.holes import TestHole
from weirant.job.paths import with_value
from weirant.job.site import FOUNDED, Feature
from weirant.job.situations import USUAL_LAWN, with_place
from weirant.job.soils import soil_at
from weirant.job.water import BOTH_SIDES, HILLSIDE, ONE_SIDE, PARALLEL
from weirant.language import tr
from weirant.outcome.outcome import Outcome

PLACED = {"sideways": tr("curtain drain"), "seep": tr("French drain"), "flat": tr("relief grid"), "footing": tr("footing drain"), "surface": tr("inlet line")}


def wet_areas(job: Job) -> tuple[Feature, ...]:
    """Outlined wet areas that a drain may be placed for."""
    return tuple(f for f in job.features if f.kind == "wet area" and len(f.points) > 2)


def placed(outcome: Outcome, kind: str, area: Feature) -> Job:
    """The job with the drain that a kind of water wants at a wet area, as a sketch to be dragged.

    Raises InputError where the kind wants no drain on the plan, or where there are no shots round the area.
    """
    if kind not in PLACED:
        raise InputError("", tr("this kind of water wants no drain on the plan"))
    surface = outcome.site.surface
    if surface is None:
        raise InputError("", tr("shots round the wet area are wanted before a drain can be placed"))
    box = _Box(outcome, area)
    deep = max((area.dry_depth or USUAL_LAWN) * 1.15, 0.3)
    if kind == "flat":
        return _grid(outcome, area, box, deep)
    if kind == "surface":
        return _run(outcome, [box.low_end, box.lowest_from_end()], deep, tr("inlet line"), collects=False)
    if kind == "sideways":
        ends = box.side(-outcome.rules.curtain_uphill)
        deep = max(deep, soil_at(outcome.job, *area.middle).hard_layer_depth or 0.0)
    elif kind == "footing":
        ends, deep = box.side(outcome.rules.footing_drain_beside), max(deep, _footing_near(outcome.job, area) + 0.05)
    else:
        ends = box.middle()
    return _serving(_run(outcome, ends, deep, PLACED[kind]), area, _SITUATIONS[kind])


_SITUATIONS = {"sideways": HILLSIDE, "footing": ONE_SIDE, "seep": BOTH_SIDES}


def _serving(job: Job, area: Feature, source: str, reach: float | None = None) -> Job:
    """The job with its newest run keeping an area dry, water coming to it from a kind of source."""
    run = job.runs[-1].id
    job = with_value(with_place(job, run, area.id), f"runs.{run}.source", source)
    return job if reach is None else with_value(job, f"runs.{run}.reach", reach)


def _footing_near(job: Job, area: Feature) -> float:
    """Depth m of the deepest footing within 10 m of the middle of an area; nought where none is known."""
    depths = [f.footing_depth for f in job.features if f.kind in FOUNDED and f.footing_depth and any(math.dist(area.middle, (p.x, p.y)) < 10.0 for p in f.points)]
    return max(depths, default=0.0)


class _Box:
    """The box round an area, with how the ground falls over it."""

    def __init__(self, outcome: Outcome, area: Feature) -> None:
        assert outcome.site.surface is not None
        self._surface = outcome.site.surface
        x, y = [p.x for p in area.points], [p.y for p in area.points]
        self.left, self.right, self.low, self.high = min(x), max(x), min(y), max(y)
        self.centre = ((self.left + self.right) / 2, (self.low + self.high) / 2)
        step = max(self.right - self.left, self.high - self.low) / 2
        at = [self.level((self.centre[0] + dx, self.centre[1] + dy)) for dx, dy in ((-step, 0), (step, 0), (0, -step), (0, step))]
        if any(level is None for level in at):
            raise InputError("", tr("shots round {area} are wanted before a drain can be placed", area=area.name))
        west, east, south, north = (float(level) for level in at if level is not None)
        self.fall = ((west - east) / (2 * step), (south - north) / (2 * step))  # towards where the ground falls

    def level(self, point: Point) -> float | None:
        """The ground at a point, m; None beyond the shots."""
        levels, inside = self._surface.at(np.array([point]))
        return float(levels[0]) if inside[0] else None

    def ordered(self, a: Point, b: Point) -> list[Point]:
        """Two ends, the lower one first."""
        low, high = self.level(a), self.level(b)
        return [b, a] if low is not None and high is not None and high < low else [a, b]

    @property
    def low_end(self) -> Point:
        """The lowest corner."""
        corners = [(self.left, self.low), (self.right, self.low), (self.right, self.high), (self.left, self.high)]
        known = [(level, c) for c in corners if (level := self.level(c)) is not None]
        return min(known)[1] if known else corners[0]

    def lowest_from_end(self) -> Point:
        """The middle of the area, as the place of the first inlet."""
        return self.centre

    def side(self, out: float) -> list[Point]:
        """A line along the side that the ground falls from (out < 0: so far outside it), or to (out > 0), the lower end first."""
        along_x = abs(self.fall[1]) >= abs(self.fall[0])
        if along_x:
            uphill = self.high if self.fall[1] < 0 else self.low
            y = uphill + math.copysign(abs(out), uphill - self.centre[1])
            return self.ordered((self.left, y), (self.right, y))
        uphill = self.right if self.fall[0] < 0 else self.left
        x = uphill + math.copysign(abs(out), uphill - self.centre[0])
        return self.ordered((x, self.low), (x, self.high))

    def middle(self) -> list[Point]:
        """A line through the middle along the longer side."""
        if self.right - self.left >= self.high - self.low:
            return self.ordered((self.left, self.centre[1]), (self.right, self.centre[1]))
        return self.ordered((self.centre[0], self.low), (self.centre[0], self.high))


def _run(outcome: Outcome, corners: list[Point], deep: float, name: str, *, collects: bool = True, joins: str = "") -> Job:
    """A run of a name at a depth at its low end; it joins the run of an identity, if any."""
    assert outcome.site.surface is not None
    levels, inside = outcome.site.surface.at(np.array([corners[0]]))
    if not inside[0]:
        raise InputError("", tr("the drain's low end lies beyond the shots: shoot the ground there first"))
    return add_run(outcome.job, corners, collects=collects, joins=joins, ground=round(float(levels[0]) - deep, 3), name=name)


def _grid(outcome: Outcome, area: Feature, box: _Box, deep: float) -> Job:
    """A collector along the lower side and laterals up from it, spaced by the soil of the nearest hole, else the line's."""
    ground = ground_of(outcome, area)
    width = min(box.right - box.left, box.high - box.low)
    grid = grid_of(outcome, width, ground.conductivity if ground else None, ground.porosity if ground else None)
    if grid is None:
        raise InputError("", tr("the drain lies no deeper than what is to be dry: no spacing helps"))
    along_x = abs(box.fall[1]) >= abs(box.fall[0])  # the collector runs across the fall
    low = (box.high if box.fall[1] > 0 else box.low) if along_x else (box.right if box.fall[0] > 0 else box.left)
    far = (box.high + box.low - low) if along_x else (box.right + box.left - low)
    start, end = (box.left, box.right) if along_x else (box.low, box.high)
    count = max(1, math.ceil((end - start) / grid.spacing.value - 1e-9))
    places = [start + (end - start) * (i + 0.5) / count for i in range(count)]

    def point(along: float, across: float) -> Point:
        return (along, across) if along_x else (across, along)

    ends = box.ordered(point(start, low), point(end, low))
    job = _serving(_run(outcome, ends, deep, tr("grid collector")), area, PARALLEL, grid.spacing.value)
    collector = job.runs[-1].id
    for place in places:
        sketch = dataclasses.replace(outcome, job=job)
        lie = laid_run(job, collector).alignment
        foot = lie.point(lie.nearest(point(place, low))[0])
        job = _serving(_run(sketch, [foot, point(place, far)], deep, tr("lateral"), joins=collector), area, PARALLEL, grid.spacing.value)
    return job


def ground_of(outcome: Outcome, area: Feature) -> SiteGround | None:
    """The tested ground of a wet area: of the hole in or nearest to it."""
    def is_near(hole: TestHole) -> bool:
        found = nearest_wet_area(outcome.job, hole)
        return found is not None and found.name == area.name

    names = {tr("at {hole}", hole=hole.name) for hole in outcome.job.holes if is_near(hole)}
    return next((g for g in grounds_of(outcome) if g.name in names), None)
