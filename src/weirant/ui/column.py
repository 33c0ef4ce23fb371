"""A page that is one column, longer than what is in sight; and emptying a layout of what stood in it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QLayout, QVBoxLayout, QWidget

from weirant.ui.scrolled import Scrolled


class ColumnPage(Scrolled):
    """Scrolls down only; ``column`` takes the parts."""

    def __init__(self, spacing: int = 4) -> None:
        super().__init__()
        page = QFrame()
        page.setObjectName("sheet")
        self.column = QVBoxLayout(page)
        self.column.setContentsMargins(8, 4, 8, 8)
        self.column.setSpacing(spacing)
        self.setWidget(page)


def emptied(layout: QLayout) -> None:
    """Take every widget out; they are deleted later, since one of them may be what asked for it."""
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget() if item is not None else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()


def show_in_turn(widget: QWidget, seen: bool) -> None:
    """Show a widget, or hide it; one just made is left to its layout, which shows one after the other as there is time: each costs as much as a line of text."""
    if not seen or widget.testAttribute(Qt.WidgetAttribute.WA_WState_ExplicitShowHide):
        widget.setVisible(seen)
