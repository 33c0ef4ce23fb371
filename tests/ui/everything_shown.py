"""Prints every text that the window, its steps, views, dialogs and drawings show in a language: run by itself, since a language is chosen once."""

from __future__ import annotations

import json
import os
import sys
import time

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QComboBox,
    QFileDialog,
    QLabel,
    QLineEdit,
    QListWidget,
    QTableView,
    QWidget,
)

from weirant.language import tr, use
from weirant.language.tongue import TONGUES

use(TONGUES[sys.argv[1]])

from weirant.ui import worked  # noqa: E402
from weirant.ui.app import make_application  # noqa: E402
from weirant.ui.steps.catalogue import STEPS  # noqa: E402
from weirant.ui.window import Window  # noqa: E402

worked.PATIENCE = None  # what an edit gives is shown with it

SHOWN: set[str] = set()
LEFT_OUT = {tr(text) for text in ("&Quit", "New &window", "C&lose the job", "&New job", "Open the &demo job",
                                          "Open the demo with its &roofs", "&Larger letters", "S&maller letters", "Us&ual letters", "Full s&creen",
                                  "Text at 100 %", "Text at 125 %", "Text at 150 %", "&Daylight or dim", "Switch &units", "Print the o&wner's sheet …", "Print the cu&t sheet …",
                                  "Print the o&rder list …")}  # fmt: skip


def note(*texts: object) -> None:
    SHOWN.update(text for text in texts if isinstance(text, str))


def look_at(root: QWidget) -> None:
    """Every text in a widget and below it."""
    for widget in [root, *root.findChildren(QWidget)]:
        note(widget.windowTitle(), widget.toolTip(), widget.accessibleName(), widget.accessibleDescription())
        if isinstance(widget, QLabel | QAbstractButton):
            note(widget.text())
        elif isinstance(widget, QComboBox):
            note(*(widget.itemText(i) for i in range(widget.count())))
        elif isinstance(widget, QLineEdit):
            note(widget.placeholderText())
        elif isinstance(widget, QListWidget):
            note(*(widget.item(i).text() for i in range(widget.count())))
        elif isinstance(widget, QTableView) and widget.model() is not None:
            model = widget.model()
            note(*(model.headerData(c, Qt.Orientation.Horizontal) for c in range(model.columnCount())))
            note(*(model.index(r, c).data() for r in range(min(model.rowCount(), 12)) for c in range(model.columnCount())))
        drawing = getattr(widget, "drawing", None)
        if hasattr(drawing, "shapes"):
            note(drawing.title, *(getattr(shape, "text", None) for shape in drawing.shapes), *(handle.label for handle in drawing.handles))
    note(*(action.text() for action in root.findChildren(QAction)), *(action.statusTip() for action in root.findChildren(QAction)))


def wait(seconds: float) -> None:
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        QApplication.processEvents()


def main() -> None:
    """Walk through the window."""
    application = make_application()
    window = Window()
    window.resize(1280, 800)
    window.show()
    wait(0.05)
    look_at(window)
    window.open_demo()

    def shut_others() -> None:
        for other in application.topLevelWidgets():
            if other is not window and other.isVisible() and not isinstance(other, QFileDialog):
                look_at(other)
            if other is not window:
                other.close()

    for step in STEPS:
        window.sheet.rail.choose(step.key)
        for view in step.views:
            window.sheet.show_view(view)
            window.sheet.catch_up()
            wait(0.02)
            look_at(window)
    for action in window.findChildren(QAction):
        if action.isEnabled() and action.text() and action.menu() is None and action.text() not in LEFT_OUT:
            for delay in (60, 150, 300):
                QTimer.singleShot(delay, shut_others)
            action.trigger()
            wait(0.32)
            look_at(window)
    print(json.dumps(sorted(SHOWN), ensure_ascii=False), flush=True)
    os._exit(0)  # the window is not taken apart: nothing more is asked of it


main()
