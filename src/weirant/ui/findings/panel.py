"""The column of findings: the worst open, the rest a line each, grouped with counts; it narrows to its marks."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from weirant.job import Job
from weirant.language import ntr, tr
from weirant.outcome.finding import Finding, State
from weirant.outcome.summary import summary
from weirant.ui.bit_by_bit import BitByBit
from weirant.ui.column import show_in_turn
from weirant.ui.document import Document
from weirant.ui.findings.card import FindingCard
from weirant.ui.lines_button import LinesButton
from weirant.ui.plain_text import PlainLabel, plain_tip
from weirant.ui.rest import Rest
from weirant.ui.steps.asked_next import asked_next
from weirant.ui.theme import THEME
from weirant.words.findings import as_told

Identity = tuple[str, str, str, str]
FEW, SOME = 2, 8  # cards, and rows, that are made in one event


class HoldsRow(QPushButton):
    """A finding that holds, in one line; pressing it says why."""

    def __init__(self) -> None:
        super().__init__()
        self.finding: Finding | None = None
        self.title = ""
        self._told_of: Job | None = None
        self.setProperty("link", True)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)

    def show_finding(self, finding: Finding, job: Job) -> None:
        """Show a finding of a job."""
        if self.finding == finding and self._told_of is job:
            return
        self.finding, self._told_of = finding, job
        words = as_told(finding, job)
        told = tr("holds: {title}. {reason}", title=words.title, reason=words.reason)
        if told == self.accessibleName():
            return
        self.title = words.title
        self.setToolTip(plain_tip(words.reason))
        self.setAccessibleName(told)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        super().paintEvent(event)
        if self.finding is None:
            return
        painter, ink, text = QPainter(self), THEME.ink, THEME.text
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink.state_mark(painter, QPointF(0.8 * text, self.height() / 2), "holds", 0.4 * text)
        painter.setFont(ink.font())
        painter.setPen(ink.colour("ink"))
        painter.drawText(
            QRectF(1.7 * text, 0, self.width(), self.height()), Qt.AlignmentFlag.AlignVCenter, self.title
        )
        painter.end()


class CountMark(QPushButton):
    """How many findings are in a state: its mark over the count. A press opens the column again."""

    def __init__(self, state: State) -> None:
        super().__init__()
        self.state, self.count = state, 0
        self.setProperty("link", True)

    def show_count(self, count: int) -> None:
        """Show a count; none is not shown."""
        self.count = count
        self.setVisible(count > 0)
        self.setAccessibleName(tr("{count} {state}: open the findings", count=count, state=tr(self.state)))
        self.setToolTip(f"{count} {tr(self.state)}")
        self.update()

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(round(2.6 * THEME.text), round(3.4 * THEME.text))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        super().paintEvent(event)
        painter, ink, text = QPainter(self), THEME.ink, THEME.text
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink.state_mark(painter, QPointF(self.width() / 2, 1.0 * text), str(self.state), 0.6 * text)
        painter.setFont(ink.font(1.0, True))
        painter.setPen(ink.colour("ink"))
        painter.drawText(QRectF(0, 1.8 * text, self.width(), 1.4 * text), Qt.AlignmentFlag.AlignCenter, str(self.count))
        painter.end()


def _of(finding: Finding) -> Identity:
    return *finding.about, finding.piece


class FindingsPanel(QFrame):
    """All findings. Widgets are kept and reused, so that a drag costs only new words."""

    why = pyqtSignal(Finding)
    narrowed = pyqtSignal()
    step_wanted = pyqtSignal(str)
    placed = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setObjectName("panel")
        self.is_narrow = False
        self._open: Identity | None = None
        self._holds_shown = self._lacks = False
        self._cards: list[FindingCard] = []
        self._rows: list[HoldsRow] = []
        self.summary = PlainLabel()
        self.summary.setProperty("strong", True)
        self.summary.setWordWrap(True)
        self.narrow_button, self.next_button, self.holds_button = QPushButton(tr("narrow")), LinesButton(), QPushButton()
        self.narrow_button.setAccessibleName(tr("Narrow the findings to their marks"))
        self.narrow_button.setToolTip(plain_tip(tr("Narrow the findings to their marks  (F9)")))
        self.narrow_button.clicked.connect(lambda: self.narrow(True))
        self.next_button.clicked.connect(self._go_next)
        self.next_button.hide()  # until there is something to say
        self.holds_button.clicked.connect(self._turn_holds)
        for button in (self.narrow_button, self.holds_button):
            button.setProperty("link", True)
        self.next_button.setProperty("next", True)
        self._wide, self._marks = QWidget(), QWidget()
        self._lay_wide()
        self.counts = {state: CountMark(state) for state in State}
        marks = QVBoxLayout(self._marks)
        marks.setContentsMargins(0, 8, 0, 8)
        marks.setSpacing(8)
        for mark in self.counts.values():
            mark.clicked.connect(lambda: self.narrow(False))
            marks.addWidget(mark, 0, Qt.AlignmentFlag.AlignHCenter)
        marks.addStretch(1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        outer.addWidget(self._wide)
        outer.addWidget(self._marks)
        self._marks.hide()
        self._more = BitByBit(self)
        rest = Rest(self, self._show_next)
        document.changed.connect(rest.ask)
        document.found.connect(rest.ask)

    def _lay_wide(self) -> None:
        page = QWidget()
        page.setObjectName("panel")
        self._layout = QVBoxLayout(page)
        self._layout.setContentsMargins(8, 4, 8, 8)
        self._layout.setSpacing(8)
        self._layout.addWidget(self.holds_button, 0, Qt.AlignmentFlag.AlignLeft)
        self._layout.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(page)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        head, column = QHBoxLayout(), QVBoxLayout(self._wide)
        head.setContentsMargins(8, 4, 4, 0)
        head.addWidget(self.summary, 1)
        head.addWidget(self.narrow_button, 0, Qt.AlignmentFlag.AlignTop)
        asks = QHBoxLayout()
        asks.setContentsMargins(8, 0, 8, 0)
        asks.addWidget(self.next_button)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addLayout(head)
        column.addLayout(asks)
        column.addWidget(scroll, 1)

    def narrow(self, narrow: bool) -> None:
        """Show the marks with their counts only, or the column again."""
        self.is_narrow = narrow
        self._wide.setVisible(not narrow)
        self._marks.setVisible(narrow)
        self.narrowed.emit()
        self.refresh()

    def _turn_holds(self) -> None:
        self._holds_shown = not self._holds_shown
        self._show_next()

    def _show_next(self) -> None:
        """Show the findings, of those that there is no widget for yet a few more in each event."""
        with self.document.as_shown():
            self.refresh(FEW, SOME)
        if self._lacks:
            self._more.ask((self._show_next,))

    def refresh(self, more: int = 1000, rows_more: int = 1000) -> None:
        """Show the findings of the outcome; widgets are made for so many more of a kind than there were."""
        if self.document.is_empty:
            return
        outcome = self.document.outcome
        findings = outcome.told
        for state, mark in self.counts.items():
            mark.show_count(sum(1 for f in findings if f.state == state))
        full = [f for f in findings if f.state != State.HOLDS]
        brief = [f for f in findings if f.state == State.HOLDS]
        self.summary.setText(summary(findings))
        _, words = asked_next(outcome)
        self.next_button.setVisible(bool(words))
        self.next_button.say(tr("Next: {words}", words=words))
        rows = len(brief) if self._holds_shown else 0
        self._grow(min(len(full), len(self._cards) + more), min(rows, len(self._rows) + rows_more))
        self._lacks = len(self._cards) < len(full) or len(self._rows) < rows
        opened = self._open if self._open in [_of(f) for f in full] else _of(full[0]) if full else None
        for index, card in enumerate(self._cards):
            card.setVisible(index < len(full))
            if index < len(full):
                card.show_open(_of(full[index]) == opened)
                card.show_finding(full[index])
        for index, row in enumerate(self._rows):
            show_in_turn(row, self._holds_shown and index < len(brief))
            if self._holds_shown and index < len(brief):
                row.show_finding(brief[index], outcome.job)
        self.holds_button.setText(ntr("{n} holds: hide it", "{n} hold: hide them", len(brief)) if self._holds_shown else ntr("{n} holds: show it", "{n} hold: show them", len(brief)))
        self.holds_button.setVisible(bool(brief))

    def open(self, finding: Finding) -> None:
        """Open a finding in full; the one before becomes a line."""
        self._open = _of(finding)
        self.refresh()

    def _grow(self, cards: int, rows: int) -> None:
        while len(self._cards) < cards:
            card = FindingCard(self.document)
            card.why.connect(self._ask_why)
            card.pressed.connect(partial(self._pressed, card))
            self._layout.insertWidget(len(self._cards), card)
            self._cards.append(card)
        while len(self._rows) < rows:
            row = HoldsRow()
            row.clicked.connect(lambda _, r=row: self._ask_why(r.finding))
            self._layout.insertWidget(self._layout.count() - 1, row)
            self._rows.append(row)

    def _go_next(self) -> None:
        """To the step that is asked for now."""
        step, _ = asked_next(self.document.outcome)
        if step:
            self.step_wanted.emit(step)

    def _ask_why(self, finding: Finding) -> None:
        """Ask of what is found now: what stands here may be of the job before."""
        now = next((found for found in self.document.outcome.told if _of(found) == _of(finding)), None)
        if now is not None:
            self.why.emit(now)
        else:
            self.document.refused.emit(tr("This is found no more"))

    def _pressed(self, card: FindingCard) -> None:
        if card.finding is not None:
            self.open(card.finding)
            if card.finding.station is not None:
                self.placed.emit()

    def card_of(self, key: str) -> FindingCard | None:
        """The card that shows a finding now."""
        return next(
            (c for c in self._cards if not c.isHidden() and c.finding is not None and c.finding.code == key), None
        )
