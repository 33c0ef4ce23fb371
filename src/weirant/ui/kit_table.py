"""What a hundred feet takes of the trench where one stands."""

from __future__ import annotations

from itertools import zip_longest

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from weirant.design.kit import HUNDRED_FEET, kit_at
from weirant.language import tr
from weirant.outcome.bill import Bill
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import OrderLine
from weirant.outcome.trench_pipes import trench_at
from weirant.ui.column import show_in_turn
from weirant.ui.document import Document
from weirant.ui.plain_text import PlainLabel
from weirant.ui.rest import Rest
from weirant.units.display import System
from weirant.words.order import sold_words

HUNDRED = {System.IMPERIAL: (HUNDRED_FEET, "ft"), System.METRIC: (100.0, "m")}  # m, and the unit they are a hundred of


class KitTable(QWidget):
    """A line for each thing: how much, of what; it follows the station."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._bill: tuple[Outcome | None, Bill] = (None, Bill(()))
        self._rows: list[tuple[PlainLabel, PlainLabel, PlainLabel]] = []
        self.heading, self._grid, column = PlainLabel(), QGridLayout(), QVBoxLayout(self)
        self.heading.setProperty("strong", True)
        self.heading.setWordWrap(True)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(4)
        self._grid.setColumnStretch(2, 1)
        column.setContentsMargins(0, 8, 0, 8)
        column.setSpacing(4)
        column.addWidget(self.heading)
        column.addLayout(self._grid)
        self._rest = Rest(self, self.refresh)
        for signal in (document.station_changed, document.run_changed):
            signal.connect(self._rest.ask)

    def take(self, outcome: Outcome, bill: Bill) -> None:
        """Show it by the bill of an outcome, which was counted beside the interface."""
        self._bill = outcome, bill
        self._rest.ask()

    def showEvent(self, event: QShowEvent | None) -> None:  # noqa: N802, D102
        super().showEvent(event)
        self._rest.ask()

    def refresh(self) -> None:
        """Show the kit of the trench in hand, as far as its ground is known."""
        if not self.isVisible():
            return
        lines: tuple[OrderLine, ...] = ()
        if not self.document.is_empty and self._bill[0] is self.document.outcome:
            outcome, (length, unit) = self.document.outcome, HUNDRED[self.document.system]
            found, station = trench_at(outcome.site, self.document.in_hand, self.document.station)
            lines = kit_at(outcome, self._bill[1], found, station, length)
            self.heading.setText(tr("100 {unit} of this trench takes ({run}, where you stand)", unit=unit, run=found.run.name))
        self.heading.setVisible(bool(lines))
        while len(self._rows) < len(lines):
            self._add_row()
        for row, line in zip_longest(self._rows, lines):
            for widget in row:
                show_in_turn(widget, line is not None)
            if line is not None:
                for widget, words in zip(row, (*sold_words(line, self.document.system), line.name), strict=True):
                    widget.setText(words)

    def _add_row(self) -> None:
        row = PlainLabel(), PlainLabel(), PlainLabel()
        row[0].setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop)
        row[0].setProperty("strong", True)
        row[1].setProperty("quiet", True)
        row[2].setWordWrap(True)
        for column, widget in enumerate(row):
            self._grid.addWidget(widget, len(self._rows), column)
        self._rows.append(row)
