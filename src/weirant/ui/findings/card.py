"""One finding in full: its sentence, its number against its limit, and what would help, with what that costs."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from weirant.design.effects import Effect, clears, effect_of, is_enough
from weirant.errors import WeirantError
from weirant.job import Job
from weirant.language import first_small, tr
from weirant.outcome.commands import Offer
from weirant.outcome.finding import Finding, Fix
from weirant.ui.document import Document
from weirant.ui.findings.limit_bar import LimitBar, MarkAndWord
from weirant.ui.plain_text import PlainLabel
from weirant.ui.try_button import TryButton
from weirant.units.display import VOLUME, shown
from weirant.words.findings import as_told, spoiled_words, title_words


class FindingCard(QFrame):
    """One finding in full."""

    why = pyqtSignal(Finding)
    pressed = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.finding: Finding | None = None
        self._fix_rows: list[FixRow] = []
        self._of: Job | None = None  # the job that fixes change
        self._told_of: Job | None = None  # and that which is shown, which may be one on trial
        self.setObjectName("card")
        self.is_open = True
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(8, 4, 8, 4)
        whole.setSpacing(4)
        self._body = QWidget()
        self._layout = QVBoxLayout(self._body)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(4)
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
        whole.addLayout(head)
        whole.addWidget(self._body)
        for widget in (self.reason, self.bar, self.caution):
            self._layout.addWidget(widget)
        self._fixes = QVBoxLayout()
        self._fixes.setSpacing(4)
        self._layout.addLayout(self._fixes)
        self.why_button = QPushButton(tr("Why?"))
        self.why_button.setProperty("link", True)
        self.why_button.clicked.connect(self._ask_why)
        self.setToolTip(tr("F1: what it means, what to do"))
        self._layout.addWidget(self.why_button, 0, Qt.AlignmentFlag.AlignLeft)

    def show_open(self, is_open: bool) -> None:
        """Show it in full, or as one line; what fixes would cost is worked out only where they are in sight."""
        if is_open == self.is_open:
            return
        self.is_open = is_open
        self._body.setVisible(is_open)
        if is_open:
            for row in self._fix_rows:
                row.work_out_soon()

    def _ask_why(self) -> None:
        if self.finding is not None:
            self.why.emit(self.finding)

    def show_finding(self, finding: Finding) -> None:
        """Show a finding; the widgets stay, their words change."""
        job, of = self.document.shown_job, self.document.job
        if finding == self.finding and self._told_of is job and self._of is of:
            return
        words, is_same = as_told(finding, job), finding == self.finding  # what is found may be the same in other names and units
        self.finding, self._of, self._told_of = finding, of, job
        self.title.setText(words.title)
        self.reason.setText(words.reason)
        self.why_button.setAccessibleName(tr("Why: {title}", title=words.title))
        self.setAccessibleName(f"{tr(finding.state)}: {words.title}. {words.reason}")
        self.bar.update()
        if not is_same:
            self.mark.state = str(finding.state)
            self.mark.update()
            self.bar.finding = finding
            self.bar.setVisible(finding.value is not None and finding.limit is not None)
            self.caution.setText(words.caution)
            self.caution.setVisible(bool(words.caution))
        self._show_fixes(words.offers)

    def _show_fixes(self, fixes: tuple[Offer, ...]) -> None:
        while len(self._fix_rows) < len(fixes):
            self._fix_rows.append(FixRow(self, len(self._fix_rows)))
            self._fixes.addWidget(self._fix_rows[-1])
        for index, row in enumerate(self._fix_rows):
            row.is_used = index < len(fixes)
            # of those in growing steps the first is shown at once; the next where that is not enough
            row.setVisible(row.is_used and not is_enough(row.fix, (other.fix for other in self._fix_rows[:index])))
            if row.is_used:
                row.show_fix(fixes[index])

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.show_place()
        else:
            super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802, D102
        self.show_place()

    def show_place(self) -> None:
        """Open it, and stand where it happens."""
        self.pressed.emit()
        if self.finding is not None and self.finding.station is not None:
            if self.finding.subject and self.document.run not in self.finding.also:
                self.document.take_run(self.finding.subject)
            self.document.move_to(self.finding.station)


class FixRow(QWidget):
    """An offered fix: a button that tries it, and what it would cost and spoil."""

    def __init__(self, card: FindingCard, index: int) -> None:
        super().__init__()
        self.card, self.index, self.is_used, self._is_known = card, index, False, False
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
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

    def show_fix(self, fix: Offer) -> None:
        """Show a fix; what it costs follows once the hand rests."""
        self.button.offer(fix)
        self.effect.setText(tr("working out what it costs …"))
        self._is_known = False
        self.work_out_soon()

    def work_out_soon(self) -> None:
        """Work out what it costs once the hand rests, where the card is open."""
        if self.card.is_open and self.is_used and not self._is_known:
            self._timer.start(180 + 40 * self.index)

    @property
    def fix(self) -> Fix:
        """The fix as the card's finding has it now."""
        assert self.card.finding is not None
        return self.card.finding.fixes[self.index]

    def _work_out(self) -> None:
        if not self.is_used or self.card.finding is None or self.index >= len(self.card.finding.fixes):
            return
        document = self.card.document
        if self.card._of is not document.job:
            return  # made for a job that has changed meanwhile; the card is about to be shown anew
        if is_enough(self.fix, (row.fix for row in self.card._fix_rows[: self.index] if not row.isHidden())):
            self.setVisible(False)
            return
        try:
            effect = effect_of(self.fix, document.outcome, document.session)
        except WeirantError:
            effect = None
        self._is_known = True
        self.setVisible(effect is not None and clears(self.card.finding, effect))  # what does not cure is not offered
        if effect is not None:
            self.effect.setText(effect_words(effect, document))


def effect_words(effect: Effect, document: Document) -> str:
    """What a fix does, in words."""
    settled = tr("settles {settled}", settled=len(effect.settled)) if effect.settled else tr("cures nothing that fails")
    settled = tr("eases what is tight") if effect.eased and not effect.settled else settled
    cures = tr("cures {cured}", cured=len(effect.cured)) if effect.cured else settled
    later = "".join(tr("; the trial shows whether {title}", title=first_small(title)) for title in (title_words(f, document.shown_job) for f in effect.to_be_seen))
    spoils = tr("spoils nothing") if not effect.spoiled else tr("spoils: ") + spoiled_words(effect.spoiled, effect.job)
    dig = shown(abs(effect.dig), VOLUME, document.system)
    costs = tr("same dig") if abs(effect.dig) < 0.02 else tr("{dig} dig", dig=("+" if effect.dig > 0 else "−") + dig)
    return f"{cures}; {spoils}; {costs}{later}"
