"""What scrolls: a page or a dialog that is longer than what is in sight."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFocusEvent, QResizeEvent
from PyQt6.QtWidgets import QFrame, QScrollArea


class Scrolled(QScrollArea):
    """Scrolls down, and only down unless it is ``wide``. Tab stops at it where there is more than is in sight, and while it has the keys it has a frame."""

    def __init__(self, *, wide: bool = False) -> None:
        super().__init__()
        self.setWidgetResizable(True)
        if not wide:
            self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self._frame = QFrame(self)
        self._frame.setObjectName("haskeys")
        self._frame.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self._frame.hide()
        bar = self.verticalScrollBar()
        if bar is not None:
            bar.rangeChanged.connect(lambda _, most: self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if most else Qt.FocusPolicy.ClickFocus))

    def focusInEvent(self, event: QFocusEvent | None) -> None:  # noqa: N802, D102
        super().focusInEvent(event)
        self._lay_frame()
        self._frame.raise_()
        self._frame.show()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:  # noqa: N802, D102
        super().focusOutEvent(event)
        self._frame.hide()

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802, D102
        super().resizeEvent(event)
        self._lay_frame()

    def _lay_frame(self) -> None:
        inner = self.viewport()
        if inner is not None:
            self._frame.setGeometry(inner.geometry())
