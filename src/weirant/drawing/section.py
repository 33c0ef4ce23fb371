"""The trench cut across at a station, at true scale, large enough to take a dimension off."""

from __future__ import annotations

import math

from weirant.drawing.primitives import Area, Drawing, Handle, Measure, Point, Ring, Shape, Stroke, Words, box, snapped
from weirant.job import Job
from weirant.job.geometry import run_of
from weirant.job.paths import with_value
from weirant.job.trench import FULL_WRAP, OPEN_TOP, SOCK
from weirant.library import shipped
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units.display import DEPTH, LEVEL, SECTION, System, shown, step_si

LEAST = 1e-3
GUEST_REACH = 2.0  # m in plan within which a run that lies in this trench is beside the station


class _Levels:
    """Heights of the section at a station, m, ground at 0 and downwards negative."""

    def __init__(self, outcome: Outcome, found: RunOutcome, station: float) -> None:
        job, pipe, grade = outcome.job, outcome.pipe, found.grade
        natural = job.trench.bedding + pipe.outer_diameter + job.trench.stone_cover
        self.cut = max(grade.at(grade.cut, station), 0.02) if grade is not None else natural + 0.15
        self.bottom = -self.cut
        self.pipe_bottom = self.bottom + job.trench.bedding
        self.centre = self.pipe_bottom + pipe.outer_diameter / 2
        self.pipe_top = self.pipe_bottom + pipe.outer_diameter
        self.collects = not found.run.is_solid_at(station)
        self.stone_top = 0.0 if job.trench.top == OPEN_TOP else min(self.bottom + natural, 0.0)
        self.water = found.flow_high.at_station(grade, station) if found.flow_high is not None and grade is not None else 0.0
        self.half, self.lean = job.trench.width / 2, job.trench.side_slope

    def edge(self, level: float) -> float:
        """Half the width of the trench at a level."""
        return self.half + self.lean * (level - self.bottom)


def section_drawing(outcome: Outcome, station: float, run: str = "") -> Drawing:
    """The trench section at a station of a run, with the pipes of runs that lie in its trench."""
    found = outcome.chosen(run)
    job, at, system = outcome.job, _Levels(outcome, found, station), System(outcome.job.units)
    deep = max(at.cut, 0.3)
    side = max(at.edge(0.0) + 0.5 * deep, 0.66 * deep)
    bounds = (-side, -deep * 1.2, side, deep * 0.14)
    shapes = [*_ground(outcome, bounds), *_filling(outcome, at), *_pipes(outcome, found, at), *_guests(outcome, found, at, station), *_wrap(outcome, found, at), *_water(outcome, at, bounds),
              Stroke(((-at.edge(0), 0), (-at.half, at.bottom), (at.half, at.bottom), (at.edge(0), 0)), "trench"),
              Stroke(((bounds[0], 0.0), (-at.edge(0.0), 0.0)), "ground"), Stroke(((at.edge(0.0), 0.0), (bounds[2], 0.0)), "ground"),
              *_measures(outcome, at, bounds, system, is_known=found.grade is not None)]  # fmt: skip
    return Drawing(tuple(shapes), bounds, _handles(job, found.id, at, system), title="Trench section")


def _ground(outcome: Outcome, bounds: tuple[float, float, float, float]) -> list[Shape]:
    soil, (left, bottom, right, _) = outcome.job.soil, bounds
    shapes: list[Shape] = [Area(box(left, bottom, right, 0.0), "soil")]
    if len(soil.layers) > 1 and soil.layers[0].thickness:
        shapes.append(Area(box(left, bottom, right, -soil.layers[0].thickness), "subsoil"))
    if soil.hard_layer_depth is not None and -soil.hard_layer_depth > bottom:
        shapes.append(Area(box(left, bottom, right, -soil.hard_layer_depth), "hard layer"))
        shapes.append(Stroke(((left, -soil.hard_layer_depth), (right, -soil.hard_layer_depth)), "hard layer"))
        shapes.append(Words((left, -soil.hard_layer_depth), "hard layer", "label", "left", 5, -12))
    return shapes


def _band(at: _Levels, low: float, high: float) -> tuple[Point, ...]:
    return ((-at.edge(low), low), (at.edge(low), low), (at.edge(high), high), (-at.edge(high), high))


def _filling(outcome: Outcome, at: _Levels) -> list[Shape]:
    if not at.collects:
        return [Area(_band(at, at.bottom, 0.0), "backfill")]
    grain = outcome.aggregate.coarse_side.size_at(50) or 0.01
    shapes: list[Shape] = [Area(_band(at, at.bottom, at.stone_top), "stone", grain)]
    if at.stone_top < -LEAST:
        shapes.append(Area(_band(at, at.stone_top, 0.0), "backfill"))
        shapes.append(Stroke(((-at.edge(0), 0.0), (at.edge(0), 0.0)), "turf"))
    return shapes


def _pipe_centres(outcome: Outcome, found: RunOutcome, at: _Levels) -> list[Point]:
    count, size = found.run.run.pipes, outcome.pipe.outer_diameter
    pitch = min(size * 1.15, max((2 * at.edge(at.centre) - size) / max(count - 1, 1), size))
    return [((i - (count - 1) / 2) * pitch, at.centre) for i in range(count)]


def _pipes(outcome: Outcome, found: RunOutcome, at: _Levels) -> list[Shape]:
    pipe = outcome.pipe
    holes = pipe.openings if at.collects else ""
    return [
        Ring(c, pipe.inner_diameter / 2, pipe.outer_diameter / 2, min(at.water, pipe.inner_diameter), holes)
        for c in _pipe_centres(outcome, found, at)
    ]


def _guests(outcome: Outcome, found: RunOutcome, at: _Levels, station: float) -> list[Shape]:
    """Pipes of other runs in this trench, at their own levels, set to the right of the pipe."""
    pipe = outcome.pipe
    if found.grade is None:
        return []
    shapes: list[Shape] = []
    place, own = found.run.alignment.point(station), found.grade.at(found.grade.invert, station)
    for number, guest in enumerate(r for r in outcome.site.runs if r.run.run.trench_of == found.id and r.grade is not None):
        beside, away = guest.run.alignment.nearest(place)
        if guest.grade is None or away > GUEST_REACH:
            continue
        lift = guest.grade.at(guest.grade.invert, beside) - own
        centre = (pipe.outer_diameter * 1.15 * (number + 1), at.centre + lift)
        shapes += [Ring(centre, pipe.inner_diameter / 2, pipe.outer_diameter / 2, 0.0, "" if guest.run.is_solid_at(beside) else pipe.openings),
                   Words((centre[0], centre[1] + 0.62 * pipe.outer_diameter), guest.run.name, "small", "centre", 0, 2)]  # fmt: skip
    return shapes


def _wrap(outcome: Outcome, found: RunOutcome, at: _Levels) -> list[Shape]:
    trench = outcome.job.trench
    if not at.collects:
        return []
    if trench.wrap == FULL_WRAP:
        edge, top = at.edge(at.stone_top), at.stone_top
        folds = ((-edge, top), (-at.half, at.bottom), (at.half, at.bottom), (edge, top))
        if top > -LEAST:
            return [Stroke(folds, "fabric")]
        lap = min(trench.overlap, 2 * edge)
        return [Stroke((*folds, (-edge, top), (-edge + lap, top + 0.012)), "fabric")]
    if trench.wrap == SOCK:
        radius = outcome.pipe.outer_diameter / 2 + 0.004
        return [Stroke(tuple((x + radius * math.cos(a / 20 * math.pi), y + radius * math.sin(a / 20 * math.pi)) for a in range(41)), "fabric")
                for x, y in _pipe_centres(outcome, found, at)]  # fmt: skip
    return []


def _water(outcome: Outcome, at: _Levels, bounds: tuple[float, float, float, float]) -> list[Shape]:
    """The undrained table at the sides and the level in the drain."""
    wet, level = outcome.job.soil.water_table_depth, at.pipe_bottom + outcome.pipe.wall + at.water
    shapes: list[Shape] = []
    if wet is not None and at.collects:
        shapes.append(
            Stroke(
                ((bounds[0], -wet), (-at.edge(-wet), max(level, at.bottom) if level > -wet else -wet)), "water when wet"
            )
        )
        shapes.append(Words((bounds[0], -wet), "water when wet", "water", "left", 5, 4))
    return shapes


def _measures(outcome: Outcome, at: _Levels, bounds: tuple[float, float, float, float], system: System, *, is_known: bool) -> list[Shape]:
    trench, pipe = outcome.job.trench, outcome.pipe
    right, left = at.edge(0.0) + 0.1 * at.cut, -at.edge(0.0) - 0.16 * at.cut

    def text(value: float) -> str:
        return shown(value, SECTION, system)

    shapes: list[Shape] = [
        Measure(
            (-at.half, at.bottom - 0.07 * at.cut),
            (at.half, at.bottom - 0.07 * at.cut),
            text(trench.width),
            "trench.width",
        ),
        Measure((left, at.bottom), (left, 0.0), f"cut {shown(at.cut, DEPTH, system)}"),
    ]
    if trench.bedding > LEAST:
        shapes.append(
            Measure((right, at.bottom), (right, at.pipe_bottom), text(trench.bedding) + " bedding", "trench.bedding")
        )
    shapes.append(Measure((right, at.pipe_bottom), (right, at.pipe_top), text(pipe.outer_diameter) + " pipe"))
    if at.collects and trench.top != OPEN_TOP:
        shapes.append(
            Measure(
                (right, at.pipe_top),
                (right, at.stone_top),
                text(at.stone_top - at.pipe_top) + " stone",
                "trench.stone_cover",
            )
        )
        if at.stone_top < -LEAST:
            shapes.append(Measure((right, at.stone_top), (right, 0.0), text(-at.stone_top) + " soil"))
    if is_known:
        shapes.append(Words((bounds[0], 0.0), "uphill", "label", "left", 5, 5))
    return shapes


def _handles(job: Job, run: str, at: _Levels, system: System) -> tuple[Handle, ...]:
    step = step_si(SECTION, system)

    def bottom(job: Job, to: Point) -> Job:
        level = run_of(job, run).invert + snapped(to[1] - at.bottom, step_si(LEVEL, system) / 2)
        return with_value(job, f"runs.{run}.invert", level)

    def bedding(job: Job, to: Point) -> Job:
        return with_value(job, "trench.bedding", max(snapped(to[1] - at.bottom, step), 0.0))

    def stone(job: Job, to: Point) -> Job:
        outer = shipped().pipe(job.choice.pipe).outer_diameter
        return with_value(
            job, "trench.stone_cover", max(snapped(to[1] - at.bottom - job.trench.bedding - outer, step), 0.0)
        )

    handles = [Handle("width", (at.half, at.bottom + 0.02 * at.cut), "x", "Trench width", step / 2, _drag_width, "trench.width"),
               Handle("bottom", (0.0, at.bottom), "y", "Trench bottom", step_si(LEVEL, system), bottom),
               Handle("bedding", (-at.half * 0.6, at.pipe_bottom), "y", "Bedding", step, bedding, "trench.bedding")]  # fmt: skip
    if at.collects and job.trench.top != OPEN_TOP:
        handles.append(
            Handle("stone", (0.0, at.stone_top), "y", "Stone over the pipe", step, stone, "trench.stone_cover")
        )
    return tuple(handles)


def _drag_width(job: Job, to: Point) -> Job:
    step = step_si(SECTION, System(job.units))
    return with_value(job, "trench.width", max(snapped(2 * abs(to[0]), step), step))
