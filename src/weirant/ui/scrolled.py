"""What scrolls: a page or a dialog that is longer than what is in sight."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFocusEvent, QResizeEvent
from PyQt6.QtWidgets import QFrame, QScrollArea, QScrollBar


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
        for bar in self._bars:
            bar.rangeChanged.connect(self._stop)

    @property
    def _bars(self) -> list[QScrollBar]:
        across = self.horizontalScrollBar() if self.horizontalScrollBarPolicy() != Qt.ScrollBarPolicy.ScrollBarAlwaysOff else None
        return [bar for bar in (self.verticalScrollBar(), across) if bar is not None]

    def _stop(self) -> None:
        scrolls = any(bar.maximum() for bar in self._bars)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if scrolls else Qt.FocusPolicy.ClickFocus)

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
