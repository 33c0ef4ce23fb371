"""The column of findings: sentences, worst first, each with its number against its limit and what would help."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QFrame, QPushButton, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from weirant.job import Job
from weirant.outcome.finding import Finding, State
from weirant.outcome.summary import summary
from weirant.ui.document import Document
from weirant.ui.findings.card import FindingCard
from weirant.ui.plain_text import PlainLabel, plain_tip
from weirant.ui.rest import Rest
from weirant.ui.theme import THEME
from weirant.words.findings import as_told


class HoldsRow(QPushButton):
    """A finding that holds, in one line; pressing it says why."""

    def __init__(self) -> None:
        super().__init__()
        self.finding: Finding | None = None
        self.title = ""
        self._told_of: Job | None = None
        self.setProperty("link", True)
        self.setStyleSheet("text-decoration: none;")
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)

    def show_finding(self, finding: Finding, job: Job) -> None:
        """Show a finding of a job."""
        if self.finding == finding and self._told_of is job:
            return
        self.finding, self._told_of = finding, job
        words = as_told(finding, job)
        told = f"holds: {words.title}. {words.reason}"
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
        painter.setFont(ink.font(0.95))
        painter.setPen(ink.colour("ink"))
        painter.drawText(
            QRectF(1.7 * text, 0, self.width(), self.height()), Qt.AlignmentFlag.AlignVCenter, self.title
        )
        painter.end()


class FindingsPanel(QFrame):
    """All findings. Widgets are kept and reused, so that a drag costs only new words."""

    why = pyqtSignal(Finding)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setObjectName("panel")
        self.summary = PlainLabel()
        self.summary.setProperty("strong", True)
        self.summary.setWordWrap(True)
        self._cards: list[FindingCard] = []
        self._rows: list[HoldsRow] = []
        page = QWidget()
        page.setObjectName("panel")
        self._layout = QVBoxLayout(page)
        self._layout.setContentsMargins(8, 4, 8, 8)
        self._layout.setSpacing(7)
        self._holds_title = PlainLabel("These hold")
        self._holds_title.setProperty("quiet", True)
        self._layout.addWidget(self._holds_title)
        self._layout.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(page)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 8, 0, 0)
        self.summary.setContentsMargins(10, 0, 10, 0)
        outer.addWidget(self.summary)
        outer.addWidget(scroll, 1)
        rest = Rest(self, self.refresh)
        document.changed.connect(rest.ask)
        document.found.connect(rest.ask)

    def refresh(self) -> None:
        """Show the findings of the outcome."""
        if self.document.is_empty:
            return
        findings = self.document.outcome.told
        full = [f for f in findings if f.state != State.HOLDS]
        brief = [f for f in findings if f.state == State.HOLDS]
        self.summary.setText(summary(findings))
        self._grow(len(full), len(brief))
        for index, card in enumerate(self._cards):
            card.setVisible(index < len(full))
            if index < len(full):
                card.show_finding(full[index])
        for index, row in enumerate(self._rows):
            row.setVisible(index < len(brief))
            if index < len(brief):
                row.show_finding(brief[index], self.document.outcome.job)
        self._holds_title.setText(f"{len(brief)} hold")

    def _grow(self, cards: int, rows: int) -> None:
        while len(self._cards) < cards:
            card = FindingCard(self.document)
            card.why.connect(self.why)
            self._layout.insertWidget(len(self._cards), card)
            self._cards.append(card)
        while len(self._rows) < rows:
            row = HoldsRow()
            row.clicked.connect(lambda _, r=row: self.why.emit(r.finding))
            self._layout.insertWidget(self._layout.count() - 1, row)
            self._rows.append(row)

    def card_of(self, key: str) -> FindingCard | None:
        """The card that shows a finding now."""
        return next(
            (c for c in self._cards if not c.isHidden() and c.finding is not None and c.finding.code == key), None
        )
