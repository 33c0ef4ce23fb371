"""The card of the thing in hand: a few entries on pages, one in sight, and a fold; what can be typed on the drawing is typed there."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from weirant.job.beside import NOUGHT
from weirant.job.identity import by_id
from weirant.job.network import OUTLETS
from weirant.job.paths import leads_somewhere, value_at
from weirant.job.water import PARALLEL
from weirant.language import capital, tr
from weirant.ui.bit_by_bit import BitByBit
from weirant.ui.document import Document
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.grade_page import GradePage
from weirant.ui.next_hand import NextHand
from weirant.ui.plain_text import PlainLabel, plain_tip
from weirant.ui.steps.card_entries import Entry, entries_of
from weirant.ui.steps.catalogue import CardPage, Step
from weirant.ui.steps.measured_by import limit_words, measured_by
from weirant.ui.theme import THEME
from weirant.ui.turn import InTurn

WIDE = 19.0  # text heights
HEAD_ENDS, HEAD_TOP = 12, 4  # px beside and over the line with its name
BEST_GRADE = "best grade"  # the page that is no list of entries


class Card(QFrame):
    """The entries of the step in hand; laid anew when another step, run, thing or soil is taken in hand."""

    grown = pyqtSignal()
    asked = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setObjectName("floating")
        self.grade = GradePage(document)
        self._step: Step | None = None
        self._page = 0
        self._made_for: object = None
        self.is_folded = self._is_broad = False
        self._title, self.fold_button = PlainLabel(), QPushButton()
        self._title.setProperty("strong", True)
        self.fold_button.setProperty("link", True)
        self.fold_button.clicked.connect(lambda: self.fold(not self.is_folded))
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._links = QWidget()
        self._link_row = FlowLayout(self._links, 8)
        self._link_row.setContentsMargins(8, 0, 8, 0)
        self._head = head = QHBoxLayout()
        head.setContentsMargins(HEAD_ENDS - 4, HEAD_TOP, 4, 0)
        head.addWidget(self._title)
        head.addStretch(1)
        head.addWidget(self.fold_button)
        column = QVBoxLayout(self)
        column.setContentsMargins(1, 1, 1, 1)
        column.setSpacing(0)
        column.addLayout(head)
        column.addWidget(self._scroll, 1)
        column.addWidget(self.grade, 1)
        column.addWidget(self._links)
        self.grade.hide()
        self.grade.grown.connect(self.grown)
        self._bits, self._hand = BitByBit(self), NextHand(self, self.catch_up)
        self._half: QFrame | None = None  # a page that is being laid
        self._pause = InTurn(self, self._lay_now)  # one press or one step of a drag may take several things in hand: it is laid once, when that is done
        self._show_fold()
        for signal in (document.run_changed, document.thing_changed, document.soil_changed):
            signal.connect(self._lay_anew)
        for signal in (document.changed, document.station_changed):
            signal.connect(self._follow)

    # what is shown

    def show_step(self, step: Step) -> None:
        """Show the first page of a step, or stay on the page that is turned to where the step stays; it is seen when all of it is there."""
        page = self._page if self._step is step and self._page < len(step.pages) else 0
        self._step = step
        self._begin(page)

    @property
    def pages(self) -> tuple[CardPage, ...]:
        """The pages of the step in hand."""
        return self._step.pages if self._step is not None else ()

    def _has(self, page: CardPage) -> bool:
        """Whether the thing in hand has what a page is about."""
        if not page.needs:
            return True
        job, path = self.document.shown_job, self.document.path_of(page.needs)
        return leads_somewhere(job, path) and (page.kinds == OUTLETS or value_at(job, self.document.path_of("outlet.kind")) in page.kinds)

    def turn_to(self, page: int | str) -> None:
        """Turn to a page by its number, its name or a field on it."""
        if isinstance(page, str):
            page = next(index for index, p in enumerate(self.pages) if page in (p.name, *p.fields))
        self._begin(page)
        self._bits.catch_up()

    def _begin(self, page: int) -> None:
        """Lay a page, one entry after the other; until all are there the one before is seen, and the next hand meets the new one."""
        self._pause.stop()
        if not self._has(self.pages[page]):
            page = 0
        self._page, self._made_for = page, self._in_hand()
        if self._half is not None:
            self._half.deleteLater()  # another thing was taken in hand meanwhile
        self._half = half = QFrame(self._scroll.viewport())  # there already: what takes another place is dressed once more
        half.setObjectName("cardpage")
        flow = FlowLayout(half, 8)
        flow.setContentsMargins(8, 0, 8, 4)
        fields = self.pages[page].fields
        entries = () if fields == (BEST_GRADE,) else entries_of(self.document, fields, self.asked.emit)
        bits = (*(partial(self._add, flow, entry) for entry in entries), partial(self._show_page, half))
        self._bits.ask(partial(self._look_at_shown, bit) for bit in bits)
        self._hand.expect()

    def _look_at_shown(self, bit: Callable[[], None]) -> None:
        """A clock does this, which waits for nothing."""
        if not self.document.is_empty:
            with self.document.as_shown():
                bit()

    def _add(self, flow: FlowLayout, entry: Entry) -> None:
        words, make, path = entry
        if make is None:
            flow.addWidget(_heading(words))
            return
        widget = make()
        cell = Labelled(self.document, words, widget, getattr(widget, "path", "") if path is None else path)
        flow.addWidget(cell)
        cell.polish()  # or its size is that of other letters

    def _show_page(self, page: QFrame) -> None:
        self._hand.forget()
        self._half = None
        is_grade = self.pages[self._page].fields == (BEST_GRADE,)
        self._scroll.setVisible(not is_grade and not self.is_folded)
        self.grade.setVisible(is_grade and not self.is_folded)
        before = self._scroll.takeWidget()
        self._scroll.setWidget(page)
        if before is not None:
            before.hide()
            before.deleteLater()  # not at once: an entry on it may be what asked for the new page
        self._title.setText(self._heading())
        self._show_links()
        self.grown.emit()

    def _heading(self) -> str:
        page = self.pages[self._page]
        name = self.document.in_hand.run.name if page.of == "run" else page.name
        if page.fields == ("thing",):
            thing = by_id(self.document.shown_job.features, self.document.thing)
            name = thing.name if thing is not None else self.document.in_hand.run.name
        return capital(name)

    def _show_links(self) -> None:
        while (item := self._link_row.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.hide()
                widget.deleteLater()
        for number, page in enumerate(self.pages):
            if number != self._page and self._has(page):
                link = QPushButton(page.name)
                link.setProperty("link", True)
                link.setAccessibleName(tr("Card: {page}", page=page.name))
                link.clicked.connect(partial(self._follow_link, page))
                self._link_row.addWidget(link)
                link.show()  # a layout would do that an event later, and the card would take another height then
        self._links.setVisible(len(self.pages) > 1 and not self.is_folded)

    def _follow_link(self, page: CardPage, _: bool = False) -> None:
        """Turn to a page; a link that is pressed as another step comes may be to a page of the one before."""
        if page in self.pages:
            self.turn_to(self.pages.index(page))

    def entry(self, path: str) -> QWidget | None:
        """The entry of a field by its path, its page turned to; None where no page of the step has it."""
        self.catch_up()
        for turn in (self._page, *range(len(self.pages))):
            if turn != self._page:
                self.turn_to(turn)
            for cell in self._scroll.findChildren(Labelled):
                if cell.isVisibleTo(self._scroll) and path in (cell.path, getattr(cell.entry, "path", "")):
                    return cell.entry
        return None

    # following the document

    def _lay_anew(self) -> None:
        """Another run or thing is in hand: its entries."""
        if self._step is not None and not self.document.is_empty:
            self._bits.ask(())  # what is left to be laid is of what was in hand before, and may be gone
            self._pause.start()
            self._hand.expect()

    def catch_up(self) -> None:
        """Lay it at once where that waits."""
        if self._pause.is_active:
            self._lay_now()
        self._bits.catch_up()
        self._hand.forget()

    def _lay_now(self) -> None:
        self._look_at_shown(partial(self._begin, self._page))

    def _follow(self) -> None:
        if self._step is None or self.document.is_empty:
            return
        if self._pause.is_active:
            return
        if self._in_hand() != self._made_for:
            self._lay_anew()
        elif (heading := self._heading()) != self._title.text():  # renamed, by an entry that may be on the card: that stays
            self._title.setText(heading)
            self.grown.emit()

    def _in_hand(self) -> object:
        """What the entries are about."""
        document = self.document
        job, found = document.shown_job, document.in_hand
        feature = by_id(job.features, document.thing)
        outlet, section, part = found.run.outlet, document.section, found.part
        of_place = (document.path_of("kept.name"), part.situation.source == PARALLEL, part.lie is not None and part.lie.distance <= NOUGHT)
        of_soil = (document.soil.id, document.layer, len(document.soil.layers), len(job.soils), len(job.sources))
        of_thing = (found.run.run.status, document.thing, feature.kind if feature is not None else "", outlet.kind if outlet is not None else "")
        return (document.run, of_thing, of_place, of_soil, section.id, section.top, section.wrap, found.stretch(document.station).id, len(job.sections), found.run.run.bore, job.products)

    # its size

    def set_broad(self, broad: bool) -> None:
        """Lay it broad, its other pages beside its name, or tall."""
        if broad == self._is_broad:
            return
        self._is_broad = broad
        column = self.layout()
        assert isinstance(column, QVBoxLayout)
        if broad:
            self._head.insertWidget(1, self._links, 1)
        else:
            column.addWidget(self._links)
        self._head.setStretch(self._head.count() - 2, 0 if broad else 1)  # the links take the room, not what parts the name from the button

    def fold(self, folded: bool) -> None:
        """Fold the card to its name, or open it."""
        self.is_folded = folded
        self._show_fold()
        if self._step is not None:
            self.turn_to(self._page)

    def _show_fold(self) -> None:
        self.fold_button.setText(tr("open") if self.is_folded else tr("fold"))
        words = tr("Open the card of the thing in hand") if self.is_folded else tr("Fold the card to its name")
        self.fold_button.setAccessibleName(words)
        self.fold_button.setToolTip(plain_tip(f"{words}  (F4)"))

    def wide(self) -> int:
        """Its width when open; large letters take more lines, not all of the width."""
        return round(WIDE * _em())

    def shown_width(self) -> int:
        """Its width as it is."""
        return min(self.wide(), self._title.sizeHint().width() + self.fold_button.sizeHint().width() + 40) if self.is_folded else self.wide()

    def needed_height(self, width: int = 0) -> int:
        """The height that shows the whole page, at a width or at its own."""
        head: int = max(self._title.sizeHint().height(), self.fold_button.sizeHint().height()) + 6
        inner = (width or self.wide()) - 4  # its border and its margin
        if self._is_broad and len(self.pages) > 1:
            beside = self._title.sizeHint().width() + self.fold_button.sizeHint().width() + 4 * self._head.spacing() + HEAD_ENDS
            head = max(head, self._link_row.heightForWidth(inner - beside) + HEAD_TOP + 2)
        if self.is_folded:
            return head + 2
        links: int = self._link_row.heightForWidth(inner) if len(self.pages) > 1 and not self._is_broad else 0
        page = self.grade.widget() if not self.grade.isHidden() else self._scroll.widget()
        layout = page.layout() if page is not None else None
        body: int = 0 if layout is None else layout.heightForWidth(inner) if layout.hasHeightForWidth() else layout.sizeHint().height()
        return head + body + links + 8

    def take_place(self, x: int, y: int, width: int, most: int) -> None:
        """Stand at a place with a width, as high as its page wants; only where that is more than there is it can be scrolled."""
        needed = self.needed_height(width)
        policy = Qt.ScrollBarPolicy.ScrollBarAsNeeded if needed > most else Qt.ScrollBarPolicy.ScrollBarAlwaysOff
        for area in (self._scroll, self.grade):
            area.setVerticalScrollBarPolicy(policy)
        self.setGeometry(x, y, width, min(needed, most))

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(self.shown_width(), self.needed_height())


class Labelled(QWidget):
    """An entry under its words; where its figure is only assumed the words say so, and what would measure it."""

    def __init__(self, document: Document, words: str, entry: QWidget, path: str) -> None:
        super().__init__()
        self.document, self.words, self.entry, self.path = document, words, entry, path
        self._label = PlainLabel()
        self._label.setProperty("quiet", True)
        self._label.setBuddy(entry)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        box.addWidget(self._label)
        box.addWidget(entry, 0, Qt.AlignmentFlag.AlignLeft)
        self._most = round((WIDE - 1.8) * _em())
        if isinstance(entry, QLabel):  # words that are only told
            entry.setWordWrap(True)
            entry.setFixedWidth(self._most)
        entry.setMaximumWidth(min(entry.maximumWidth(), self._most))
        self._label.setMaximumWidth(self._most)
        self._source = limit_words(path)
        self._was_assumed: bool | None = None
        document.changed.connect(self._follow)
        self._follow()

    def polish(self) -> None:
        """Take on the letters of the look. Not all that is inside an entry: a list throws its own parts away while it is polished."""
        for widget in (self._label, self.entry):
            widget.ensurePolished()

    def _follow(self) -> None:
        is_assumed = bool(self.path) and not self.document.is_empty and self.path in self.document.job.assumed
        if is_assumed == self._was_assumed:
            return
        self._was_assumed = is_assumed
        words = tr("{words}, assumed", words=self.words) if is_assumed else self.words
        self._label.setWordWrap(self._label.fontMetrics().horizontalAdvance(words) > self._most)
        self._label.setText(words)
        told = tr("Measure this: {path}.", path=measured_by(self.path)) if is_assumed else self._source
        self._label.setToolTip(plain_tip(told) if told else "")
        self.entry.setAccessibleDescription(tr("Assumed. {told}", told=told) if is_assumed else told)

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        hint = super().sizeHint()
        wide = min(hint.width(), self._most)
        layout = self.layout()
        high = layout.heightForWidth(wide) if layout is not None and layout.hasHeightForWidth() else hint.height()
        return QSize(wide, high)


def _em() -> float:
    """Height of the letters as far as the card grows with it."""
    return THEME.text / float(THEME.scale**0.4)


def _heading(words: str) -> QWidget:
    """A heading that takes a line of its own."""
    label = PlainLabel(words)
    label.setProperty("strong", True)
    label.setFixedWidth(round((WIDE - 2) * _em()))
    return label
