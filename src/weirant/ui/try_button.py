"""The button that puts a fix on trial; its words are broken into lines to fit a column."""

from __future__ import annotations

import textwrap

from PyQt6.QtWidgets import QPushButton, QSizePolicy

from weirant.outcome.finding import Fix
from weirant.ui.document import Document


class TryButton(QPushButton):
    """Offers one fix; ``letters`` is how many stand in a line."""

    def __init__(self, document: Document, letters: int = 36, fix: Fix | None = None) -> None:
        super().__init__()
        self.document, self.letters, self.fix = document, letters, fix
        self.setStyleSheet("text-align: left;")
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.clicked.connect(self._try)
        if fix is not None:
            self.offer(fix)

    def offer(self, fix: Fix) -> None:
        """Offer a fix."""
        self.fix = fix
        self.setText("\n".join(textwrap.wrap(f"Try: {fix.name}", self.letters)))
        self.setAccessibleName(f"Try the fix: {fix.name}")

    def _try(self) -> None:
        if self.fix is not None:
            self.document.try_fix(self.fix)
