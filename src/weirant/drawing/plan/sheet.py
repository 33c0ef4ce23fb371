"""The plan as a whole: what is drawn over what, how much of the site it shows, and what can be taken hold of."""

from __future__ import annotations

import math

from weirant.design.terrain import Terrain
from weirant.drawing.plan.ground import ground_shapes
from weirant.drawing.plan.handles import plan_handles
from weirant.drawing.plan.lie import middle_of, nearest_edge
from weirant.drawing.plan.runs import flow_arrows, run_shapes
from weirant.drawing.plan.things import lying_under, shots, standing
from weirant.drawing.primitives import Area, Drawing, Mark, Measure, Point, Shape, Words
from weirant.ground.places import point_of
from weirant.job import Job
from weirant.job.situations import places_of
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.units.display import DISTANCE, SECTION, STATION, System, shown

MOST_SHOTS = 1500  # of more only every second, third … is drawn; the ground goes through all
NAMED_SHOTS = 40  # so many shots bear their names; more would be a blur
FAR_THINGS = ("woodland", "brook", "boundary", "lawn")
Bounds = tuple[float, float, float, float]


def plan_drawing(outcome: Outcome, station: float, *, run: str = "", thing: str = "", spot: int = -1, terrain: Terrain | None = None,
                 whole: bool = False) -> Drawing:  # fmt: skip
    """The plan of a job: the run in hand with its station, the thing and the low spot in hand; ``whole`` shows all of the site."""
    job, system, site, found = outcome.job, System(outcome.job.units), outcome.site, outcome.chosen(run)
    shapes: list[Shape] = [*lying_under(job)]
    if site.surface is not None and terrain is not None:
        shapes += ground_shapes(site.surface, terrain, system, chosen=spot)
    for band in site.spoil:
        shapes += [Area(ring, "spoil") for ring in band.rings]
        shapes += [Words(middle_of(max(band.rings, key=len)), tr("spoil {depth}", depth=shown(band.depth, SECTION, system)), "label", "centre")] if band.rings else []
    shapes += standing(job, thing)
    for hole in job.holes:
        shapes += [Mark((hole.x, hole.y), "hole"), Words((hole.x, hole.y), hole.name, "small", "left", 6, 3)]
    placed = _placed(job)
    shapes += shots(job, placed, names=whole and len(placed) < NAMED_SHOTS)
    shapes += [*run_shapes(outcome, found.id), *flow_arrows(outcome)]
    edge = nearest_edge(found.run, found.part)
    if edge is not None:
        shapes.append(Measure(*edge, shown(math.dist(*edge), DISTANCE, system), f"runs.{found.id}.distance"))
    shapes.append(Words(found.run.alignment.point(station), tr("at {station}", station=shown(station, STATION, system)), "station", "left", 4, -20))
    return Drawing(tuple(shapes), _bounds(outcome, whole), plan_handles(outcome, found.id, thing, edge), title=tr("Plan"))


def _placed(job: Job) -> list[tuple[str, Point]]:
    """Names and places of the shots in plan; of very many an even part."""
    booked = [(s.point, point_of(s.place, job.survey)) for s in job.survey.shots if s.place is not None]
    return [*booked, *((p.name, (p.x, p.y)) for p in job.points[:: 1 + len(job.points) // MOST_SHOTS])]


def _bounds(outcome: Outcome, whole: bool) -> Bounds:
    """All runs with the places to keep dry; the whole site where it is to be mapped."""
    job = outcome.job
    points: list[Point] = [(p.x, p.y) for place in places_of(job) for p in place.points]
    for found in outcome.site.runs:
        points += [(float(x), float(y)) for x, y in found.run.alignment.points]
    if whole:
        if outcome.site.surface is not None:
            west, south, east, north = outcome.site.surface.bounds
            points += [(west, south), (east, north)]
        points += [(p.x, p.y) for f in job.features if f.kind not in FAR_THINGS for p in f.points]
        points += [(p.x, p.y) for f in job.features if f.kind == "boundary" for p in f.points]
    left, right = min(x for x, _ in points), max(x for x, _ in points)
    bottom, top = min(y for _, y in points), max(y for _, y in points)
    room = (0.06 if whole else 0.13) * max(right - left, top - bottom, 5.0)
    return left - room, bottom - room, right + room, top + room
