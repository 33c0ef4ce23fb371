"""A drain at the footing of an L-shaped building, with an exit every 30 ft and a branch under a slab."""

from __future__ import annotations

from weirant.design.patterns.sketch import Sketch, si
from weirant.job import Job
from weirant.job.network import OPEN_PIPE
from weirant.job.water import ONE_SIDE
from weirant.language import tr

KEY, TITLE = "footing", tr("Footing drain")
HINT = tr("round an L-shaped building at the level of its footing, holes facing down, an exit every 30 ft, a branch under a slab")
PIPE = "pvc-100-two-row"


def job() -> Job:
    """An old pumping station, damp below."""
    site = Sketch(TITLE, tr("an old pumping station (invented)"), lambda x, y: 100 - max(0.0, -5 - y) * 4.2 / 37)
    station = site.thing("building", tr("the pumping station"), (0, 0), (60, 0), (60, 30), (30, 30), (30, 60), (0, 60), footing_depth=si(3.5))
    site.thing("slab", tr("the yard slab"), (36, 38), (58, 38), (58, 58), (36, 58))
    south = [site.at(x, -4) for x in (-4, 28, 64)]
    branch, inner = site.at(46, 34), site.at(34, 34)
    ring = site.run(tr("south and east"), (*south, site.at(64, 34), branch, inner), 96.8, 0.5, pipe=PIPE)
    rest = site.run(tr("west and north"), (south[0], site.at(-4, 64), site.at(34, 64), inner), 96.8, 0.5, pipe=PIPE)
    for number, (node, x) in enumerate(zip(south, (-4, 28, 64), strict=True)):
        low = site.at(x, -42, outlet=OPEN_PIPE, water=94)
        level = (96.8, 96.96, 97.14)[number]
        site.run(tr("exit {number}", number=number + 1), (low, node), 95.9, (level - 95.9) / 38 * 100, solid=None, pipe=PIPE)
    site.run(tr("under the slab"), (branch, site.at(46, 56)), 97.51, 0.5, pipe=PIPE)
    site.dry(station, 2, ring, rest)
    return site.job(source=ONE_SIDE, reach=30)
