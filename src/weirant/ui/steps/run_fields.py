"""Entries of the run in hand that are more than a field: its name, where its water goes, what is set into it."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox

from weirant.design.layout import rename_run, set_at_station, taken_out_at
from weirant.errors import InputError
from weirant.ground.joining import detach, join
from weirant.ground.network import laid_run
from weirant.job import Job
from weirant.job.network import FITTINGS
from weirant.ui.document import Document
from weirant.ui.entry import TypedEdit
from weirant.ui.theme import THEME

LEAST_UP = 1.0  # m above the low end of the other run that a joint is offered at


class RunNameEdit(TypedEdit):
    """The name of the run in hand."""

    def __init__(self, document: Document) -> None:
        super().__init__("name of the run")
        self.document = document
        self.setFixedWidth(round(11 * THEME.text))
        document.changed.connect(self.follow)
        self.show_value()

    def show_value(self) -> None:  # noqa: D102
        name = self.document.in_hand.run.name
        if self.text() != name:
            self.setText(name)
            self.setCursorPosition(0)

    def take(self, text: str) -> str:  # noqa: D102
        old = self.document.in_hand.run.name
        try:
            job = rename_run(self.document.job, self.document.run, text)
        except InputError as fault:
            self.document.refused.emit(str(fault))
            return str(fault)
        return "" if self.document.change(job, f"Run {old} is now {text}") else "cannot be used"


class JoinChoice(QComboBox):
    """Where the water of the run in hand goes: an outlet of its own, or another run, which it joins at the place nearest to its low end."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._ways: list[tuple[str, str]] = []
        self.setAccessibleName("Where the low end leads")
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.setMinimumContentsLength(14)
        self.activated.connect(self._take)
        document.changed.connect(self.show_value)
        document.run_changed.connect(self.show_value)
        self.show_value()

    def show_value(self) -> None:
        """Follow the document."""
        if self.document.is_empty:
            return
        document = self.document
        run = document.in_hand.run
        joins = document.outcome.site.network.drains_to(run)
        ways = [("", "an outlet of its own"), *((other.id, f"joins {other.name}") for other in document.outcome.job.runs if other.id != document.run)]
        if run.outlet is None and not joins:
            ways.insert(0, ("-", "leads nowhere"))
        if ways != self._ways:
            self._ways = ways
            self.clear()
            self.addItems([words for _, words in ways])
        now = joins[0][0].id if joins else "" if run.outlet is not None else "-"
        self.setCurrentIndex(next((i for i, (key, _) in enumerate(self._ways) if key == now), -1))

    def _take(self, index: int) -> None:
        document, key = self.document, self._ways[index][0]
        name = document.in_hand.run.name
        try:
            job = document.job if key == "-" else detach(document.job, document.run) if not key else self._joined(document.job, key)
        except InputError as fault:
            document.refused.emit(str(fault))
        else:
            document.change(job, f"{name} {self._ways[index][1]}")
        self.show_value()

    def _joined(self, job: Job, other: str) -> Job:
        low_end = laid_run(job, self.document.run).alignment.point(0.0)
        host = laid_run(job, other)
        above = min(LEAST_UP, host.length / 2)  # beside its own outlet there is nothing to join
        return join(job, self.document.run, other, max(host.alignment.nearest(low_end)[0], above))


class FittingChoice(QComboBox):
    """Sets a fitting into the run in hand at its station, or takes those within a foot of it out."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setAccessibleName("Set a fitting at the station")
        self.addItems(["choose a fitting …", *FITTINGS, "take out what is here"])
        self.activated.connect(self._set)

    def _set(self, index: int) -> None:
        self.setCurrentIndex(0)
        document, station = self.document, round(self.document.station, 4)
        if 1 <= index <= len(FITTINGS):
            kind = FITTINGS[index - 1]
            document.change(set_at_station(document.job, document.run, station, kind), f"{kind} set")
        elif index > len(FITTINGS):
            document.change(taken_out_at(document.job, document.run, station), "Fitting taken out")
