"""A table that is typed into all day: the cell arrived at is open for typing, Enter takes what was typed and goes on, the arrows go to the
next cell, Tab leaves the table, and the place is kept when the readings change.
"""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QAbstractItemModel, QEvent, QModelIndex, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QAction, QContextMenuEvent, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QAbstractItemDelegate,
    QAbstractItemView,
    QApplication,
    QLineEdit,
    QMenu,
    QStyledItemDelegate,
    QTableView,
    QWidget,
)

from weirant.language import tr
from weirant.ui.entry import undid_in_the_job
from weirant.ui.line import is_command
from weirant.ui.views.blocks import cells_of, is_block, whole_table

FEW = 200  # cells that are pasted one by one where a table cannot take them at once
ENTER = (Qt.Key.Key_Return, Qt.Key.Key_Enter)
TABS = (Qt.Key.Key_Tab, Qt.Key.Key_Backtab)
ARROWS = {Qt.Key.Key_Left: (0, -1), Qt.Key.Key_Right: (0, 1), Qt.Key.Key_Up: (-1, 0), Qt.Key.Key_Down: (1, 0)}


class _Typing(QStyledItemDelegate):
    """Takes what was typed at once on Enter; Qt's own would do so only after the table has gone on to a row that is not there yet."""

    entered = pyqtSignal()
    left = pyqtSignal(bool)
    moved = pyqtSignal(int, int)
    pasted = pyqtSignal(str)

    def eventFilter(self, editor: QObject | None, event: QEvent | None) -> bool:  # noqa: N802, D102
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and isinstance(editor, QLineEdit):
            key = event.key()
            if is_command(event):
                event.ignore()
                return True
            if undid_in_the_job(editor, event):
                return True
            if event.matches(QKeySequence.StandardKey.Paste) and is_block(_clipped()):
                self.pasted.emit(_clipped())
                return True
            if key in ENTER:
                self._take(editor)
                self.entered.emit()
                return True
            if key in TABS:
                self._take(editor)
                self.left.emit(key == Qt.Key.Key_Tab and not event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
                return True
            if key in ARROWS and event.modifiers() in (Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.KeypadModifier) and _at_the_edge(editor, key):
                self._take(editor)
                self.moved.emit(*ARROWS[Qt.Key(key)])
                return True
        return super().eventFilter(editor, event)

    def setModelData(self, editor: QWidget | None, model: QAbstractItemModel | None, index: QModelIndex) -> None:  # noqa: N802, D102
        if not isinstance(editor, QLineEdit) or editor.isModified():  # who only walks past types nothing
            super().setModelData(editor, model, index)

    def _take(self, editor: QLineEdit) -> None:
        self.commitData.emit(editor)
        self.closeEditor.emit(editor, QAbstractItemDelegate.EndEditHint.NoHint)


def _clipped() -> str:
    """The text on the clipboard."""
    clipboard = QApplication.clipboard()
    return clipboard.text() if clipboard is not None else ""


def _at_the_edge(editor: QLineEdit, key: int) -> bool:
    """Whether an arrow has nowhere to go in what is typed: up and down always, left and right at its ends or where all is chosen."""
    if key in (Qt.Key.Key_Up, Qt.Key.Key_Down) or editor.selectedText() == editor.text():
        return True
    return not editor.hasSelectedText() and editor.cursorPosition() == (0 if key == Qt.Key.Key_Left else len(editor.text()))


def keys_flow(table: QTableView) -> None:
    """Let a table of a dialog be typed into like the others: Enter goes down, the arrows to the next cell, Tab out."""

    def step(down: int, across: int) -> None:
        model, here = table.model(), table.currentIndex()
        if model is not None:
            table.setCurrentIndex(model.index(min(max(here.row() + down, 0), model.rowCount() - 1), min(max(here.column() + across, 0), model.columnCount() - 1)))

    typing = _Typing(table)
    typing.entered.connect(partial(step, 1, 0))
    typing.left.connect(table.focusNextPrevChild)
    typing.moved.connect(step)
    table.setItemDelegate(typing)
    table.setTabKeyNavigation(False)
    table.setEditTriggers(QAbstractItemView.EditTrigger.AllEditTriggers)


class StayingTable(QTableView):
    """Keeps its place where its model is filled anew; ``start`` is the place to begin at."""

    def __init__(self, model: QAbstractItemModel, start: tuple[int, int]) -> None:
        super().__init__()
        self._place = start
        self._is_filled_anew = self._had_focus = False
        self.setModel(model)
        self.setTabKeyNavigation(False)
        typing = _Typing(self)
        typing.entered.connect(self._go_on)
        typing.left.connect(self.focusNextPrevChild)
        typing.moved.connect(self._step)
        typing.pasted.connect(self.paste)
        self.setItemDelegate(typing)
        self.setEditTriggers(QAbstractItemView.EditTrigger.AllEditTriggers)
        model.modelAboutToBeReset.connect(self._hold)
        model.modelReset.connect(self._stay)
        self._stay()

    def after(self, row: int, column: int) -> tuple[int, int]:
        """Where Enter goes from a cell."""
        return row + 1, column

    def copy_all(self) -> None:
        """The whole table with its headings to the clipboard."""
        clipboard, model = QApplication.clipboard(), self.model()
        if clipboard is not None and model is not None:
            clipboard.setText(whole_table(model))

    def paste(self, text: str) -> None:
        """Set a block of cells from the one in hand on; undo takes the block back as one."""
        model, document = self.model(), getattr(self.window(), "document", None)
        if model is None or document is None:
            return
        typing = self.itemDelegate()
        for editor in self.findChildren(QLineEdit):
            if typing is not None and editor.isVisibleTo(self):
                typing.closeEditor.emit(editor, QAbstractItemDelegate.EndEditHint.NoHint)  # what stood half typed there is left
        row, column = self._place
        cells = cells_of(text, model, model.index(row, column))
        take_block = getattr(model, "take_block", None)  # a model that can takes all of it at once
        if take_block is not None:
            take_block(cells)
            self.go_to(max((at for at, _, _ in cells), default=row) + 1, column)
            return
        document.stack.beginMacro(tr("Pasted {cells} cells", cells=len(cells)))
        try:
            for at, across, cell in cells[:FEW]:
                index = model.index(min(at, model.rowCount() - 1), across)
                if cell and index.flags() & Qt.ItemFlag.ItemIsEditable:
                    model.setData(index, cell)
        finally:
            document.stack.endMacro()
        self.go_to(max((at for at, _, _ in cells), default=row) + 1, column)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:  # noqa: N802, D102
        if event is None:
            return
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        copy, paste = QAction(tr("Copy the table, with its headings"), menu), QAction(tr("Paste from here on"), menu)
        copy.triggered.connect(self.copy_all)
        paste.triggered.connect(lambda: self.paste(_clipped()))
        paste.setEnabled(bool(_clipped().strip()))
        menu.addActions([copy, paste])
        menu.popup(event.globalPos())

    def go_to(self, row: int, column: int) -> None:
        """Go to a cell; below the last row to the last."""
        model = self.model()
        if model is not None:
            self.setCurrentIndex(model.index(min(max(row, 0), model.rowCount() - 1), min(max(column, 0), model.columnCount() - 1)))

    def currentChanged(self, current: QModelIndex, previous: QModelIndex) -> None:  # noqa: N802, D102
        super().currentChanged(current, previous)
        if current.isValid() and not self._is_filled_anew:
            self._place = (current.row(), current.column())

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is not None and event.key() in ENTER:
            self._go_on()
        elif event is not None and event.key() in TABS:
            self.focusNextPrevChild(event.key() == Qt.Key.Key_Tab)
        elif event is not None:
            super().keyPressEvent(event)

    def _go_on(self) -> None:
        self.go_to(*self.after(*self._place))

    def _step(self, down: int, across: int) -> None:
        self.go_to(self._place[0] + down, self._place[1] + across)

    def _hold(self) -> None:
        """A reset sends the cursor to the first cell before anybody can say where it stood: that is not where the user is."""
        self._is_filled_anew, self._had_focus = True, self._has_focus()

    def _has_focus(self) -> bool:
        focus = QApplication.focusWidget()
        return focus is not None and (focus is self or self.isAncestorOf(focus))

    def _stay(self) -> None:
        """Keep the place when rows come or go; no cell is opened for typing while somebody types elsewhere."""
        place, had_focus = self._place, self._had_focus or self._has_focus()
        self._is_filled_anew = self._had_focus = False
        if had_focus:
            self.setFocus()  # a reset takes the open cell away, and the focus with it; whoever gets it begins at the first cell
            self.go_to(*place)
            return
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.go_to(*self._place)
        self.setEditTriggers(QAbstractItemView.EditTrigger.AllEditTriggers)
