"""Other ways to build the job, put aside in the window and offered in the quote."""

from __future__ import annotations

import pypdf
import pytest
from PyQt6.QtWidgets import QFileDialog, QMessageBox, QPushButton

from weirant.formats import job_file
from weirant.job.paths import with_value
from weirant.ui.dialogs.ways import WaysDialog
from weirant.ui.memory import remember
from weirant.ui.other_ways import other_ways
from weirant.ui.price_choice import KEY


@pytest.fixture
def dialog(window, qtbot, tmp_path):
    window.document.save(tmp_path / "club.weirant", None)
    remember(KEY, "larkmead")
    window.open("ways")
    dialog = window.findChild(WaysDialog)
    qtbot.waitUntil(lambda: len(rows(dialog)) == 1, timeout=5000)
    yield dialog
    remember(KEY, "")


def rows(dialog):
    grid = dialog.grid
    cells = [[grid.itemAtPosition(row, column) for column in range(6)] for row in range(1, grid.rowCount())]
    return [[cell.widget().text() for cell in row] for row in cells if row[0] is not None]


def pressed(dialog, words):
    next(b for b in dialog.findChildren(QPushButton) if words in (b.text(), b.accessibleName())).click()


def test_the_drawing_is_put_aside_changed_and_both_stand_in_the_quote(window, dialog, qtbot, tmp_path, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "with wrap.weirant"), ""))
    pressed(dialog, "Put the drawing aside as a way …")
    qtbot.waitUntil(lambda: len(rows(dialog)) == 2 and rows(dialog)[1][2] == "as much", timeout=5000)
    document = window.document
    document.change(with_value(document.job, "sections.s1.wrap", "none"), "no wrap")  # the drawing is now the worse way, and the cheaper
    qtbot.waitUntil(lambda: rows(dialog)[1][2].endswith(" more") and "nothing is worse" in rows(dialog)[1][4], timeout=5000)
    assert rows(dialog)[1][0] == "with wrap" and rows(dialog)[0][1] != rows(dialog)[1][1]
    paper = tmp_path / "quote.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(paper), ""))
    pressed(dialog, "Write the quote …")
    qtbot.waitUntil(paper.is_file, timeout=5000)
    second = " ".join(pypdf.PdfReader(paper).pages[1].extract_text().split())
    assert "Other ways to build it" in second and "with wrap" in second and rows(dialog)[1][1] in second
    document.set_value("name", "The same with another name")
    assert [path.stem for path in other_ways(document)] == ["with wrap"]
    window.files._save_to(tmp_path / "another name.weirant", "")  # under another name they go with it
    assert [path.stem for path in other_ways(document)] == ["with wrap"]
    pressed(dialog, "Leave out with wrap")
    qtbot.waitUntil(lambda: len(rows(dialog)) == 1, timeout=5000)
    assert other_ways(document) == () and (tmp_path / "with wrap.weirant").is_file()
    document.stack.setClean()


def test_a_new_job_of_the_same_name_has_no_ways_of_the_one_before(window, dialog, qtbot, tmp_path, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "with wrap.weirant"), ""))
    pressed(dialog, "Put the drawing aside as a way …")
    assert other_ways(window.document)
    window.document.stack.setClean()
    window.open_demo()
    assert other_ways(window.document) == ()


def test_a_way_that_cannot_be_had_is_told_and_the_paper_is_not_written_without_it(window, dialog, qtbot, tmp_path, monkeypatch):
    (tmp_path / "gone.weirant").write_bytes(job_file.to_bytes(window.document.job))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(tmp_path / "gone.weirant"), ""))
    pressed(dialog, "Another job as a way …")
    pressed(dialog, "Another job as a way …")  # twice the same is once
    qtbot.waitUntil(lambda: len(rows(dialog)) == 2, timeout=5000)
    (tmp_path / "gone.weirant").write_text("{")
    dialog.follow()
    qtbot.waitUntil(lambda: rows(dialog)[1][3] == "not known", timeout=5000)
    paper = tmp_path / "quote.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(paper), ""))
    pressed(dialog, "Write the quote …")
    qtbot.waitUntil(lambda: any("not written" in box.text() + box.windowTitle() for box in window.findChildren(QMessageBox)), timeout=5000)
    assert not paper.exists()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(window.document.path), ""))
    pressed(dialog, "Put the drawing aside as a way …")
    assert any("another name" in box.text() for box in dialog.findChildren(QMessageBox)) and len(other_ways(window.document)) == 1
