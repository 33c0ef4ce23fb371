"""The real window, on the demo job."""

from __future__ import annotations

import pytest

from ui.keys import settle
from weirant.ui.app import make_application
from weirant.ui.theme import THEME
from weirant.ui.window import Window


@pytest.fixture(autouse=True)
def waits_for_outcomes(monkeypatch):
    """However slow the machine is: what an edit gives is shown with it."""
    monkeypatch.setattr("weirant.ui.worked.PATIENCE", None)


@pytest.fixture
def empty_window(qtbot):
    make_application()
    THEME.apply("daylight", 1.0)
    window = Window()
    qtbot.addWidget(window, before_close_func=lambda w: w.document.stack.setClean())
    window.resize(1280, 800)
    with qtbot.waitActive(window):  # keys go to the active window only, and a bare X server makes none active by itself
        window.show()
        window.activateWindow()
    return window


@pytest.fixture
def window(empty_window, qtbot):
    empty_window.open_demo()
    settle(empty_window, qtbot)
    return empty_window
