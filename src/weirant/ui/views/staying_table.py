"""A table that is typed into all day: the cell arrived at is open for typing, Enter takes what was typed and goes on, and the place is
kept when the readings change.
"""

from __future__ import annotations

from PyQt6.QtCore import QAbstractItemModel, QEvent, QModelIndex, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemDelegate,
    QAbstractItemView,
    QApplication,
    QStyledItemDelegate,
    QTableView,
    QWidget,
)

ENTER = (Qt.Key.Key_Return, Qt.Key.Key_Enter)


class _Typing(QStyledItemDelegate):
    """Takes what was typed at once on Enter; Qt's own would do so only after the table has gone on to a row that is not there yet."""

    entered = pyqtSignal()

    def eventFilter(self, editor: QObject | None, event: QEvent | None) -> bool:  # noqa: N802, D102
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() in ENTER and isinstance(editor, QWidget):
            self.commitData.emit(editor)
            self.closeEditor.emit(editor, QAbstractItemDelegate.EndEditHint.NoHint)
            self.entered.emit()
            return True
        return super().eventFilter(editor, event)


class StayingTable(QTableView):
    """Keeps its place where its model is filled anew; ``start`` is the place to begin at."""

    def __init__(self, model: QAbstractItemModel, start: tuple[int, int]) -> None:
        super().__init__()
        self._place = start
        self.setModel(model)
        typing = _Typing(self)
        typing.entered.connect(self._go_on)
        self.setItemDelegate(typing)
        self.setEditTriggers(QAbstractItemView.EditTrigger.AllEditTriggers)
        model.modelReset.connect(self._stay)
        self._stay()

    def after(self, row: int, column: int) -> tuple[int, int]:
        """Where Enter goes from a cell."""
        return row + 1, column

    def go_to(self, row: int, column: int) -> None:
        """Go to a cell; below the last row to the last."""
        model = self.model()
        if model is not None:
            self.setCurrentIndex(model.index(min(row, model.rowCount() - 1), column))

    def currentChanged(self, current: QModelIndex, previous: QModelIndex) -> None:  # noqa: N802, D102
        super().currentChanged(current, previous)
        if current.isValid():
            self._place = (current.row(), current.column())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is not None and event.key() in ENTER:
            self._go_on()
        elif event is not None:
            super().keyPressEvent(event)

    def _go_on(self) -> None:
        self.go_to(*self.after(*self._place))

    def _stay(self) -> None:
        """Keep the place when rows come or go; no cell is opened for typing while somebody types elsewhere."""
        focus = QApplication.focusWidget()
        if focus is not None and (focus is self or self.isAncestorOf(focus)):
            self.go_to(*self._place)
            return
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.go_to(*self._place)
        self.setEditTriggers(QAbstractItemView.EditTrigger.AllEditTriggers)
