"""A dialog of rows: each entry is an edit of the job that can be undone, and the rows follow the job."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from weirant.language import tr
from weirant.ui.column import emptied
from weirant.ui.document import Document
from weirant.ui.plain_text import PlainLabel
from weirant.ui.rhythm import Dialog, room_for
from weirant.ui.scrolled import Scrolled
from weirant.ui.theme import THEME


class RowsDialog(Dialog):
    """What is to be known in words, rows under their heads, and at the foot what is given beside "Close"."""

    HEADS: tuple[str, ...] = ()
    NUMBERS: range = range(0)  # columns of numbers, whose heads stand over their ends

    def __init__(self, document: Document, parent: QWidget, told: str, *foot: QWidget) -> None:
        super().__init__(parent)
        self.document = document
        self.close_button, self._rows, self._area = QPushButton(tr("Close")), QWidget(), Scrolled(wide=True)
        self.grid, rows = QGridLayout(), QVBoxLayout(self._rows)
        self.grid.setHorizontalSpacing(round(0.6 * THEME.text))
        rows.addLayout(self.grid)
        rows.addStretch(1)  # a layout that is set to the top keeps the height it wants without its long words broken
        self._area.setWidget(self._rows)
        self._made_for: object = None
        self._laying = self._changed_meanwhile = False
        self.close_button.setAutoDefault(False)  # Enter belongs to the entries
        self.close_button.clicked.connect(self.accept)
        self.words, last = PlainLabel(told), QHBoxLayout()
        self.words.setWordWrap(True)
        for widget in foot:
            last.addWidget(widget)
        last.addStretch(1)
        last.addWidget(self.close_button)
        column = QVBoxLayout(self)
        column.addWidget(self.words)
        column.addWidget(self._area, 1)
        column.addLayout(last)
        document.changed.connect(self._follow_change)

    def _follow_change(self) -> None:
        """Follow, but not out of the midst of laying rows: an entry that goes hands in what was being typed."""
        if self._laying:
            self._changed_meanwhile = True
        else:
            self.follow()

    def follow(self) -> None:
        """Show the job as it is."""
        raise NotImplementedError

    def lay_rows(self, made_for: object, rows: Callable[[], Iterable[Sequence[QWidget]]]) -> None:
        """Lay the rows anew where what they are made for is another."""
        if made_for == self._made_for:
            return
        self._made_for = made_for
        self._laying = True
        try:
            emptied(self.grid)
            for column, head in enumerate(self.HEADS):
                label = PlainLabel(head)
                label.setProperty("quiet", True)
                if column in self.NUMBERS:
                    label.setAlignment(Qt.AlignmentFlag.AlignRight)
                self.grid.addWidget(label, 0, column)
            for row, widgets in enumerate(rows(), 1):
                for column, widget in enumerate(widgets):
                    self.grid.addWidget(widget, row, column)
        finally:
            self._laying = False
        self.widen()
        if self._changed_meanwhile:
            self._changed_meanwhile = False
            self.follow()

    def widen(self) -> None:
        """As wide as the rows want to be, and as the screen is: with large letters they are moved to and fro."""
        bar, most = self._area.verticalScrollBar(), room_for(self).width() - round(4 * THEME.text)
        wanted = self._rows.minimumSizeHint().width() + (bar.sizeHint().width() if bar is not None else 0) + round(1.5 * THEME.text)
        self._area.setMinimumWidth(min(wanted, most))
