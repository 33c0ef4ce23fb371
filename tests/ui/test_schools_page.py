"""Ways to keep the soil out over the years, by the button in the card: the rows follow the job."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QPushButton

from weirant.design.variants import USUAL as KEYS
from weirant.job.paths import with_value
from weirant.job.removal import without_run
from weirant.ui.dialogs.run_rows import RunRowsDialog
from weirant.ui.dialogs.schools import SchoolsDialog
from weirant.ui.dialogs.suited import SuitedDialog
from weirant.ui.dialogs.two_ways import TwoWaysDialog


def cell(dialog, row, column):
    return dialog.grid.itemAtPosition(row, column).widget().text()


def opened(window, qtbot):
    window.sheet.rail.choose("materials")
    QApplication.processEvents()
    next(b for b in window.sheet.card.findChildren(QPushButton) if b.text() == "Compare …").click()
    dialog = window.findChild(SchoolsDialog)
    qtbot.addWidget(dialog)
    assert dialog.words.text() == ""  # it is there at once, and filled when it has been worked out beside the interface
    qtbot.waitUntil(lambda: dialog.words.text() != "", timeout=5000)
    return dialog


def test_the_ways_to_build_follow_the_job_and_tell_what_is_assumed(window, qtbot):
    document = window.document
    document.take_run("r1")
    dialog = opened(window, qtbot)
    assert dialog.grid.rowCount() == len(KEYS) + 1 and [cell(dialog, 1, 0), cell(dialog, 2, 0)] == ["As drawn", "Bare 3/4 in stone"]
    before = [cell(dialog, row, 4) for row in (1, 2)]
    assert before[0] != before[1] and "never a promise" in dialog.words.text() and dialog.entries["turbid"].text() == "0.1" and dialog.chart.drawing is not None
    document.change(with_value(document.job, "sections.s1.wrap", "none"), "bare")
    qtbot.waitUntil(lambda: cell(dialog, 1, 4) != before[0], timeout=5000)  # as drawn it is bare now
    document.change(with_value(document.job, "soils.g1.hard_layer_depth", None), "nobody knows")
    qtbot.waitUntil(lambda: "not known" in dialog.words.text() and dialog.chart.drawing is None, timeout=5000)
    document.stack.undo()
    qtbot.waitUntil(lambda: dialog.chart.drawing is not None, timeout=5000)
    document.stack.setClean()


def test_what_is_assumed_is_typed_over_and_what_cannot_be_is_told(window, qtbot):
    window.document.take_run("r1")
    dialog = opened(window, qtbot)
    before, entry = cell(dialog, 2, 1), dialog.entries["turbid"]
    for typed, kept, says in (("1", "1", ""), ("-1", "1", "as much or as little"), ("much", "1", "Fines in water from soil"), ("nan", "1", "nan")):
        entry.setFocus()
        entry.selectAll()
        QTest.keyClicks(entry, typed)
        QTest.keyClick(entry, Qt.Key.Key_Return)
        assert entry.text() == kept and says in dialog.fault.text() and bool(says) == bool(dialog.fault.text()), typed
    qtbot.waitUntil(lambda: cell(dialog, 2, 1) != before, timeout=5000)
    assert before == "29 years" and dialog.given.turbid == 1 and dialog.isVisible()


def test_a_run_that_does_not_collect_is_told_so(window, qtbot):
    window.document.take_run("r2")
    dialog = opened(window, qtbot)
    assert "nothing that could clog" in dialog.words.text() and dialog.grid.itemAtPosition(1, 0) is None


def test_what_is_told_of_a_run_goes_with_it(window, qtbot):
    window.document.take_run("r4")
    for key in ("schools", "suited", "two_ways"):
        window.open(key)
    assert all(window.findChild(kind).isVisible() for kind in (SchoolsDialog, SuitedDialog, TwoWaysDialog))
    window.document.change(without_run(window.document.job, "r4").job, "taken out")
    qtbot.waitUntil(lambda: window.findChild(RunRowsDialog) is None, timeout=5000)  # closed, and swept away
    window.document.stack.setClean()


def test_two_ways_stand_side_by_side_and_follow_the_choice_and_the_job(window, qtbot):
    dialog = opened(window, qtbot)
    QTest.mouseClick(next(b for b in dialog.findChildren(QPushButton) if b.text().startswith("Two ways")), Qt.MouseButton.LeftButton)
    two = window.findChild(TwoWaysDialog)
    qtbot.addWidget(two)
    qtbot.waitUntil(lambda: two.pictures[1].drawing is not None, timeout=5000)
    assert cell(two, 1, 1).startswith("full wrap") and cell(two, 1, 2) == "none" and cell(two, 1, 3) == "other" and cell(two, 3, 3) == ""
    two.choices[1].take("as-drawn")
    two.choices[1].activated.emit(two.choices[1].currentIndex())
    qtbot.waitUntil(lambda: cell(two, 1, 3) == "", timeout=5000)
    window.document.change(with_value(window.document.job, "sections.s1.wrap", "graded sand"), "sand")
    qtbot.waitUntil(lambda: cell(two, 1, 1).startswith("graded sand"), timeout=5000)
    assert two.pictures[0].drawing.bounds == two.pictures[1].drawing.bounds


def test_what_suits_the_soil_is_taken_from_the_list_and_can_be_undone(window, qtbot):
    dialog = opened(window, qtbot)
    QTest.mouseClick(next(b for b in dialog.findChildren(QPushButton) if b.text().startswith("What suits")), Qt.MouseButton.LeftButton)
    suits = window.findChild(SuitedDialog)
    qtbot.addWidget(suits)
    qtbot.waitUntil(lambda: suits.words.text() != "", timeout=5000)
    assert cell(suits, 1, 2) == "holds" and "every contact holds" in cell(suits, 1, 4) and "ways to build" in suits.words.text()
    take = next(b for b in suits.findChildren(QPushButton) if b.accessibleName() == "Take C33 concrete sand, as a graded filter" and b.y() > 0)
    takes = [b for b in suits.findChildren(QPushButton) if b.accessibleName() == take.accessibleName()]
    QTest.mouseClick(takes[-1], Qt.MouseButton.LeftButton)  # as sand round the stone, not as bare stone
    section = window.document.job.sections[0]
    assert (section.sand, section.wrap) == ("c33-sand", "graded sand")
    window.document.stack.undo()
    assert window.document.job.sections[0].wrap == "full wrap"
