"""The picture that is kept of a drawing is what it would be if it were drawn now, whatever was done meanwhile; and while nothing changed it is not drawn again."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from ui.keys import settle
from weirant.job.paths import with_value
from weirant.ui.theme import THEME
from weirant.ui.views.canvas import Canvas


def in_sight(window):
    return [canvas for canvas in window.sheet.findChildren(Canvas) if canvas.isVisible()]


def drawn_now(canvas):
    THEME.ink.written = []
    image = canvas.grab().toImage()
    THEME.ink.written = None
    return image


def test_what_is_kept_is_what_it_would_be_now(window, qtbot):
    document, sheet = window.document, window.sheet
    sheet.rail.choose("trench")
    doings = {
        "another width": lambda: document.change(with_value(document.job, "sections.s1.width", 0.7), "wider"),
        "another place": lambda: document.move_to(20.0),
        "another run": lambda: document.take_run("r2"),
        "other units": window.switch_units,
        "another look": lambda: window._apply_look("dim", 1.0),
        "larger letters": lambda: window.set_scale(1.25),
        "a smaller window": lambda: window.resize(1100, 720),
        "a companion swapped in": lambda: QTest.keyClick(next(c for c in in_sight(window) if c.is_small), Qt.Key.Key_Return),
        "closer": lambda: next(c for c in in_sight(window) if not c.is_small).look_at(2.0, 3.0, 0.0),
        "another step": lambda: sheet.rail.choose("line"),
        "undone": document.stack.undo,
    }
    for name, do in doings.items():
        do()
        settle(window, qtbot)
        canvases = in_sight(window)
        assert len(canvases) >= 2, name
        for canvas in canvases:
            assert canvas.grab().toImage() == drawn_now(canvas), (name, canvas.accessibleName())


def test_a_drawing_is_made_once_however_often_it_is_painted(window, qtbot, monkeypatch):
    window.sheet.rail.choose("trench")
    settle(window, qtbot)
    made = []
    monkeypatch.setattr(type(THEME.ink), "draw", lambda ink, *_: made.append(ink) or {})
    stage = next(canvas for canvas in in_sight(window) if not canvas.is_small)
    for x in range(0, stage.width(), 40):
        QTest.mouseMove(stage, QPoint(x, stage.height() // 2))
        stage.update()
        QApplication.processEvents()
    assert not made
    window.document.move_to(20.0)
    settle(window, qtbot)
    assert made


def test_a_page_in_another_look_is_dressed_after_the_press_and_before_it_is_seen(window, qtbot, monkeypatch):
    """Taking the look of before off all that is on it, and putting this one on, are a turn each."""
    sheet, turns, half = window.sheet, [], type(THEME).dress_by_half
    for step in ("soil", "order"):
        sheet.rail.choose(step)
        settle(window, qtbot)
    page = sheet.views["holes"]
    window._apply_look("dim", 1.0)
    settle(window, qtbot)
    assert THEME.is_outworn(page)
    monkeypatch.setattr(type(THEME), "dress_by_half", lambda theme, part: (part is page and turns.append(page.isVisible()), half(theme, part))[1])
    sheet.rail.choose("soil")
    assert not turns and sheet._stage.view is not page
    settle(window, qtbot)
    assert turns == [False, False] and sheet.stage.view is page and page.isVisible() and not THEME.is_outworn(page)


def test_what_is_turned_to_is_drawn_before_it_is_seen(window, qtbot, monkeypatch):
    """The window is painted with all that is new around it then, which is enough for one turn."""
    settle(window, qtbot)
    seen, draw = [], type(THEME.ink).draw
    stage, plan = window.sheet.stage, window.sheet.plan_page.plan

    def watched(ink, painter, drawing, *rest):
        if drawing is plan.drawing:
            seen.append(stage.updatesEnabled())
        return draw(ink, painter, drawing, *rest)

    monkeypatch.setattr(type(THEME.ink), "draw", watched)
    window.sheet.rail.choose("map")
    settle(window, qtbot)
    assert stage.view is window.sheet.plan_page and seen == [False]
