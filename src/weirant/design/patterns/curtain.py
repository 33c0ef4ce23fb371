"""A curtain drain above a slab, let out at turf level by a riser."""

from __future__ import annotations

from weirant.design.patterns.sketch import Sketch, dry, loam, si
from weirant.job import Job
from weirant.job.network import BUBBLER, GradeBreak
from weirant.job.water import HILLSIDE, Water

KEY, TITLE = "curtain", "Curtain above a slab"
HINT = "one line on the hard layer, round a corner, let out at turf level by a riser in gravel"


def job() -> Job:
    """A shelter on a camp site, wetted from uphill."""
    site = Sketch(TITLE, "a shelter on a camp site (invented)", lambda x, y: 100 + 0.06 * y)
    site.thing("slab", "the shelter", (2, 0), (44, 0), (44, 22), (2, 22), footing_depth=si(1))
    low, corner, top = site.at(60, -25, outlet=BUBBLER, rise=1.0), site.at(60, 30), site.at(0, 30)
    run = site.run("curtain", (low, corner, top), 97.5, 3.6, solid=53, breaks=(GradeBreak(si(55), 0.005),))
    return site.job(soil=loam(2, 0.5, 6, "sandy-loam"), water=Water(HILLSIDE, si(40)),
                    protected=dry(run, "slab edge", "the shelter's slab", distance=8, depth=1.5, stations=(71, 113), on_left=True, footing_depth=si(1)))  # fmt: skip
