"""A choice from a list that the job itself makes: its runs, its sections."""

from __future__ import annotations

from typing import Any

from weirant.job import Job
from weirant.ui.document import Document
from weirant.ui.still_box import StillBox


class JobChoice(StillBox):
    """One of a list that follows the job and the run in hand."""

    def __init__(self, document: Document, name: str) -> None:
        super().__init__()
        self.document = document
        self.options: list[tuple[Any, str]] = []
        self.setAccessibleName(name)
        self.setSizeAdjustPolicy(StillBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.setMinimumContentsLength(16)
        self.activated.connect(self._take)
        document.changed.connect(self.show_value)
        document.run_changed.connect(self.show_value)
        self.show_value()

    def show_value(self) -> None:
        """Follow the document."""
        if self.document.is_empty:
            return
        wanted = self.wanted()
        if wanted != self.options:
            self.options = wanted
            self.clear()
            self.addItems([words for _, words in wanted])
        now = self.now()
        self.setCurrentIndex(next((i for i, (value, _) in enumerate(wanted) if value == now), -1))

    def _take(self, index: int) -> None:
        value, words = self.options[index]
        if value != self.now() and self.document.edit(lambda job: self.edited(job, value), self.said(words), may_come=True):
            return  # what is chosen stands there
        self.show_value()

    def said(self, words: str) -> str:
        """What is told of a choice."""
        return f"{self.accessibleName()}: {words}"

    def wanted(self) -> list[tuple[Any, str]]:
        """The values to choose from, each with its words."""
        raise NotImplementedError

    def now(self) -> Any:
        """The present value."""
        raise NotImplementedError

    def edited(self, job: Job, value: Any) -> Job:
        """The job with another value."""
        raise NotImplementedError
