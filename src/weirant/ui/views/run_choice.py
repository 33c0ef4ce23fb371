"""The list of runs to take in hand."""

from __future__ import annotations

from weirant.language import tr
from weirant.ui.document import Document
from weirant.ui.still_box import StillBox


class RunChoice(StillBox):
    """Every run; the one in hand is shown."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._runs: tuple[tuple[str, str], ...] = ()
        self.setAccessibleName(tr("Run in hand"))
        self.setSizeAdjustPolicy(StillBox.SizeAdjustPolicy.AdjustToContents)
        self.activated.connect(lambda index: document.take_run(self._runs[index][0]))
        document.changed.connect(self.refresh)
        document.run_changed.connect(self.refresh)
        self.refresh()

    def refresh(self) -> None:
        """Follow the document."""
        if self.document.is_empty:
            return
        runs = tuple((run.id, run.name) for run in self.document.shown_job.runs)
        if runs != self._runs:
            self._runs = runs
            self.clear()
            self.addItems([name for _, name in runs])
        self.setCurrentIndex([identity for identity, _ in runs].index(self.document.run))
