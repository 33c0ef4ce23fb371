"""The order list: what is bought, in what is sold, a box to tick for each; by a price list a page for each who sells it; and what is dug and hauled."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from weirant.design.bill import IN_HARD, IN_ROCK, bill_of
from weirant.design.order import order_of, pipe_cuts
from weirant.design.priced import priced
from weirant.design.worked_out import with_nothing_waiting
from weirant.errors import InputError
from weirant.formats.plain_files import write_safely
from weirant.language import first_small, tr
from weirant.outcome.bill import DIG
from weirant.outcome.figure import Figure
from weirant.outcome.finding import State
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import NO_PRICES, OrderLine, PriceList
from weirant.outcome.summary import summary
from weirant.paper.ink import Ink
from weirant.paper.lettering import FAMILY
from weirant.paper.page import DOTS, Draw, pdf_page, title_block
from weirant.paper.palette import PRINT
from weirant.units.display import VOLUME, System, shown_number, unit_of
from weirant.words.order import KINDS, cut_words, origin_words, sold_words

ROW, MOST, MOST_CUTS = 1.9, 18, 34  # height of a line in heights of the letters; lines on a page, of which each may need two; of a cut list
CAUTION = tr("Quantities follow the drawing, with the laps and the waste that the job sets. Measure the trench before the last load is ordered.")


def order_list_pages(outcome: Outcome, prices: PriceList = NO_PRICES) -> list[Draw]:
    """The list as what paints it, a page or more for each supplier of a price list. Raises InputError where nothing can be counted yet."""
    known = with_nothing_waiting(outcome)
    if known.takeoff is None:
        raise InputError(tr("order list"), tr("cannot be made: the ground is not known along every run; shoot the grades first"))
    lines = tuple(line for line in order_of(known) if line.what != DIG)
    by_supplier: dict[str, list[OrderLine]] = {}
    for line in priced(lines, prices).lines:
        by_supplier.setdefault(line.price.supplier if line.price is not None else "", []).append(line.line)
    parts: list[tuple[str, list[OrderLine]]] = []
    for name, some in sorted(by_supplier.items(), key=lambda one: (not one[0], one[0])):
        parts += [(name, some[start : start + MOST]) for start in range(0, len(some), MOST)]
    parts = parts or [("", [])]  # the earth alone
    titles = [tr("from {supplier}", supplier=name) if name else tr("from whoever has it") if len(by_supplier) > 1 else "" for name, _ in parts]
    order = [partial(_drawn, known, title, some, number == len(parts)) for number, ((_, some), title) in enumerate(zip(parts, titles, strict=True), 1)]
    cuts = [(words, number > 0) for cut in pipe_cuts(known, bill_of(known)).values() for number, words in enumerate(cut_words(known, cut, System(known.job.units)))]
    return [*order, *(partial(_cut_list, known, cuts[start : start + MOST_CUTS]) for start in range(0, len(cuts), MOST_CUTS))]


def _cut_list(outcome: Outcome, cuts: list[tuple[str, bool]], painter: QPainter, page: QRectF) -> None:
    _OrderList(painter, outcome, page).draw_cuts(cuts)


def _drawn(outcome: Outcome, title: str, lines: list[OrderLine], is_last: bool, painter: QPainter, page: QRectF) -> None:
    _OrderList(painter, outcome, page).draw(title, lines, is_last)


def order_list_pdf(outcome: Outcome, prices: PriceList = NO_PRICES) -> bytes:
    """The list as PDF."""
    return pdf_page(outcome.job, *order_list_pages(outcome, prices))


def write_order_list(outcome: Outcome, path: Path, prices: PriceList = NO_PRICES) -> None:
    """Write the list to a file."""
    write_safely(path, order_list_pdf(outcome, prices))


class _OrderList:
    """Lays the page out from top to bottom."""

    def __init__(self, painter: QPainter, outcome: Outcome, page: QRectF) -> None:
        self.painter, self.outcome, self.page = painter, outcome, page
        self.system = System(outcome.job.units)
        self.ink = Ink(PRINT, FAMILY, 9.4 * DOTS / 72, tabular=False)
        self.y = 0.0

    def draw(self, title: str, lines: list[OrderLine], is_last: bool) -> None:
        """Draw one page of the list; the earth and what to mind stand on the last."""
        text, takeoff = self.ink.text, self.outcome.takeoff
        assert takeoff is not None
        self._head(", ".join(words for words in (tr("Order list"), title) if words))
        told = self.outcome.told
        if any(f.state in (State.FAILS, State.UNKNOWN) for f in told):
            self._paragraph(tr("Not ready to order: {told}.", told=first_small(summary(told))), bold=True)
        self._order(lines)
        if not is_last:
            return
        hard = (Figure(line.name, line.needed, VOLUME, "") for line in order_of(self.outcome) if line.key in (IN_HARD, IN_ROCK))
        self._table(tr("Earth"), (takeoff.dug, *hard, takeoff.stone, takeoff.backfill, takeoff.spoil_loose), boxes=False)
        self.y += 0.8 * text
        self._paragraph(CAUTION)

    def draw_cuts(self, cuts: list[tuple[str, bool]]) -> None:
        """Draw a page that goes to where the pipe is cut: what each pipe is cut into, a box to tick for each way; a heading where it is none."""
        self._head(tr("Cut list"))
        for words, is_cut in cuts:
            if is_cut:
                self._line(words.strip(), "", "", "", boxes=True, wide=1.0)
            else:
                self._heading(words)

    def _head(self, title: str) -> None:
        job, text = self.outcome.job, self.ink.text
        self.y = 1.6 * text
        self.ink.lettering(self.painter, QPointF(0, self.y), title, "ink", 1.8, True)
        self.ink.lettering(self.painter, QPointF(self.page.right(), self.y), job.date, "ink", 1.0, False, "right")
        self.y += 1.5 * text
        self.ink.lettering(self.painter, QPointF(0, self.y), ", ".join(words for words in (job.name, job.place) if words), "muted")
        self.ink.lettering(self.painter, QPointF(self.page.right(), self.y), title_block(job), "muted", 1.0, False, "right")
        self.y += 0.9 * text

    def _heading(self, words: str) -> None:
        self.y += 1.9 * self.ink.text
        self.ink.lettering(self.painter, QPointF(0, self.y), words, "ink", 1.15, True)
        self.painter.setPen(QPen(self.ink.colour("ink"), 0.09 * self.ink.text))
        self.painter.drawLine(QPointF(0, self.y + 0.5 * self.ink.text), QPointF(self.page.right(), self.y + 0.5 * self.ink.text))
        self.y += 0.5 * self.ink.text

    def _table(self, heading: str, figures: tuple[Figure, ...], *, boxes: bool = True) -> None:
        self._heading(heading)
        for figure in figures:
            self._line(figure.label, shown_number(figure.value, figure.kind, self.system), unit_of(figure.kind, self.system), figure.note, boxes=boxes)

    def _order(self, lines: list[OrderLine]) -> None:
        """What is bought, kind by kind, with where it goes."""
        what = ""
        for line in lines:
            if line.what != what:
                what = line.what
                self._heading(KINDS[what])
            amount, unit = sold_words(line, self.system)
            self._line(line.name, amount, unit, ": ".join(words for words in (origin_words(self.outcome.job, line.origins), line.note) if words), boxes=True)

    def _line(self, label: str, number: str, unit: str, note: str, *, boxes: bool, wide: float = 0.40) -> None:
        text, width, top = self.ink.text, self.page.width(), self.y
        self.y += ROW * text
        base = self.y - 0.55 * text
        if boxes:
            self.painter.setPen(QPen(self.ink.colour("ink"), 0.07 * text))
            self.painter.drawRect(QRectF(0.1 * text, top + 0.45 * text, 1.0 * text, 1.0 * text))
        self.painter.setPen(self.ink.colour("ink"))
        self.painter.setFont(self.ink.font())
        used = self._wrapped(label, QRectF(1.8 * text, top + 0.35 * text, wide * width - 2.0 * text, 6 * text))
        self.ink.lettering(self.painter, QPointF(0.50 * width, base), number, "ink", 1.0, True, "right")
        self.ink.lettering(self.painter, QPointF(0.51 * width, base), unit, "muted")
        self.painter.setFont(self.ink.font(0.88))
        used = max(used, self._wrapped(note, QRectF(0.58 * width, top + 0.45 * text, 0.42 * width, 6 * text)))
        self.y = max(self.y, top + used + 0.5 * text)
        self.painter.setPen(QPen(self.ink.colour("rule"), 0.05 * text))
        self.painter.drawLine(QPointF(0, self.y), QPointF(width, self.y))
        self.painter.setPen(self.ink.colour("ink"))

    def _wrapped(self, words: str, area: QRectF) -> float:
        used = self.painter.boundingRect(area, Qt.TextFlag.TextWordWrap, words)
        self.painter.drawText(area, Qt.TextFlag.TextWordWrap, words)
        return used.height()

    def _paragraph(self, words: str, bold: bool = False) -> None:
        self.painter.setFont(self.ink.font(1.0, bold))
        self.painter.setPen(self.ink.colour("ink"))
        self.y += self._wrapped(words, QRectF(0, self.y, self.page.width(), 8 * self.ink.text))
