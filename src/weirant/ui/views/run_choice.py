"""The list of runs to take in hand."""

from __future__ import annotations

from PyQt6.QtWidgets import QComboBox

from weirant.job.in_hand import run_names
from weirant.job.network import MAIN
from weirant.ui.document import Document


class RunChoice(QComboBox):
    """The main line and the branches; the one in hand is shown."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._names: tuple[str, ...] = ()
        self.setAccessibleName("Run in hand")
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.activated.connect(lambda index: document.take_run(self._names[index]))
        document.changed.connect(self.refresh)
        document.run_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Follow the document."""
        if self.document.is_empty:
            return
        names = run_names(self.document.outcome.job)
        if names != self._names:
            self._names = names
            self.clear()
            self.addItems(["main line" if n == MAIN else n for n in names])
        if self.document.run in names:
            self.setCurrentIndex(names.index(self.document.run))
