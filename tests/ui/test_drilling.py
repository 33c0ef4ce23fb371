"""A pipe drilled on the job: its rows against the calculation by name, in the real window, and in the file."""

from __future__ import annotations

import dataclasses

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton

from weirant.errors import JobFileError
from weirant.formats.job_file import from_text, to_text
from weirant.job.products import ALL_ROUND, DOWN, HoleRow
from weirant.library.drilled import drilled
from weirant.methods.intake import drilled_pattern
from weirant.ui.dialogs.drilling import DrillingDialog

INCH = 0.0254


@pytest.mark.parametrize(("rows", "counted", "where"), [
    ([HoleRow(0, False, INCH / 2, 8 * INCH)], [(1, 8)], DOWN), ([HoleRow(60, True, INCH / 2, 3 * INCH)], [(2, 3)], DOWN),
    ([HoleRow(0, False, INCH / 2, 8 * INCH), HoleRow(120, True, INCH / 2, 16 * INCH)], [(1, 8), (2, 16)], ALL_ROUND), ([HoleRow(180, True, INCH / 2, 8 * INCH)], [(1, 8)], ALL_ROUND),
])  # fmt: skip
def test_rows_come_to_what_the_calculation_of_each_gives(rows, counted, where):
    found, parts = drilled(rows), [drilled_pattern(INCH / 2, count, every * INCH) for count, every in counted]
    assert found.open_area == pytest.approx(sum(p.open_area_per_length for p in parts)) and found.holes == pytest.approx(sum(p.holes_per_length for p in parts))
    assert found.where == where and found.opening == INCH / 2


def test_the_pipe_of_the_run_is_drilled_row_by_row_undone_and_kept(window, qtbot):
    window.sheet.rail.choose("materials")
    before = window.document.job
    next(b for b in window.sheet.card.findChildren(QPushButton) if b.text() == "Drill it …").click()
    dialog = next(d for d in window.findChildren(DrillingDialog) if d.isVisible())
    pipe = window.document.in_hand.make(30.0).pipe
    assert pipe.key == "own-drilled-1" and "drilled" in pipe.name and "3.0 holes in a foot, 0.59 in² in a foot; only 62 %" in dialog.sum.text()
    spacing = dialog.grid.itemAtPosition(1, 3).widget()
    spacing.setFocus()
    spacing.selectAll()
    QTest.keyClicks(spacing, "2 in")
    QTest.keyClick(spacing, Qt.Key.Key_Return)
    assert "7.5 holes in a foot" in dialog.sum.text() and window.document.in_hand.make(30.0).pipe.open_area_per_length == pytest.approx(drilled(dialog.pipe.rows).open_area)
    dialog.another.click()
    assert len(dialog.pipe.rows) == 3
    dialog.grid.itemAtPosition(3, 4).widget().click()
    assert len(dialog.pipe.rows) == 2 and from_text(to_text(window.document.job)) == window.document.job
    assert not window.document.set_value("products.pipes.0.rows.0.spacing", 0.0127)  # as wide as the hole
    touching = dataclasses.replace(dialog.pipe, rows=(HoleRow(0, False, 0.05, 0.04),))
    with pytest.raises(JobFileError, match="farther apart"):
        from_text(to_text(dataclasses.replace(before, products=dataclasses.replace(before.products, pipes=(touching,)))))
    while window.document.stack.canUndo():
        window.document.stack.undo()
    qtbot.waitUntil(lambda: not dialog.isVisible())
    assert window.document.job == before
