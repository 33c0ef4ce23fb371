"""Where the water that is let out runs on over the ground: back into the drain, to a building, over the boundary, or away."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from itertools import pairwise
from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from weirant.design.session import Session
from weirant.ground.crossings import shape_of
from weirant.ground.surface import Surface
from weirant.ground.surface.descent import trail
from weirant.job import Job
from weirant.job.network import INLET, LAWN, OPEN_PIPE, RISES, Node
from weirant.job.section import OPEN_TOP
from weirant.job.site import FOUNDED
from weirant.outcome.site import RunOutcome, Site
from weirant.outcome.trails import LetOut

OVER_LAND = (OPEN_PIPE, LAWN, *RISES)  # outlets from which water goes on over the ground
BESIDE_WATER = 3.0  # m from a brook within which it is in it
EVERY = 1.0  # m between the places that stand for an outline or a line
Array = NDArray[np.float64]
Caught = Iterator[tuple[tuple[str, str], tuple[float, float]]]


class CaughtBy(NamedTuple):
    """What water may come by, as kind and identity, and its places (n, 2) m."""

    names: tuple[tuple[str, str], ...]
    places: Array


def let_out(job: Job, site: Site, session: Session) -> dict[str, LetOut]:
    """By node of an outlet where its water goes on over the ground; of those alone that lead it over land that is known."""
    surface = site.surface
    if surface is None:
        return {}
    asked = [node for node in job.nodes if _over_land(job, node) and node.id in site.network.at_node]
    if not asked:
        return {}
    inlets = "|".join(f"{node.id} {node.x!r} {node.y!r}" for node in job.nodes if node.kind == INLET)
    lies = b"".join(run.alignment.points.tobytes() for run in site.network.runs)
    on = (job.features, inlets, lies, *(found.stretches for found in site.runs))
    caught = session.once("caught by", on, lambda: _caught_by(job, site.runs), _are_like)
    return {node.id: session.once(f"let out {node.id}", (surface, node.x, node.y, caught), partial(_followed, surface, node, caught)) for node in asked}


def _over_land(job: Job, node: Node) -> bool:
    outlet = node.outlet
    if outlet is None or outlet.kind not in OVER_LAND or outlet.water_level is not None or outlet.storm_level is not None:
        return False
    here = shapely.points(node.x, node.y)
    return not any(thing.kind == "brook" and len(thing.points) > 1 and shapely.dwithin(shape_of(thing), here, BESIDE_WATER) for thing in job.features)


def _followed(surface: Surface, node: Node, caught: CaughtBy) -> LetOut:
    names, places = caught
    others = np.array([name != ("inlet", node.id) for name in names], dtype=bool)
    found = trail(surface, (node.x, node.y), places[others] if len(places) else places)
    kind, identity = [name for name, is_other in zip(names, others, strict=True) if is_other][found.met] if found.met is not None else (found.ends, "")
    return LetOut(kind, identity, found.at)


def _caught_by(job: Job, runs: tuple[RunOutcome, ...]) -> CaughtBy:
    """What water may come by: inlets, drains that are open to the top, what stands there, the boundary."""
    found = [*_inlets(job), *_open_drains(runs), *_outlines(job)]
    return CaughtBy(tuple(name for name, _ in found), np.array([place for _, place in found], dtype=float).reshape(-1, 2))


def _are_like(before: CaughtBy, now: CaughtBy) -> bool:
    return before.names == now.names and np.array_equal(before.places, now.places)


def _inlets(job: Job) -> Caught:
    return ((("inlet", node.id), (node.x, node.y)) for node in job.nodes if node.kind == INLET)


def _open_drains(runs: tuple[RunOutcome, ...]) -> Caught:
    for found in runs:
        for stretch in found.stretches:
            if not stretch.is_solid and stretch.make.section.top == OPEN_TOP:
                for station in np.arange(stretch.low + EVERY / 2, stretch.high, EVERY).tolist():
                    yield ("drain", found.id), found.run.alignment.point(station)


def _outlines(job: Job) -> Caught:
    for thing in job.features:
        if thing.kind not in (*FOUNDED, "boundary") or len(thing.points) < 2:
            continue
        corners = [(spot.x, spot.y) for spot in thing.points]
        closed = [*corners, corners[0]] if len(corners) > 2 and thing.kind != "wall" else corners
        kind = "boundary" if thing.kind == "boundary" else "thing"
        for (x0, y0), (x1, y1) in pairwise(closed):
            count = max(1, round(float(np.hypot(x1 - x0, y1 - y0)) / EVERY))
            for i in range(count):
                yield (kind, thing.id), (x0 + (x1 - x0) * i / count, y0 + (y1 - y0) * i / count)
