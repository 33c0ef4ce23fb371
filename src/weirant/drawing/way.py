"""The long profile along a way through the network, from a top to where water leaves."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from weirant.drawing.low_end import floor_under
from weirant.drawing.primitives import Area, Drawing, Flag, Handle, Mark, Measure, Point, Ring, Shape, Stroke, Words
from weirant.drawing.profile import (
    axis_shapes,
    bounds_of,
    grid_shapes,
    profile_drawing,
    profile_handles,
    run_shapes,
)
from weirant.ground.inverts import invert_at
from weirant.ground.network import LaidRun
from weirant.ground.ways import MOST, Usable, Way, way_over, ways_through
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass
from weirant.units.display import LEVEL, System, shown

Array = NDArray[np.float64]
ROOM = 60  # letters of a title, where nobody says


@dataclass(frozen=True, eq=False)
class Reach:
    """A run on the way, between stations m, and where on the sheet its own station 0 would lie, m from where the way ends."""

    found: RunOutcome
    low: float
    high: float
    start: float


def ways_of(outcome: Outcome, run: str, most: int = MOST) -> tuple[Way, ...]:
    """The ways over some of a run whose ground is known; the first from its own top. Of a run whose ground is not known there is none."""
    on, known = outcome.run(run).run, _known(outcome)
    return ways_through(outcome.site.network, on, known, most) if known(on) else ()


def way_along(outcome: Outcome, runs: tuple[str, ...]) -> Way | None:
    """The way over runs, from the top down; None where there is none, or not any more."""
    return way_over(outcome.site.network, runs, _known(outcome))


def _known(outcome: Outcome) -> Usable:
    """Whether the ground along a run is known."""

    def known(laid: LaidRun) -> bool:
        found = outcome.site.run(laid.id)
        return found is not None and found.grade is not None

    return known


def way_names(outcome: Outcome, way: Way) -> str:
    """The runs of a way from the top down."""
    return " › ".join(outcome.run(leg.run).run.name for leg in way)


def way_title(outcome: Outcome, way: Way, room: int) -> str:
    """The title of the profile along a way, with as many of its runs as there is room for letters."""
    shorter = (way_names(outcome, way), f"{way_names(outcome, way[:1])} › … › {way_names(outcome, way[-1:])}")
    return next((title for names in shorter if len(title := tr("Long profile: {names}", names=names)) <= room), tr("Long profile"))


def reaches_of(outcome: Outcome, way: Way) -> tuple[Reach, ...]:
    """The runs of a way from where it ends up."""
    reaches: list[Reach] = []
    at = 0.0
    for leg in reversed(way):
        reaches.append(Reach(outcome.run(leg.run), leg.low, leg.high, at - leg.low))
        at += leg.high - leg.low
    return tuple(reaches)


def place_on(reaches: tuple[Reach, ...], run: str, station: float) -> float | None:
    """How far from where the way ends, m, a station of a run lies on it; None where the way does not come by."""
    return next((r.start + station for r in reaches if r.found.id == run and r.low - 1e-6 <= station <= r.high + 1e-6), None)


def at_place(reaches: tuple[Reach, ...], place: float) -> tuple[str, float]:
    """The run, and the station on it, at a place on the way, m from where it ends."""
    reach = next((r for r in reversed(reaches) if place >= r.start + r.low), reaches[0])
    return reach.found.id, min(max(place - reach.start, reach.low), reach.high)


def way_drawing(outcome: Outcome, way: Way, in_hand: str, room: int = ROOM) -> Drawing:
    """The profile along a way; what is on it of the run in hand can be taken hold of. Its title has room for so many letters."""
    reaches = reaches_of(outcome, way)
    if len(reaches) == 1:
        return profile_drawing(outcome, in_hand)
    system = System(outcome.job.units)
    cut = [_cut(reach) for reach in reaches]
    bounds = bounds_of([(reach.start, found.grade) for reach, found in zip(reaches, cut, strict=True) if found.grade is not None], floor_under(outcome, cut[0]))
    shapes: list[Shape] = [*grid_shapes(bounds, system)]
    handles: list[Handle] = []
    for reach, found in zip(reaches, cut, strict=True):
        own = run_shapes(outcome, found, bounds, system, is_lowest=reach is reaches[0])
        shapes += [_moved(shape, reach.start) for shape in _within(own, reach.low, reach.high)]
        shapes += _seam(reach, system) if reach is not reaches[0] else []
        if reach.found.id == in_hand:
            handles += [_led(handle, reach.start) for handle in profile_handles(reach.found, system) if reach.low - 1e-6 <= handle.at[0] <= reach.high + 1e-6]
    shapes += axis_shapes(bounds, system)
    return Drawing(tuple(shapes), bounds, tuple(handles), True, way_title(outcome, way, room), True)


def _seam(reach: Reach, system: System) -> list[Shape]:
    """Where a run comes into the one below it on the way; its name stands there as that of every run that joins."""
    at = (reach.start + reach.low, float(invert_at(reach.found.run, np.array(reach.low))))
    level = shown(at[1], LEVEL, system)
    words = tr("joins {level}", level=level) if reach.low < 1e-6 else tr("leaves here {level}", level=level)
    return [Mark(at, "joint"), Words(at, words, "label", "left", 6, -14)]


def _cut(reach: Reach) -> RunOutcome:
    """The run as far as the way goes along it."""
    found, grade = reach.found, reach.found.grade
    if grade is None or (reach.low < 1e-6 and reach.high > grade.stations[-1] - 1e-6):
        return found
    keep = (grade.stations > reach.low + 1e-9) & (grade.stations < reach.high - 1e-9)

    def part(values: Array) -> Array:
        low, high = np.interp((reach.low, reach.high), grade.stations, values)
        return np.concatenate(((low,), values[keep], (high,)))

    shorter = dataclasses.replace(
        grade, stations=part(grade.stations), ground=part(grade.ground), invert=part(grade.invert),
        trench_bottom=part(grade.trench_bottom), cut=part(grade.cut), cover=part(grade.cover),
    )  # fmt: skip
    flow = found.flow_high
    if flow is not None:
        flow = dataclasses.replace(flow, discharge=part(flow.discharge), depth=part(flow.depth), surface=part(flow.surface), full_fraction=part(flow.full_fraction))
    return dataclasses.replace(found, grade=shorter, flow_high=flow, soils=tuple(along for along in found.soils if along.low < reach.high - 1e-6 and along.high > reach.low + 1e-6))


def _within(shapes: list[Shape], low: float, high: float) -> Iterator[Shape]:
    """What stands on the way; lines that do not follow the grade line, such as of hand digging, end where the way leaves the run."""
    for shape in shapes:
        if isinstance(shape, Stroke):
            points = _mirrored(_up_to(_mirrored(_up_to(shape.points, high)), -low))
            if len(points) > 1:
                yield dataclasses.replace(shape, points=points)
        elif not isinstance(shape, (Words, Mark, Flag)) or low - 1e-6 <= shape.at[0] <= high + 1e-6:
            yield shape


def _mirrored(points: tuple[Point, ...]) -> tuple[Point, ...]:
    """A line seen from its other end."""
    return tuple((-x, y) for x, y in reversed(points))


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
