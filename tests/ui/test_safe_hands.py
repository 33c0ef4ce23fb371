"""What loses work, kills the window or writes over what others wrote: by real keys in the real window."""

from __future__ import annotations

import sys
import threading
import time
from functools import partial
from itertools import pairwise

import pytest
from PyQt6 import sip
from PyQt6.QtCore import QEvent, QObject, QPoint, Qt, QTimer
from PyQt6.QtGui import QHelpEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QFileDialog, QLabel, QLineEdit, QMessageBox, QTableView, QWidget

from ui.keys import press, type_line
from weirant.design.first_job import BEGINNINGS, Answers, first_job
from weirant.formats import job_file
from weirant.formats.open_mark import mark_of
from weirant.formats.recovery import find_recoverable, recovery_folder, state_folder
from weirant.job.paths import with_value
from weirant.ui import rest, turn, work
from weirant.ui.dialogs.actions import ActionSearch
from weirant.ui.mishaps import Mishaps
from weirant.ui.opening import DIALOGS
from weirant.ui.plain_text import plain_tip

CONTROL = Qt.KeyboardModifier.ControlModifier
MARKUP = "<img src='/dev/zero'><b>bold</b>"


def answer(qtbot, *words):
    """Press these buttons in the boxes that will wait for it, one after the other."""
    waiting, asked = list(words), []

    def look():
        box = QApplication.activeModalWidget()
        button = next((b for b in box.buttons() if b.text() == waiting[0]), None) if isinstance(box, QMessageBox) and waiting else None
        if button is not None:
            asked.append(box.text())
            waiting.pop(0)
            if not waiting:
                clock.stop()  # or it ticks on until the window is swept away, in the midst of another test
            button.click()

    clock = QTimer(qtbot._request.node.funcargs["empty_window"])
    clock.timeout.connect(look)
    clock.start(20)
    return asked


def back_to(window, qtbot):
    """The window has the keyboard again; after a box a bare screen gives it to nobody."""
    window.activateWindow()
    window.setFocus()
    qtbot.waitUntil(window.isActiveWindow, timeout=3000)


def say_file(monkeypatch, path, chosen=""):
    for name in ("getSaveFileName", "getOpenFileName"):
        monkeypatch.setattr(QFileDialog, name, lambda *a, **k: (str(path), chosen))


COLUMNS = {3: ["5.12", "5.40", "5.85"], 0: ["a", "b", "c"], 1: ["10", "20", "30"], 2: ["4.0", "4.1", "4.2"], 5: ["30, 12", "31, 12", "32, 12"]}


@pytest.mark.parametrize("column", COLUMNS)
@pytest.mark.parametrize("empty", [False, True])
def test_readings_are_appended_by_keys_from_every_column(empty_window, qtbot, column, empty):
    document = empty_window.document
    empty_window.open_job(first_job(BEGINNINGS[0], Answers("silt-loam", 18.3, 24.4, 2.4, 1.5, "imperial")), None, "levels")
    if empty:
        document.change(with_value(document.job, "survey.shots", ()), "none")
    qtbot.wait(30)
    table, before = empty_window.sheet.views["readings"].table, document.job.survey.shots
    table.setFocus()
    table.go_to(len(before), column)
    for word in COLUMNS[column]:
        type_line(word)
    shots = document.job.survey.shots
    assert shots[: len(before)] == before and len(shots) == len(before) + 3
    assert [round((s.foresight or 0) / 0.3048, 2) for s in shots[-3:]] == ([5.12, 5.4, 5.85] if column == 3 else [0, 0, 0])
    assert column != 0 or [s.point for s in shots[-3:]] == ["a", "b", "c"]
    press(Qt.Key.Key_Z, CONTROL)  # with the cell still open
    qtbot.waitUntil(lambda: len(document.job.survey.shots) == len(before) + 2, timeout=2000)
    type_line(COLUMNS[column][0])
    assert len(document.job.survey.shots) == len(before) + 3 and document.job.survey.shots[: len(before)] == before
    table.go_to(len(before), column)  # in the middle: what stands there is changed, and the next one is reached
    type_line(COLUMNS[column][1])
    assert len(document.job.survey.shots) == len(before) + 3 and table.currentIndex().row() == len(before) + 1


def test_a_reading_that_no_job_can_hold_is_kept_as_it_was_typed(window, qtbot):
    """99 ft is a little more than the 30 m a reading may have; it was once refused and lost, where 40 of something unreadable was kept."""
    window.sheet.rail.choose("levels")
    table, before = window.sheet.views["readings"].table, len(window.document.job.survey.shots)
    table.setFocus()
    table.go_to(before, 3)
    for word in ("98", "99", "five", "4.5"):
        type_line(word)
    shots = window.document.job.survey.shots[before:]
    assert [(s.foresight is not None, s.unread) for s in shots] == [(True, ""), (False, "99"), (False, "five"), (True, "")]


@pytest.mark.parametrize(("step", "row", "column", "odd", "mended"), [("levels", 2, 1, "12x", "13"), ("levels", 2, 5, "by the oak", "30, 12"), ("levels", -1, 1, "12x", "13"),
                                                                      ("soil", 1, 1, "deep", "1.5"), ("soil", -1, 0, "1:3:", "900"), ("dig", 2, 7, "9.5x", "9.5")])  # fmt: skip
def test_what_a_cell_cannot_take_stands_in_it_to_be_mended(window, qtbot, step, row, column, odd, mended):
    """It was told in the head line, and gone from the cell, with the cursor on the next one."""
    window.sheet.rail.choose(step)
    window.sheet.catch_up()
    qtbot.wait(50)
    table, document = next(t for t in window.sheet.findChildren(QTableView) if t.isVisible()), window.document
    if step == "soil":
        page = window.sheet.views["holes"]
        page.table.readings.mark(30.0)
    model = table.model()
    row = row % model.rowCount()
    before, told = document.job, []
    document.refused.connect(told.append)
    table.setFocus()
    table.go_to(row, column)
    type_line(odd)
    cell = model.index(row, column)
    assert told and (cell.data(), cell.data(Qt.ItemDataRole.EditRole), cell.data(Qt.ItemDataRole.ToolTipRole)) == (f"{odd} ?", odd, plain_tip(told[-1])), told
    assert [s.station for s in document.job.survey.shots[:4]] == [s.station for s in before.survey.shots[:4]] and document.job.holes == before.holes and document.job.runs == before.runs
    table.go_to(row, column)
    type_line(mended)
    assert len(told) == 1 and cell.data() and not cell.data().endswith("?")
    table.go_to(row, column)
    type_line(odd)
    window.open_job(document.job, None, step)  # another job: nothing of it may stand there
    window.sheet.catch_up()
    assert cell.data() != f"{odd} ?"


def test_made_up_levels_are_marked_until_they_are_typed(empty_window, qtbot):
    empty_window.open_job(first_job(BEGINNINGS[0], Answers("silt-loam", 18.3, 24.4, 2.4, 1.5, "imperial")), None, "levels")
    qtbot.wait(30)
    table, document = empty_window.sheet.views["readings"].table, empty_window.document
    model = table.shots
    assert model.data(model.index(0, 6)) == "made up: shoot it" and model.data(model.index(0, 3), Qt.ItemDataRole.FontRole).italic()
    table.setFocus()
    table.go_to(0, 2)
    for _ in range(3):
        press(Qt.Key.Key_Return)  # who only walks through confirms nothing
    assert all(s.is_assumed for s in document.job.survey.shots)
    for row, column, word in ((0, 2, "5"), (1, 3, "5"), (2, 3, "9.95")):
        table.go_to(row, column)
        type_line(word)
        assert not document.job.survey.shots[row].is_assumed
    assert document.job.survey.is_shot and document.stack.count() == 3
    document.stack.undo()
    empty_window.sheet.rail.choose("dig")
    dig = empty_window.sheet.views["dig"]
    assert dig.stand.text().startswith("Not surveyed") and dig.table.sheet.data(dig.table.sheet.index(0, 5)) == "not shot"


@pytest.mark.parametrize("step", ["levels", "soil", "dig"])
@pytest.mark.parametrize("back", [False, True])
def test_tab_leaves_every_table(window, qtbot, step, back):
    window.sheet.rail.choose(step)
    window.sheet.catch_up()
    qtbot.wait(50)
    table = next(t for t in window.sheet.findChildren(QTableView) if t.isVisible())
    for opened in (False, True):
        table.setFocus()
        if opened:
            table.setCurrentIndex(table.model().index(0, table.columnAt(1) + 0))
            table.setCurrentIndex(table.model().index(0, 7 if step == "dig" else 1))
        assert table is QApplication.focusWidget() or table.isAncestorOf(QApplication.focusWidget())
        press(Qt.Key.Key_Backtab if back else Qt.Key.Key_Tab)
        focus = QApplication.focusWidget()
        assert focus is not None and focus is not table and not table.isAncestorOf(focus), (step, opened)


def test_what_the_search_runs_may_ask_before_it(window, qtbot):
    """The question's own loop swept the search away while its key was under way, and the program with it."""
    window.document.set_value("sections.s1.width", 0.5)
    asked = answer(qtbot, "Discard")
    window.search()
    query = window.findChild(ActionSearch).findChild(QLineEdit)
    QTest.keyClicks(query, "new job")
    QTest.keyClick(query, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: bool(asked) and window.document.is_empty)


def test_discard_discards_and_escape_goes_back(window, qtbot, tmp_path, monkeypatch):
    say_file(monkeypatch, tmp_path / "club")
    assert window.files.save()
    saved = (tmp_path / "club.weirant").read_bytes()
    press(Qt.Key.Key_N, CONTROL)  # nothing unsaved: no question, and a way back
    assert window._stack.currentWidget() is window.start and window.start.back.isVisible()
    window.start.tiles[0].click()
    press(Qt.Key.Key_Escape)
    assert window._stack.currentWidget() is window.start
    press(Qt.Key.Key_Escape)
    assert window._stack.currentWidget() is window.sheet
    window.document.set_value("sections.s1.width", 0.5)
    asked = answer(qtbot, "Discard")
    press(Qt.Key.Key_N, CONTROL)
    assert asked and window.document.is_empty and window.windowTitle() == "Weirant" and not window.start.back.isVisible()
    back_to(window, qtbot)
    press(Qt.Key.Key_S, CONTROL)
    press(Qt.Key.Key_Escape)
    assert (tmp_path / "club.weirant").read_bytes() == saved and window._stack.currentWidget() is window.start and not mark_of(tmp_path / "club.weirant").exists()
    assert list(recovery_folder().glob("*.weirant")) == []


def test_steady_work_is_kept_within_five_seconds(window, qtbot):
    """An edit every 0.4 s never leaves the quiet that a copy waits for."""
    def edit():
        window.document.set_value("sections.s1.width", 0.3 + 0.001 * (window.document.stack.count() % 50 + 1))

    clock = QTimer(window)
    clock.timeout.connect(edit)
    clock.start(400)
    qtbot.waitUntil(lambda: len(list(recovery_folder().glob("*.weirant"))) == 1, timeout=6500)
    clock.stop()


def test_a_file_changed_by_another_is_not_replaced_unasked(window, qtbot, tmp_path, monkeypatch):
    path = tmp_path / "club.weirant"
    job_file.save(window.document.job, path)
    window.files.open_file(path)
    theirs = with_value(window.document.job, "sections.s1.width", 0.7)
    job_file.save(theirs, path)
    window.document.set_value("sections.s1.width", 0.5)
    asked = answer(qtbot, "Cancel", "Replace it")
    press(Qt.Key.Key_S, CONTROL)
    assert "changed by somebody else" in asked[0] and job_file.load(path) == theirs and not window.document.stack.isClean()
    back_to(window, qtbot)
    QTest.keyClick(window, Qt.Key.Key_S, CONTROL)
    assert job_file.load(path).sections[0].width == 0.5 and job_file.load(tmp_path / "club.weirant~") == theirs
    assert window.document.stack.isClean() and mark_of(path).exists()


def test_a_second_window_is_told_who_has_the_file(window, qtbot, tmp_path):
    from weirant.ui.window import Window

    path = tmp_path / "club.weirant"
    job_file.save(window.document.job, path)
    window.files.open_file(path)
    second = Window()
    qtbot.addWidget(second)
    second.files.open_file(path)
    box = second.findChild(QMessageBox)
    assert "is open already" in box.text() and box.textFormat() == Qt.TextFormat.PlainText
    assert second.document.job == window.document.job
    second.document.stack.setClean()
    second.close()
    assert mark_of(path).exists()  # it is still open in the first


@pytest.mark.parametrize(("typed", "pattern", "written"), [
    ("cuts", "PDF (*.pdf)", "cuts.pdf"), ("cuts", "CSV (*.csv)", "cuts.csv"), ("cuts.csv", "PDF (*.pdf)", "cuts.csv"), ("cuts.v2", "PDF (*.pdf)", "cuts.v2.pdf"),
    ("cuts", "", "cuts.pdf")])  # fmt: skip
def test_a_name_without_suffix_gets_that_of_the_chosen_kind(window, qtbot, tmp_path, monkeypatch, typed, pattern, written):
    say_file(monkeypatch, tmp_path / typed, pattern)
    window.papers.ask_cut_sheet()
    qtbot.waitUntil(lambda: f"Written: {written}" in window.statusBar().currentMessage(), timeout=8000)
    assert (tmp_path / written).read_bytes().startswith(b"%PDF") == written.endswith(".pdf") and len(list(tmp_path.iterdir())) == 1


def test_an_existing_file_is_asked_about_where_the_suffix_was_not_typed(window, qtbot, tmp_path, monkeypatch):
    (tmp_path / "x.weirant").write_text("precious")
    say_file(monkeypatch, tmp_path / "x")
    asked = answer(qtbot, "Cancel")
    assert not window.files.ask_save() and (tmp_path / "x.weirant").read_text() == "precious" and "exists already" in asked[0]


def test_an_unforeseen_error_is_told_and_the_window_lives(window, qtbot, monkeypatch, tmp_path):
    window.document.set_value("sections.s1.width", 0.5)
    mishaps = Mishaps(window)
    monkeypatch.setattr(sys, "excepthook", mishaps.met)
    try:
        {}["pipe"]
    except KeyError as fault:
        for _ in range(50):  # one in a painting comes with every painting
            mishaps.met(KeyError, fault, fault.__traceback__)
    boxes = [b for b in window.findChildren(QMessageBox) if b.isVisible()]
    assert len(boxes) == 1 and "A copy of your work was just kept" in boxes[0].text() and "trouble.log" in boxes[0].text()
    assert (state_folder() / "trouble.log").read_text().count("Traceback") == 1
    window.files.keeping.keeper.release()
    assert find_recoverable(recovery_folder())[0].load().sections[0].width == 0.5
    boxes[0].accept()
    qtbot.waitUntil(lambda: mishaps.box is None, timeout=2000)
    assert window.document.set_value("sections.s1.width", 0.4) and not window.grab().isNull()


def test_an_edit_that_brings_the_sums_down_is_refused_and_nothing_changes(window, monkeypatch):
    refused, before = [], window.document.job
    window.document.refused.connect(refused.append)
    monkeypatch.setattr("weirant.ui.worked.assess", lambda *_, **__: {}["pipe"])
    assert not window.document.set_value("sections.s1.width", 0.5) and "not foreseen (KeyError)" in refused[0] and window.document.job is before
    window.open_job(before, None)
    assert window.document.job is before and any("not foreseen" in b.text() for b in window.findChildren(QMessageBox))


def test_a_two_corner_lawn_is_refused_and_one_in_a_file_can_be_looked_at(window, qtbot):
    from weirant.ui.steps.thing_fields import KindChoice

    index = next(i for i, f in enumerate(window.document.job.features) if f.kind == "walk")
    refused = []
    window.document.refused.connect(refused.append)
    window.sheet.rail.choose("map")
    window.document.take_thing(window.document.job.features[index].id)
    choice = window.sheet.card.findChild(KindChoice)
    choice.setCurrentText("lawn")
    choice.activated.emit(choice.currentIndex())
    assert window.document.job.features[index].kind == "walk" and choice.currentText() == "walk" and "needs 3 corners; 2 are there" in refused[0]
    assert window.document.set_value(f"features.{index}.kind", "lawn")  # as an old file may have it
    assert not window.grab().isNull()


def test_names_are_text_everywhere(window, qtbot):
    for path in ("name", "place", "features.t10.name", "features.1.name", "features.4.name", "holes.0.name"):
        window.document.set_value(path, MARKUP + path)
    window.document.refused.emit(MARKUP)
    for step in ("water", "levels", "map", "soil", "line", "order", "dig"):
        window.sheet.rail.choose(step)
        window.document.take_thing("t2")
        window.sheet.catch_up()
        window.grab()
    labels = [w for w in window.findChildren(QLabel) if not isinstance(w.parent(), QMessageBox)]
    assert len(labels) > 60 and all(w.textFormat() == Qt.TextFormat.PlainText for w in labels)
    assert not [w for w in window.findChildren(QWidget) if Qt.mightBeRichText(w.toolTip()) and "<img" in w.toolTip()]
    window.papers._fault("Title", MARKUP)
    assert all(b.textFormat() == Qt.TextFormat.PlainText for b in window.findChildren(QMessageBox))
    QApplication.sendEvent(window.sheet, QHelpEvent(QEvent.Type.ToolTip, QPoint(5, 5), QPoint(5, 5)))


def test_dialogs_go_for_good(window, qtbot):
    opens = (window.search, window.about, window.listen, lambda: window.why(window.document.outcome.findings[0]), window.bench, *(partial(window.open, key) for key in DIALOGS))

    def once():
        for act in opens:
            act()
            qtbot.waitUntil(lambda: any(d.isVisible() for d in window.findChildren(QDialog)), timeout=10_000)
            for dialog in window.findChildren(QDialog):
                QTest.keyClick(dialog, Qt.Key.Key_Escape)
                dialog.close()
            qtbot.wait(20)

    once()
    before = len(QApplication.allWidgets())
    once()
    qtbot.wait(50)
    assert not window.findChildren(QDialog) and len(QApplication.allWidgets()) <= before + 5


def test_undo_by_key_reaches_the_job_from_an_untouched_entry(window, qtbot):
    window.document.set_value("sections.s1.width", 0.5)
    window.sheet.rail.choose("trench")
    entry = window.sheet.card.entry("sections.s1.width")
    entry.setFocus()
    press(Qt.Key.Key_Z, CONTROL)
    assert window.document.job.sections[0].width == 0.3048
    QTest.keyClicks(entry, "9")
    press(Qt.Key.Key_Z, CONTROL)
    assert entry.text() != "9" and window.document.stack.canRedo()  # what is being typed comes first


def test_the_rainfall_table_is_typed_down_its_columns(window, qtbot):
    window.open("rainfall")
    dialog = next(d for d in window.findChildren(QDialog) if d.isVisible())
    qtbot.waitUntil(dialog.isActiveWindow, timeout=3000)
    table = dialog.table
    table.setFocus()
    table.setCurrentCell(0, 0)
    for word in ("0.5", "0.7", "0.9"):
        type_line(word)
    assert [table.item(row, 0).text() for row in range(3)] == ["0.5", "0.7", "0.9"] and table.currentRow() == 3
    press(Qt.Key.Key_Tab)
    assert not table.isAncestorOf(QApplication.focusWidget()) and QApplication.focusWidget() is not table and dialog.isVisible()


def test_everything_is_searched_for_garbage_while_nobody_does_anything_or_after_a_while(qtbot, monkeypatch):
    counts, swept = [701, 0, 0], []
    monkeypatch.setattr(work.gc, "get_count", lambda: tuple(counts))
    monkeypatch.setattr(work.gc, "collect", swept.append)
    monkeypatch.setattr(work.gc, "freeze", lambda: swept.append("let be"))
    desk = work.desk()
    for name, value in (("_waits", 0), ("_made", 10**6), ("_looks", 0), ("_is_set_up", False)):
        monkeypatch.setattr(desk, name, value)  # whatever went on before
    for _ in range(work.SETS_UP):
        desk._sweep()
    assert set(swept) == {"let be"} and (desk._sweep() or swept[-1]) == 0  # the window comes to be; then it is swept as it is used
    counts[:] = 100, 3, 11
    swept.clear()
    monkeypatch.setattr(desk, "_made", 10**6)
    desk._sweep()  # takes note
    counts[0] += work.STILL + 1  # somebody works
    desk._sweep()
    assert 2 not in swept[1:] and (desk._sweep() or swept[-1]) == "let be"  # then nobody does, and what is there by then is there to stay
    assert (desk._sweep() or swept[-1]) == 2
    swept.clear()
    for _ in range(work.WAITS + 2):
        counts[0] += work.STILL + 1
        desk._sweep()
    assert 2 in swept


def test_what_follows_an_edit_is_shown_in_an_event_of_its_own_and_no_oftener_than_an_eye_follows(qtbot):
    shown, owner = [], QObject()
    follows = rest.Rest(owner, lambda: shown.append(1))
    follows.ask()
    follows.ask()
    assert not shown
    qtbot.waitUntil(lambda: len(shown) == 1)
    for _ in range(3):
        follows.ask()
        QApplication.processEvents()
    assert len(shown) == 1
    qtbot.waitUntil(lambda: len(shown) == 2)


def test_what_follows_an_edit_takes_turns_and_what_one_thing_paints_comes_before_the_next(qtbot):
    """All that was due went off in one turn of the loop, and a hand was not heard before the last of it."""
    owner, done, seen = QObject(), [], []

    class Painted(QObject):
        def event(self, event):
            done.append("painted")
            return True

    painted = Painted()

    def act(number):
        done.append(number)
        QApplication.postEvent(painted, QEvent(QEvent.Type.User))

    clocks = [turn.InTurn(owner, partial(act, number)) for number in range(3)]
    for clock in clocks:
        clock.start()
    turn.take_turn()  # by what could not wait
    for _ in range(60):
        QApplication.processEvents()
        seen.append(len(done))
    assert done == [0, "painted", 1, "painted", 2, "painted"] and seen[0] == 0 and all(after - before <= 1 for before, after in pairwise(seen)), seen
    assert turn.is_quiet(owner)
    clocks[0].start()
    assert not turn.is_quiet(owner)
    sip.delete(owner)
    QApplication.processEvents()
    assert len(done) == 6


@pytest.mark.parametrize("slow", [lambda asker: 1, lambda asker: 1 / 0])
def test_a_thread_never_sweeps_away_who_asked(qtbot, monkeypatch, slow):
    """Held back until its answer has been told: of a widget that is gone by then it must not be the last to let go, which brings Qt down."""
    told, swept, put = threading.Event(), [], work._Desk.put

    class Asker(QObject):
        def __del__(self):
            swept.append(threading.current_thread())

        def slow(self):
            return slow(self)

        def hear(self, _):
            told.set()

    monkeypatch.setattr(work, "_unforeseen", lambda fault, failed: failed(""))
    monkeypatch.setattr(work._Desk, "put", lambda self, call: (put(self, call), told.wait(5), time.sleep(0.1)))
    asker = Asker()
    work.in_background(asker.slow, asker.hear, asker.hear)
    del asker
    qtbot.waitUntil(lambda: swept != [], timeout=5000)
    assert swept == [threading.main_thread()]
