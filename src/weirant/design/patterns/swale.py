"""Inlets down a swale: boxes in line on solid pipe, out through a cut curb; no groundwater."""

from __future__ import annotations

from weirant.design.patterns.sketch import Sketch
from weirant.job import Job
from weirant.job.network import CURB_CUT, INLET, SQUARE
from weirant.job.water import PAVING
from weirant.language import tr

KEY, TITLE = "swale", tr("Inlets down a swale")
HINT = tr("four boxes in line, 6 in solid pipe, 300 ft, out through a cut curb; no groundwater")


def job() -> Job:
    """The access road of a boat yard."""
    site = Sketch(TITLE, tr("the access road of a boat yard (invented)"), lambda x, y: (99.2 if y < 2 else 100.2 + 0.012 * y) + 0.02 * abs(x))
    site.thing("walk", tr("the road's edge"), (12, 10), (12, 310))
    out = site.at(0, 0, outlet=CURB_CUT, water=98.5)
    boxes = [site.at(0, y, INLET, name=tr("box {i}", i=i + 1), basin=(SQUARE, 12, 6)) for i, y in enumerate((75, 150, 225, 300))]
    for number, box in enumerate(boxes):
        site.sheds(PAVING, tr("road to box {number}", number=number + 1), box, 1100, rain=3)
    site.run(tr("swale line"), (out, *boxes), 99.25, 1, solid=None, pipe="pvc-150-two-row")
    return site.job()
