"""The bar that stands over the drawings while a fix is on trial."""

from __future__ import annotations

from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton

from weirant.language import tr
from weirant.outcome.summary import summary
from weirant.ui.document import Document
from weirant.ui.plain_text import PlainLabel


class TrialBar(QFrame):
    """Says what is on trial and what the verdict would be; keep it, or put it back."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setObjectName("trial")
        self._words = PlainLabel()
        self._words.setWordWrap(True)
        self.keep, self.put_back = QPushButton(tr("Keep it")), QPushButton(tr("Put it back"))
        self.keep.setProperty("main", True)
        self.keep.clicked.connect(document.keep_trial)
        self.put_back.clicked.connect(document.put_back)
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 4, 8, 4)
        row.setSpacing(8)
        row.addWidget(self._words, 1)
        row.addWidget(self.keep)
        row.addWidget(self.put_back)
        document.changed.connect(self.refresh)
        document.found.connect(self.refresh)
        self.setVisible(False)

    def refresh(self) -> None:
        """Follow the document."""
        trial = self.document.trial
        self.setVisible(trial is not None)
        if trial is not None:
            self._words.setText(tr("On trial: {trial}. {told}.", trial=trial.name, told=summary(self.document.outcome.told)))
