"""The order line by line, with prices where a list is taken: each line lights the places it comes from."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QApplication, QGridLayout, QVBoxLayout, QWidget

from weirant.design.bill import bill_of
from weirant.design.job_price import job_price
from weirant.design.order import order_of
from weirant.formats.csv_text import harmless
from weirant.language import tr
from weirant.outcome.bill import Bill
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import NO_PRICES, PricedLine, PriceList, Quote
from weirant.outcome.where import origins_at, station_of
from weirant.ui.bit_by_bit import Unseen
from weirant.ui.document import Document
from weirant.ui.entry import mark
from weirant.ui.name_link import NameLink
from weirant.ui.plain_text import PlainLabel
from weirant.ui.priced_row import PricedRow
from weirant.ui.theme import THEME
from weirant.ui.work import Newest
from weirant.words.order import (
    KINDS,
    here_words,
    missing_words,
    money_words,
    origin_words,
    price_words,
    sold_words,
    sums_words,
)

PAUSE = 60  # ms without a change after which it is worked out anew
Key = tuple[str, str, str, int]  # what a line is of, its key and size, and the how manieth of these it is
NARROW = 30  # heights of the letters under which there is no room for names beside figures


class PricedRows(QWidget):
    """Rows of an order by kind, worked out beside the interface; ``said`` tells what has no price, or why there is no order,
    ``comes_to`` the price of it all."""

    said = pyqtSignal(str)
    comes_to = pyqtSignal(str)
    counted = pyqtSignal(object, object)  # an outcome and its bill
    marked = pyqtSignal(QWidget)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document, self.prices = document, NO_PRICES
        self.quote: Quote | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(4)
        self._grid.setColumnStretch(2, 3)
        self.here = PlainLabel()
        self.here.setWordWrap(True)
        self.here.hide()
        column.addWidget(self.here)
        column.addLayout(self._grid)
        self.sums = PlainLabel()
        self.sums.setProperty("strong", True)
        self.sums.setWordWrap(True)
        self.sums.setAlignment(Qt.AlignmentFlag.AlignRight)
        column.addWidget(self.sums)
        self._work, self._bits, self._seen = Newest(self, PAUSE), Unseen(self), dict[Key, int]()
        self._of: tuple[Outcome | None, PriceList] = (None, NO_PRICES)
        self._rows: dict[Key, PricedRow] = {}
        self._headings = {what: PlainLabel(words, self) for what, words in KINDS.items()}
        for heading in self._headings.values():
            heading.setProperty("strong", True)
            heading.hide()
        self._is_narrow = False
        self._is_pressed = False  # something in a drawing, since the order was first looked at
        for signal in (document.station_changed, document.run_changed):
            signal.connect(self._follow_place)

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802, D102
        super().resizeEvent(event)
        narrow = self.width() < NARROW * THEME.text
        if narrow != self._is_narrow:
            self._is_narrow = narrow
            self._bits.catch_up()  # or the order before is laid in place of what is being laid
            if self.quote is not None:
                self._show(*self._of, self.quote)

    def take(self, prices: PriceList) -> None:
        """Price the rows by another list."""
        self.prices = prices
        self.refresh()

    def copy(self) -> None:
        """The order to the clipboard, as a table that a spreadsheet takes."""
        self._bits.catch_up()
        clipboard, job = QApplication.clipboard(), self.document.job
        rows = [(tr("amount"), tr("unit"), tr("name"), tr("price"), tr("cost"), tr("where"))]
        for priced in self.quote.lines if self.quote is not None else ():
            cost = money_words(priced.cost) if priced.cost is not None else ""
            rows.append((*sold_words(priced.line, self.document.system), priced.line.name, price_words(priced) if self._of[1].prices else "", cost, origin_words(job, priced.line.origins)))
        if clipboard is not None:
            clipboard.setText("\n".join("\t".join(harmless(" ".join(cell.split())) for cell in row) for row in rows))

    def refresh(self) -> None:
        """Have the rows brought up to date soon."""
        outcome = None if self.document.is_empty else self.document.outcome
        if outcome is None or outcome.takeoff is None:
            self.counted.emit(outcome, Bill(()))
            self._show(outcome, self.prices, None)
        elif self._of[0] is not outcome or self._of[1] is not self.prices:
            self._work.ask(partial(_worked_out, outcome, self.prices), partial(self._counted, outcome, self.prices), self.said.emit)
        else:
            self._mark()

    def _counted(self, outcome: Outcome, prices: PriceList, found: tuple[Bill, Quote]) -> None:
        self.counted.emit(outcome, found[0])
        self._show(outcome, prices, found[1])

    def _show(self, outcome: Outcome | None, prices: PriceList, quote: Quote | None) -> None:
        """Fill the rows anew, one kind of thing after the other; they are seen when all are there."""
        self._of = outcome, prices  # while they are filled another list may be taken
        kinds = _by_kind(quote)
        has_prices, at, places = bool(prices.prices), 0, []
        for what, lines in kinds.items():
            places.append(partial(self._place, what, lines, at, has_prices=has_prices))
            at += 1 + len(lines) * (2 if self._is_narrow else 1)
        fill = (partial(self._fill, lines, has_prices=has_prices) for lines in kinds.values())
        self._bits.ask((partial(self._take_out, kinds), *fill, *places, partial(self._end, quote)))
        if quote is None:
            self._bits.catch_up()

    def _take_out(self, kinds: Mapping[str, Mapping[Key, PricedLine]]) -> None:
        """What is not ordered any more, and the headings of what there is none of."""
        for key in self._rows.keys() - {key for lines in kinds.values() for key in lines}:
            self._rows.pop(key).go()
            self._seen.pop(key, None)
        for what, heading in self._headings.items():
            self._grid.removeWidget(heading)
            heading.setVisible(what in kinds)

    def _fill(self, lines: Mapping[Key, PricedLine], *, has_prices: bool) -> None:
        for key, priced in lines.items():
            if key not in self._rows:
                self._rows[key] = PricedRow()
                self._rows[key].name.clicked.connect(partial(self._light, key))
            self._rows[key].fill(priced, self.document.job, self.document.system, has_prices=has_prices)

    def _place(self, what: str, lines: Mapping[Key, PricedLine], at: int, *, has_prices: bool) -> None:
        """The lines of a kind under their heading; counted from nought, since a grid keeps the rows that were emptied, and is the slower for each."""
        self._grid.addWidget(self._headings[what], at, 0, 1, 4)
        for number, key in enumerate(lines):
            self._rows[key].place(self._grid, at + 1 + number * (2 if self._is_narrow else 1), narrow=self._is_narrow, has_prices=has_prices)

    def _end(self, quote: Quote | None) -> None:
        self.quote = quote
        has_prices = quote is not None and bool(self._of[1].prices)
        self.sums.setText("\n".join(f"{name}  {amount}" for name, amount in sums_words(quote)) if quote is not None and has_prices else "")
        self.comes_to.emit(sums_words(quote)[-1][1] if quote is not None and has_prices else "")
        self.said.emit(missing_words(quote) if quote is not None and has_prices else "")
        self._mark()

    def _light(self, key: Key, _: bool = False) -> None:
        """Stand where a line comes from; pressed again, at the next of its places."""
        there = [origin for origin in self._rows[key].origins if self.document.outcome.site.run(origin.run) is not None]
        if not there:
            return
        number = self._seen.get(key, -1) + 1
        self._seen[key] = number
        origin = there[number % len(there)]
        found = self.document.outcome.run(origin.run)
        self.document.take_run(origin.run)
        self.document.move_to(station_of(found, origin))

    def _follow_place(self) -> None:
        """Something was pressed in a drawing: mark the rows that it is in, and bring the first of them into sight."""
        self._is_pressed = True
        if self.isVisible():
            marked = self._mark()
            if marked and not any(row.name.hasFocus() for row in self._rows.values()):  # else it is a row that was pressed, and stays where it is
                self.marked.emit(marked[0])

    def _mark(self) -> list[NameLink]:
        self.here.setVisible(self._is_pressed and bool(self._rows) and not self.document.is_empty)
        if self.here.isHidden():
            return []
        found, station = self.document.in_hand, self.document.station
        here = origins_at(found, station)
        marked = []
        for row in self._rows.values():
            is_here = not here.isdisjoint(row.origins)
            mark(row.name, "here", is_here)
            marked += [row.name] if is_here else []
        self.here.setText(here_words(found, station, len(marked), self.document.system))
        return marked


def _worked_out(outcome: Outcome, prices: PriceList) -> tuple[Bill, Quote]:
    bill = bill_of(outcome)
    return bill, job_price(outcome, order_of(outcome, bill=bill), bill, prices)


def _by_kind(quote: Quote | None) -> dict[str, dict[Key, PricedLine]]:
    """The lines by what they are of; what would be twice there is told apart by its number."""
    kinds: dict[str, dict[Key, PricedLine]] = {}
    count = Counter[tuple[str, str, str]]()
    for priced in quote.lines if quote is not None else ():
        of = priced.line.what, priced.line.key, priced.line.size
        kinds.setdefault(priced.line.what, {})[*of, count[of]] = priced
        count[of] += 1
    return kinds
