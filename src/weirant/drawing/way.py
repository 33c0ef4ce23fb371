"""The long profile along the whole way that water takes from the top of a run to where it leaves the network."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from weirant.drawing.primitives import Area, Drawing, Flag, Handle, Mark, Measure, Point, Ring, Shape, Stroke, Words
from weirant.drawing.profile import axis_shapes, bounds_of, grid_shapes, profile_drawing, profile_handles, run_shapes
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units.display import LEVEL, System, shown

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Reach:
    """A run on the way, from its low end up to a station m, and where on the way its low end lies, m from the outlet."""

    found: RunOutcome
    high: float
    start: float


def way_of(outcome: Outcome, run: str) -> tuple[Reach, ...]:
    """The runs that water goes through from the top of a run down, as far as their ground is known, from the outlet up; where it has several ways,
    the first of them.
    """
    on, high = outcome.run(run), outcome.run(run).run.length
    chain, seen = [(on, high)], {run}
    while on.grade is not None and (ways := [way for way in outcome.site.network.drains_to(on.run) if way[0].id not in seen]):
        on, high = outcome.run(ways[0][0].id), ways[0][1]
        if on.grade is None:
            break
        seen.add(on.id)
        chain.append((on, high))
    reaches: list[Reach] = []
    start = 0.0
    for on, high in reversed(chain):
        reaches.append(Reach(on, high, start))
        start += high
    return tuple(reaches)


def place_on(reaches: tuple[Reach, ...], run: str, station: float) -> float | None:
    """How far from the outlet, m, a station of a run lies on the way; None where the way does not come by."""
    return next((r.start + station for r in reaches if r.found.id == run and station <= r.high + 1e-6), None)


def at_place(reaches: tuple[Reach, ...], place: float) -> tuple[str, float]:
    """The run, and the station on it, at a place on the way, m from the outlet."""
    reach = next((r for r in reversed(reaches) if place >= r.start), reaches[0])
    return reach.found.id, min(max(place - reach.start, 0.0), reach.high)


def way_drawing(outcome: Outcome, run: str, in_hand: str) -> Drawing:
    """The profile along the way from the top of a run; what is on it of the run in hand can be taken hold of."""
    reaches = way_of(outcome, run)
    if len(reaches) == 1:
        return profile_drawing(outcome, in_hand)
    system = System(outcome.job.units)
    cut = [_cut(reach) for reach in reaches]
    bounds = bounds_of([(reach.start, found.grade) for reach, found in zip(reaches, cut, strict=True) if found.grade is not None])
    shapes: list[Shape] = [*grid_shapes(bounds, system)]
    handles: list[Handle] = []
    for reach, found in zip(reaches, cut, strict=True):
        own = run_shapes(outcome, found, bounds, system, is_lowest=reach is reaches[0])
        shapes += [_moved(shape, reach.start) for shape in _within(own, reach.high)]
        shapes += _seam(reach, system) if reach.start > 0 else []
        if reach.found.id == in_hand:
            handles += [_led(handle, reach.start) for handle in profile_handles(reach.found, system) if handle.at[0] <= reach.high + 1e-6]
    shapes += axis_shapes(bounds, system)
    return Drawing(tuple(shapes), bounds, tuple(handles), True, "Long profile, the whole way", True, thins=("axis", "small", "label", "strong"))


def _seam(reach: Reach, system: System) -> list[Shape]:
    """Where a run comes into the one below it on the way; its name stands there as that of every run that joins."""
    invert = reach.found.run.invert
    return [Mark((reach.start, invert), "joint"), Words((reach.start, invert), f"joins {shown(invert, LEVEL, system)}", "label", "left", 6, -14)]


def _cut(reach: Reach) -> RunOutcome:
    """The run as far as the way goes along it."""
    found, grade = reach.found, reach.found.grade
    if grade is None or reach.high > grade.stations[-1] - 1e-6:
        return found
    keep = grade.stations < reach.high - 1e-9

    def part(values: Array) -> Array:
        return np.append(values[keep], np.interp(reach.high, grade.stations, values))

    shorter = dataclasses.replace(
        grade, stations=part(grade.stations), ground=part(grade.ground), invert=part(grade.invert),
        trench_bottom=part(grade.trench_bottom), cut=part(grade.cut), cover=part(grade.cover),
    )  # fmt: skip
    flow = found.flow_high
    if flow is not None:
        flow = dataclasses.replace(flow, discharge=part(flow.discharge), depth=part(flow.depth), surface=part(flow.surface), full_fraction=part(flow.full_fraction))
    return dataclasses.replace(found, grade=shorter, flow_high=flow, soils=tuple(along for along in found.soils if along.low < reach.high - 1e-6))


def _within(shapes: list[Shape], high: float) -> Iterator[Shape]:
    """What stands on the way; lines that do not follow the grade line, such as of hand digging, end where the way leaves the run."""
    for shape in shapes:
        if isinstance(shape, Stroke):
            points = _up_to(shape.points, high)
            if len(points) > 1:
                yield dataclasses.replace(shape, points=points)
        elif not isinstance(shape, (Words, Mark, Flag)) or shape.at[0] <= high + 1e-6:
            yield shape


def _up_to(points: tuple[Point, ...], high: float) -> tuple[Point, ...]:
    """A line from the low end up, as far as a station m."""
    kept = [p for p in points if p[0] <= high + 1e-6]
    if kept and len(kept) < len(points):
        (x0, y0), (x1, y1) = kept[-1], points[len(kept)]
        kept.append((high, y0 + (y1 - y0) * (high - x0) / max(x1 - x0, 1e-9)))
    return tuple(kept)


def _moved(shape: Shape, by: float) -> Shape:
    def there(point: Point) -> Point:
        return point[0] + by, point[1]

    if isinstance(shape, (Area, Stroke)):
        return dataclasses.replace(shape, points=tuple(map(there, shape.points)))
    if isinstance(shape, (Words, Mark, Flag)):
        return dataclasses.replace(shape, at=there(shape.at))
    if isinstance(shape, Measure):
        return dataclasses.replace(shape, start=there(shape.start), end=there(shape.end))
    assert not isinstance(shape, Ring)  # a profile has none
    return shape


def _led(handle: Handle, by: float) -> Handle:
    """A handle of the run in hand at its place on the way."""
    return dataclasses.replace(handle, at=(handle.at[0] + by, handle.at[1]), move=lambda job, to: handle.move(job, (to[0] - by, to[1])))
