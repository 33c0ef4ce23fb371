"""Where what is left of the earth is spread beside the trenches: how wide and thick, and what that does to the fall of the ground there."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from weirant.design.bill import spoil_of
from weirant.ground.surface import Surface
from weirant.job.network import PLANNED
from weirant.job.site import OUTLINED
from weirant.job.work_terms import HAULED, SPREAD_LEFT, SPREAD_RIGHT
from weirant.methods.spoil import spoil_spread
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass

Ring = tuple[tuple[float, float], ...]
KEPT_CLEAR, WALK = ("building", "slab", "wall", "walk", "tree"), 0.6  # where no soil is put; m on each side of a walk's line, a wall or a trunk (common practice, no source)
EVERY, LEAST = 1.0, 0.05  # m between the places where the fall is read; m² of a band that is worth drawing


@dataclass(frozen=True)
class SpoilBand:
    """The spoil of a run: its rings in plan, m³ as it lies loose, depth m at the trench, by how much m/m the ground falls more away from the trench with it, and how much it fell
    before (less than nought: towards it; None where the surface is not known).
    """

    run: str
    rings: tuple[Ring, ...]
    volume: float
    depth: float
    fall: float
    fell: float | None


def spoil_bands(outcome: Outcome) -> tuple[SpoilBand, ...]:
    """A band for each trench that is dug, on the side or sides that the job says; none where it is hauled away, or there is no room beside a trench."""
    terms = outcome.job.work
    if terms.spoil == HAULED:
        return ()
    left = spoil_of(outcome)
    clear = _kept_clear(outcome)
    found = []
    for run in outcome.site.runs:
        if run.grade is None or run.run.run.status != PLANNED or run.run.run.trench_of or left.get(run.id, 0.0) <= 0:
            continue
        band = _beside(run, terms.spoil, terms.spread_width).difference(clear)
        if band.area < LEAST:
            continue
        spread = spoil_spread(left[run.id], band.area / terms.spread_width, terms.spread_width)
        fell = _fell(run, terms.spoil, terms.spread_width, outcome.site.surface) if outcome.site.surface is not None else None
        rings = tuple(tuple((float(x), float(y)) for x, y in part.exterior.coords[:-1]) for part in getattr(band, "geoms", [band]) if part.geom_type == "Polygon" and part.area >= LEAST)
        found.append(SpoilBand(run.id, rings, left[run.id], spread.depth, spread.fall, fell))
    return tuple(found)


def _sides(spoil: str) -> tuple[int, ...]:
    return (1,) if spoil == SPREAD_LEFT else (-1,) if spoil == SPREAD_RIGHT else (1, -1)


def _half(run: RunOutcome) -> float:
    return max(stretch.make.section.width for stretch in run.stretches) / 2


def _beside(run: RunOutcome, spoil: str, width: float) -> shapely.Geometry:
    """The ground from the edge of the trench to a width m from it, looking up the run."""
    line, half = shapely.LineString(run.run.alignment.points), _half(run)
    sides = [line.buffer(side * (half + width), single_sided=True, join_style="mitre") for side in _sides(spoil)]
    return shapely.union_all(sides).difference(line.buffer(half, cap_style="flat"))


def _kept_clear(outcome: Outcome) -> shapely.Geometry:
    things = []
    for thing in outcome.job.features:
        points = [(p.x, p.y) for p in thing.points]
        if thing.kind not in KEPT_CLEAR or not points:
            continue
        shape = shapely.Polygon(points) if thing.kind in OUTLINED and len(points) > 2 else shapely.LineString(points) if len(points) > 1 else shapely.Point(points[0])
        things.append(shapely.make_valid(shape) if shape.area > 0 else shape.buffer(max(WALK, thing.root_radius or 0.0)))
    return shapely.union_all(things)


def _fell(run: RunOutcome, spoil: str, width: float, surface: Surface) -> float | None:
    """How much the ground falls away from the trench over the width, m/m, in the mean; None where no such place lies on the surface."""
    lie, half = run.run.alignment, _half(run)
    stations = np.linspace(0.0, run.run.length, max(2, round(run.run.length / EVERY)))
    here, ahead = lie.at(stations), lie.at(np.minimum(stations + 0.01, run.run.length)) - lie.at(np.maximum(stations - 0.01, 0.0))
    across = np.column_stack([-ahead[:, 1], ahead[:, 0]]) / np.maximum(np.hypot(ahead[:, 0], ahead[:, 1]), 1e-9)[:, None]
    falls: list[NDArray[np.float64]] = []
    for side in _sides(spoil):
        (near, is_near), (far, is_far) = (surface.at(here + side * away * across) for away in (half, half + width))
        falls.append((near - far)[is_near & is_far] / width)
    every = np.concatenate(falls)
    return float(every.mean()) if every.size else None
