"""The plan of the work: bars on the working days, how long it takes with rain, and a calendar to take along."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QApplication, QPushButton, QVBoxLayout, QWidget

from weirant.design.hired import hired_for
from weirant.design.machine_fit import machine_fits
from weirant.design.plan_terms import days_off, days_off_typed, length_or_none, people, rain_typed, rainy_shares
from weirant.design.schedule import plan_of
from weirant.design.upkeep import upkeep_of
from weirant.design.work import USUAL_WAY
from weirant.errors import InputError, WeirantError
from weirant.formats.csv_text import harmless
from weirant.formats.plan_ics import read_dates, write_plan_ics
from weirant.job.paths import label_at, spec_at, with_value
from weirant.job.work_terms import WorkTerms, date_of
from weirant.language import capital, tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.plan import PlannedTask, WorkPlan
from weirant.outcome.prices import NO_PRICES, PriceList
from weirant.ui.asking import ask_file, ask_name, tell
from weirant.ui.code_box import CodeBox
from weirant.ui.column import ColumnPage
from weirant.ui.document import Document
from weirant.ui.entry import TypedEdit
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.plain_text import PlainLabel
from weirant.ui.price_choice import remembered_prices
from weirant.ui.task_rows import TaskRows
from weirant.ui.theme import THEME
from weirant.ui.work import Newest, in_background
from weirant.ui.work_terms import keep_usual
from weirant.units import display as k
from weirant.units.display import shown, unit_of
from weirant.words.machines import METHOD_NAMES, fit_words
from weirant.words.plan import moved_words, odds_words, plan_rows
from weirant.words.season import season_words

PAUSE = 60  # ms without a change after which it is planned anew
FILES, ICS = tr("Calendars (*.ics)"), {".ics": "iCalendar"}


class _Typed(TypedEdit):
    """One of the terms, typed."""

    def __init__(self, label: str, shows: Callable[[], str], takes: Callable[[str], None], wide: float = 8) -> None:
        super().__init__(label)
        self._shows, self._takes = shows, takes
        self.setMaximumWidth(round(wide * THEME.text))
        self.show_value()

    def show_value(self) -> None:  # noqa: D102
        self.setText(self._shows())
        self.setCursorPosition(0)

    def take(self, text: str) -> str:  # noqa: D102
        try:
            self._takes(text)
        except (InputError, ValueError) as fault:
            return str(fault)
        return ""


class PlanOfWorkPage(ColumnPage):
    """Terms above, a row for each task, odds and yearly work below; worked out beside the interface."""

    said = pyqtSignal(str)
    took_wanted = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__(4)
        self.document = document
        self.plan: WorkPlan | None = None
        self._prices = NO_PRICES
        column = self.column
        title = PlainLabel(tr("The plan of the work"))
        title.setProperty("strong", True)
        column.addWidget(title)
        terms = QWidget()
        row = FlowLayout(terms, 12)
        row.setContentsMargins(0, 0, 0, 0)
        self.start = _Typed(tr("first working day"), lambda: self.terms.start, self._take_start)
        self.start.setPlaceholderText(tr("today"))
        self.crew = _Typed(tr("people"), lambda: str(self.terms.people), self._take_people, 3.5)
        self.rain = _Typed(tr("days lost to rain"), lambda: rain_typed(self.terms.rain), self._take_rain, 12)
        self.rain.setToolTip(tr("A share of the days, such as 25 %; or the days lost in each month, twelve numbers, January first"))
        self.off = _Typed(tr("days off"), lambda: days_off_typed(self.terms), self._take_off, 15)
        self.off.setPlaceholderText(tr("none"))
        self.off.setToolTip(tr("Dates such as 2026-12-24, or 2026-12-24 to 2027-01-04, with a comma between"))
        self.gate = _Typed(tr("narrowest gate"), lambda: "" if self.terms.gate is None else shown(self.terms.gate, k.DISTANCE, document.system), self._take_gate, 6)
        self.gate.setPlaceholderText(tr("not known"))
        self.haul = _Typed(tr("heap to trench"), lambda: "" if self.terms.haul is None else shown(self.terms.haul, k.DISTANCE, document.system), self._take_haul, 6)
        self.haul.setPlaceholderText(shown(USUAL_WAY, k.DISTANCE, document.system))
        self.haul.setToolTip(tr("The way that stone and soil go by barrow or loader"))
        self.method = CodeBox()
        self.method.setAccessibleName(tr("dug"))
        self.method.setSizeAdjustPolicy(CodeBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.method.setMinimumContentsLength(18)
        for code, name in METHOD_NAMES.items():
            self.method.addItem(name, code)
        self.method.activated.connect(self._take_method)
        asked = ((tr("first working day"), self.start), (tr("people"), self.crew), (tr("days lost to rain"), self.rain), (tr("dug"), self.method),
                 (tr("narrowest gate"), self.gate), (tr("heap to trench"), self.haul), (tr("days off"), self.off))
        for label, entry in asked:
            pair = QWidget()
            over = QVBoxLayout(pair)  # its words over it, as on a card: beside it there is no room where the letters are large
            over.setContentsMargins(0, 0, 0, 0)
            over.setSpacing(0)
            words = PlainLabel(label)
            words.setProperty("quiet", True)
            over.addWidget(words)
            over.addWidget(entry)
            row.addWidget(pair)
        acts = QWidget()
        buttons = FlowLayout(acts, 8)
        buttons.setContentsMargins(0, 0, 0, 0)
        for label, press in ((tr("Calendar …"), self.ask_write), (tr("What was moved …"), self.ask_moved), (tr("How long it took …"), self.took_wanted.emit),
                             (tr("Copy"), self.copy)):
            button = QPushButton(label)
            button.clicked.connect(lambda _, p=press: p())
            buttons.addWidget(button)
        column.addWidget(terms)
        column.addWidget(acts)
        self.odds, self.fits, self.yearly = PlainLabel(), PlainLabel(), PlainLabel()
        for told in (self.odds, self.fits, self.yearly):
            told.setWordWrap(True)
        self.odds.setProperty("strong", True)
        column.addWidget(self.odds)
        column.addWidget(self.fits)
        legend = PlainLabel(tr("Hatched: waited for. A wedge: something comes. A thick edge: late there, late everywhere."))
        legend.setProperty("quiet", True)
        legend.setWordWrap(True)
        column.addWidget(legend)
        self.rows = TaskRows()
        self.rows.pressed.connect(self._light)
        column.addWidget(self.rows)
        column.addWidget(self.yearly)
        column.addStretch(1)
        self._work = Newest(self, PAUSE)
        self._of: tuple[Outcome, PriceList] | None = None  # what is planned
        self._follow()
        document.changed.connect(self._follow)
        document.changed.connect(self._take_prices)
        document.changed.connect(self.refresh)
        document.drag_ended.connect(self.refresh)

    @property
    def terms(self) -> WorkTerms:
        """The terms of the job in hand."""
        return self.document.shown_job.work if not self.document.is_empty else WorkTerms()

    def _follow(self) -> None:
        """What is typed follows the job, as it does when a step is undone."""
        for entry in (self.start, self.crew, self.rain, self.gate, self.haul, self.off):
            entry.follow()
        self.method.take(self.terms.method)

    def showEvent(self, event: object) -> None:  # noqa: N802, D102
        self._take_prices()
        self.refresh()

    def _take_prices(self) -> None:
        if self.isVisible() and not self.document.dragging:  # another list may have been taken meanwhile, or hours typed
            self._prices = remembered_prices()

    def refresh(self) -> None:
        """Have it planned on the job as it is."""
        if self.document.is_empty or self.document.dragging or not self.isVisible():
            return
        outcome, prices = self.document.outcome, self._prices
        if self._of is None or self._of[0] is not outcome or self._of[1] != prices:
            self._work.ask(lambda: plan_of(outcome, prices.rates, hired_for(outcome, prices)), partial(self._show, outcome, prices), partial(self._refuse, outcome, prices))

    def _show(self, outcome: Outcome, prices: PriceList, plan: WorkPlan) -> None:
        terms = outcome.job.work
        self.plan, self._of = plan, (outcome, prices)
        self.odds.setText(odds_words(plan, terms))
        self._tell_fits([*fit_words(outcome, machine_fits(outcome, terms.method, terms.gate)), *season_words(plan, outcome.job.survey.latitude)])
        self.yearly.setText("\n".join([tr("Every year:"), *(one.words for one in upkeep_of(outcome))]))
        self.rows.show_plan(plan)

    def _tell_fits(self, told: list[str]) -> None:
        self.fits.setText("\n".join(told))
        self.fits.setVisible(bool(told))

    def _refuse(self, outcome: Outcome, prices: PriceList, fault: str) -> None:
        self.plan, self._of = None, (outcome, prices)
        self.odds.setText(capital(fault))
        self._tell_fits([])
        self.yearly.setText("")
        self.rows.show_plan(None)

    def _light(self, task: PlannedTask) -> None:
        """Stand at the low end of the run of a task, where it begins."""
        if self.document.outcome.site.run(task.run) is not None:
            self.document.take_run(task.run)
            self.document.move_to(0.0)

    def _take_start(self, text: str) -> None:
        self._put("start", date_of(text, tr("first working day")).isoformat() if text else "")

    def _take_people(self, text: str) -> None:
        self._put("people", people(text, tr("people")))

    def _take_rain(self, text: str) -> None:
        self._put("rain", rainy_shares(text, tr("days lost to rain"), "%"))

    def _take_gate(self, text: str) -> None:
        self._put("gate", length_or_none(text, tr("narrowest gate"), unit_of(k.DISTANCE, self.document.system)), text)

    def _take_haul(self, text: str) -> None:
        self._put("haul", length_or_none(text, tr("heap to trench"), unit_of(k.DISTANCE, self.document.system)), text)

    def _take_off(self, text: str) -> None:
        self._put("days_off", days_off(text, tr("days off")))

    def _take_method(self) -> None:
        self._put("method", self.method.code())

    def _put(self, field: str, value: object, said: str = "") -> None:
        path, document = f"work.{field}", self.document
        if isinstance(value, float):
            spec_at(document.job, path).check(value, document.system, said)
        if document.change(with_value(document.job, path, value), label_at(document.job, path)):
            keep_usual(document.job.work)

    def copy(self) -> None:
        """The tasks to the clipboard, as a table that a spreadsheet takes."""
        clipboard = QApplication.clipboard()
        if self.plan is not None and clipboard is not None:
            clipboard.setText("\n".join("\t".join(harmless(" ".join(cell.split())) for cell in row) for row in plan_rows(self.plan)))
            self.said.emit(tr("The plan is copied as a table"))

    def ask_write(self) -> None:
        """Ask for a name and write the calendar."""
        if self.plan is None:
            return
        job, plan, upkeep = self.document.job, self.plan, upkeep_of(self.document.outcome)
        path = ask_name(self.window() or self, tr("Calendar"), f"{job.name} – {tr('plan')}", ICS)
        if path is not None:
            in_background(lambda: write_plan_ics(job, plan, upkeep, path), lambda _: self.said.emit(tr("Written: {path}", path=path.name)), self._not_written)

    def _not_written(self, fault: str) -> None:
        tell(self.window(), tr("Calendar"), fault)

    def ask_moved(self) -> None:
        """Ask for a calendar that came back, and tell what was moved in it."""
        path = ask_file(self.window() or self, tr("A calendar that came back"), FILES) if self.plan is not None else None
        if path is not None:
            self.tell_moved(path)

    def tell_moved(self, path: Path) -> None:
        """Tell what was moved in a calendar, and what now comes before what it waits for."""
        assert self.plan is not None
        try:
            told, wrong = moved_words(self.plan, read_dates(path, self.document.job))
        except WeirantError as fault:
            tell(self.window(), tr("A calendar that came back"), str(fault))
            return
        tell(self.window(), tr("A calendar that came back"), "\n".join(told or [tr("nothing was moved")]), is_fault=wrong)
