"""Across the slope at a station: drain, place to keep dry and the water table between them, with the soil's band."""

from __future__ import annotations

from functools import partial

import numpy as np
from numpy.typing import NDArray

from weirant.design.water_table import table_profile
from weirant.drawing.primitives import Area, Drawing, Handle, Measure, Point, Shape, Stroke, Words, box, snapped
from weirant.ground.collecting import Collecting
from weirant.ground.stretches import Make
from weirant.job import Job
from weirant.job.beside import NOUGHT
from weirant.job.paths import with_value
from weirant.job.site import FOUNDED, Feature
from weirant.job.soil import Soil
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units.display import DEPTH, DISTANCE, Kind, System, shown, step_si

Array = NDArray[np.float64]


def across_drawing(outcome: Outcome, station: float, simulated: tuple[Array, Array] | None = None, run: str = "") -> Drawing:
    """Cross-section from uphill of the drain to beyond the place that it keeps dry; depths below ground, ground drawn level. Where the place does
    not lie beside the run, it is not drawn.

    ``simulated`` is x and depth of the simulated water table, m, where it is known.
    """
    system, found = System(outcome.job.units), outcome.chosen(run)
    part = found.part_at(station)
    hard, place, edges = part.soil.hard_layer_depth, part.place, _edges(found, part, station)
    near, dry = (edges[0], place.dry_depth or 0.0) if edges is not None and place is not None else (2.5, 0.0)
    cut = found.grade.at(found.grade.cut, station) if found.grade is not None else 0.6
    left, right = -max(near * 0.8, 2.0), near * 1.75 + 1.0
    deep = max(cut, hard or 0.0, dry, 0.3) * 1.25
    bounds = (left, -deep, right, deep * 0.34)
    shapes = [Area(box(left, -deep, right, 0.0), "soil"), *_hard(part.soil, bounds, system), *_table(outcome, found, station, part, bounds), *_simulated(simulated, bounds),
              *_drain(found.make(station), cut), Stroke(((left, 0.0), (right, 0.0)), "ground")]  # fmt: skip
    if edges is None or place is None:
        return Drawing(tuple(shapes), bounds, (), True, tr("Across the slope"))
    path, wanted = f"runs.{found.id}.distance", f"features.{place.id}.dry_depth"
    shapes += _place(place, edges, bounds, system)
    handles = [Handle("dry", (near * 1.2, -dry), "y", tr("Depth to be dry"), step_si(DEPTH, system), partial(_moved, wanted, DEPTH, -1, 0.0), wanted)]
    if near > NOUGHT and part.lie is not None:
        shapes.append(Measure((0.0, deep * 0.2), (near, deep * 0.2), shown(near, DISTANCE, system), path))
        # what is taken hold of is the edge here; the distance is that where they come nearest
        handles.append(Handle("distance", (near, 0.0), "x", tr("Distance to the place"), step_si(DISTANCE, system), partial(_moved, path, DISTANCE, 1, part.lie.distance - near), path))
    return Drawing(tuple(shapes), bounds, tuple(handles), True, tr("Across the slope"))


def _edges(found: RunOutcome, part: Collecting, station: float) -> tuple[float, float] | None:
    """Where the place lies square to the run at a station, near and far edge m; None where it does not."""
    run = found.run.alignment
    return part.lie.across(run.point(station), run.bearing(station)) if part.lie is not None else None


def _hard(soil: Soil, bounds: tuple[float, float, float, float], system: System) -> list[Shape]:
    path = f"soils.{soil.id}.hard_layer_depth"
    hard = soil.hard_layer_depth
    if hard is None:
        return [Words((bounds[2], bounds[1]), tr("hard layer: not known"), "typed", "right", -5, 6, path)]
    return [Area(box(bounds[0], bounds[1], bounds[2], -hard), "hard layer"), Stroke(((bounds[0], -hard), (bounds[2], -hard)), "hard layer"),
            Words((bounds[2], -hard), tr("hard layer at {hard}", hard=shown(hard, DEPTH, system)), "typed", "right", -5, -12, path)]  # fmt: skip


def _table(outcome: Outcome, found: RunOutcome, station: float, part: Collecting, bounds: tuple[float, float, float, float]) -> list[Shape]:
    x, soil = np.linspace(bounds[0], bounds[2], 41), part.soil
    tables = table_profile(outcome, station, x, found.id)
    if tables is None:
        return [Words(((bounds[0] + bounds[2]) / 2, bounds[1] / 2), tr("water table not known yet"), "hint", "centre")]
    low, best, high = tables
    floor = soil.hard_layer_depth or -bounds[1]
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
    undrained = soil.water_table_depth
    if undrained is not None:
        shapes += [Stroke(((bounds[0], -undrained), (bounds[2], -undrained)), "water when wet"),
                   Words((bounds[2], -undrained), tr("undrained {undrained}", undrained=shown(undrained, DEPTH, System(outcome.job.units))), "typed", "right", -5, 3,
                         f"soils.{soil.id}.water_table_depth")]  # fmt: skip
    if found.water is not None and any(water.of is part and water.waits for water in found.water.parts):
        shapes.append(Words((bounds[0], bounds[1]), tr("the solid water line is a guess here: the simulated one counts"), "label", "left", 4, 5))
    return shapes


def _simulated(line: tuple[Array, Array] | None, bounds: tuple[float, float, float, float]) -> list[Shape]:
    if line is None:
        return []
    x, depth = line
    inside = (x > bounds[0]) & (x < bounds[2])
    ends = [(at, -float(np.interp(at, x, depth))) for at in (bounds[0], bounds[2])]
    points = (ends[0], *zip(x[inside].tolist(), (-depth[inside]).tolist(), strict=True), ends[1])
    return [Stroke(points, "without"), Words(points[0], tr("simulated"), "water", "left", 4, -12)]


def _drain(make: Make, cut: float) -> list[Shape]:
    height, half = float(make.stone(np.array(cut))) if make.section.has_stone else 0.0, make.section.width / 2
    return [Area(box(-half, -cut, half, 0.0), "backfill"), Area(box(-half, -cut, half, height - cut), "stone"),
            Stroke(((-half, 0), (-half, -cut), (half, -cut), (half, 0)), "trench"), Words((0.0, 0.0), tr("drain"), "label", "centre", 0, 4)]  # fmt: skip


def _place(place: Feature, edges: tuple[float, float], bounds: tuple[float, float, float, float], system: System) -> list[Shape]:
    near, far = edges[0], min(edges[1], bounds[2])
    shapes: list[Shape] = []
    if place.kind in FOUNDED and near > NOUGHT:
        thick, foot = 0.12, place.footing_depth or 0.3
        shapes += [Area(box(near, -foot, min(near + 0.35, max(far, near + 0.1)), 0.05), "building"), Area(box(near, 0.05 - thick, max(far, near + 0.1), 0.05), "building")]
    depth = place.dry_depth or 0.0
    dry = -depth
    shapes += [Stroke(((near, dry), (far, dry)), "target"),
               Words((bounds[2], dry), tr("dry to {depth}", depth=shown(depth, DEPTH, system)), "typed", "right", -5, -12, f"features.{place.id}.dry_depth"),
               Words((near, 0.0), place.name, "label", "left", 4, 6)]  # fmt: skip
    return shapes


def _moved(path: str, kind: Kind, axis: int, more: float, job: Job, to: Point) -> Job:
    """The job with a field set to where a handle was dragged: along the section (1), ``more`` m added, or down (−1)."""
    step = step_si(kind, System(job.units))
    return with_value(job, path, max(snapped((to[0] if axis > 0 else -to[1]) + more, step), step))
