"""Entries of the run in hand that are more than a field: its name, where its water goes, what is set into it."""

from __future__ import annotations

from typing import Any

from weirant.design.layout import rename_run, set_at_station, taken_out_at
from weirant.errors import InputError
from weirant.ground.joining import detach, join
from weirant.ground.network import laid_run
from weirant.job import Job
from weirant.job.geometry import has_run, run_of
from weirant.job.network import FITTINGS
from weirant.language import tr
from weirant.ui.document import Document
from weirant.ui.entry import TypedEdit
from weirant.ui.steps.job_choice import JobChoice
from weirant.ui.still_box import StillBox
from weirant.ui.theme import THEME

NOWHERE = "-"  # which no identity is
LEAST_UP = 1.0  # m above the low end of the other run that a joint is offered at


class RunNameEdit(TypedEdit):
    """The name of the run in hand."""

    def __init__(self, document: Document) -> None:
        super().__init__(tr("name of the run"))
        self.document = document
        self.setFixedWidth(round(11 * THEME.text))
        document.changed.connect(self.follow)
        self.show_value()

    def show_value(self) -> None:  # noqa: D102
        name = run_of(self.document.shown_job, self.document.run).name
        if self.text() != name:
            self.setText(name)
            self.setCursorPosition(0)

    def take(self, text: str) -> str:  # noqa: D102
        old = self.document.in_hand.run.name
        if not has_run(self.document.job, self.document.run):
            return tr("stands only in the fix on trial; keep that first")
        try:
            job = rename_run(self.document.job, self.document.run, text)
        except InputError as fault:
            self.document.refused.emit(str(fault))
            return str(fault)
        return "" if self.document.change(job, tr("Run {old} is now {text}", old=old, text=text), may_come=True) else tr("cannot be used")


class JoinChoice(JobChoice):
    """Where the water of the run in hand goes: an outlet of its own, or another run, which it joins at the place nearest to its low end."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, tr("Where the low end leads"))
        self.setMinimumContentsLength(14)

    def wanted(self) -> list[tuple[Any, str]]:  # noqa: D102
        ways: list[tuple[Any, str]] = [("", tr("an outlet of its own"))]
        ways += [(other.id, tr("joins {other}", other=other.name)) for other in self.document.shown_job.runs if other.id != self.document.run]
        return [(NOWHERE, tr("leads nowhere")), *ways] if self.now() == NOWHERE else ways

    def now(self) -> Any:  # noqa: D102
        run = self.document.in_hand.run
        joins = self.document.outcome.site.network.drains_to(run)
        return joins[0][0].id if joins else "" if run.outlet is not None else NOWHERE

    def edited(self, job: Job, value: Any) -> Job:  # noqa: D102
        return self._joined(job, value) if value else detach(job, self.document.run)

    def said(self, words: str) -> str:  # noqa: D102
        return f"{self.document.in_hand.run.name} {words}"

    def _joined(self, job: Job, other: str) -> Job:
        low_end = laid_run(job, self.document.run).alignment.point(0.0)
        host = laid_run(job, other)
        above = min(LEAST_UP, host.length / 2)  # beside its own outlet there is nothing to join
        return join(job, self.document.run, other, max(host.alignment.nearest(low_end)[0], above))


class FittingChoice(StillBox):
    """Sets a fitting into the run in hand at its station, or takes those within a foot of it out."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setAccessibleName(tr("Set a fitting at the station"))
        self.addItems([tr("choose a fitting …"), *map(tr, FITTINGS), tr("take out what is here")])
        self.activated.connect(self._set)

    def _set(self, index: int) -> None:
        self.setCurrentIndex(0)
        document, station = self.document, round(self.document.station, 4)
        if 1 <= index <= len(FITTINGS):
            kind = FITTINGS[index - 1]
            document.edit(lambda job: set_at_station(job, document.run, station, kind), tr("{kind} set", kind=tr(kind)), may_come=True)
        elif index > len(FITTINGS):
            document.edit(lambda job: taken_out_at(job, document.run, station), tr("Fitting taken out"), may_come=True)
