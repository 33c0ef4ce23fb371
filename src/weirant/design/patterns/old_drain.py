"""A new perforated line led by a wye into an old drain of its own level."""

from __future__ import annotations

from weirant.design.patterns.sketch import Sketch
from weirant.job import Job
from weirant.job.network import EXISTING, OPEN_PIPE
from weirant.job.water import BOTH_SIDES
from weirant.language import tr

KEY, TITLE = "old-drain", tr("Tie into an old drain")
HINT = tr("an old 4 in line at its own level and condition, a new perforated line joined by a wye")


def job() -> Job:
    """Allotments that were drained once."""
    site = Sketch(TITLE, tr("allotments (invented)"), lambda x, y: 97.5 if y < 1 else 100 + 0.006 * y)
    out, joint, top = site.at(0, 0, outlet=OPEN_PIPE, water=96.5), site.at(0, 60), site.at(0, 160)
    site.run(tr("old drain"), (out, joint, top), 97.6, 0.7, solid=None, status=EXISTING)
    new = site.run(tr("new line"), (joint, site.at(25, 90), site.at(25, 170)), 98.06, 0.6)
    site.dry(site.thing("lawn", tr("the wet plots"), (31, 90), (51, 90), (51, 170), (31, 170)), 1, new)
    return site.job(source=BOTH_SIDES, reach=30)
