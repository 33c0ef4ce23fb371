"""A grid under a flat lawn, with crosses where its lines meet, into the wall of a storm basin."""

from __future__ import annotations

from weirant.design.patterns.sketch import Sketch
from weirant.job import Job
from weirant.job.network import OPEN_PIPE
from weirant.job.section import TURF_TOP
from weirant.job.water import PARALLEL
from weirant.language import tr

KEY, TITLE = "grid", tr("Grid under a flat lawn")
HINT = tr("four lines one way, three the other, crosses where they meet, turf over the stone, into a storm basin")
ACROSS, UP = (0, 28, 56, 84), (0, 50, 100)  # ft: where the lines lie
FALL = 0.5  # % either way, so that lines meet at one level


def job() -> Job:
    """A croquet lawn that will not dry."""
    site = Sketch(TITLE, tr("a croquet lawn (invented)"), lambda x, y: 100 if x > -12 else 100 - (-12 - x) * 0.25)
    lawn = site.thing("lawn", tr("the croquet lawn"), (-6, -6), (92, -6), (92, 106), (-6, 106))
    site.section(top=TURF_TOP, turf=2)
    nodes = {(x, y): site.at(x, y) for x in ACROSS for y in UP}
    outlet = site.at(-30, 0, outlet=OPEN_PIPE, water=94)
    lines = [site.run(tr("line 1"), (outlet, *(nodes[x, 0] for x in ACROSS)), 97.0 - 30 * FALL / 100, FALL, solid=28)]
    for number, y in enumerate(UP[1:]):
        lines.append(site.run(tr("line {number}", number=number + 2), [nodes[x, y] for x in ACROSS], 97 + y * FALL / 100, FALL))
    for number, x in enumerate(ACROSS):
        lines.append(site.run(tr("lateral {number}", number=number + 1), [nodes[x, y] for y in UP], 97 + x * FALL / 100, FALL))
    site.dry(lawn, 1, *lines)
    return site.job(source=PARALLEL, reach=28)
