"""A curtain drain above a slab, let out at turf level by a riser."""

from __future__ import annotations

from weirant.design.patterns.sketch import Sketch, loam, si
from weirant.job import Job
from weirant.job.network import BUBBLER, GradeBreak
from weirant.job.water import HILLSIDE
from weirant.language import tr

KEY, TITLE = "curtain", tr("Curtain above a slab")
HINT = tr("one line on the hard layer, round a corner, let out at turf level by a riser in gravel")


def job() -> Job:
    """A shelter on a camp site, wetted from uphill."""
    site = Sketch(TITLE, tr("a shelter on a camp site (invented)"), lambda x, y: 100 + 0.06 * y)
    shelter = site.thing("slab", tr("the shelter's slab"), (2, 0), (44, 0), (44, 22), (2, 22), footing_depth=si(1))
    low, corner, top = site.at(60, -25, outlet=BUBBLER, rise=1.0), site.at(60, 30), site.at(0, 30)
    run = site.run(tr("curtain"), (low, corner, top), 97.5, 3.6, solid=53, breaks=(GradeBreak(si(55), 0.005),))
    site.dry(shelter, 1.5, run)
    return site.job(soil=loam(2, 0.5, 6, "sandy-loam"), source=HILLSIDE, reach=40)
