"""One finding in full: its sentence, its number against its limit, and what would help, with what that costs."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from weirant.design.effects import Effect, clears, effect_of, is_enough
from weirant.job import Job
from weirant.language import first_small, tr
from weirant.outcome.commands import Offer
from weirant.outcome.finding import Finding, Fix
from weirant.ui.document import Document
from weirant.ui.findings.limit_bar import LimitBar, MarkAndWord
from weirant.ui.plain_text import PlainLabel
from weirant.ui.try_button import TryButton
from weirant.ui.turn import InTurn
from weirant.ui.work import in_background
from weirant.units.display import VOLUME, shown
from weirant.words.findings import as_told, spoiled_words, title_words

REST = 180  # ms without a change until it is worked out what fixes cost


class FindingCard(QFrame):
    """One finding in full."""

    why = pyqtSignal(Finding)
    pressed = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.finding: Finding | None = None
        self._fix_rows: list[FixRow] = []
        self._offers: tuple[Offer, ...] = ()
        self._offered: tuple[Offer, ...] | None = None  # those that are shown
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
        self._is_busy = False
        self._rest = InTurn(self, self._work_out, REST)
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
        self._show_fixes()

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
        self._offers = words.offers
        self._show_fixes()

    def _show_fixes(self) -> None:
        """Those of the card in full, of which there is one: what stands in a line has no room for any."""
        if not self.is_open:
            return
        self._rest.start()  # also for those that were not worked out when it was closed
        fixes = self._offers
        if fixes is self._offered:
            return
        self._offered = fixes
        while len(self._fix_rows) < len(fixes):
            self._fix_rows.append(FixRow(self, len(self._fix_rows)))
            self._fixes.addWidget(self._fix_rows[-1])
        for index, row in enumerate(self._fix_rows):
            row.is_used = index < len(fixes)
            # of those in growing steps the first is shown at once; the next where that is not enough
            row.setVisible(row.is_used and not is_enough(row.fix, (other.fix for other in self._fix_rows[:index])))
            if row.is_used:
                row.show_fix(fixes[index])

    def _work_out(self) -> None:
        """The next fix of which it is not known, beside the interface, one after the other: whether it is offered may hang on those before."""
        document, finding = self.document, self.finding
        if self._is_busy or not self.is_open or document.is_empty or finding is None or self._of is not document.job:
            return  # where it was made for a job that has changed meanwhile it is about to be shown anew
        if document.is_due:
            self._rest.start()
            return
        for index, row in enumerate(self._fix_rows[: len(finding.fixes)]):
            if row.is_known:
                continue
            if is_enough(row.fix, (other.fix for other in self._fix_rows[:index] if not other.isHidden())):
                row.setVisible(False)
                continue
            fix, outcome, session = finding.fixes[index], document.outcome, document.session
            self._is_busy = True
            told = partial(self._worked_out, row, finding)
            in_background(partial(effect_of, fix, outcome, session), told, partial(_not_to_be_had, told))
            return

    def _worked_out(self, row: FixRow, finding: Finding, effect: Effect | None) -> None:
        self._is_busy = False
        if finding is self.finding and self._of is self.document.job:
            row.tell(effect is not None and clears(finding, effect), effect)  # what does not cure is not offered
        self._work_out()

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
        self.card, self.index, self.is_used, self.is_known = card, index, False, False
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        self.button = TryButton(card.document)
        self.effect = PlainLabel()
        self.effect.setProperty("quiet", True)
        self.effect.setWordWrap(True)
        box.addWidget(self.button)
        box.addWidget(self.effect)

    def show_fix(self, fix: Offer) -> None:
        """Show a fix; what it costs follows."""
        self.button.offer(fix)
        self.effect.setText(tr("working out what it costs …"))
        self.is_known = False

    @property
    def fix(self) -> Fix:
        """The fix as the card's finding has it now."""
        assert self.card.finding is not None
        return self.card.finding.fixes[self.index]

    def tell(self, is_offered: bool, effect: Effect | None) -> None:
        """Tell what it would cost."""
        self.is_known = True
        self.setVisible(is_offered)
        if effect is not None:
            self.effect.setText(effect_words(effect, self.card.document))


def _not_to_be_had(told: Callable[[Effect | None], None], _: str) -> None:
    told(None)


def effect_words(effect: Effect, document: Document) -> str:
    """What a fix does, in words."""
    settled = tr("settles {settled}", settled=len(effect.settled)) if effect.settled else tr("cures nothing that fails")
    settled = tr("eases what is tight") if effect.eased and not effect.settled else settled
    cures = tr("cures {cured}", cured=len(effect.cured)) if effect.cured else settled
    later = "".join(tr("; only the trial shows: {title}", title=first_small(title)) for title in (title_words(f, document.shown_job) for f in effect.to_be_seen))
    spoils = tr("spoils nothing") if not effect.spoiled else tr("spoils: ") + spoiled_words(effect.spoiled, effect.job)
    dig = shown(abs(effect.dig), VOLUME, document.system)
    costs = tr("same dig") if abs(effect.dig) < 0.02 else tr("{dig} dig", dig=("+" if effect.dig > 0 else "−") + dig)
    return f"{cures}; {spoils}; {costs}{later}"
