"""Where what is left of the earth is spread beside the trenches: how wide and thick, and what that does to the fall of the ground there."""

from __future__ import annotations

import dataclasses
import math
from functools import partial

import numpy as np
import shapely
from numpy.typing import NDArray

from weirant.design.bill import spoil_of
from weirant.design.session import Session
from weirant.ground.surface import Surface
from weirant.job import Job
from weirant.job.network import PLANNED
from weirant.job.site import OUTLINED
from weirant.job.work_terms import SPREAD_LEFT, SPREAD_RIGHT
from weirant.methods.spoil import spoil_spread
from weirant.outcome.site import RunOutcome, Site
from weirant.outcome.spoil import Ring, SpoilBand

KEPT_CLEAR, WALK = ("building", "slab", "wall", "walk", "tree"), 0.6  # where no soil is put; m on each side of a walk's line, a wall or a trunk (common practice, no source)
EVERY, LEAST, ROUNDED = 1.0, 0.05, 0.1  # m between the places where the fall is read; m² of a band that is worth drawing; m
Strip = tuple[float, tuple[Ring, ...], float | None]  # area m², rings, and how much the ground falls away there


def with_spoil(job: Job, site: Site, session: Session) -> Site:
    """The site with a band for each trench that is dug, on the side or sides that the job says; a trench that has no room beside it has a band of no ring. Where it lies hangs on the
    plan alone: while an invert is dragged only its depth is worked out anew.
    """
    terms, left = job.work, spoil_of(job, site)
    clear = session.once("kept clear of spoil", (job.features,), lambda: _kept_clear(job))
    found = []
    for run in site.runs:
        volume = left.get(run.id, 0.0) + sum(left.get(guest.id, 0.0) for guest in site.in_trench_of(run.id))
        if run.grade is None or run.run.run.status != PLANNED or run.run.run.trench_of or volume <= 0:
            continue
        on = (run.run.alignment.points.tobytes(), _half(run), clear, terms.spoil, terms.spread_width, site.surface)
        area, rings, fell = session.once(f"spoil {run.id}", on, partial(_strip, run, terms.spoil, terms.spread_width, clear, site.surface))
        spread = spoil_spread(volume, area / terms.spread_width, terms.spread_width) if rings else None
        found.append(SpoilBand(run.id, rings, volume, spread.depth if spread is not None else 0.0, spread.fall if spread is not None else 0.0, fell))
    return dataclasses.replace(site, spoil=tuple(found))


def _strip(run: RunOutcome, spoil: str, width: float, clear: shapely.Geometry, surface: Surface | None) -> Strip:
    """The ground that a run's spoil is spread on."""
    band = _beside(run, spoil, width).difference(clear)
    parts = [part for part in getattr(band, "geoms", [band]) if part.geom_type == "Polygon" and part.area >= LEAST]
    rings = tuple(tuple((float(x), float(y)) for x, y in part.exterior.coords[:-1]) for part in parts)
    return sum(part.area for part in parts), rings, _fell(run, spoil, width, surface) if surface is not None else None


def _sides(spoil: str) -> tuple[int, ...]:
    return (1,) if spoil == SPREAD_LEFT else (-1,) if spoil == SPREAD_RIGHT else (1, -1)


def _half(run: RunOutcome) -> float:
    """Half the width m of the trench at the ground, the widest; of sides that lean rounded up, so that a level that is dragged does not move it all the time."""
    cut = max(float(run.grade.cut.max()), 0.0) if run.grade is not None else 0.0
    return max(make.section.width / 2 if not make.section.side_slope and not make.bench else math.ceil(float(make.edge(cut)) / ROUNDED) * ROUNDED for make in (s.make for s in run.stretches))


def _beside(run: RunOutcome, spoil: str, width: float) -> shapely.Geometry:
    """The ground from the edge of the trench to a width m from it, looking up the run."""
    line, half = shapely.LineString(run.run.alignment.points), _half(run)
    sides = [line.buffer(side * (half + width), single_sided=True, join_style="mitre") for side in _sides(spoil)]
    return shapely.union_all(sides).difference(line.buffer(half, cap_style="flat"))


def _kept_clear(job: Job) -> shapely.Geometry:
    things = []
    for thing in job.features:
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
