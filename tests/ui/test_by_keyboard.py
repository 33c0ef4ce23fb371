"""Everything by keys: every action of the menus, the film, the number pad of the holes' readings, the stopwatch, findings and search."""

from __future__ import annotations

import dataclasses
import re
from itertools import pairwise

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QProcess, QRect, Qt
from PyQt6.QtGui import QAction, QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QLineEdit, QListWidget, QPushButton, QScrollArea

from ui.keys import press, settle, settle_for_good, staged
from weirant.design.demo import demo_job
from weirant.job.holes import PERCOLATION, FieldTest, WaterReading
from weirant.ui.dialogs.actions import ActionSearch
from weirant.ui.entry import QuantityEdit
from weirant.ui.start_tile import StartTile
from weirant.ui.views.places import ProfileView, SectionView

ASKS = ("getOpenFileName", "getSaveFileName")
QUITS = ("&Quit", "&New job", "Open the &demo job", "Open the demo with its &roofs")


@pytest.fixture
def no_files(monkeypatch):
    """Whoever is asked for a file thinks better of it."""
    asked = []
    for name in ASKS:
        monkeypatch.setattr(QFileDialog, name, lambda *a, **k: asked.append(a[1]) or ("", ""))
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *a, **k: asked.append(a[1]) or "")
    return asked


def actions(window):
    return [a for a in window.findChildren(QAction) if a.text() and a.menu() is None and not a.isSeparator() and a.text() not in QUITS]


def dialogs(window):
    return [d for d in window.findChildren(QDialog) if d.isVisible()]


@pytest.mark.parametrize("which", ["empty_window", "window"])
def test_every_action_does_something_or_nothing_but_never_fails(which, request, qtbot, no_files, monkeypatch):
    """Without a job as with one; what opens is closed again by Escape. Errors in slots fail the test by themselves."""
    started = []
    monkeypatch.setattr(QProcess, "startDetached", lambda *call: (started.append(call), (True, 0))[1])  # it would outlive the tests
    window = request.getfixturevalue(which)
    keys = [a.shortcut().toString() for a in actions(window) if a.shortcut().toString()]
    steps = [b.shortcut().toString() for b in window.sheet.rail.buttons] if window.sheet is not None else []
    assert len(keys + steps) == len(set(keys + steps)) and len(keys) > 20  # no two actions have the same key
    for action in actions(window):
        before = window.document.is_empty
        action.trigger()
        qtbot.wait(10)
        for dialog in dialogs(window):
            QTest.keyClick(dialog, Qt.Key.Key_Escape)
        qtbot.waitUntil(lambda: not dialogs(window), timeout=5000)
        assert window.document.is_empty == before, action.text()
        window.go_back()  # where the job was left for the question, to it: the next action is about it
    assert {"Open a job"} <= set(no_files) and [call[1][-2:] for call in started] == [["-m", "weirant"]]
    assert ({"Save the job", "Owner's sheet", "Cut sheet"} <= set(no_files)) == (which == "window")
    qtbot.wait(50)


def test_search_runs_what_is_found_and_tells_of_methods(window, qtbot):
    window.search()
    dialog = window.findChild(ActionSearch)
    query, listed = dialog.findChild(QLineEdit), dialog.findChild(QListWidget)
    QTest.keyClicks(query, "hooghoudt")
    seen = [listed.item(r).text() for r in range(listed.count()) if not listed.item(r).isHidden()]
    assert len(seen) >= 3 and all("hooghoudt" in text.lower() for text in seen)
    qtbot.waitUntil(query.hasFocus, timeout=3000)
    before = listed.currentRow()
    QTest.keyClick(dialog, Qt.Key.Key_Down)
    assert listed.currentRow() > before
    QTest.keyClick(query, Qt.Key.Key_Return)
    form = dialogs(window)[-1]
    assert not dialog.isVisible() and form.windowTitle().startswith("Method: hooghoudt-")
    form.calculate()
    first = form.answer.text()
    entry = form.entries["drain_radius"]
    QTest.keyClicks(entry, "-2 in")
    QTest.keyClick(entry, Qt.Key.Key_Return)
    assert first and not form.answer.text() and "drain_radius" in form.beyond.text().replace(" ", "_")
    form.reject()
    window.search()
    dialog = next(d for d in dialogs(window) if isinstance(d, ActionSearch))
    query, listed = dialog.findChild(QLineEdit), dialog.findChild(QListWidget)
    QTest.keyClicks(query, "switch units")
    QTest.keyClick(query, Qt.Key.Key_Return)
    assert not dialog.isVisible()
    qtbot.waitUntil(lambda: window.document.job.units == "metric")


def test_the_film_is_run_and_stopped_by_keys(window, qtbot):
    window.sheet.rail.choose("storm")
    page = window.sheet.views["storm"]
    qtbot.waitUntil(lambda: len(page.found) == 2 and not page.runner.is_running, timeout=60_000)
    page.setFocus()
    page.slider.setValue(page.slider.maximum())
    QTest.keyClick(page, Qt.Key.Key_Space)
    assert page.film.is_running and page.slider.value() == 0 and page.stop_button.isEnabled()
    qtbot.waitUntil(lambda: page.slider.value() > 5, timeout=5000)
    QTest.keyClick(page, Qt.Key.Key_Space)
    stands = page.slider.value()
    assert not page.film.is_running
    QTest.keyClick(page, Qt.Key.Key_Space)
    QTest.keyClick(page, Qt.Key.Key_Escape)
    qtbot.wait(100)
    assert page.slider.value() <= stands + 6 and not page.stop_button.isEnabled()
    page.play()
    window.sheet.rail.choose("order")  # who goes elsewhere leaves no film running behind
    window.sheet.catch_up()
    assert not page.film.is_running


def test_readings_of_a_hole_flow_down_the_number_pad(window, qtbot):
    window.sheet.rail.choose("soil")
    page = window.sheet.views["holes"]
    qtbot.wait(30)
    page.new_hole.click()
    page.new_test.click()
    table, model = page.table, page.table.readings
    page.log.setFocus()
    window.document.set_value("holes.2.tests.1.depth", 0.8)
    assert QApplication.focusWidget() is page.log  # no cell opens while somebody types elsewhere
    table.setFocus()
    table.setCurrentIndex(model.index(0, 1))
    table.setCurrentIndex(model.index(0, 0))
    for typed in ("0", "20", "60", "20 1/2", "2:00", "21"):
        editor = QApplication.focusWidget()
        assert isinstance(editor, QLineEdit), typed  # each cell is open when one arrives there
        QTest.keyClicks(editor, typed)
        QTest.keyClick(editor, Qt.Key.Key_Return)
    readings = page.hole.tests[-1].readings
    assert [r.time for r in readings] == [0.0, 60.0, 120.0] and readings[1].depth == pytest.approx(20.5 * 0.0254)
    table.setCurrentIndex(model.index(1, 1))
    QTest.keyClick(table, Qt.Key.Key_Delete)
    assert [r.time for r in page.hole.tests[-1].readings] == [0.0, 120.0]
    window.document.stack.undo()
    assert len(page.hole.tests[-1].readings) == 3


def test_the_stopwatch_runs_marks_and_stops(window, qtbot):
    window.sheet.rail.choose("soil")
    page = window.sheet.views["holes"]
    qtbot.wait(30)
    page.new_test.click()
    page.watch.click()
    assert page.watch.text().startswith("Stop  0:0")
    qtbot.wait(250)
    page.mark_button.click()
    model = page.table.readings
    marked = float(model.data(model.index(0, 0)))
    assert 0.1 < marked < 5 and page.table.currentIndex().column() == 1  # the time is there, its depth comes next
    page.watch.click()
    assert page.watch.text() == "Start the stopwatch" and not page.watch.is_running and page.watch.seconds == 0.0
    both = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    for running in (True, False, True):
        QTest.keyClick(window, Qt.Key.Key_M, both)
        qtbot.waitUntil(lambda now=running: page.watch.is_running == now, timeout=2000)
    rows = model.rowCount()
    QTest.keyClick(window, Qt.Key.Key_M, Qt.KeyboardModifier.ControlModifier)
    qtbot.waitUntil(lambda: model.rowCount() == rows + 1, timeout=2000)


def test_a_percolation_hole_is_told_as_minutes_an_inch(window, qtbot):
    """An inch of fall in half an hour is 30 minutes an inch, as the county forms have it (common practice, no source)."""
    job = demo_job()
    test = FieldTest(PERCOLATION, 0.1016, 0.6, readings=(WaterReading(0.0, 0.40), WaterReading(1800.0, 0.4254)))
    hole = dataclasses.replace(job.holes[0], tests=(test,))
    window.document.change(dataclasses.replace(job, holes=(hole,)), "a percolation hole")
    window.sheet.rail.choose("soil")
    qtbot.waitUntil(lambda: "30 min an inch" in window.sheet.views["holes"].said.text(), timeout=5000)
    window.switch_units()
    qtbot.waitUntil(lambda: "1.2 min a millimetre" in window.sheet.views["holes"].said.text(), timeout=5000)


def test_a_pressed_finding_takes_every_view_to_its_place(window, qtbot):
    document, panel = window.document, window.sheet.findings
    document.move_to(30.0)
    card = panel.card_of("outlet-level")
    QTest.mouseClick(card, Qt.MouseButton.LeftButton, pos=QPoint(20, 8))
    assert document.station == card.finding.station and document.run == "r1"
    document.take_run("r3")
    panel.holds_button.click()
    qtbot.waitUntil(lambda: not all(r.isHidden() for r in panel._rows))
    row = next(r for r in panel._rows if not r.isHidden())
    assert row.accessibleName().startswith("holds: ")
    row.click()
    dialog = next(d for d in dialogs(window) if d.windowTitle() == f"Why: {row.title}")
    QTest.keyClick(dialog, Qt.Key.Key_Escape)
    assert not dialog.isVisible()


def test_the_bench_tells_of_rain_that_cannot_be_and_pours_none(window, qtbot):
    window.bench()
    qtbot.waitUntil(lambda: bool(dialogs(window)), timeout=10_000)
    bench = dialogs(window)[0]
    for choice in bench.guesses:
        choice.setCurrentIndex(1)
    for text, says in (("a lot", "rain must start with a number"), ("3 h", "rain takes a value of length"), ("40 in", "up to 11 3/4 in (300 mm)")):
        bench.rain.setText(text)
        bench.pour()
        assert says in bench.told.text() and bench.course is None, text
    bench.close()


def test_a_first_job_is_answered_by_enter_from_line_to_line_and_the_next_key_does_no_harm(empty_window, qtbot):
    window = empty_window
    window.start.findChildren(StartTile)[0].click()
    for words in ("50 ft", "10 ft", "90 ft", "6 ft"):
        qtbot.waitUntil(lambda: isinstance(QApplication.focusWidget(), QLineEdit), timeout=3000)
        assert window.document.is_empty
        QTest.keyClicks(QApplication.focusWidget(), words)
        QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Return)
    assert not window.document.is_empty and window.document.in_hand.run.length == pytest.approx(140 * 0.3048, abs=8)
    before = window.document.job
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Return)
    assert window.document.job == before and QApplication.focusWidget() is window.sheet.views.canvas("plan")


def test_each_handle_and_typed_label_is_a_button_by_name_and_value(window, qtbot):
    """For a screen reader: where it stands, what it is and how much; a press types it."""

    def shown(step, kind):
        window.sheet.rail.choose(step)
        canvas = window.sheet.stage.findChild(kind)
        wanted = len({h.path or h.key for h in canvas.drawing.handles} | set(canvas.typed_rects()))
        qtbot.waitUntil(lambda: sum(grip.isVisible() for grip in canvas.grips.shown) >= wanted, timeout=3000)
        grips = [grip for grip in canvas.grips.shown if grip.isVisible()]
        assert all(grip.height() >= 32 and re.search(r": .*\d", grip.accessibleName()) for grip in grips), [g.accessibleName() for g in grips]
        return canvas, {grip.accessibleName(): grip for grip in grips}

    canvas, grips = shown("line", ProfileView)
    for handle in canvas.drawing.handles:
        assert grips[canvas._handle_text(handle)].geometry().contains(canvas.handle_position(handle.key).toPoint())
    invert = next(grip for words, grip in grips.items() if "95.05 ft" in words)
    invert.click()
    assert isinstance(entry := window.focusWidget(), QuantityEdit) and entry.text() == "95.05 ft"
    window.document.set_value("runs.r1.invert", 95.2 * 0.3048)
    qtbot.waitUntil(lambda: "95.20 ft" in invert.accessibleName(), timeout=3000)
    _, grips = shown("trench", SectionView)
    assert {"Trench width: 12 in", "Trench bottom: 31.6 in deep"} <= set(grips)


def test_whoever_had_the_keys_on_the_stage_has_them_there_at_the_next_step(window, qtbot):
    """Not whatever entry or choice comes next, which an arrow would change."""
    window.sheet.focus_stage()
    for button in (b for b in window.sheet.rail.buttons if b.step.key != "storm"):
        window.sheet.rail.choose(button.step.key)
        view = window.sheet.stage.view
        settle(window, qtbot)
        held = QApplication.focusWidget()
        assert held is view or view.isAncestorOf(held), (button.step.key, held)
    section, before, station = staged(window, "section"), window.document.job, window.document.station
    section.hide()  # which asks it where the keys go next: it takes hold of no handle, and the arrow moves the station
    section.show()
    section.setFocus()
    QTest.keyClick(section, Qt.Key.Key_Right)
    assert window.document.job is before and window.document.station > station


def test_the_card_is_as_high_as_its_page_at_once(window):
    """And the drawing beside it is fitted once."""
    for step in ("line", "trench", "materials", "trench"):
        window.sheet.rail.choose(step)
        card = window.sheet.card
        high = card.height()
        for _ in range(4):
            QApplication.processEvents()
        assert card.height() == high, step


def test_a_key_that_comes_before_a_new_view_is_there_meets_it(window):
    hand = window.windowHandle()
    QTest.keyClick(hand, Qt.Key.Key_0, Qt.KeyboardModifier.AltModifier)  # for the first time: it is made, dressed and put on the stage one after the other
    for key in (Qt.Key.Key_9, Qt.Key.Key_Period, Qt.Key.Key_4, Qt.Key.Key_Return, Qt.Key.Key_9):
        QTest.keyClick(hand, key)
    typed = QApplication.focusWidget()
    assert isinstance(typed, QLineEdit) and typed.text() == "9" and window.sheet.views["dig"].isAncestorOf(typed)
    table = window.sheet.views["dig"].table.sheet
    assert table.data(table.index(0, 7)) == "9.40"


def test_a_step_asked_for_where_none_is_to_be_had_writes_nothing(empty_window, qtbot):
    """It wrote its digit behind the figure: 90 ft became 906."""
    alt = Qt.KeyboardModifier.AltModifier
    empty_window.start.tiles[1].click()
    entry = QApplication.focusWidget()
    QTest.keyClicks(entry, "90")
    QTest.keyClick(entry, Qt.Key.Key_6, alt)
    assert entry.text() == "90"
    empty_window.open_demo()
    settle(empty_window, qtbot)
    empty_window.open("rainfall")
    dialog = next(d for d in empty_window.findChildren(QDialog) if d.isVisible())
    qtbot.waitUntil(dialog.isActiveWindow, timeout=3000)
    dialog.table.setFocus()
    dialog.table.setCurrentCell(0, 0)
    for letter in "0.5":
        press(letter)
    press(Qt.Key.Key_6, alt)
    assert QApplication.focusWidget().text() == "0.5"


def tabbed(of, first, key=Qt.Key.Key_Tab):
    """What has the keys one after the other, until the first has them again."""
    first.setFocus()
    found = []
    while not found or found[-1] is not first:
        QTest.keyClick(QApplication.focusWidget(), key)
        found.append(QApplication.focusWidget())
        assert len(found) < 150 and (of is found[-1] or of.isAncestorOf(found[-1]))
    return found


def looks(of, stop):
    """How light it is, dot by dot."""
    QApplication.processEvents()
    image = of.grab(QRect(stop.mapTo(of, QPoint()), stop.size()).adjusted(-4, -4, 4, 4)).toImage().convertToFormat(QImage.Format.Format_Grayscale8)
    data = image.constBits().asarray(image.sizeInBytes())
    return np.frombuffer(data, np.uint8).reshape(image.height(), image.bytesPerLine()).astype(int)


@pytest.mark.parametrize("view", ["plan", "section", "storm", "order", "profile"])
def test_what_has_the_keys_looks_otherwise(window, qtbot, view):
    sheet = window.sheet
    window.resize(1100, 700)  # pages are longer than what is in sight
    sheet.turn_to({"plan": "water", "section": "trench", "profile": "levels"}.get(view, view), view)
    settle_for_good(window, qtbot)
    first = next(button for button in sheet.rail.buttons if button.isChecked())
    for stop in tabbed(sheet, first):
        QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Tab)
        assert QApplication.focusWidget() is stop
        if isinstance(sheet.stage.view, QScrollArea) and sheet.stage.view.isAncestorOf(stop):
            sheet.stage.view.ensureWidgetVisible(stop)  # what is told later may have moved it
        has = looks(sheet, stop)
        stop.clearFocus()
        assert np.count_nonzero(np.abs(has - looks(sheet, stop)) > 60) > 40, stop.accessibleName()
        stop.setFocus(Qt.FocusReason.TabFocusReason)


@pytest.mark.parametrize("step", ["water", "trench", "storm", "order"])
def test_tab_goes_through_the_step_in_the_order_in_which_it_is_read(window, qtbot, step):
    """The page first, then its card, what is beside them, what was found; it went as things had been made, and came to the entries of the card last of all."""
    sheet = window.sheet
    sheet.rail.choose(step)
    settle_for_good(window, qtbot)
    first = next(button for button in sheet.rail.buttons if button.isChecked())
    rooms = (sheet.stage.view, sheet.card, sheet.companions, sheet.findings, sheet.head, sheet.rail)
    found = tabbed(sheet, first)
    order = [next(number for number, room in enumerate(rooms) if room is stop or room.isAncestorOf(stop)) for stop in found]
    assert order == sorted(order) and set(order) >= {0, 1, 2, 3, 5}
    for number in (1, 3):
        tops = [stop.mapTo(sheet, QPoint()).y() for stop, room in zip(found, order, strict=True) if room == number]
        assert len(tops) > 4 and all(below > above - 40 for above, below in pairwise(tops))  # side by side they are a little higher or lower
    if sheet.views.canvas(sheet.view) is None:  # a drawing stops at each of its handles
        assert len(set(found)) == len(found) and tabbed(sheet, first, Qt.Key.Key_Backtab) == [*reversed(found[:-1]), first]


def test_tab_goes_down_the_rows_of_a_dialog_also_those_that_came_later(window, qtbot):
    window.open("stretches")
    dialog = dialogs(window)[-1]
    qtbot.waitUntil(dialog.isActiveWindow, timeout=3000)
    add, close = (next(button for button in dialog.findChildren(QPushButton) if words in button.text()) for words in ("Part it", "Close"))
    rows = len(tabbed(dialog, close))
    add.click()
    settle(window, qtbot)
    found = tabbed(dialog, close)
    assert len(found) > rows and found[-2:] == [add, close]
    places = [stop.mapTo(dialog, QPoint()) for stop in found[1:]]  # the first is what scrolls
    assert all(below.y() > above.y() or (below.y() == above.y() and below.x() > above.x()) for above, below in pairwise(places))
