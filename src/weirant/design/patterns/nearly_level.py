"""Nearly level: a short line between two hard walks, its head capped, a pop-up at its end."""

from __future__ import annotations

import dataclasses

from weirant.design.patterns.sketch import Sketch, dry, si
from weirant.job import Job
from weirant.job.limits import Limits
from weirant.job.network import POP_UP
from weirant.job.section import OPEN_TOP
from weirant.job.water import BOTH_SIDES, Water

KEY, TITLE = "nearly-level", "Nearly level"
HINT = "50 ft of 3 in at 0.1 %, capped head, pop-up at the end, stone to grade between two hard walks"


def job() -> Job:
    """Between the paved ways of a market hall."""
    site = Sketch(TITLE, "a market hall (invented)", lambda x, y: (99.5 if y < 4 else 100) + 0.001 * y)
    for x in (-4, 4):
        site.thing("walk", "west walk" if x < 0 else "east walk", (x, -5), (x, 55))
    site.section(width=8, top=OPEN_TOP)
    run = site.run("line", (site.at(0, 0, outlet=POP_UP), site.at(0, 50)), 98.6, 0.1, solid=4, pipe="corrugated-75")
    limits = dataclasses.replace(Limits(), least_slope=0.0005, least_slope_solid=0.0005)
    return site.job(water=Water(BOTH_SIDES, si(10)), limits=limits, protected=dry(run, "lawn", "the strip", distance=2, depth=0.4, stations=(4, 50), width=si(8)))
