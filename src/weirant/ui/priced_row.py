"""One line of the order on the screen: how much, of what, at which price. It is filled anew when the order changes: to make one costs far more."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from weirant.job import Job
from weirant.language import tr
from weirant.outcome.bill import Origin
from weirant.outcome.prices import PricedLine
from weirant.ui.name_link import NameLink
from weirant.ui.plain_text import PlainLabel, figure_label, plain_tip
from weirant.units.display import System
from weirant.words.order import money_words, origin_words, price_words, sold_words


class PricedRow:
    """The parts of a row; ``place`` puts them into a grid."""

    def __init__(self) -> None:
        self.name, self.origins = NameLink(""), tuple[Origin, ...]()
        self._holder, self._cell = QWidget(), QVBoxLayout()
        self._holder.setLayout(self._cell)
        self._cell.setContentsMargins(0, 0, 0, 0)
        self._cell.setSpacing(0)
        self._cell.addWidget(self.name, alignment=Qt.AlignmentFlag.AlignLeft)
        self._amount, self._unit, self._cost, self._price = figure_label("", strong=True), PlainLabel(), figure_label(""), PlainLabel()
        for quiet in (self._unit, self._price):
            quiet.setProperty("quiet", True)
        self._price.setWordWrap(True)
        self._at: tuple[int, bool, bool] | None = None

    def fill(self, priced: PricedLine, job: Job, system: System, *, has_prices: bool) -> None:
        """Show a line of the order."""
        line, where = priced.line, origin_words(job, priced.line.origins)
        self.origins = line.origins
        self.name.rename(line.name)
        self.name.setToolTip(plain_tip("\n".join(words for words in (line.name, where, line.note) if words)))
        self.name.setAccessibleDescription(tr("shows where it goes: {where}", where=where))
        amount, unit = sold_words(line, system)
        self._amount.setText(amount)
        self._unit.setText(unit)
        self._price.setText(price_words(priced) if has_prices else "")
        self._cost.setText((money_words(priced.cost) if priced.cost is not None else "–") if has_prices else "")

    def place(self, grid: QGridLayout, row: int, *, narrow: bool, has_prices: bool) -> None:
        """Stand in this row of a grid; where it is narrow in this and the next, the name over all of the width and the rest below it."""
        if self._at == (row, narrow, has_prices):
            return
        self._at = row, narrow, has_prices
        for part in (self._holder, self._price):
            grid.removeWidget(part)
        self._cell.removeWidget(self._price)
        if narrow:
            grid.addWidget(self._holder, row, 0, 1, 4)
            row += 1
            grid.addWidget(self._price, row, 2)
        else:
            grid.addWidget(self._holder, row, 2)
            self._cell.addWidget(self._price)
        for part, column in ((self._amount, 0), (self._unit, 1), (self._cost, 3)):
            grid.removeWidget(part)
            grid.addWidget(part, row, column)
        self._price.setVisible(has_prices)
        self._cost.setVisible(has_prices)

    def go(self) -> None:
        """Be gone, soon: it may be this row that was pressed."""
        for part in (self._holder, self._amount, self._unit, self._cost, self._price):
            part.hide()
            part.deleteLater()
