"""Test holes in the real window: typed on the number pad, timed, taken over."""

from __future__ import annotations

import dataclasses

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from weirant.design.holes import verdicts
from weirant.job.holes import BAIL
from weirant.job.soils import soil_at
from weirant.ui.dialogs.feel import FeelDialog
from weirant.ui.entry import QuantityEdit
from weirant.ui.holes.log_text import log_text, read_log
from weirant.ui.holes.readings_table import read_time
from weirant.ui.steps.soil_place import SoilChoice, WhereChoice
from weirant.ui.try_button import TryButton
from weirant.units.display import System


@pytest.fixture
def page(window, qtbot):
    window.sheet.rail.choose("soil")
    qtbot.wait(30)
    return window.sheet.views["holes"]


def test_a_hole_is_dug_logged_and_timed(page, window, qtbot):
    page.new_hole.click()
    assert page.hole.name == "TH3" and page.index == 2
    page.log.setFocus()
    page.log.setText("loam 8 in; silt loam 2' spots")
    qtbot.keyClick(page.log, Qt.Key.Key_Return)
    assert [h.texture for h in page.hole.log] == ["loam", "silt-loam"] and page.hole.log[1].to_depth == pytest.approx(0.6096) and page.hole.log[1].mottled
    page.table.readings.mark(30.0)
    model = page.table.readings
    assert not model.setData(model.index(1, 0), "") and model.data(model.index(0, 0)) == "30"
    assert model.setData(model.index(0, 1), "20.25") and model.setData(model.index(1, 0), "1:30") and model.setData(model.index(1, 1), "20")
    readings = page.hole.tests[0].readings
    assert [(r.time, round(r.depth, 5)) for r in readings] == [(30.0, 0.51435), (90.0, 0.508)]
    assert "Water before the test is missing" in page.said.text()
    window.document.set_value("holes.2.tests.0.water", 0.1)
    window.document.set_value("holes.2.tests.0.depth", 0.8)
    assert page.said.text().startswith("Conductivity ") and page.readings.drawing is not None
    window.document.stack.undo()
    assert model.setData(model.index(0, 1), "") and len(page.hole.tests[0].readings) == 1


def test_a_hole_has_its_place_and_its_end_and_can_be_taken_out(page, window, qtbot):
    qtbot.waitUntil(lambda: page.findChild(TryButton) is not None, timeout=10_000)
    soft = page.said.text()
    window.document.set_value("holes.0.tests.0.on_hard_layer", False)
    assert page.said.text() != soft  # the formula of van Beers is another where the hole ends on the hard layer
    window.document.move_to(20.0)
    page.new_hole.click()
    x, y = window.document.outcome.site.run("r1").run.alignment.point(20.0)
    assert (page.hole.x, page.hole.y) == pytest.approx((x, y), abs=1e-3)
    page.drop_test.click()
    assert page.hole.tests == () and not page.drop_test.isEnabled() and page.new_test.isEnabled()
    page.drop_hole.click()
    assert [h.name for h in window.document.job.holes] == ["TH1", "TH2"]
    window.document.stack.undo()
    assert len(window.document.job.holes) == 3


def test_entries_follow_the_kind_of_test(page, window):
    page.kind.setCurrentText(BAIL)
    page.kind.activated.emit(page.kind.currentIndex())
    assert window.document.job.holes[0].tests[0].kind == BAIL and page._of_test.layout().count() == 4


def test_what_is_believed_is_taken_over_as_a_trial(page, window, qtbot):
    qtbot.waitUntil(lambda: page.findChild(TryButton) is not None, timeout=10_000)
    assert "auger hole, water rising in TH1" in page.layers.text()
    page.findChild(TryButton).click()
    window.document.keep_trial()
    assert window.document.job.soils[0].layers[1].conductivity == verdicts(window.document.job, window.document.job.soils[0])[1].band


def test_texture_by_feel_goes_into_the_log(page, qtbot):
    page.new_hole.click()
    dialog = FeelDialog(System.IMPERIAL, page.add_horizon, page)
    qtbot.addWidget(dialog)
    dialog.answers[1].setCurrentIndex(2)
    dialog.down_to.setText("deep")
    dialog._put()
    assert dialog.fault.text()
    dialog.down_to.setText("18")
    dialog._put()
    assert page.hole.log[0].texture == "clay-loam" and page.hole.log[0].to_depth == pytest.approx(0.4572)


@pytest.mark.parametrize(("text", "words"), [("mud 10 in", "needs a texture"), ("loam", "needs a texture"), ("loam 10 in; clay 8 in", "must go deeper")])
def test_a_log_that_cannot_be_read_is_told(page, window, text, words):
    told = []
    window.document.refused.connect(told.append)
    page.log.setText(text)
    page.log.editingFinished.emit()
    assert words in told[-1]


def test_logs_and_times_read_back():
    log = read_log("sandy clay loam 12; clay 40 spots", System.IMPERIAL)
    assert read_log(log_text(log, System.METRIC), System.METRIC)[1].to_depth == pytest.approx(log[1].to_depth, abs=1e-3)
    assert [read_time(t) for t in ("90", "1:30", "1:02:30", "2 min")] == [90.0, 90.0, 3750.0, 120.0]


def test_a_job_without_holes_or_ground_invites_to_dig(window, qtbot):
    job = dataclasses.replace(window.document.job, holes=(), answers=(), storms=(), points=())
    window.document.open(job, None)
    window.sheet.rail.choose("soil")
    page = window.sheet.views["holes"]
    qtbot.waitUntil(page.isVisible)
    assert page.hole is None and "dig one" in page.column.hint and not page.kind.isEnabled() and not page.watch.isEnabled()
    page.new_hole.click()
    assert page.hole.name == "TH1" and page.kind.isEnabled()
    window.sheet.rail.choose("water")
    window.sheet.show_view("water")
    qtbot.waitUntil(lambda: "Look next" in window.sheet.views["water"].next.text())


def choose(widget, words):
    """An entry of a list, as pressed."""
    widget.setCurrentIndex(next(i for i in range(widget.count()) if widget.itemText(i).startswith(words)))
    widget.activated.emit(widget.currentIndex())


def test_another_soil_is_made_placed_typed_into_and_taken_out(page, window):
    """The entries are of the soil in hand; another run's station, or a choice, takes another in hand."""
    document, strip = window.document, window.sheet.card
    choose(strip.findChild(SoilChoice), "another soil")
    assert [s.hole for s in document.job.soils] == ["", "h1"] and document.soil.id == "g2" and strip.findChild(SoilChoice).currentText() == "soil at TH1 (round TH1)"
    strip.turn_to("where it holds")
    choose(strip.findChild(WhereChoice), "within the clay corner")
    assert (document.soil.hole, document.soil.area) == ("", "t4")
    edit = strip.entry("soils.g2.hard_layer_depth")
    edit.setFocus()
    edit.selectAll()
    QTest.keyClicks(edit, "4 ft")
    QTest.keyClick(edit, Qt.Key.Key_Return)
    assert [s.hard_layer_depth for s in document.job.soils] == [pytest.approx(30 * 0.0254), pytest.approx(4 * 0.3048)]
    choose(strip.findChild(SoilChoice), "the ground")
    assert document.soil.id == "g1" and any(e.path == "soils.g1.hard_layer_depth" for e in window.sheet.card.findChildren(QuantityEdit))
    document.take_run("r4")  # its top end lies within the clay corner
    document.move_to(document.in_hand.run.length)
    assert document.soil.id == ("g2" if soil_at(document.job, *document.in_hand.run.alignment.point(document.station)).id == "g2" else "g1")
    choose(strip.findChild(SoilChoice), "soil at TH1")
    choose(strip.findChild(SoilChoice), "take this soil out")
    strip.turn_to("where it holds")
    assert len(document.job.soils) == 1 and "Take this soil out" in document.stack.undoText() and strip.findChild(WhereChoice).currentText() == "everywhere"


def test_what_a_cell_cannot_take_goes_with_its_time(page):
    """Readings before it come and go, and its row with them."""
    model = page.table.readings
    page.table.readings.mark(9000.0)
    row = model.rowCount() - 1
    assert not model.setData(model.index(row, 1), "deep") and model.index(row, 1).data() == "deep ?"
    assert model.setData(model.index(0, 1), "") and model.index(row - 1, 1).data() == "deep ?" and model.index(row - 2, 1).data() != "deep ?"
    assert model.setData(model.index(row - 1, 1), "1.5 ft") and "deep ?" not in [model.index(at, 1).data() for at in range(model.rowCount())]


def test_what_a_hole_brought_up_becomes_a_soil_by_a_press(page, window, qtbot):
    choose(page.holes, "TH2")
    page.refresh()
    def offer():
        return next((b for b in page.findChildren(TryButton) if "a soil of its own, round TH2" in " ".join(b.text().split())), None)

    qtbot.waitUntil(lambda: offer() is not None, timeout=20_000)
    offer().click()
    window.document.keep_trial()
    assert window.document.job.soils[1].hole == "h2" and window.document.outcome.run("r3").soil(15.0).id == "g2"


def test_a_block_is_pasted_cell_by_cell_where_a_table_takes_no_whole_one(page, window):
    table, before, count = page.table, window.document.job, page.table.readings.rowCount() - 1
    table.setFocus()
    table.go_to(count, 0)
    table.paste("200\t20 in\n240\t19.5 in\n300\t19 in\n")
    readings = window.document.job.holes[0].tests[0].readings
    assert len(readings) == count + 3 and window.document.stack.undoText() == "Pasted 6 cells"
    window.document.stack.undo()
    assert window.document.job == before
