"""Long laterals at a quarter of a per cent with vents, into a larger main."""

from __future__ import annotations

import dataclasses

from weirant.design.patterns.sketch import IN, Sketch, loam, si
from weirant.job import Job
from weirant.job.limits import Limits
from weirant.job.network import OPEN_PIPE, VENT
from weirant.job.water import PARALLEL
from weirant.language import tr

KEY, TITLE = "laterals", tr("Long laterals")
HINT = tr("800 ft lines at 0.25 % with vents, into a 6 in main; 34 in deep wanted, at most 40 in")


def job() -> Job:
    """A tree nursery on nearly level ground."""
    site = Sketch(TITLE, tr("a tree nursery (invented)"), lambda x, y: 100 + 0.0025 * max(y, 0) if x > -50 else 100 - (-50 - x) * 0.12)
    site.thing("brook", tr("the field ditch"), (-80, -40), (-80, 820))
    site.section(width=8, stone_cover=4)
    low, joints = site.at(-76, 0, outlet=OPEN_PIPE, water=95), [site.at(x, 0) for x in (0, 40, 80)]
    site.run(tr("main"), (low, *joints), 96.93, 0.25, solid=None, pipe="corrugated-150")
    lines = [site.run(tr("lateral {i}", i=i + 1), (joint, site.at(40 * i, 800, VENT)), 96.93 + 0.0025 * (76 + 40 * i), 0.25, least_depth=si(30, IN)) for i, joint in enumerate(joints)]
    limits = dataclasses.replace(Limits(), least_slope=0.0025, least_slope_solid=0.0025, most_depth=si(40, IN))
    site.dry(site.thing("lawn", tr("the nursery beds"), (-18, 2), (98, 2), (98, 800), (-18, 800)), 1, *lines)
    return site.job(soil=loam(8, 1.5), source=PARALLEL, reach=40, limits=limits)
