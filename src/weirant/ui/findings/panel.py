"""The column of findings: sentences, worst first, each with its number against its limit and what would help."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from weirant.design.effects import Effect, clears, effect_of
from weirant.errors import WeirantError
from weirant.job import Job
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.summary import summary
from weirant.ui.document import Document
from weirant.ui.theme import THEME
from weirant.ui.try_button import TryButton
from weirant.ui.words import PlainLabel, plain_tip
from weirant.units.display import VOLUME, shown

REST = 120  # ms between two showings while a drag goes on


class MarkAndWord(QWidget):
    """A state's shape with its word."""

    def __init__(self) -> None:
        super().__init__()
        self.state = "unknown"
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(round(5.6 * THEME.text), round(1.5 * THEME.text))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        painter, ink, text = QPainter(self), THEME.ink, THEME.text
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink.state_mark(painter, QPointF(0.55 * text, 0.75 * text), self.state, 0.45 * text)
        painter.setFont(ink.font(0.92, True))
        painter.setPen(ink.colour({"fails": "rust", "tight": "ochre", "unknown": "muted", "holds": "leaf"}[self.state]))
        painter.drawText(QPointF(1.3 * text, 1.1 * text), self.state)
        painter.end()


class LimitBar(QWidget):
    """The number against its limit: a bar with the limit as a notch, and both written out."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.finding: Finding | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(120, round(2.0 * THEME.text))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        f = self.finding
        if f is None or f.value is None or f.limit is None or f.kind is None:
            return
        painter, ink, text = QPainter(self), THEME.ink, THEME.text
        low, high = min(0.0, f.value, f.limit), max(0.0, f.value, f.limit)
        span = (high - low) or 1.0
        low, high = low - 0.04 * span * (low < 0), high + 0.12 * span

        def x(v: float) -> float:
            return (v - low) / (high - low) * self.width()

        top, thick = 0.15 * text, 0.42 * text
        painter.fillRect(QRectF(0, top, self.width(), thick), QColor(THEME.palette.panel))
        state = {"fails": "rust", "tight": "ochre", "unknown": "muted", "holds": "leaf"}[str(f.state)]
        start, end = sorted((x(0.0), x(f.value)))
        painter.fillRect(QRectF(start, top, max(end - start, 2.0), thick), ink.colour(state))
        painter.setPen(QPen(ink.colour("ink"), 2))
        painter.drawLine(QPointF(x(f.limit), top - 2), QPointF(x(f.limit), top + thick + 3))
        system = self.document.system
        painter.setFont(ink.font(0.86, True))
        painter.drawText(QPointF(0, 1.75 * text), shown(f.value, f.kind, system))
        words = f"{'at most' if f.at_most else 'at least'} {shown(f.limit, f.kind, system)}"
        painter.setFont(ink.font(0.86))
        painter.setPen(ink.colour("muted"))
        painter.drawText(
            QRectF(0, 0.75 * text, self.width(), 1.3 * text),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter,
            words,
        )
        painter.end()


class FindingCard(QFrame):
    """One finding in full."""

    why = pyqtSignal(Finding)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.finding: Finding | None = None
        self._fix_rows: list[FixRow] = []
        self._of: Job | None = None
        self.setObjectName("card")
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(9, 7, 9, 5)
        self._layout.setSpacing(3)
        self.mark, self.title, self.reason, self.bar = MarkAndWord(), PlainLabel(), PlainLabel(), LimitBar(document)
        self.title.setProperty("strong", True)
        self.title.setWordWrap(True)
        self.reason.setWordWrap(True)
        self.caution = PlainLabel()
        self.caution.setWordWrap(True)
        self.caution.setProperty("quiet", True)
        head = QHBoxLayout()
        head.addWidget(self.title, 1)
        head.addWidget(self.mark)
        self._layout.addLayout(head)
        for widget in (self.reason, self.bar, self.caution):
            self._layout.addWidget(widget)
        self._fixes = QVBoxLayout()
        self._fixes.setSpacing(2)
        self._layout.addLayout(self._fixes)
        self.why_button = QPushButton("Why?")
        self.why_button.setProperty("link", True)
        self.why_button.clicked.connect(self._ask_why)
        self._layout.addWidget(self.why_button, 0, Qt.AlignmentFlag.AlignLeft)

    def _ask_why(self) -> None:
        if self.finding is not None:
            self.why.emit(self.finding)

    def show_finding(self, finding: Finding) -> None:
        """Show a finding; the widgets stay, their words change."""
        if finding == self.finding:
            if self._of is not self.document.job:  # what is found is the same, what a fix would do to the job need not be
                self._of = self.document.job
                self._show_fixes(finding.fixes)
            return
        self.finding, self._of = finding, self.document.job
        self.mark.state = str(finding.state)
        self.mark.update()
        self.title.setText(finding.title)
        self.reason.setText(finding.reason)
        self.bar.finding = finding
        self.bar.setVisible(finding.value is not None and finding.limit is not None)
        self.bar.update()
        self.caution.setText(finding.caution)
        self.caution.setVisible(bool(finding.caution))
        self.why_button.setAccessibleName(f"Why: {finding.title}")
        self.setAccessibleName(f"{finding.state}: {finding.title}. {finding.reason}")
        self._show_fixes(finding.fixes)

    def _show_fixes(self, fixes: tuple[Fix, ...]) -> None:
        while len(self._fix_rows) < len(fixes):
            self._fix_rows.append(FixRow(self, len(self._fix_rows)))
            self._fixes.addWidget(self._fix_rows[-1])
        for index, row in enumerate(self._fix_rows):
            row.setVisible(index < len(fixes))
            if index < len(fixes):
                row.show_fix(fixes[index])

    def mousePressEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802, D102
        if self.finding is not None and self.finding.station is not None:
            if self.finding.subject and self.document.run not in self.finding.also:
                self.document.take_run(self.finding.subject)
            self.document.move_to(self.finding.station)


class FixRow(QWidget):
    """An offered fix: a button that tries it, and what it would cost and spoil."""

    def __init__(self, card: FindingCard, index: int) -> None:
        super().__init__()
        self.card, self.index = card, index
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 2, 0, 2)
        box.setSpacing(0)
        self.button = TryButton(card.document)
        self.effect = PlainLabel()
        self.effect.setProperty("quiet", True)
        self.effect.setWordWrap(True)
        box.addWidget(self.button)
        box.addWidget(self.effect)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._work_out)

    def show_fix(self, fix: Fix) -> None:
        """Show a fix; what it costs follows once the hand rests."""
        self.button.offer(fix)
        self.effect.setText("working out what it costs …")
        self._timer.start(180 + 40 * self.index)

    @property
    def fix(self) -> Fix:
        """The fix as the card's finding has it now."""
        assert self.card.finding is not None
        return self.card.finding.fixes[self.index]

    def _work_out(self) -> None:
        if self.isHidden() or self.card.finding is None or self.index >= len(self.card.finding.fixes):
            return
        document = self.card.document
        if self.card._of is not document.job:
            return  # made for a job that has changed meanwhile; the card is about to be shown anew
        try:
            effect = effect_of(self.fix, document.outcome, document.session)
        except WeirantError:
            effect = None
        if effect is None or not clears(self.card.finding, effect):
            self.setVisible(False)  # what does not cure is not offered
        else:
            self.effect.setText(effect_words(effect, document))


def effect_words(effect: Effect, document: Document) -> str:
    """What a fix does, in words."""
    settled = f"settles {len(effect.settled)}" if effect.settled else "cures nothing that fails"
    cures = f"cures {len(effect.cured)}" if effect.cured else settled
    later = "".join(f"; the trial shows whether {f.title[:1].lower()}{f.title[1:]}" for f in effect.to_be_seen)
    spoils = (
        "spoils nothing" if not effect.spoiled else "spoils: " + ", ".join(f.title.lower() for f in effect.spoiled[:3])
    )
    dig = shown(abs(effect.dig), VOLUME, document.system)
    costs = "same dig" if abs(effect.dig) < 0.02 else f"{'+' if effect.dig > 0 else '−'}{dig} dig"
    return f"{cures}; {spoils}; {costs}{later}"


class HoldsRow(QPushButton):
    """A finding that holds, in one line; pressing it says why."""

    def __init__(self) -> None:
        super().__init__()
        self.finding: Finding | None = None
        self.setProperty("link", True)
        self.setStyleSheet("text-decoration: none;")
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)

    def show_finding(self, finding: Finding) -> None:
        """Show a finding."""
        same = self.finding is not None and self.finding.title == finding.title and self.toolTip() == finding.reason
        self.finding = finding
        if same:
            return
        self.setToolTip(plain_tip(finding.reason))
        self.setAccessibleName(f"holds: {finding.title}. {finding.reason}")
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
            QRectF(1.7 * text, 0, self.width(), self.height()), Qt.AlignmentFlag.AlignVCenter, self.finding.title
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
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(REST)
        self._pause.timeout.connect(self._catch_up)
        self._behind = False
        document.changed.connect(self._follow)
        document.found.connect(self._follow)

    def _follow(self) -> None:
        """The first change shows at once; of the many changes of a drag, every REST ms the latest."""
        if self._pause.isActive():
            self._behind = True
        else:
            self.refresh()
            self._pause.start()

    def _catch_up(self) -> None:
        if self._behind:
            self._behind = False
            self.refresh()
            self._pause.start()

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
                row.show_finding(brief[index])
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
            (c for c in self._cards if not c.isHidden() and c.finding is not None and c.finding.key == key), None
        )
