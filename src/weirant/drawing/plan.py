"""The site from above: the line laid out from its stations and bends, the protected place beside it, what else is there."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable

from weirant.drawing.primitives import Area, Drawing, Handle, Measure, Point, Shape, Stroke, Words, snapped
from weirant.job import Job
from weirant.job.paths import with_value
from weirant.job.water import HILLSIDE
from weirant.outcome.outcome import Outcome
from weirant.units.display import DISTANCE, STATION, System, shown, step_si

_OUTLINES = {"building": "building", "lawn": "grass", "woodland": "woodland"}


def plan_drawing(outcome: Outcome, station: float) -> Drawing:
    """The plan of a job, the station marked on the line."""
    job, system = outcome.job, System(outcome.job.units)
    place = protected_outline(job)
    shapes: list[Shape] = []
    for feature in job.features:
        points = tuple((p.x, p.y) for p in feature.points)
        if feature.kind in _OUTLINES:
            shapes.append(Area(points, _OUTLINES[feature.kind]))
            shapes.append(Words(_middle(points), feature.name, "label", "centre"))
        elif feature.kind != "boundary":
            shapes += [Stroke(points, feature.kind), Words(_half_way(points), feature.name, "label", "centre", 0, -14)]
    shapes.append(Area(place, "lawn kept dry" if job.protected.kind == "lawn" else "building"))
    shapes.append(Words(_middle(place), job.protected.name, "strong", "centre"))
    shapes += [*_line(job), *_stations(job, system), *_flow_arrows(job)]
    foot, edge = _nearest(job)
    shapes.append(Measure(foot, edge, shown(job.protected.distance, DISTANCE, system), "protected.distance"))
    shapes.append(Words(point_at(job, station), f"at {shown(station, STATION, system)}", "station", "left", 4, -20))
    return Drawing(tuple(shapes), _bounds(job, place), _handles(job, system), title="Plan")


def vertices(job: Job) -> list[tuple[float, Point, float]]:
    """Station, point and bearing (rad) of the length that starts there; the top end comes last."""
    bends = sorted((b for b in job.line.bends if 0 < b.station < job.line.length), key=lambda b: b.station)
    station, point, bearing = 0.0, (0.0, 0.0), math.radians(job.bearing)
    found = [(station, point, bearing)]
    for stop, turn in [*((b.station, b.angle) for b in bends), (job.line.length, 0.0)]:
        point = _ahead(point, bearing, stop - station)
        station, bearing = stop, bearing + math.radians(turn)
        found.append((station, point, bearing))
    return found


def _ahead(point: Point, bearing: float, distance: float) -> Point:
    return point[0] + distance * math.cos(bearing), point[1] + distance * math.sin(bearing)


def bearing_at(job: Job, station: float) -> float:
    """Bearing of the line at a station, rad."""
    return [bearing for at, _, bearing in vertices(job)[:-1] if at <= station + 1e-9 or at == 0][-1]


def point_at(job: Job, station: float) -> Point:
    """Where a station lies in plan."""
    at, point, bearing = [v for v in vertices(job)[:-1] if v[0] <= station + 1e-9 or v[0] == 0][-1]
    return _ahead(point, bearing, station - at)


def station_near(job: Job, point: Point) -> float:
    """The station of the line nearest to a point in plan."""
    corners, best = vertices(job), (math.inf, 0.0)
    for (start, (x, y), bearing), (stop, _, _) in zip(corners, corners[1:], strict=False):
        along = (point[0] - x) * math.cos(bearing) + (point[1] - y) * math.sin(bearing)
        along = min(max(along, 0.0), stop - start)
        foot = _ahead((x, y), bearing, along)
        best = min(best, (math.dist(foot, point), start + along))
    return best[1]


def protected_outline(job: Job) -> tuple[Point, ...]:
    """Outline of the protected place, laid off from the line at its middle."""
    place = job.protected
    low, high = sorted((place.from_station, place.to_station))
    if high - low < 0.1:
        low, high = job.line.solid_length, job.line.length
    middle = (low + high) / 2
    bearing, foot = bearing_at(job, middle), point_at(job, middle)
    side = bearing + (math.pi / 2 if place.on_left else -math.pi / 2)
    half = (high - low) / 2
    near, far = place.distance, place.distance + place.width
    return tuple(
        _ahead(_ahead(foot, side, out), bearing, along)
        for out, along in ((near, -half), (near, half), (far, half), (far, -half))
    )


def _nearest(job: Job) -> tuple[Point, Point]:
    outline = protected_outline(job)
    edge = ((outline[0][0] * 0.25 + outline[1][0] * 0.75), (outline[0][1] * 0.25 + outline[1][1] * 0.75))
    return point_at(job, station_near(job, edge)), edge


def _middle(points: tuple[Point, ...]) -> Point:
    return sum(x for x, _ in points) / len(points), sum(y for _, y in points) / len(points)


def _half_way(points: tuple[Point, ...]) -> Point:
    index = (len(points) - 1) // 2
    (x0, y0), (x1, y1) = points[index], points[min(index + 1, len(points) - 1)]
    return (x0 + x1) / 2, (y0 + y1) / 2


def _line(job: Job) -> list[Shape]:
    corners = vertices(job)
    stops = sorted({0.0, job.line.solid_length, job.line.length, *(at for at, _, _ in corners)})
    solid = tuple(point_at(job, s) for s in stops if s <= job.line.solid_length)
    collecting = tuple(point_at(job, s) for s in stops if s >= job.line.solid_length)
    return [
        Stroke(solid, "solid run"),
        Stroke(collecting, "collecting run"),
        Words((0.0, 0.0), "outlet", "strong", "right", -9, -2),
    ]


def _stations(job: Job, system: System) -> list[Shape]:
    step = (
        (20 * 0.3048 if job.line.length < 90 else 50 * 0.3048)
        if system == System.IMPERIAL
        else (5.0 if job.line.length < 90 else 20.0)
    )
    shapes: list[Shape] = []
    count = int(job.line.length / step)
    for i in range(1, min(count, 60) + 1):
        point, bearing = point_at(job, i * step), bearing_at(job, i * step)
        tick = 0.006 * job.line.length + 0.2
        ends = (_ahead(point, bearing + math.pi / 2, tick), _ahead(point, bearing - math.pi / 2, tick))
        shapes.append(Stroke(ends, "tick"))
        shapes.append(Words(ends[1], shown(i * step, STATION, system).split(".")[0], "axis", "left", 2, 2))
    return shapes


def _flow_arrows(job: Job) -> list[Shape]:
    """Where the groundwater comes from, drawn against the collecting run."""
    if job.water.source != HILLSIDE:
        return []
    shapes: list[Shape] = []
    line = job.line
    for share in (0.25, 0.55, 0.85):
        station = line.solid_length + share * (line.length - line.solid_length)
        foot, bearing = point_at(job, station), bearing_at(job, station)
        side = bearing + (-math.pi / 2 if job.protected.on_left else math.pi / 2)
        reach = 0.12 * line.length
        start, tip = _ahead(foot, side, reach), _ahead(foot, side, reach * 0.2)
        barbs = [_ahead(tip, side + turn, reach * 0.22) for turn in (0.5, -0.5)]
        shapes += [Stroke((start, tip), "seep"), Stroke((barbs[0], tip, barbs[1]), "seep")]
    return shapes


def _bounds(job: Job, place: tuple[Point, ...]) -> tuple[float, float, float, float]:
    points = [p for _, p, _ in vertices(job)] + list(place)
    across = max(
        max(x for x, _ in points) - min(x for x, _ in points),
        max(y for _, y in points) - min(y for _, y in points),
        5.0,
    )
    room = 0.13 * across
    return (
        min(x for x, _ in points) - room,
        min(y for _, y in points) - room,
        max(x for x, _ in points) + room,
        max(y for _, y in points) + room,
    )


def _handles(job: Job, system: System) -> tuple[Handle, ...]:
    _, edge = _nearest(job)
    handles = [
        Handle(
            "distance",
            edge,
            "both",
            "Distance to the place",
            step_si(DISTANCE, system),
            _move_place,
            "protected.distance",
        )
    ]
    for index, bend in enumerate(job.line.bends):
        handles.append(Handle(f"bend-{index}", point_at(job, bend.station + 0.35 * (job.line.length - bend.station)), "both", "Bend",
                              step_si(DISTANCE, system), _turn(index)))  # fmt: skip
    return tuple(handles)


def _move_place(job: Job, to: Point) -> Job:
    step = step_si(DISTANCE, System(job.units))
    foot = point_at(job, station_near(job, to))
    return with_value(job, "protected.distance", max(snapped(math.dist(foot, to), step), step))


def _turn(index: int) -> Callable[[Job, Point], Job]:
    def turn(job: Job, to: Point) -> Job:
        bend = job.line.bends[index]
        at = point_at(job, bend.station)
        before = bearing_at(job, bend.station - 1e-3)
        angle = math.degrees(math.atan2(to[1] - at[1], to[0] - at[0]) - before)
        angle = snapped((angle + 180) % 360 - 180, 1.0)
        changed = dataclasses.replace(bend, angle=min(max(angle, -120.0), 120.0))
        bends = (*job.line.bends[:index], changed, *job.line.bends[index + 1 :])
        return dataclasses.replace(job, line=dataclasses.replace(job.line, bends=bends))

    return turn
