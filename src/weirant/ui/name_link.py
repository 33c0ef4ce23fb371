"""A link by a name that may be longer than there is room for."""

from __future__ import annotations

import math

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QPushButton, QSizePolicy

from weirant.ui.plain_text import plain_button
from weirant.ui.theme import THEME

LEAST, SLACK = 3, 6  # heights of the letters that a name is shown long at least; px by which letters set together may be wider than they are one by one


class NameLink(QPushButton):
    """Shows as much of the name as fits, letter by letter, and asks for no more than so many heights of the letters; the whole of it is its accessible name."""

    def __init__(self, name: str, most: float = math.inf) -> None:
        super().__init__(plain_button(name))
        self._name, self._most = name, most
        self.setProperty("link", True)
        self.setAccessibleName(name)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)

    def rename(self, name: str) -> None:
        """Go by another name."""
        if name != self._name:
            self._name = name
            self.setAccessibleName(name)
            self._fit()
            self.updateGeometry()  # the text may be as short as the one before

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        wide = self.fontMetrics().horizontalAdvance(self._name) + self._beside() + SLACK
        return QSize(round(min(wide, self._most * THEME.text)), super().sizeHint().height())

    def minimumSizeHint(self) -> QSize:  # noqa: N802, D102
        whole = self.sizeHint()
        return QSize(min(round(LEAST * THEME.text), whole.width()), whole.height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802, D102
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """Show as much as there is room for."""
        shown = plain_button(self.fontMetrics().elidedText(self._name, Qt.TextElideMode.ElideRight, max(self.width() - self._beside(), 0)))
        if shown != self.text():
            self.setText(shown)

    def _beside(self) -> int:
        """What the look puts beside the letters."""
        return super().sizeHint().width() - self.fontMetrics().horizontalAdvance(self.text().replace("&&", "&"))
