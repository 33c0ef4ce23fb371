"""Nearly level: a short line between two hard walks, its head capped, a pop-up at its end."""

from __future__ import annotations

import dataclasses

from weirant.design.patterns.sketch import Sketch
from weirant.job import Job
from weirant.job.limits import Limits
from weirant.job.network import POP_UP
from weirant.job.section import OPEN_TOP
from weirant.job.water import BOTH_SIDES
from weirant.language import tr

KEY, TITLE = "nearly-level", tr("Nearly level")
HINT = tr("50 ft of 3 in at 0.1 %, capped head, pop-up at the end, stone to grade between two hard walks")


def job() -> Job:
    """Between the paved ways of a market hall."""
    site = Sketch(TITLE, tr("a market hall (invented)"), lambda x, y: (99.5 if y < 4 else 100) + 0.001 * y)
    walk, _ = (site.thing("walk", name, (x, 4), (x, 50)) for name, x in ((tr("west walk"), -3), (tr("east walk"), 3)))
    site.section(width=8, top=OPEN_TOP)
    run = site.run(tr("line"), (site.at(0, 0, outlet=POP_UP), site.at(0, 50)), 98.6, 0.1, solid=4, pipe="corrugated-75")
    limits = dataclasses.replace(Limits(), least_slope=0.0005, least_slope_solid=0.0005)
    site.dry(walk, 0.4, run)
    return site.job(source=BOTH_SIDES, reach=10, limits=limits)
