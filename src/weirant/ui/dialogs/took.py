"""How long the work took: the hours of each kind, out of which the crew's own rates for the next job come."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QWidget

from weirant.design.own_rates import measured_rates, tasks_timed, with_took
from weirant.design.work import Task
from weirant.errors import InputError
from weirant.job.paths import spec_at
from weirant.language import ntr, tr
from weirant.ui.dialogs.rows import RowsDialog
from weirant.ui.document import Document
from weirant.ui.entry import TypedEdit
from weirant.ui.plain_text import PlainLabel, figure_label
from weirant.ui.theme import THEME
from weirant.units import parse
from weirant.units.dimension import NUMBER
from weirant.words.order import amount_words


class HoursEdit(TypedEdit):
    """The hours that a kind of work took; empty where nobody wrote them down."""

    def __init__(self, document: Document, task: Task) -> None:
        super().__init__(tr("hours that it took: {work}", work=task.rate.name))
        self.document, self.work = document, task.rate.key
        self.setPlaceholderText(tr("{hours:.1f} usual", hours=task.hours))
        self.setFixedWidth(round(8 * THEME.text))
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.show_value()

    def show_value(self) -> None:  # noqa: D102
        hours = next((took.hours for took in self.document.shown_job.work.took if took.work == self.work), None)
        self.setText("" if hours is None else tr("{hours:g}", hours=hours))

    def take(self, text: str) -> str:  # noqa: D102
        try:
            hours = float(parse(text, NUMBER, tr("hours"))) if text else None
            job = with_took(self.document.job, self.work, hours)
            if hours is not None:
                spec_at(job, f"work.took.{len(job.work.took) - 1}.hours").check(hours)
        except InputError as fault:
            return str(fault)
        return "" if self.document.change(job, tr("how long it took")) else tr("cannot be used")


class TookDialog(RowsDialog):
    """A row for each kind of work: how much there was, its hours, and what the crew did in an hour."""

    told_in = ("step-order", "")

    HEADS, NUMBERS = (tr("work"), tr("amount"), tr("crew"), tr("hours it took"), tr("in an hour")), range(1, 5)

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(document, parent, tr("Type how many hours the crew was at each kind of work. The next plan and the next quote go by that, in the place of what is usual; "
                                              "a rate in the price list goes before it."))
        self.setWindowTitle(tr("How long it took"))
        self.resize(round(60 * THEME.text), round(39 * THEME.text))
        self._speeds: dict[str, QLabel] = {}
        self.follow()

    def follow(self) -> None:  # noqa: D102
        if self.document.is_empty:
            self.reject()
            return
        tasks = tasks_timed(self.document.outcome)
        self.lay_rows(tuple((task.rate.key, round(task.amount, 6)) for task in tasks), lambda: self._of(tasks))
        rates = measured_rates(self.document.outcome)
        for task in tasks:
            rate = rates.get(task.rate.key)
            self._speeds[task.rate.key].setText("" if rate is None else amount_words(rate, task.rate.unit, self.document.system))
        for edit in self.findChildren(HoursEdit):
            edit.follow()

    def _of(self, tasks: tuple[Task, ...]) -> Iterator[tuple[QWidget, ...]]:
        for task in tasks:
            self._speeds[task.rate.key] = figure_label("")
            yield (PlainLabel(task.rate.name), figure_label(amount_words(task.amount, task.rate.unit, self.document.system)), figure_label(ntr("{n} person", "{n} people", task.rate.crew)),
                   HoursEdit(self.document, task), self._speeds[task.rate.key])
