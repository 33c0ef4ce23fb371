"""What every desktop program does: recent jobs, dropped files, printing, letters, sessions, a file that somebody else writes."""

from __future__ import annotations

import dataclasses

import pytest
from PyQt6.QtCore import QCoreApplication, QEvent, QMimeData, QPointF, Qt, QUrl
from PyQt6.QtGui import QDropEvent, QImage
from PyQt6.QtPrintSupport import QPrintPreviewDialog, QPrintPreviewWidget
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QPushButton

from weirant.design.assess import assess
from weirant.design.patterns import PATTERNS
from weirant.formats import job_file
from weirant.job.paths import with_value
from weirant.ui import dropped, look, memory
from weirant.ui.dialogs.settings import SettingsDialog
from weirant.ui.session import keep_session, restore_session
from weirant.ui.steps.asked_next import asked_next
from weirant.ui.steps.catalogue import STEPS
from weirant.ui.steps.measured_by import BY
from weirant.ui.theme import THEME
from weirant.ui.window import Window


def drop(window, path):
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    window.dropEvent(QDropEvent(QPointF(300, 300), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier))
    QApplication.processEvents()


def dialog_of(window, kind, qtbot):
    qtbot.waitUntil(lambda: any(d.isVisible() for d in window.findChildren(kind)), timeout=5000)
    return next(d for d in window.findChildren(kind) if d.isVisible())


def test_jobs_are_remembered_the_latest_first_and_those_that_are_gone_are_not_listed(window, qtbot, tmp_path):
    names = [tmp_path / f"{word}.weirant" for word in ("one", "two", "three & four")]
    memory.remember("recent", [])  # whatever other tests have opened
    for path in names:
        job_file.save(dataclasses.replace(window.document.job, name=path.stem), path)
        window.files.open_file(path)
        qtbot.waitUntil(lambda path=path: window.document.path == path)
    names[1].unlink()
    assert memory.recent() == [names[2], names[0]] and memory.folder() == str(tmp_path)
    menu = next(m for m in window.menuBar().findChildren(type(window.menuBar().actions()[0].menu())) if m.title() == "&Recent jobs")
    menu.aboutToShow.emit()
    assert [action.text() for action in menu.actions()] == ["&1  three && four", "&2  one"]  # an ampersand in a name is no key
    menu.actions()[1].trigger()
    qtbot.waitUntil(lambda: window.document.job.name == "one")
    window.new_job()

    def links():
        return [b for b in window.start.findChildren(QPushButton) if b.accessibleName().startswith("Go on with") and b.isVisible()]

    qtbot.waitUntil(lambda: [b.text() for b in links()] == ["one", "three && four"])
    links()[1].click()
    qtbot.waitUntil(lambda: window.document.job.name == "three & four")


def test_files_are_dropped_onto_the_window(window, empty_window, tmp_path, monkeypatch):
    path = tmp_path / "dropped.weirant"
    job_file.save(dataclasses.replace(window.document.job, name="dropped"), path)
    drop(window, path)
    assert window.document.job.name == "dropped"
    table = tmp_path / "readings.csv"
    table.write_text("point,station_ft,backsight_ft,rod_reading_ft\nBM,,5.00,\nA,10,,4.50\n")
    monkeypatch.setattr(dropped, "ask", lambda *a: 0)
    drop(window, table)
    assert len(window.document.job.survey.shots) == 2 and "readings.csv" in window.document.stack.undoText()
    for nothing in (tmp_path / "picture.png", tmp_path):
        before = window.document.job
        drop(window, nothing)
        assert window.document.job is before


def inked(widget) -> int:
    """How many pixels of a widget are dark."""
    image = widget.grab().toImage().convertToFormat(QImage.Format.Format_Grayscale8)
    return sum(value < 100 for value in bytes(image.constBits().asarray(image.sizeInBytes())))


@pytest.mark.parametrize("action", ["print_owner_sheet", "print_cut_sheet"])
def test_paper_is_looked_at_before_it_is_printed(window, qtbot, action):
    getattr(window, action)()
    dialog = dialog_of(window, QPrintPreviewDialog, qtbot)
    assert "1 page" in dialog.windowTitle()
    qtbot.waitUntil(lambda: inked(dialog.findChild(QPrintPreviewWidget)) > 8000)  # an empty page on its ground has half as many
    dialog.reject()


def test_letters_grow_and_shrink_by_keys_and_the_settings_are_kept(window, qtbot):
    for way, scale in ((1, 1.1), (1, 1.25), (-1, 1.1), (0, 1.0)):
        window.letters(way)
        assert scale == THEME.scale
    window.settings()
    dialog = dialog_of(window, SettingsDialog, qtbot)
    dialog.look.setCurrentIndex(2)
    dialog.contractor.setText("Weir and Sons (invented)")
    dialog.take()
    assert THEME.palette.name == "dim" and memory.words("contractor").startswith("Weir")
    window.switch_theme()
    window.new_job()
    window.start.pattern_wanted.emit(PATTERNS["swale"].job())
    assert window.document.job.contractor.startswith("Weir") and len(window.document.job.date) == 10


def test_work_goes_on_where_it_was_left(window, tmp_path, qtbot):
    path = tmp_path / "left.weirant"
    window.document.save(path, None)
    window.files.has_opened(path)
    window.sheet.turn_to("trench", "profile")
    profile = window.sheet.views.canvas("profile")
    profile.look_at(4.0, 30.5, 29.25)
    window.narrow_findings()
    keep_session(window)
    window.files.leave()  # as at its closing
    window.sheet.turn_to("order", "")
    window.narrow_findings()
    profile.show_all()
    assert restore_session(window) and window.sheet.views.canvas("profile").looked_at == pytest.approx((4.0, 30.5, 29.25))
    assert (window.sheet.step.key, window.sheet.view, window.sheet.findings.is_narrow) == ("trench", "profile", True)
    path.write_text("no job")
    assert not restore_session(window) and window.document.job.name == "Clubhouse slab drain" and not window.findChildren(QDialog)


def test_what_showed_a_job_that_was_closed_listens_to_the_next_one_no_more(window, qtbot):
    """The document outlives the sheet: whatever of it went on listening would raise here."""
    for step in STEPS:
        window.sheet.rail.choose(step.key)
    window.document.set_value("sections.s1.width", 0.45)
    closed, discarded = window.sheet, []
    closed.destroyed.connect(lambda: discarded.append(True))
    window._give_up()
    del closed
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    assert discarded
    window.open_demo()
    for dragging in (True, False):
        window.document.dragging = dragging
        window.document.set_value("sections.s1.width", 0.5 if dragging else 0.4)
        QApplication.processEvents()
    assert window.document.job.sections[0].width == 0.4


def test_a_file_written_by_somebody_else_is_noticed(window, tmp_path, qtbot):
    path = tmp_path / "shared.weirant"
    window.document.save(path, None)
    window.files.has_opened(path)
    window.document.set_value("sections.s1.width", 0.5)
    assert window.sheet.head.kept.text() == "changed; a copy is kept"
    assert window.files.save()
    qtbot.wait(100)
    assert window.sheet.head.kept.text() == "saved" and not window.sheet.head.message.text()  # what it wrote itself is no news
    job_file.save(dataclasses.replace(window.document.job, name="theirs"), path)
    qtbot.waitUntil(lambda: "changed by somebody else" in window.sheet.head.message.text(), timeout=5000)


def test_blocks_are_pasted_into_the_level_book_as_one_step_and_copied_with_headings(window, qtbot):
    window.sheet.rail.choose("levels")
    table, stack = window.sheet.views["readings"].table, window.document.stack
    before = window.document.job
    rows = table.shots.rowCount() - 1
    QApplication.clipboard().setText("Point\tStation, ft\tBacksight, ft\tRod reading, ft\nX1\t10\t\t5.25\nX2\t20\t\tnot a number\nX3\t30\t\t5' 3 1/2\"\n")
    table.setFocus()
    table.go_to(rows, 0)
    QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    shots = window.document.job.survey.shots[rows:]
    assert [s.point for s in shots] == ["X1", "X2", "X3"] and shots[0].foresight == pytest.approx(5.25 * 0.3048) and shots[1].unread == "not a number"
    assert shots[2].foresight == pytest.approx(5 * 0.3048 + 3.5 * 0.0254) and stack.undoText() == "Pasted 12 cells"
    stack.undo()
    assert window.document.job == before
    table.copy_all()
    lines = QApplication.clipboard().text().splitlines()
    assert len(lines) == rows + 1 and lines[0].startswith("Point\tStation, ft") and lines[1].split("\t")[0] == "BM"


def test_larger_letters_leave_the_look_to_the_desktop(window, monkeypatch):
    memory.remember("look", [])  # none chosen yet
    assert look.chosen_look() == look.DESKTOP
    window.letters(1)
    assert look.chosen_look() == look.DESKTOP and THEME.palette.name == "daylight"
    monkeypatch.setattr(look, "_of_desktop", lambda: "dim")
    window.follow_desktop()
    assert THEME.palette.name == "dim" and THEME.scale == 1.1
    window.switch_theme()
    window.follow_desktop()
    assert THEME.palette.name == "daylight"  # who has chosen keeps it


def test_a_job_that_is_open_in_another_window_is_not_opened_twice_by_itself(window, tmp_path):
    path = tmp_path / "shared.weirant"
    window.document.save(path, None)
    window.files.has_opened(path)
    keep_session(window)
    other = Window()
    try:
        assert not restore_session(other) and other.document.is_empty
        window.files.leave()
        assert restore_session(other) and other.document.path == path
    finally:
        other.document.stack.setClean()
        other.close()


@pytest.mark.parametrize(
    ("change", "step", "words"),
    [
        ({"survey.shots": ()}, "levels", "shoot the grades"),
        ({"soils.g1.hard_layer_depth": None}, "soil", "dig a hole: how deep is the hard layer?"),
        ({"soils.g1.water_table_depth": None}, "soil", "leave a hole open: how deep is the water?"),
        ({"nodes.n1.outlet.water_level": None}, "line", "level the water at the outlet"),
        ({}, "order", "ask before you dig"),
        ({"permissions.private_lines_checked": True}, "", ""),
    ],
)
def test_what_is_asked_next_is_what_lacks_first(job, change, step, words):
    for path, value in change.items():
        job = dataclasses.replace(job, survey=dataclasses.replace(job.survey, shots=value), points=()) if path == "survey.shots" else with_value(job, path, value)
    assert asked_next(assess(job)) == (step, words)


def test_how_to_measure_is_told_of_fields_that_there_are():
    fields = {name.rpartition(".")[2] for step in STEPS for page in step.pages for name in page.fields} | {"conductivity", "texture"}
    assert set(BY) <= fields
