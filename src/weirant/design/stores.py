"""What a part of a network stores in a storm, over which rims water comes out of it, and where it runs then."""

from __future__ import annotations

import math
from collections.abc import Mapping

import numpy as np
import shapely
from numpy.typing import NDArray

from weirant.ground.surface.descent import runs_to
from weirant.ground.surface.ponding import LowSpot, low_spots
from weirant.hydraulics.mesh_sketch import MeshReach, MeshSketch
from weirant.hydraulics.routing import Stores
from weirant.job.network import INLET, Grate, Node
from weirant.outcome.boxes import box, rim_of
from weirant.outcome.outcome import Outcome
from weirant.outcome.routed import Bowl
from weirant.outcome.site import RunOutcome
from weirant.outcome.standing import OPEN

Array = NDArray[np.float64]
HAIR = 1e-3  # m by which a rim must lie lower


def stores_of(outcome: Outcome, sketch: MeshSketch, lengths: Array, bowls: Mapping[str, Bowl]) -> Stores:
    """What the pipes, the stone round them, the boxes, the pits that soak and the bowls round grates hold, and over which rims water comes out. Stone under
    the invert is taken for full; that of a trench with several runs belongs to the one whose trench it is. Of ``lengths`` m what stands for losses holds
    nothing, and no more what is no reach of a run.
    """
    count, of_runs = len(sketch.low), len(sketch.reaches)
    pipes, pores, stone = (np.zeros(len(lengths)) for _ in range(3))
    plan, rim, edge = np.zeros(count), np.full(count, np.inf), np.zeros(count)
    for number, reach in enumerate(sketch.reaches):
        found = outcome.site.run(reach.run.id)
        pipes[number] = reach.run.run.pipes
        if found is None or found.grade is None or reach.stretch.is_solid:
            continue
        ground = np.interp([reach.low, reach.high], found.grade.stations, found.grade.ground)
        for section, level in zip((reach.below, reach.above), ground.tolist(), strict=True):
            rim[section] = min(rim[section], level)
            edge[section] += (reach.high - reach.low) / 2
        if not reach.run.run.trench_of:
            pores[number], stone[number] = _stone(found, reach)
    spots = low_spots(outcome.site.surface) if bowls and outcome.site.surface is not None else []
    for node, number in sketch.numbers.items():
        of, way = sketch.node(node), outcome.site.outlets.get(node)
        if of.kind in OPEN:
            plan[number], around = box(of.basin)
            comes_out = rim_of(outcome, of)
            if node in bowls:
                grate, bowl = of.grate or (Grate() if of.kind == INLET else Grate(bowl_depth=0.0, bowl_area=0.1)), bowls[node].section
                rim[number], edge[number] = np.inf, 0.0  # it comes up through the grate
                area, deep = grate.bowl_area, grate.bowl_depth
                if (spot := _low_spot(spots, of)) is not None and spot.level - sketch.low[bowl] > deep:  # the ground itself is the bowl
                    area, deep = spot.volume / spot.depth, spot.level - sketch.low[bowl]
                plan[bowl], rim[bowl], edge[bowl] = area, sketch.low[bowl] + deep, 2 * math.sqrt(math.pi * grate.bowl_area)
            elif comes_out is not None and comes_out <= rim[number]:
                rim[number], edge[number] = comes_out, max(edge[number], around)
        if way is not None and way.soaks is not None:
            plan[number] += way.soaks.holds
            if way.passage is None and (ground_here := outcome.site.node(of).ground) is not None:
                rim[number], edge[number] = min(rim[number], ground_here), max(edge[number], 2 * math.sqrt(math.pi * way.soaks.holds))
    rim = np.maximum(rim, np.array(sketch.low))
    there = np.zeros(len(lengths))
    there[:of_runs] = np.array([reach.high - reach.low for reach in sketch.reaches]) / lengths[:of_runs]
    return Stores(pipes * there, pores * there, stone, plan, rim, edge, np.full(count, -1, dtype=np.intp))


def _low_spot(spots: list[LowSpot], node: Node) -> LowSpot | None:
    """The low spot of the ground that a node lies in."""
    place = shapely.Point(node.x, node.y)
    return next((spot for spot in spots for line in spot.outline if len(line) > 3 and shapely.Polygon(line).contains(place)), None)


def _stone(found: RunOutcome, reach: MeshReach) -> tuple[float, float]:
    """The voids of the stone over the invert, m² in a metre of height and length, and how high over the invert it goes, m."""
    make, grade = reach.stretch.make, found.grade
    assert grade is not None
    middle = (reach.low + reach.high) / 2
    top = float(make.stone(np.array(grade.at(grade.cut, middle))))
    height = top - make.below
    if height <= 0:
        return 0.0, 0.0
    round_pipe = float(make.area(np.array(top)) - make.area(np.array(make.below))) - math.pi / 4 * make.pipe.outer_diameter**2 * reach.run.run.pipes
    return max(round_pipe, 0.0) * make.voids(top) / height, height


def lead_over_land(outcome: Outcome, sketch: MeshSketch, stores: Stores, bowls: Mapping[str, Bowl]) -> dict[int, int]:
    """Lead what comes over the rim of a box or its bowl to the next that it runs by, over the ground as it was shot; only to one whose rim lies lower."""
    surface = outcome.site.surface
    at = {name: bowls[name].section if name in bowls else number for name, number in sketch.numbers.items()}
    open_ = [node for name in sketch.numbers if (node := sketch.node(name)).kind in OPEN and np.isfinite(stores.rim[at[name]])]
    for node in open_ if surface is not None and len(open_) > 1 else ():
        others = [other for other in open_ if stores.rim[at[other.id]] < stores.rim[at[node.id]] - HAIR]
        to = runs_to(surface, (node.x, node.y), np.array([(other.x, other.y) for other in others]).reshape(-1, 2)) if others and surface is not None else None
        if to is not None:
            stores.leads[at[node.id]] = at[others[to].id]
    return {number: to for number, to in enumerate(stores.leads.tolist()) if to >= 0}
