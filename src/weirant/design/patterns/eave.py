"""Boxes round an eave: solid pipe that turns its corners in the boxes."""

from __future__ import annotations

from weirant.design.patterns.sketch import Sketch, si
from weirant.job import Job
from weirant.job.network import INLET, OPEN_PIPE, SQUARE
from weirant.job.water import ROOF_WATER
from weirant.language import tr

KEY, TITLE = "eave", tr("Boxes round an eave")
HINT = tr("six boxes in 220 ft of 4 in smooth solid pipe, corners in the boxes, 1 in per 5 ft, to a road ditch")


def job() -> Job:
    """A cricket pavilion without gutters."""
    site = Sketch(TITLE, tr("a cricket pavilion (invented)"), lambda x, y: 100 if x > -12 else 100 - (-12 - x) * 4.8 / 60)
    site.thing("building", tr("the pavilion"), (0, 0), (50, 0), (50, 30), (0, 30), footing_depth=si(3.5))
    out = site.at(-72, -6, outlet=OPEN_PIPE, water=93)
    boxes = [site.at(x, y, INLET, name=tr("box {i}", i=i + 1), basin=(SQUARE, 9, 4)) for i, (x, y) in enumerate(((-6, -6), (25, -6), (56, -6), (56, 15), (56, 36), (6, 36)))]
    for number, box in enumerate(boxes):
        site.sheds(ROOF_WATER, tr("eave to box {number}", number=number + 1), box, 250, rain=3)
    site.run(tr("eave line"), (out, *boxes), 95.25, 100 / 60, solid=None, pipe="pvc-100-two-row")
    return site.job()
