"""Other sizes and numbers of pipe for the run in hand, each to be taken."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QPushButton, QWidget

from weirant.design.pipe_choices import PipeOption, pipe_choices, with_choice
from weirant.errors import InputError
from weirant.language import capital, tr
from weirant.ui.dialogs.rows import RowsDialog
from weirant.ui.document import Document
from weirant.ui.plain_text import PlainLabel
from weirant.ui.theme import THEME
from weirant.words.pipe_choices import HEADS, cells, told


class PipeChoicesDialog(RowsDialog):
    """A row for each; "Take" makes it the run's own, and can be undone."""

    HEADS = (*HEADS, "")
    NUMBERS = range(1, len(HEADS) - 1)

    def __init__(self, document: Document, parent: QWidget) -> None:
        self.run = document.run
        super().__init__(document, parent, "")
        self.setWindowTitle(tr("Other sizes and numbers of pipe"))
        self.resize(round(86 * THEME.text), round(36 * THEME.text))
        self.follow()

    def follow(self) -> None:  # noqa: D102
        found = None if self.document.is_empty else self.document.outcome.site.run(self.run)
        if found is None:
            self.reject()
            return
        try:
            choices = pipe_choices(self.document.outcome, found)
            self.words.setText(capital(told(self.document.outcome, found, choices)))
        except InputError as fault:
            choices = ()
            self.words.setText(str(fault))
        self.lay_rows((choices, self.document.system), partial(self._of, choices))
        self.widen()

    def _of(self, choices: tuple[PipeOption, ...]) -> Iterator[tuple[QWidget, ...]]:
        for choice in choices:
            words = cells(choice, self.document.system)
            labels = [PlainLabel(cell) for cell in words]
            for label in labels[1:]:
                label.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            yield *labels, self._last(choice, words[0])

    def _last(self, choice: PipeOption, name: str) -> QWidget:
        if choice.is_own:
            own: QLabel = PlainLabel(tr("its own"))
            own.setProperty("strong", True)
            return own
        take = QPushButton(tr("Take"))
        take.setAutoDefault(False)
        take.setAccessibleName(tr("Take {pipes}", pipes=name))
        take.clicked.connect(partial(self.take, choice))
        return take

    def take(self, choice: PipeOption) -> None:
        """Make it the run's own."""
        self.document.change(with_choice(self.document.job, self.run, choice.pipe.key, choice.count), tr("Pipes: {count} × {pipe}", count=choice.count, pipe=choice.pipe.name))
