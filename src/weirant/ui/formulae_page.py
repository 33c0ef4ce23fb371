"""What the formulae say, side by side: each answer with its band, its range, and why."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from weirant.design.grounds import SiteGround, grounds_of
from weirant.design.hand_methods import HandResult, grid_of, hand_methods
from weirant.errors import InputError
from weirant.language import capital, tr
from weirant.outcome.outcome import Outcome
from weirant.ui.column import ColumnPage, emptied
from weirant.ui.document import Document
from weirant.ui.plain_text import PlainLabel
from weirant.ui.still_box import StillBox
from weirant.ui.theme import THEME
from weirant.ui.work import Newest
from weirant.units.display import DISTANCE, System, shown


class BandBar(QWidget):
    """A band with its best figure on a scale shared with the other answers to the question; open where out of range."""

    def __init__(self, result: HandResult, low: float, high: float, log: bool) -> None:
        super().__init__()
        self.result, self.low, self.high, self.log = result, low, high, log

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(round(8 * THEME.text), round(1.1 * THEME.text))

    def _at(self, value: float) -> float:
        low, high = self.low, self.high
        if self.log:
            value, low, high = (math.log(max(v, 1e-15)) for v in (value, low, high))
        return 4 + (self.width() - 8) * min(max((value - low) / max(high - low, 1e-12), 0.0), 1.0)

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        painter, figure, middle = QPainter(self), self.result.figure, self.height() / 2
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(THEME.palette.rule), 1))
        painter.drawLine(QPointF(4, middle), QPointF(self.width() - 4, middle))
        low, high = figure.band or (figure.value, figure.value)
        half = 0.24 * THEME.text
        band = QRectF(self._at(low), middle - half, max(self._at(high) - self._at(low), 1.0), 2 * half)
        painter.setPen(QPen(QColor(THEME.palette.ink), 1.2, Qt.PenStyle.DashLine if self.result.outside else Qt.PenStyle.SolidLine))
        painter.setBrush(QColor(THEME.palette.paper if self.result.outside else THEME.palette.rule))
        painter.drawRect(band)
        painter.setPen(QPen(QColor(THEME.palette.ink), 2.5))
        best = self._at(figure.value)
        painter.drawLine(QPointF(best, middle - 2 * half), QPointF(best, middle + 2 * half))
        painter.end()


def _simulated(outcome: Outcome, ground: SiteGround, run: str) -> tuple[HandResult, ...]:
    from weirant.design.side_by_side import simulated_tables  # loads the simulator, beside the interface

    return simulated_tables(outcome, ground.conductivity, run)


class FormulaePage(ColumnPage):
    """A column of questions with their answers; ``why`` asks for the datasheet of one."""

    why = pyqtSignal(object)

    def __init__(self, document: Document) -> None:
        super().__init__(4)
        self.document = document
        column = self.column
        self.grounds, self.grid = StillBox(), PlainLabel()
        self.grounds.setAccessibleName(tr("Which ground"))
        self.grid.setWordWrap(True)
        self.grid.setProperty("strong", True)
        self.grid.setAccessibleName(tr("One line or a grid"))
        self.grounds.activated.connect(self._choose)
        column.addWidget(self.grounds)
        column.addWidget(self.grid)
        self._rows = QVBoxLayout()
        self._rows.setSpacing(0)
        column.addLayout(self._rows)
        column.addStretch(1)
        self._told: object = None
        self._models = Newest(self)
        document.changed.connect(self.refresh)
        document.drag_ended.connect(self.refresh)
        document.run_changed.connect(self.refresh)

    @property
    def ground(self) -> SiteGround:
        """The ground chosen."""
        found = grounds_of(self.document.outcome, self.document.run)
        return found[min(max(self.grounds.currentIndex(), 0), len(found) - 1)]

    def _choose(self, _: int) -> None:
        self._told = None
        self.refresh()

    def refresh(self) -> None:
        """Follow the document, but not every step of a drag."""
        if self.document.is_empty or self.document.dragging or not self.isVisible():
            return
        outcome = self.document.outcome
        if self._told == (outcome, self.document.run):
            return
        self._told = (outcome, self.document.run)
        names = [g.name for g in grounds_of(outcome, self.document.run)]
        if names != [self.grounds.itemText(i) for i in range(self.grounds.count())]:
            at = self.grounds.currentIndex()
            self.grounds.clear()
            self.grounds.addItems(names)
            self.grounds.setCurrentIndex(min(max(at, 0), len(names) - 1))
        emptied(self._rows)
        ground, system = self.ground, self.document.system
        try:
            results = hand_methods(outcome, ground.conductivity, ground.porosity, self.document.run)
            self.grid.setText(self._grid_words(ground, system))
        except InputError as fault:
            text = str(fault)
            self.grid.setText(capital(text) + ".")
            return
        self._fill(results, system)
        run = self.document.run
        self._models.ask(lambda: _simulated(outcome, ground, run), lambda more: self._add(outcome, ground, results, more), lambda _: None)

    def _add(self, outcome: Outcome, ground: SiteGround, results: tuple[HandResult, ...], more: tuple[HandResult, ...]) -> None:
        """The simulated tables have come: show them with the formulae, unless something else is shown by now."""
        if self._told == (outcome, self.document.run) and self.ground == ground:
            emptied(self._rows)
            self._fill((*results, *more), self.document.system)

    def _fill(self, results: tuple[HandResult, ...], system: System) -> None:
        for question in dict.fromkeys(r.question for r in results):
            answers = [r for r in results if r.question == question]
            ends = [v for r in answers for v in (r.figure.band or (r.figure.value, r.figure.value))]
            log = min(ends) > 0 and max(ends) / min(ends) > 8
            head = PlainLabel(capital(tr(question)))
            head.setProperty("strong", True)
            self._rows.addWidget(head)
            for answer in answers:
                self._rows.addWidget(self._row(answer, min(ends), max(ends), log, system))

    def _row(self, result: HandResult, low: float, high: float, log: bool, system: System) -> QWidget:
        cell = QWidget()
        column, line = QVBoxLayout(cell), QHBoxLayout()
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        name, value, why = PlainLabel(result.figure.label), PlainLabel(shown(result.figure.value, result.figure.kind, system)), QPushButton(tr("Why?"))
        value.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        why.setProperty("link", True)
        why.setAccessibleName(tr("Why: {figure}", figure=result.figure.label))
        why.clicked.connect(lambda: self.why.emit(result.figure))
        for widget, stretch in ((name, 1), (value, 0), (why, 0)):
            line.addWidget(widget, stretch)
        column.addLayout(line)
        column.addWidget(BandBar(result, low, high, log))
        if result.outside:
            note = PlainLabel(tr("outside its range: {outside}", outside=result.outside))
            note.setProperty("quiet", True)
            note.setWordWrap(True)
            column.addWidget(note)
        return cell

    def _grid_words(self, ground: SiteGround, system: System) -> str:
        if not ground.width > 0:
            return tr("It keeps no place dry yet, so that no width is asked for. Choose the place (Find the water).")
        grid = grid_of(self.document.outcome, ground.width, ground.conductivity, ground.porosity, self.document.run)
        if grid is None:
            return tr("The drain lies no deeper than what is to be dry: no spacing helps.")
        strip, width = shown(grid.strip, DISTANCE, system), shown(grid.width, DISTANCE, system)
        if grid.one_line_is_enough:
            return tr("Here one line firms a strip of {strip}; {area} is {width} across: one line is enough.", strip=strip, area=ground.area, width=width)
        low, high = grid.spacing.band or (grid.spacing.value, grid.spacing.value)
        return (tr("Here one line firms only a strip of {strip}, and {area} is {width} across: a grid of {laterals} laterals, {strip} apart "
                   "({low} to {high} for the soil as far as it is known).",
                   strip=strip, area=ground.area, width=width, laterals=grid.laterals, low=shown(low, DISTANCE, system), high=shown(high, DISTANCE, system)))  # fmt: skip

    def showEvent(self, event: object) -> None:  # noqa: N802, D102
        self.refresh()
