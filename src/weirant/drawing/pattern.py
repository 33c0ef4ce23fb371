"""A pattern in small: its runs in plan with what stands beside them, without words."""

from __future__ import annotations

from weirant.drawing.primitives import Area, Drawing, Mark, Shape, Stroke
from weirant.ground.network import network_of
from weirant.job import Job
from weirant.job.network import INLET
from weirant.job.site import OUTLINED

MARGIN = 0.06  # of the larger side left free round it


def pattern_drawing(job: Job) -> Drawing:
    """Buildings and lawns, walks, every run solid or collecting, boxes and outlets."""
    shapes: list[Shape] = []
    for thing in job.features:
        corners = tuple((p.x, p.y) for p in thing.points)
        if thing.kind in OUTLINED and thing.kind in ("building", "slab", "lawn"):
            shapes.append(Area(corners, "building" if thing.kind != "lawn" else "grass"))
        elif thing.kind in ("walk", "brook"):
            shapes.append(Stroke(corners, thing.kind))
    network = network_of(job)
    for run in network.runs:
        for low, high, is_solid in run.spans:
            stops = [low, *(s for _, s in run.nodes if low < s < high), high]
            shapes.append(Stroke(tuple(run.alignment.point(s) for s in stops), "solid run" if is_solid else "collecting run"))
    marks: list[Shape] = [Mark((n.x, n.y), "fitting") for n in job.nodes if n.kind == INLET]
    marks += [Mark((n.x, n.y), "joint") for n in job.nodes if n.outlet is not None]
    x, y = [n.x for n in job.nodes], [n.y for n in job.nodes]
    room = MARGIN * max(max(x) - min(x), max(y) - min(y), 1.0)
    return Drawing((*shapes, *marks), (min(x) - room, min(y) - room, max(x) + room, max(y) + room))
