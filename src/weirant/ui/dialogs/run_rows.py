"""A dialog of rows about one run: what they tell is worked out beside the interface as the job changes, and it goes with its run."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QWidget

from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.ui.dialogs.rows import RowsDialog
from weirant.ui.document import Document
from weirant.ui.work import Newest

PAUSE = 60  # ms without a change after which it is worked out anew


class RunRowsDialog(RowsDialog):
    """Rows about the run that was in hand when it was opened; begun by calling ``follow`` once all is there."""

    def __init__(self, document: Document, parent: QWidget, *foot: QWidget) -> None:
        self.run = document.run
        super().__init__(document, parent, "", *foot)
        self._work = Newest(self, PAUSE)

    def follow(self) -> None:
        """Have it worked out on the job as it is."""
        found = None if self.document.is_empty else self.document.outcome.site.run(self.run)
        if found is None:
            self.reject()
            return
        outcome = self.document.outcome
        self._work.ask(self.work(outcome, found), partial(self.show_answer, outcome, found), partial(self.refuse, outcome, found))

    def work(self, outcome: Outcome, found: RunOutcome) -> Callable[[], Any]:
        """What is to be worked out, as a function that touches no widget."""
        raise NotImplementedError

    def show_answer(self, outcome: Outcome, found: RunOutcome, answer: Any) -> None:
        """Show what was worked out."""
        raise NotImplementedError

    def refuse(self, outcome: Outcome, found: RunOutcome, fault: str) -> None:
        """Tell why nothing can be worked out."""
        raise NotImplementedError
