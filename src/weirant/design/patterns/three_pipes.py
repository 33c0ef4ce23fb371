"""Three pipes in the stone of one trench: two below that lead to the outlet, one above them."""

from __future__ import annotations

import dataclasses

from weirant.design.patterns.sketch import IN, Sketch, si
from weirant.ground.in_place import in_place
from weirant.job import Job
from weirant.job.network import OPEN_PIPE
from weirant.job.section import Bore
from weirant.job.water import BOTH_SIDES
from weirant.language import tr
from weirant.library import shipped

KEY, TITLE = "three-pipes", tr("Three pipes in the stone")
HINT = tr("two below tied to the outlet, one above, in one trench of 20 in")


def job() -> Job:
    """A school garden with a wet low line."""
    site = Sketch(TITLE, tr("a school garden (invented)"), lambda x, y: 97.6 if y < 1 else 100 + 0.008 * y)
    site.section(width=20)
    places = (Bore("b1", si(-4.3, IN)), Bore("b2", si(4.3, IN)), Bore("b3", 0.0, si(6.5, IN)))
    site.sections[0] = dataclasses.replace(site.sections[0], bores=places)
    out, tie = site.at(0, 0, outlet=OPEN_PIPE, water=96), site.at(0, 24)
    host = site.run(tr("lower left"), (out, tie, site.at(0, 124)), 97.7, 0.8, solid=24)
    for name, bore in ((tr("lower right"), "b2"), (tr("upper"), "b3")):
        site.run(name, (tie, site.at(0.3, 124)), 97.9, 0.8, trench_of=host, bore=bore)
    site.dry(site.thing("lawn", tr("the garden beds"), (-25, 24), (-5, 24), (-5, 124), (-25, 124)), 0.9, host)
    return in_place(site.job(source=BOTH_SIDES, reach=25), shipped())
