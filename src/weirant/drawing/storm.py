"""The ground across the drain while a storm passes: how wet it is, where the water table stands, what stays dry."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from weirant.design.simulation import Simulation
from weirant.drawing.primitives import Area, Drawing, Point, Ring, Shade, Shape, Stroke, Words, box
from weirant.language import tr
from weirant.library import Pipe
from weirant.outcome.outcome import Outcome
from weirant.seepage.mesh import Laid
from weirant.seepage.paths import FlowPath
from weirant.units.display import DEPTH, System, shown
from weirant.words.facts import water_words

Band = tuple[np.ndarray, np.ndarray, np.ndarray]
SIDE = 0.45  # of the picture's width that shows the ground up the slope


def storm_section(outcome: Outcome, run: str, simulation: Simulation, index: int, title: str, paths: Sequence[FlowPath] = (),
                  likely: Band | None = None) -> Drawing:  # fmt: skip
    """The section of a run at a kept state; the ground is drawn level and depths are below it.

    ``paths`` show where the pipe's water comes from; ``likely`` is the band of the water table as far as the ground is known: places m
    across, and the least and the most depth there, m.
    """
    laid, section = simulation.course.laid, simulation.course.laid.section
    system = System(outcome.job.units)
    reach = max(simulation.place * 1.9 + 0.8, 2.5)
    left, right = -min(section.upslope, reach * SIDE / (1 - SIDE) + 1.0), min(section.downslope, reach)
    hard = outcome.chosen(run).part.soil.hard_layer_depth or section.depth
    deep = section.depth
    bounds = (left, -deep * 1.04, right, deep * 0.14)
    shapes: list[Shape] = [*_strata(laid, bounds, hard), *_trench(outcome, laid)]
    shapes.append(wetness(laid, simulation.course.frames[index].head, bounds))
    shapes += [*(_band(likely, bounds) if likely is not None else ()), *_buildings(outcome, laid, bounds), *_pipe(outcome.chosen(run).collecting.make.pipe, laid)]
    shapes += [Stroke(table_line(laid.x, -simulation.course.frames[index].table, bounds), "water"), Stroke(((left, 0.0), (right, 0.0)), "ground")]
    shapes += [shape for path in paths for shape in _path(path, bounds)]
    dry = -simulation.dry_depth
    shapes += [Stroke(((simulation.place, dry), (right, dry)), "target"),
               Words((right, dry), tr("dry to {dry_depth}", dry_depth=shown(simulation.dry_depth, DEPTH, system)), "label", "right", -4, 3)]  # fmt: skip
    now = float(simulation.course.depth_at(simulation.place)[index])
    title = tr("{title}: under {place} water stands {now}", title=title, place=simulation.name, now=water_words(now, system))
    title += tr("; dashed: in 8 of 10 plausible grounds") if likely is not None else ""
    return Drawing(tuple(shapes), bounds, (), False, title, stretches=True)


def _band(likely: Band, bounds: tuple[float, float, float, float]) -> list[Shape]:
    x, least, most = likely
    upper, lower = table_line(x, -least, bounds), table_line(x, -most, bounds)
    return [Area((*upper, *reversed(lower)), "water band"), Stroke(upper, "band edge"), Stroke(lower, "band edge")]


def _path(path: FlowPath, bounds: tuple[float, float, float, float]) -> list[Shape]:
    """A flow path within the picture, with the days it takes where it comes into sight."""
    points = [(float(x), -float(d)) for x, d in path.points]
    inside = [p for p in points if bounds[0] <= p[0] <= bounds[2]]
    if len(inside) < 2:
        return []
    days = path.travel_time / 86400
    words = tr("{days:.0f} days", days=days) if days < 1000 else tr("{days:.0f} years", days=days / 365.25)
    return [Stroke(tuple(inside), "path"), Words(inside[0], words, "small", "left", 2, 2)]


def _strata(laid: Laid, bounds: tuple[float, float, float, float], hard: float) -> list[Shape]:
    left, bottom, right, _ = bounds
    shapes: list[Shape] = [Area(box(left, bottom, right, 0.0), "soil")]
    below = 0.0
    for stratum in laid.section.strata[:-1]:
        below += stratum.thickness
        if below < hard - 1e-6:
            shapes.append(Area(box(left, bottom, right, -below), "subsoil"))
    shapes += [Area(box(left, bottom, right, -min(hard, laid.section.depth)), "hard layer"), Stroke(((left, -hard), (right, -hard)), "hard layer")]
    return shapes


def _trench(outcome: Outcome, laid: Laid) -> list[Shape]:
    cut = laid.section.cut
    if cut is None:
        return []

    def across(depth: float) -> float:
        return cut.width / 2 + cut.lean * (cut.depth - depth)

    def band(top: float, foot: float) -> tuple[Point, ...]:
        return ((-across(top), -top), (across(top), -top), (across(foot), -foot), (-across(foot), -foot))

    shapes: list[Shape] = [Area(band(cut.stone_top, cut.depth), "stone", 0.0)]
    if cut.stone_top > 0:
        shapes.append(Area(band(0.0, cut.stone_top), "backfill"))
    shapes.append(Stroke(((-across(0), 0.0), (-across(cut.depth), -cut.depth), (across(cut.depth), -cut.depth), (across(0), 0.0)), "fabric" if cut.wrap else "trench"))
    return shapes


def _pipe(pipe: Pipe, laid: Laid) -> list[Shape]:
    cut = laid.section.cut
    if cut is None or cut.pipe is None:
        return []
    radius = cut.pipe.diameter / 2
    return [Ring((0.0, radius - cut.pipe.depth), pipe.inner_diameter / 2, radius, max(cut.pipe.water - pipe.wall, 0.0), pipe.openings)]


def _buildings(outcome: Outcome, laid: Laid, bounds: tuple[float, float, float, float]) -> list[Shape]:
    top = 0.12 * laid.section.depth
    return [Area(box(cover.start, -cover.depth, min(cover.end, bounds[2]), top), "building") for cover in laid.section.covers if cover.start < bounds[2]]


def wetness(laid: Laid, head: np.ndarray, bounds: tuple[float, float, float, float]) -> Shade:
    """How full the pores are, within the bounds; head (n,) m."""
    h = head.reshape(laid.media.shape).astype(float)
    wet = np.empty_like(h)
    for index, medium in enumerate(laid.materials):
        here = laid.media == index
        wet[here] = (medium.content(h[here]) - medium.residual) / (medium.saturated - medium.residual)
    wet[h >= 0] = 1.0
    wet[laid.solid] = np.nan
    first = max(0, int(np.searchsorted(laid.grid.x, bounds[0], side="right")) - 1)
    last = min(len(laid.grid.x) - 1, int(np.searchsorted(laid.grid.x, bounds[2])))
    return Shade(laid.grid.x[first : last + 1], -laid.grid.depth[::-1], wet[first:last, ::-1])


def table_line(x: np.ndarray, y: np.ndarray, bounds: tuple[float, float, float, float]) -> tuple[Point, ...]:
    """A line over x, cut off at the sides of the bounds."""
    inside = (x >= bounds[0]) & (x <= bounds[2])
    ends = [(bounds[0], float(np.interp(bounds[0], x, y))), *zip(x[inside].tolist(), y[inside].tolist(), strict=True), (bounds[2], float(np.interp(bounds[2], x, y)))]
    return tuple(ends)
