"""An old drain opened, by keys and mouse: added to an empty list, looked at, its figures and pictures noted, drawn as a run, taken out."""

from __future__ import annotations

import os

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QDialog, QLabel, QPushButton

from ui.keys import type_in
from weirant.job.paths import with_value
from weirant.ui.entry import QuantityEdit
from weirant.ui.steps.job_choice import JobChoice


def button(page, words):
    QApplication.processEvents()
    return next(b for b in page.findChildren(QPushButton) if b.text() == words and b.isVisibleTo(page))


def said(page):
    QApplication.processEvents()
    return " ".join(label.text() for label in page.findChildren(QLabel) if label.isVisibleTo(page))


def test_an_old_drain_from_the_first_press_to_the_run_that_it_is(window, qtbot, tmp_path):
    document = window.document
    document.change(with_value(document.job, "old_drains", ()), "none")
    window.sheet.rail.choose("water")
    window.sheet.show_view("old drain")
    page = window.sheet.views["old drain"]
    qtbot.waitUntil(page.isVisible)
    assert "open it in two places" in said(page) and not any(choice.isVisibleTo(page) for choice in page.choices.values())
    QTest.mouseClick(button(page, "An old drain was opened"), Qt.MouseButton.LeftButton)
    for key, answer in (("in-pipe", "roots"), ("pipe", "joints apart")):
        choice = page.choices[key]
        choice.setCurrentText(answer)
        choice.activated.emit(choice.currentIndex())
    assert "Roots drawn by standing water" in said(page) and "New" not in said(page) and document.stack.undoText() == "How is the pipe itself: joints apart"
    size, sediment = (next(e for e in page.findChildren(QuantityEdit) if e.path == f"old_drains.d1.{field}") for field in ("size", "sediment"))
    type_in(size, "4 in")
    type_in(sediment, "1 1/2 in")
    assert [round(f, 4) for f in (document.job.old_drains[0].size, document.job.old_drains[0].sediment)] == [0.1016, 0.0381]
    assert size.isVisibleTo(page)  # what was typed in stays where it is
    run = next(c for c in page.findChildren(JobChoice) if c.accessibleName() == "The run that the old drain is")
    run.setCurrentIndex(next(i for i, (value, _) in enumerate(run.options) if value == "r2"))
    run.activated.emit(run.currentIndex())
    lies = next(r for r in document.job.runs if r.id == "r2")
    assert (lies.status, round(lies.sediment, 4)) == ("existing", 0.0381) and document.job.old_drains[0].run == "r2"
    # pictures: one that is there, none, a pipe that nobody writes to
    good = tmp_path / "opened.png"
    QImage(60, 40, QImage.Format.Format_RGB32).save(str(good))
    page.add_picture("d1", good)
    page.add_picture("d1", good)
    refused = []
    document.refused.connect(refused.append)
    os.mkfifo(tmp_path / "never.png")
    for wrong in ("never.png", "missing.png", "x" * 5000):
        page.add_picture("d1", tmp_path / wrong)
    assert document.job.old_drains[0].pictures == (str(good),) and [words.split()[0] for words in refused] == ["never.png", "missing.png", "x" * 5000]
    QTest.mouseClick(button(page, "Show"), Qt.MouseButton.LeftButton)
    shown = next(d for d in page.findChildren(QDialog))
    assert shown.windowTitle() == "opened.png"
    shown.close()
    good.unlink()
    QTest.mouseClick(button(page, "Show"), Qt.MouseButton.LeftButton)
    assert "not there any more" in refused[-1]
    QTest.mouseClick(button(page, "Take it out"), Qt.MouseButton.LeftButton)
    assert document.job.old_drains == () and "open it in two places" in said(page)
    document.stack.undo()
    QApplication.processEvents()
    assert page.choices["in-pipe"].code() == "roots"
