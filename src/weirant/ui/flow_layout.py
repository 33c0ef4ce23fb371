"""A layout that sets widgets in lines from left to right and breaks them as the width asks."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtWidgets import QLabel, QLayout, QLayoutItem, QWidget


class FlowLayout(QLayout):
    """Items in lines, each as high as its highest item."""

    def __init__(self, parent: QWidget | None = None, space: int = 8) -> None:
        super().__init__(parent)
        self._items: list[QLayoutItem] = []
        self.setSpacing(space)

    def addItem(self, item: QLayoutItem | None) -> None:  # noqa: N802, D102
        if item is not None:
            self._items.append(item)

    def count(self) -> int:  # noqa: D102
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:  # noqa: N802, D102
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:  # noqa: N802, D102
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:  # noqa: N802, D102
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:  # noqa: N802, D102
        return True

    def heightForWidth(self, width: int) -> int:  # noqa: N802, D102
        return self._lay(QRect(0, 0, width, 0), False)

    def setGeometry(self, rect: QRect) -> None:  # noqa: N802, D102
        super().setGeometry(rect)
        self._lay(rect, True)

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return self.minimumSize()

    def minimumSize(self) -> QSize:  # noqa: N802, D102
        size = QSize()
        for item in self._items:
            size = size.expandedTo(item.minimumSize())
        return size

    def _lay(self, rect: QRect, place: bool) -> int:
        margins = self.contentsMargins()
        rect = rect.adjusted(margins.left(), margins.top(), -margins.right(), 0)
        x, y, line = rect.x(), rect.y(), 0
        placed: list[tuple[QLayoutItem, QRect]] = []
        for item in self._items:
            wide, high = item.sizeHint().width(), item.sizeHint().height()
            if x + wide > rect.right() + 1 and line > 0:
                self._put(placed, line)
                x, y, line, placed = rect.x(), y + line + self.spacing() // 2, 0, []
            if place:
                placed.append((item, QRect(QPoint(x, y), item.sizeHint())))
            x, line = x + wide + self.spacing(), max(line, high)
        self._put(placed, line)
        return y + line - rect.y() + margins.top() + margins.bottom()

    @staticmethod
    def _put(placed: list[tuple[QLayoutItem, QRect]], line: int) -> None:
        """A row of items; a word stands at the middle of the buttons beside it."""
        for item, rect in placed:
            item.setGeometry(rect.translated(0, (line - rect.height()) // 2) if isinstance(item.widget(), QLabel) else rect)
