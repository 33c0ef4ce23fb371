"""Pushed uphill: the water rises through a grate a foot above the pipe to get out, and stands in the drain up to there."""

from __future__ import annotations

from weirant.design.patterns.sketch import Sketch, si
from weirant.job import Job
from weirant.job.network import GRATE_RISER, INLET
from weirant.job.section import OPEN_TOP
from weirant.job.water import BOTH_SIDES
from weirant.language import tr

KEY, TITLE = "uphill", tr("Pushed uphill")
HINT = tr("280 ft, out by a grate riser 1 ft above the pipe; two inlets in the open stone")


def job() -> Job:
    """The boiler room of a greenhouse."""
    site = Sketch(TITLE, tr("the boiler room of a greenhouse (invented)"), lambda x, y: 98 + 2.2 * y / 280)
    room = site.thing("building", tr("the boiler room"), (-30, 230), (-5, 230), (-5, 276), (-30, 276), footing_depth=si(1))
    site.section(top=OPEN_TOP)
    run = site.run(tr("drain"), (site.at(0, 0, outlet=GRATE_RISER, rise=1), site.at(0, 120, INLET), site.at(0, 200, INLET), site.at(0, 280)), 97.0, 0.5, solid=20)
    site.dry(room, 1, run)
    return site.job(source=BOTH_SIDES, reach=40)
