"""Across the slope at a station: drain, protected place and the water table between them, with the soil's band."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from weirant.design.water_table import table_profile
from weirant.drawing.primitives import Area, Drawing, Handle, Measure, Point, Shape, Stroke, Words, box, snapped
from weirant.ground.stretches import Make
from weirant.job import Job
from weirant.job.paths import with_value
from weirant.outcome.outcome import Outcome
from weirant.units.display import DEPTH, DISTANCE, System, shown, step_si

Array = NDArray[np.float64]


def across_drawing(outcome: Outcome, station: float, simulated: tuple[Array, Array] | None = None, run: str = "") -> Drawing:
    """Cross-section from uphill of the drain to beyond the protected place; depths below ground, ground drawn level.

    ``simulated`` is x and depth of the simulated water table, m, where it is known.
    """
    job, system, found = outcome.job, System(outcome.job.units), outcome.chosen(run)
    place, hard = job.protected, job.soil.hard_layer_depth
    cut = found.grade.at(found.grade.cut, station) if found.grade is not None else 0.6
    left, right = -max(place.distance * 0.8, 2.0), place.distance * 1.75 + 1.0
    deep = max(cut, hard or 0.0, place.dry_depth) * 1.25
    bounds = (left, -deep, right, deep * 0.34)
    shapes = [Area(box(left, -deep, right, 0.0), "soil"), *_hard(outcome, bounds), *_table(outcome, found.id, station, bounds), *_simulated(simulated, bounds),
              *_drain(found.make(station), cut), Stroke(((left, 0.0), (right, 0.0)), "ground")]  # fmt: skip
    if found.id != place.run:  # the place lies beside the run that serves it, and nowhere else
        return Drawing(tuple(shapes), bounds, (), True, "Across the slope")
    shapes += [*_place(outcome, bounds, system),
               Measure((0.0, deep * 0.2), (place.distance, deep * 0.2), shown(place.distance, DISTANCE, system), "protected.distance")]  # fmt: skip
    handles = (
        Handle("distance", (place.distance, 0.0), "x", "Distance to the place", step_si(DISTANCE, system), _move_distance, "protected.distance"),
        Handle("dry", (place.distance * 1.2, -place.dry_depth), "y", "Depth to be dry", step_si(DEPTH, system), _move_dry, "protected.dry_depth"),
    )  # fmt: skip
    return Drawing(tuple(shapes), bounds, handles, True, "Across the slope")


def _hard(outcome: Outcome, bounds: tuple[float, float, float, float]) -> list[Shape]:
    hard = outcome.job.soil.hard_layer_depth
    if hard is None:
        return []
    return [Area(box(bounds[0], bounds[1], bounds[2], -hard), "hard layer"), Stroke(((bounds[0], -hard), (bounds[2], -hard)), "hard layer"),
            Words((bounds[2], -hard), "hard layer", "label", "right", -5, -12)]  # fmt: skip


def _table(outcome: Outcome, run: str, station: float, bounds: tuple[float, float, float, float]) -> list[Shape]:
    x = np.linspace(bounds[0], bounds[2], 41)
    tables = table_profile(outcome, station, x, run)
    if tables is None:
        return [Words(((bounds[0] + bounds[2]) / 2, bounds[1] / 2), "water table not known yet", "hint", "centre")]
    low, best, high = tables
    floor = outcome.job.soil.hard_layer_depth or -bounds[1]
    band = (
        *((float(a), -float(b)) for a, b in zip(x, low, strict=True)),
        *((float(a), -float(b)) for a, b in zip(x[::-1], high[::-1], strict=True)),
    )
    wet = (*((float(a), -float(b)) for a, b in zip(x, best, strict=True)), (bounds[2], -floor), (bounds[0], -floor))
    shapes: list[Shape] = [
        Area(wet, "wet ground"),
        Area(band, "water band"),
        Stroke(tuple((float(a), -float(b)) for a, b in zip(x, best, strict=True)), "water"),
    ]
    undrained = outcome.job.soil.water_table_depth
    if undrained is not None:
        shapes += [Stroke(((bounds[0], -undrained), (bounds[2], -undrained)), "water when wet"),
                   Words((bounds[2], -undrained), "undrained", "water", "right", -5, 3)]  # fmt: skip
    return shapes


def _simulated(line: tuple[Array, Array] | None, bounds: tuple[float, float, float, float]) -> list[Shape]:
    if line is None:
        return []
    x, depth = line
    inside = (x > bounds[0]) & (x < bounds[2])
    ends = [(at, -float(np.interp(at, x, depth))) for at in (bounds[0], bounds[2])]
    points = (ends[0], *zip(x[inside].tolist(), (-depth[inside]).tolist(), strict=True), ends[1])
    return [Stroke(points, "without"), Words(points[0], "simulated", "water", "left", 4, -12)]


def _drain(make: Make, cut: float) -> list[Shape]:
    height, half = float(make.stone(np.array(cut))), make.section.width / 2
    return [Area(box(-half, -cut, half, 0.0), "backfill"), Area(box(-half, -cut, half, height - cut), "stone"),
            Stroke(((-half, 0), (-half, -cut), (half, -cut), (half, 0)), "trench"), Words((0.0, 0.0), "drain", "label", "centre", 0, 4)]  # fmt: skip


def _place(outcome: Outcome, bounds: tuple[float, float, float, float], system: System) -> list[Shape]:
    place = outcome.job.protected
    shapes: list[Shape] = []
    if place.kind != "lawn":
        thick, foot = 0.12, place.footing_depth or 0.3
        shapes += [Area(box(place.distance, -foot, place.distance + 0.35, 0.05), "building"),
                   Area(box(place.distance, 0.05 - thick, bounds[2], 0.05), "building")]  # fmt: skip
    dry = -place.dry_depth
    shapes += [Stroke(((place.distance, dry), (bounds[2], dry)), "target"),
               Words((bounds[2], dry), f"dry to {shown(place.dry_depth, DEPTH, system)}", "strong", "right", -5, -12),
               Words((place.distance, 0.0), place.name, "label", "left", 4, 6)]  # fmt: skip
    return shapes


def _move_distance(job: Job, to: Point) -> Job:
    step = step_si(DISTANCE, System(job.units))
    return with_value(job, "protected.distance", max(snapped(to[0], step), step))


def _move_dry(job: Job, to: Point) -> Job:
    step = step_si(DEPTH, System(job.units))
    return with_value(job, "protected.dry_depth", max(snapped(-to[1], step), step))
