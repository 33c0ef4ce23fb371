"""Real keys: each goes to whatever has the focus at that moment, as on a keyboard."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from weirant.ui.turn import is_quiet
from weirant.ui.work import is_idle


def press(key, modifier=Qt.KeyboardModifier.NoModifier):
    QTest.keyClick(QApplication.focusWidget() or QApplication.activeWindow(), key, modifier)


def type_line(text):
    for letter in text:
        press(letter)
    press(Qt.Key.Key_Return)


def type_in(edit, text):
    edit.setFocus()
    edit.selectAll()
    QTest.keyClicks(edit, text)
    QTest.keyClick(edit, Qt.Key.Key_Return)


def settle(window, qtbot):
    """All that follows what was done has had its turn."""
    qtbot.wait(30)
    for _ in range(2):  # what was made while nothing was painted asks for its turn when it is
        qtbot.waitUntil(lambda: is_quiet(window))
        QApplication.processEvents()
    qtbot.waitUntil(lambda: is_quiet(window))


def settle_for_good(window, qtbot):
    """The same, with all that is worked out beside the interface."""
    qtbot.waitUntil(lambda: is_idle() and is_quiet(window), timeout=60_000)
    settle(window, qtbot)


def turn_wheel(widget, at, by=240):
    """Turn the wheel over a place of a widget."""
    there = QPointF(widget.mapToGlobal(QPoint(*at)))
    turned = QWheelEvent(QPointF(*at), there, QPoint(), QPoint(0, by), Qt.MouseButton.NoButton, Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False)
    QApplication.sendEvent(widget, turned)


def staged(window, key):
    """The drawing of a view, set on the stage: of the step in hand, or where that does not have it of the step that is about it."""
    sheet = window.sheet
    if key not in sheet.step.views:
        sheet.rail.choose({"plan": "map", "profile": "line", "section": "trench", "across": "water", "grains": "materials"}[key])
    if sheet.view != key:
        sheet.show_view(key)
    assert sheet.stage.isVisible()  # whoever asks for it has all that is turned to
    QApplication.processEvents()
    return sheet.views.canvas(key)
