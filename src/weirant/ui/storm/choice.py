"""Which storm is watched, and for how long: the two boxes of a page, which follow the storms of the job."""

from __future__ import annotations

from weirant.design.storms import DESIGN, storm_named, storms_of
from weirant.job import Job
from weirant.job.rain import Storm
from weirant.language import tr
from weirant.ui.code_box import CodeBox
from weirant.ui.still_box import StillBox

SPANS = ((24, tr("a day")), (72, tr("three days")), (120, tr("five days")), (240, tr("ten days")))


class StormChoice:
    """The box of storms and the box of spans."""

    def __init__(self) -> None:
        self.storms, self.spans = CodeBox(), StillBox()
        self.storms.setAccessibleName(tr("Storm"))
        self.storms.setSizeAdjustPolicy(StillBox.SizeAdjustPolicy.AdjustToContents)
        self.spans.setAccessibleName(tr("How long to watch"))
        self.spans.addItems([words for _, words in SPANS])
        self.spans.setCurrentIndex(1)

    def follow(self, job: Job) -> None:
        """List the storms of a job; one that is new is taken in hand, where some were listed before."""
        names = list(storms_of(job))
        if names != self.storms.codes():
            chosen = self.storms.code()
            self.storms.clear()
            self.storms.add_codes((DESIGN,))
            self.storms.add_names(name for name in names if name != DESIGN)
            self.storms.take(chosen if chosen in names else names[-1] if chosen else DESIGN)

    def storm(self, job: Job) -> Storm:
        """The storm in hand. Raises InputError where the job does not have it any more."""
        return storm_named(job, self.storms.code())

    @property
    def hours(self) -> float:
        """How long it is watched, h."""
        return float(SPANS[self.spans.currentIndex()][0])

    @property
    def key(self) -> tuple[str, float]:
        """What is chosen, to tell whether it is another."""
        return self.storms.code(), self.hours
