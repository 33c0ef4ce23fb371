"""The trench cut across at a station, at true scale, large enough to take a dimension off."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable
from functools import partial

import numpy as np

from weirant.design.one_trench import sides_changed
from weirant.drawing.primitives import Area, Drawing, Handle, Measure, Point, Ring, Shape, Stroke, Words, box, snapped
from weirant.job import Job
from weirant.job.geometry import run_of
from weirant.job.paths import with_value
from weirant.job.section import (
    AT_JOINTS,
    AT_SIDES,
    DRESSED_TOP,
    OPEN_TOP,
    SOIL_CAP,
    TO_WALL,
    TURF_TOP,
    Bore,
    TrenchSection,
)
from weirant.job.section_edits import with_section
from weirant.job.soil import ROCK, Soil
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.outcome.trench_pipes import PlacedPipe, pipes_at, trench_at
from weirant.records import dataclass
from weirant.units.display import DEPTH, LEVEL, SECTION, System, shown, step_si

LEAST, FOLD = 1e-3, 0.012  # m between the layers of a sheet, as they are drawn


class _Levels:
    """Heights of the section at a station, m, ground at 0 and downwards negative."""

    def __init__(self, found: RunOutcome, station: float) -> None:
        grade, self.make, self.soil = found.grade, found.make(station), found.soil(station)
        self.section, pipe = self.make.section, self.make.pipe
        self.cut = max(grade.at(grade.ground - grade.invert, station) + self.make.below, 0.02) if grade is not None else self.make.natural_stone + 0.15
        self.bottom = -self.cut
        self.bed_top = self.bottom + self.section.bedding
        self.pipe_bottom = self.bed_top + self.make.bore.height
        self.pipe_top = self.pipe_bottom + pipe.outer_diameter
        self.crown = self.bed_top + self.make.crown
        self.collects, self.in_stone = not self.make.is_solid, not self.make.is_solid and self.section.has_stone
        self.stone_top = self.bottom + float(self.make.stone(np.array(self.cut)))
        self.paved = min(self.section.pavement, self.cut)
        self.water = found.flow_high.at_station(grade, station) if found.flow_high is not None and grade is not None else 0.0
        self.half, self.lean = self.section.width / 2, self.section.side_slope
        over = self.bottom + self.make.bench_over
        self.bench = over if self.make.bench and over < 0.0 else math.inf  # level at which the sides stand back

    def edge(self, level: float) -> float:
        """Half the width of the trench at a level; at that of its bench, under it."""
        return float(self.make.edge(level - self.bottom))

    def wall(self, low: float, high: float) -> tuple[Point, ...]:
        """The right wall between two levels, from the lower up."""
        return tuple((x, self.bottom + height) for x, height in self.make.wall(low - self.bottom, high - self.bottom))

    def path(self, field: str) -> str:
        """Path of a field of the section."""
        return f"sections.{self.section.id}.{field}"


@dataclass(frozen=True)
class _Drawn:
    """A pipe where it is drawn: its middle, m."""

    placed: PlacedPipe
    middle: Point


def section_drawing(outcome: Outcome, station: float, run: str = "") -> Drawing:
    """The trench section at a station of a run, with the pipes of all runs that lie in its trench; of a run that lies in another's, that one's."""
    found, station = trench_at(outcome.site, outcome.chosen(run), station)
    job, at, system = outcome.job, _Levels(found, station), System(outcome.job.units)
    pipes = _drawn(outcome, found, at, station)
    deep = max(at.cut, 0.3)
    side = max(at.edge(0.0) + 0.56 * deep, 0.7 * deep)
    bounds = (-side, -deep * 1.2, side, deep * 0.14)
    shapes = [*_ground(at.soil, bounds, system), *_filling(at), *_pipes(outcome, found, at, pipes), *_wrap(at, pipes), *_water(at, bounds, system),
              Stroke(_band(at, at.bottom, 0.0), "trench"),
              Stroke(((bounds[0], 0.0), (-at.edge(0.0), 0.0)), "ground"), Stroke(((at.edge(0.0), 0.0), (bounds[2], 0.0)), "ground"),
              *_measures(at, bounds, system, is_known=found.grade is not None)]  # fmt: skip
    title = tr("Trench section: {section}", section=at.section.name) if len(job.sections) > 1 else tr("Trench section")
    return Drawing(tuple(shapes), bounds, (*_handles(job, found.id, at, system), *_pipe_handles(outcome, found, at, pipes, system)), title=title)


def _ground(soil: Soil, bounds: tuple[float, float, float, float], system: System) -> list[Shape]:
    left, bottom, right, _ = bounds
    shapes: list[Shape] = [Area(box(left, bottom, right, 0.0), "soil")]
    for number, begins in enumerate(soil.boundaries):
        if number and begins is not None and -begins > bottom:
            shapes.append(Area(box(left, bottom, right, -begins), "subsoil" if number % 2 else "soil"))
    if soil.hard_layer_depth is not None and -soil.hard_layer_depth > bottom:
        shapes.append(Area(box(left, bottom, right, -soil.hard_layer_depth), "hard layer"))
        shapes.append(Stroke(((left, -soil.hard_layer_depth), (right, -soil.hard_layer_depth)), "hard layer"))
        at = shown(soil.hard_layer_depth, DEPTH, system)
        words = tr("solid rock at {depth}", depth=at) if soil.hard_layer == ROCK else tr("hard layer at {hard_layer_depth}", hard_layer_depth=at)
        shapes.append(Words((left, -soil.hard_layer_depth), words, "typed", "left", 5, -12, f"soils.{soil.id}.hard_layer_depth"))
    return shapes


def _band(at: _Levels, low: float, high: float) -> tuple[Point, ...]:
    right = at.wall(low, high)
    return (*((-x, y) for x, y in right[::-1]), *right)


def _filling(at: _Levels) -> list[Shape]:
    """Stone, and what lies over it: soil under turf, finer stone that dresses it, and pavement at the top."""
    grain = at.make.aggregate.coarse_side.size_at(50) or 0.01
    shapes: list[Shape] = [Area(_band(at, at.bottom, at.stone_top), "stone", grain)] if at.in_stone else []
    if at.collects and at.section.is_in_sand:
        shapes = _sand(at, grain)
    over, laid = at.stone_top if at.in_stone else at.bottom, -at.paved
    if at.collects and at.section.top == DRESSED_TOP:
        shapes.append(Area(_band(at, over, laid), "stone", grain / 3))
    elif over < laid - LEAST:
        shapes.append(Area(_band(at, over, laid), "backfill"))
        if at.collects and not at.paved:
            shapes.append(Stroke(((-at.edge(0), 0.0), (at.edge(0), 0.0)), "turf"))
    if at.paved:
        shapes.append(Area(_band(at, laid, 0.0), "slab"))
    return shapes


def _sand(at: _Levels, grain: float) -> list[Shape]:
    """Stone within a layer of sand: on the floor, at the sides, and over it where it is covered."""
    section = at.section
    thick, aside = section.sand_thickness, section.sand_thickness * math.hypot(1, section.side_slope)
    low, high = min(at.bottom + thick, at.stone_top), at.stone_top - (0.0 if section.top == OPEN_TOP else thick)
    sand = Area(_band(at, at.bottom, at.stone_top), "sand")
    if high <= low or at.edge(low) <= aside:  # no room: what that means, the finding says
        return [sand]
    inside = tuple((math.copysign(max(abs(x) - aside, 0.0), x), y) for x, y in _band(at, low, high))
    return [sand, Area(inside, "stone", grain), Stroke((*inside, inside[0]), "trench")]


def _drawn(outcome: Outcome, found: RunOutcome, at: _Levels, station: float) -> list[_Drawn]:
    """Every pipe in the trench; those at a level of their own are set to the right of the others, each on its level."""
    drawn: list[_Drawn] = []
    for p in pipes_at(outcome.site, found, station):
        if p.across is not None and p.height is not None:
            drawn.append(_Drawn(p, (p.across, at.bottom + p.height + p.pipe.outer_diameter / 2)))
            continue
        right = max(d.middle[0] + 0.575 * d.placed.pipe.outer_diameter for d in drawn)
        invert = at.pipe_bottom + at.make.pipe.wall + p.lift
        drawn.append(_Drawn(p, (right + 0.575 * p.pipe.outer_diameter, invert - p.pipe.wall + p.pipe.outer_diameter / 2)))
    return drawn


def _pipes(outcome: Outcome, found: RunOutcome, at: _Levels, pipes: list[_Drawn]) -> list[Shape]:
    shapes: list[Shape] = []
    names = {run.id: run.name for run in outcome.job.runs}
    for number, drawn in enumerate(pipes):
        placed, pipe = drawn.placed, drawn.placed.pipe
        own = placed.run == found.id
        shapes.append(Ring(drawn.middle, pipe.inner_diameter / 2, pipe.outer_diameter / 2, min(at.water, pipe.inner_diameter) if own else 0.0, "" if placed.is_solid else pipe.openings))
        if not own and not any(d.placed.run == placed.run for d in pipes[:number]):
            shapes.append(Words((drawn.middle[0], drawn.middle[1] + 0.62 * pipe.outer_diameter), names[placed.run], "small", "centre", 0, 2))
    return shapes


def _wrap(at: _Levels, pipes: list[_Drawn]) -> list[Shape]:
    section = at.section
    if not at.collects:
        return []
    edge, top = at.edge(at.stone_top), at.stone_top
    if section.is_covered and not section.is_lined:
        tucked = min(section.overlap / 2, top - at.bottom)
        sheet = ((-at.edge(top - tucked), top - tucked), (-edge, top), (edge, top), (at.edge(top - tucked), top - tucked))
        folds = [((-edge, top + FOLD * n), (edge, top + FOLD * n)) for n in range(1, section.layers)]
        return [Stroke(sheet, "fabric"), *(Stroke(fold, "fabric") for fold in folds)]
    if section.wrap == AT_SIDES:
        return [Stroke(((side * at.half, at.bottom), (side * edge, top)), "fabric") for side in (-1, 1)]
    if section.wrap == TO_WALL:  # the wall is on the left, and the cloth is turned up at it
        turned = ((-at.edge(top + section.overlap), top + section.overlap), (-edge, top)) if section.is_covered else ()
        return [Stroke(((-at.half, at.bottom), (at.half, at.bottom), (edge, top), *reversed(turned)), "fabric")]
    if section.is_lined:
        lining = ((-edge, top), (-at.half, at.bottom), (at.half, at.bottom), (edge, top))
        if top > -LEAST or not section.is_covered:
            return [Stroke(lining, "fabric")]
        lap = min(section.overlap, 2 * edge)
        return [Stroke((*lining, (-edge, top), (-edge + lap, top + 0.012)), "fabric")]
    return [_ring(d.middle, d.placed.pipe.outer_diameter / 2 + 0.004) for d in pipes if (section.is_socked or section.wrap == AT_JOINTS) and not d.placed.is_solid]


def _ring(middle: Point, radius: float) -> Shape:
    return Stroke(tuple((middle[0] + radius * math.cos(a / 20 * math.pi), middle[1] + radius * math.sin(a / 20 * math.pi)) for a in range(41)), "fabric")


def _water(at: _Levels, bounds: tuple[float, float, float, float], system: System) -> list[Shape]:
    """The undrained table at the sides and the level in the drain."""
    wet, level = at.soil.water_table_depth, at.pipe_bottom + at.make.pipe.wall + at.water
    shapes: list[Shape] = []
    if wet is not None and at.collects:
        shapes.append(
            Stroke(
                ((bounds[0], -wet), (-at.edge(-wet), max(level, at.bottom) if level > -wet else -wet)), "water when wet"
            )
        )
        shapes.append(Words((bounds[0], -wet), tr("water when wet {wet}", wet=shown(wet, DEPTH, system)), "typed", "left", 5, 4, f"soils.{at.soil.id}.water_table_depth"))
    return shapes


def _measures(at: _Levels, bounds: tuple[float, float, float, float], system: System, *, is_known: bool) -> list[Shape]:
    section, pipe = at.section, at.make.pipe
    right, left = at.edge(0.0) + 0.1 * at.cut, -at.edge(0.0) - 0.16 * at.cut
    under = at.bottom - 0.07 * at.cut

    def text(value: float) -> str:
        return shown(value, SECTION, system)

    shapes: list[Shape] = [Measure((-at.half, under), (at.half, under), text(section.width), at.path("width")),
                           Measure((left, at.bottom), (left, 0.0), tr("cut {cut}", cut=shown(at.cut, DEPTH, system)))]  # fmt: skip
    if at.bench < 0.0:
        foot = at.half + at.lean * at.make.bench_over
        shapes.append(Measure((foot, at.bench), (foot + at.make.bench, at.bench), text(at.make.bench) + tr(" bench"), at.path("bench_width")))
        shapes.append(Measure((-foot - at.make.bench / 2, at.bottom), (-foot - at.make.bench / 2, at.bench), text(at.make.bench_over), at.path("bench_height")))
    if section.bedding > LEAST:
        shapes.append(Measure((right, at.bottom), (right, at.bed_top), text(section.bedding) + tr(" bedding"), at.path("bedding")))
    if len(section.bores) == 1:
        shapes.append(Measure((right, at.pipe_bottom), (right, at.pipe_top), text(pipe.outer_diameter) + tr(" pipe")))
    else:
        shapes.append(Measure((right, at.bed_top), (right, at.crown), text(at.crown - at.bed_top) + tr(" pipes")))
    if at.collects and section.is_in_sand:
        shapes.append(Measure((-at.half, at.pipe_top), (-at.half + section.sand_thickness, at.pipe_top), text(section.sand_thickness) + tr(" sand"), at.path("sand_thickness")))
    if at.collects and section.top == SOIL_CAP:
        if at.in_stone:
            shapes.append(Measure((right, at.crown), (right, at.stone_top), text(at.stone_top - at.crown) + tr(" stone"), at.path("stone_cover")))
        if at.stone_top < -at.paved - LEAST:
            shapes.append(Measure((right, at.stone_top), (right, -at.paved), text(-at.stone_top - at.paved) + tr(" soil")))
    elif at.collects and section.layer:
        layer = tr(" turf") if section.top == TURF_TOP else tr(" dressing")
        shapes += [Measure((right, at.crown), (right, at.stone_top), text(at.stone_top - at.crown) + tr(" stone")),
                   Measure((right, at.stone_top), (right, 0.0), text(section.layer) + layer, at.path("turf"))]  # fmt: skip
    if at.paved:
        shapes.append(Measure((left, -at.paved), (left, 0.0), text(at.paved) + tr(" pavement"), at.path("pavement")))
    if is_known:
        shapes.append(Words((bounds[0], 0.0), tr("uphill"), "label", "left", 5, 5))
    return shapes


def _handles(job: Job, run: str, at: _Levels, system: System) -> tuple[Handle, ...]:
    step = step_si(SECTION, system)

    def bottom(job: Job, to: Point) -> Job:
        level = run_of(job, run).invert + snapped(to[1] - at.bottom, step_si(LEVEL, system) / 2)
        return with_value(job, f"runs.{run}.invert", level)

    def width(job: Job, to: Point) -> Job:
        return with_value(job, at.path("width"), max(snapped(2 * abs(to[0]), step), step))

    def bedding(job: Job, to: Point) -> Job:
        return with_value(job, at.path("bedding"), max(snapped(to[1] - at.bottom, step), 0.0))

    def stone(job: Job, to: Point) -> Job:
        return with_value(job, at.path("stone_cover"), max(snapped(to[1] - at.crown, step), 0.0))

    handles = [Handle("width", (at.half, at.bottom + 0.02 * at.cut), "x", tr("Trench width"), step / 2, width, at.path("width")),
               Handle("bottom", (0.0, at.bottom), "y", tr("Trench bottom"), step_si(LEVEL, system), bottom, value=tr("{depth} deep", depth=shown(at.cut, DEPTH, system))),
               Handle("bedding", (-at.half * 0.6, at.bed_top), "y", tr("Bedding"), step, bedding, at.path("bedding"))]  # fmt: skip
    if at.in_stone and at.section.top == SOIL_CAP:
        handles.append(Handle("stone", (0.0, at.stone_top), "y", tr("Stone over the pipe"), step, stone, at.path("stone_cover")))
    return tuple(handles)


def _pipe_handles(outcome: Outcome, found: RunOutcome, at: _Levels, pipes: list[_Drawn], system: System) -> tuple[Handle, ...]:
    """A handle on the pipe of each run, where there are several in the trench; those at a level of their own have none."""
    step, section, handles = step_si(SECTION, system), at.section, []
    if len({d.placed.run for d in pipes}) < 2 or len(section.bores) < 2:
        return ()
    for guest in (found, *outcome.site.in_trench_of(found.id)):
        own = [d for d in pipes if d.placed.run == guest.id and d.placed.across is not None]
        if not own:
            continue
        bore = section.bore(guest.run.run.bore if guest is not found else "")
        middle = (bore.across, own[0].middle[1])
        handles.append(Handle(f"pipe {guest.id}", middle, "both", tr("Place of {run}; a press puts it on the other side",
                                                                               run=guest.run.name), step, _to(section, bore, middle, step),
                              press=partial(sides_changed, run=found.id), value=tr("{across} off the middle", across=shown(abs(bore.across), SECTION, system))))  # fmt: skip
    return tuple(handles)


def _to(section: TrenchSection, bore: Bore, middle: Point, step: float) -> Callable[[Job, Point], Job]:
    """A pipe moved in its section; it stays between the walls and does not sink into the bedding."""

    def move(job: Job, to: Point) -> Job:
        across = min(max(snapped(to[0], step), -section.width / 2), section.width / 2)
        height = max(snapped(bore.height + to[1] - middle[1], step), 0.0)
        moved = dataclasses.replace(bore, across=across, height=height)
        return with_section(job, dataclasses.replace(section, bores=tuple(moved if b.id == bore.id else b for b in section.bores)))

    return move
