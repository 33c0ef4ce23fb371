"""The button that puts a fix on trial; its words are broken into lines to fit a column."""

from __future__ import annotations

from weirant.job import Job
from weirant.language import tr
from weirant.outcome.commands import Offer
from weirant.ui.document import Document
from weirant.ui.lines_button import LinesButton


class TryButton(LinesButton):
    """Offers one fix; ``letters`` is how many stand in a line at most, about."""

    def __init__(self, document: Document, letters: int = 36, fix: Offer | None = None) -> None:
        super().__init__()
        self.document, self.letters, self.fix = document, letters, fix
        self._made_for: Job | None = None
        self.setStyleSheet("text-align: left;")
        self.clicked.connect(self._try)
        if fix is not None:
            self.offer(fix)

    def offer(self, fix: Offer) -> None:
        """Offer a fix."""
        self.fix, self._made_for = fix, self.document.job
        self.say(tr("Try: {fix}", fix=fix.name))
        self.setAccessibleName(tr("Try the fix: {fix}", fix=fix.name))

    def follow(self) -> None:
        """Withdraw the offer once the job is another than it was made for: taking it would undo what came since."""
        self.setEnabled(self.document.job is self._made_for)

    @property
    def room(self) -> int:
        """How wide a line may be, px; before it is shown nobody knows its width."""
        most = self.letters * self.fontMetrics().averageCharWidth()
        return min(super().room, most) if self.isVisible() else most

    def _try(self) -> None:
        if self.fix is not None:
            self.document.try_fix(self.fix)
