"""The button that puts a fix on trial; its words are broken into lines to fit a column."""

from __future__ import annotations

import textwrap

from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QPushButton, QSizePolicy

from weirant.job import Job
from weirant.language import tr
from weirant.outcome.commands import Offer
from weirant.ui.document import Document
from weirant.ui.theme import THEME


class TryButton(QPushButton):
    """Offers one fix; ``letters`` is how many stand in a line."""

    def __init__(self, document: Document, letters: int = 36, fix: Offer | None = None) -> None:
        super().__init__()
        self.document, self.letters, self.fix = document, letters, fix
        self._made_for: Job | None = None
        self.setStyleSheet("text-align: left;")
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.clicked.connect(self._try)
        if fix is not None:
            self.offer(fix)

    def offer(self, fix: Offer) -> None:
        """Offer a fix."""
        self.fix, self._made_for = fix, self.document.job
        self.setAccessibleName(tr("Try the fix: {fix}", fix=fix.name))
        self._break_lines()

    def follow(self) -> None:
        """Withdraw the offer once the job is another than it was made for: taking it would undo what came since."""
        self.setEnabled(self.document.job is self._made_for)

    def _break_lines(self) -> None:
        """Fit the words to the width; the mean letter is not half as wide as it is high."""
        room = int((self.width() - 30) / (0.44 * THEME.text)) if self.isVisible() else self.letters
        words = "\n".join(textwrap.wrap(tr("Try: {fix}", fix=self.fix.name), max(14, min(room, self.letters)))) if self.fix is not None else ""
        if words != self.text():
            self.setText(words)

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802, D102
        super().resizeEvent(event)
        self._break_lines()

    def _try(self) -> None:
        if self.fix is not None:
            self.document.try_fix(self.fix)
