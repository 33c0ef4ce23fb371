"""A searchable list of every action, every page of the handbook and every method, which opens as a form."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QAction, QKeyEvent
from PyQt6.QtWidgets import QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from weirant.handbook import pages
from weirant.language import tr
from weirant.methods.catalogue import REGISTRY
from weirant.ui.line import EntryLine
from weirant.ui.rhythm import Dialog
from weirant.ui.theme import THEME


class ActionSearch(Dialog):
    """Type a few letters, press Enter. ``method_wanted`` and ``page_wanted`` ask for what is no action."""

    told_in = ("window", "")

    method_wanted = pyqtSignal(str)
    page_wanted = pyqtSignal(str)

    def __init__(self, actions: list[QAction], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("All actions and methods"))
        self.resize(round(44 * THEME.text), round(30 * THEME.text))
        self._query, self._list = EntryLine(), QListWidget()
        self._query.setPlaceholderText(tr("Type a few letters: save, slope, hooghoudt, hard layer …"))
        self._query.setAccessibleName(tr("Search"))
        self._list.setAccessibleName(tr("Actions, methods and pages"))
        self._list.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.addWidget(self._query)
        layout.addWidget(self._list, 1)
        for action in actions:
            key = action.shortcut().toString()
            item = QListWidgetItem(action.text().replace("&", "").rstrip("…") + (f"   ({key})" if key else ""))
            item.setData(Qt.ItemDataRole.UserRole, action)
            self._list.addItem(item)
        for method in sorted(REGISTRY.values(), key=lambda m: m.name):
            item = QListWidgetItem(tr("method {method}: {summary}\n{formula}", method=method.name, summary=method.summary, formula=method.formula))
            item.setData(Qt.ItemDataRole.UserRole, (self.method_wanted, method.name))
            self._list.addItem(item)
        for page in pages().values():
            item = QListWidgetItem(tr("handbook: {title}", title=page.title))
            item.setData(Qt.ItemDataRole.UserRole, (self.page_wanted, page.key))
            self._list.addItem(item)
        self._query.textChanged.connect(self._filter)
        self._query.returnPressed.connect(self._run)
        self._list.itemActivated.connect(lambda item: self._run())
        self._filter("")

    def _filter(self, text: str) -> None:
        words, first = text.lower().split(), True
        for row in range(self._list.count()):
            item = self._list.item(row)
            if item is None:
                continue
            hit = all(word in item.text().lower() for word in words)
            item.setHidden(not hit)
            if hit and first:
                self._list.setCurrentItem(item)
                first = False

    def _run(self) -> None:
        item = self._list.currentItem()
        action = item.data(Qt.ItemDataRole.UserRole) if item is not None and not item.isHidden() else None
        if isinstance(action, QAction):
            self.accept()
            QTimer.singleShot(0, action.trigger)  # one that asks something would have the search go while its own key is under way
        elif action is not None:
            signal, key = action
            self.accept()
            signal.emit(key)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is not None and event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up) and self._query.hasFocus():
            rows = [r for r in range(self._list.count()) if (i := self._list.item(r)) is not None and not i.isHidden()]
            if rows:
                here = rows.index(self._list.currentRow()) if self._list.currentRow() in rows else 0
                step = 1 if event.key() == Qt.Key.Key_Down else -1
                self._list.setCurrentRow(rows[min(max(here + step, 0), len(rows) - 1)])
            return
        super().keyPressEvent(event)
