"""A court trapped between two buildings: drains, a level balance tube under a walk, one main out under a public walk to a curb."""

from __future__ import annotations

from weirant.design.patterns.sketch import Sketch, si
from weirant.job import Job
from weirant.job.network import CURB_CORE
from weirant.job.water import BOTH_SIDES, ROOF_WATER
from weirant.language import tr

KEY, TITLE = "court", tr("Trapped court")
HINT = tr("two parallels and a third along a wall, a level tube under a walk that joins two of them, roof water joined below, to a curb")


def job() -> Job:
    """A chapel and its hall, with a paved way between."""
    site = Sketch(TITLE, tr("a chapel and its hall (invented)"), lambda x, y: 100 if y > -6 else 100 - (-6 - y) * 2.0 / 54)
    site.thing("building", tr("the chapel"), (-60, -4), (-10, -4), (-10, 60), (-60, 60), footing_depth=si(2))
    site.thing("building", tr("the hall"), (62, -4), (110, -4), (110, 60), (62, 60), footing_depth=si(2))
    site.thing("walk", tr("the way between"), (15, 0), (15, 40))
    site.thing("walk", tr("the public walk"), (-70, -50), (120, -50))
    site.section(width=10, stone_cover=3)
    out, below, low, top = site.at(0, -60, outlet=CURB_CORE, water=97), site.at(0, -10), site.at(0, 0), site.at(0, 44)
    other, end = site.at(30, 0), site.at(30, 40)
    main = site.run(tr("main"), (out, below, low, top), 98.0, 0.8, solid=60)
    level = 98.0 + 60 * 0.008
    site.run(tr("balance tube"), (low, other), level, 0, solid=None)
    far = site.run(tr("far parallel"), (other, end), level, 0.5)
    site.run(tr("along the wall"), (top, site.at(52, 44)), level + 44 * 0.008, 0.5)
    downspout = site.at(-8, 20)
    site.run(tr("chapel roof"), (below, site.at(-8, -10), downspout), 98.0 + 50 * 0.008, 1, solid=None)
    site.sheds(ROOF_WATER, tr("chapel roof"), downspout, 2150)
    site.dry(site.thing("lawn", tr("the court"), (4, 0), (26, 0), (26, 40), (4, 40)), 0.8, main, far)
    return site.job(source=BOTH_SIDES, reach=15)
