"""Words on the screen as they are: what stands in a job is text, never markup, and is never looked for on the disk."""

from __future__ import annotations

import html
import math

from PyQt6.QtCore import QEvent, QSize, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QLabel, QWidget

SLACK = 2  # px by which letters set together may be wider than they are one by one


class PlainLabel(QLabel):
    """A label that shows its text letter by letter; Qt's own guesses whether it is markup, and then loads the pictures it names."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


class ShortLabel(PlainLabel):
    """One line that asks for no more than so many heights of the letters, and gives way down to so many: what has no room ends in dots, and is told whole by
    the hint and to a screen reader.
    """

    def __init__(self, least: float, most: float = math.inf) -> None:
        self._whole, self._least, self._most = "", least, most
        super().__init__()

    def setText(self, text: str | None) -> None:  # noqa: N802, D102
        self._whole = text or ""
        self.setAccessibleName(self._whole)
        self.updateGeometry()
        self._fit()

    def text(self) -> str:
        """All of it."""
        return self._whole

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        letters = self.fontMetrics()
        return QSize(round(min(letters.horizontalAdvance(self._whole) + SLACK, self._most * letters.height())), super().sizeHint().height())

    def minimumSizeHint(self) -> QSize:  # noqa: N802, D102
        whole = self.sizeHint()
        return QSize(min(round(self._least * self.fontMetrics().height()), whole.width()), whole.height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802, D102
        super().resizeEvent(event)
        self._fit()

    def changeEvent(self, event: QEvent | None) -> None:  # noqa: N802, D102
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.FontChange:
            self.updateGeometry()
            self._fit()

    def _fit(self) -> None:
        shown = self.fontMetrics().elidedText(self._whole, Qt.TextElideMode.ElideRight, self.width())
        super().setText(shown)
        self.setToolTip("" if shown == self._whole else plain_tip(self._whole))


def figure_label(text: str, *, strong: bool = False) -> PlainLabel:
    """A figure in a column: its end stands under that of the one above."""
    label = PlainLabel(text)
    label.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
    label.setProperty("strong", strong)
    return label


def named(text: str, widget: QWidget) -> PlainLabel:
    """The label before an entry."""
    label = PlainLabel(text)
    label.setBuddy(widget)
    return label


def plain_tip(text: str) -> str:
    """A hint that is shown letter by letter, whatever is in it."""
    return html.escape(text).replace("\n", "<br>") if Qt.mightBeRichText(text) else text  # type: ignore[attr-defined]


def plain_button(text: str) -> str:
    """Words of a button or a menu that are shown letter by letter: an ampersand in a name is no key."""
    return text.replace("&", "&&")
