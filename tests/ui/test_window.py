"""The window as it is used: by mouse, by keyboard, with bad entries, from an empty start to paper."""

from __future__ import annotations

import dataclasses
import io
from functools import partial

import pypdf
import pytest
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QContextMenuEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QLabel,
    QLineEdit,
    QMenu,
    QMessageBox,
    QPushButton,
    QWidget,
)

from ui.keys import settle, staged, turn_wheel, type_in
from weirant.design.patterns import PATTERNS
from weirant.design.sheets import crew_cut_sheet
from weirant.formats import job_file
from weirant.formats.recovery import find_recoverable, recovery_folder
from weirant.ground.inverts import laid_through
from weirant.ground.network import laid_run
from weirant.job.faults import faults
from weirant.job.paths import value_at, with_value
from weirant.outcome.commands import Instead, Offer
from weirant.outcome.finding import State
from weirant.paper.cut_sheet import cut_sheet_pdf
from weirant.paper.owner_sheet import owner_sheet_pdf
from weirant.ui.asking import tell
from weirant.ui.dialogs.actions import ActionSearch
from weirant.ui.dialogs.hydrometer import HydrometerDialog
from weirant.ui.dialogs.settings import SettingsDialog
from weirant.ui.dialogs.why import WhyDialog
from weirant.ui.document import AT_HAND
from weirant.ui.entry import QuantityEdit, WordChoice
from weirant.ui.findings.panel import HoldsRow
from weirant.ui.steps.card import Labelled
from weirant.ui.steps.catalogue import STEPS
from weirant.ui.theme import THEME
from weirant.ui.views.canvas import Canvas
from weirant.words.findings import offered

FT = 0.3048
LEFT = Qt.MouseButton.LeftButton
NONE = Qt.KeyboardModifier.NoModifier


def entry(window, path) -> QuantityEdit:
    found = window.sheet.card.entry(path)
    assert isinstance(found, QuantityEdit)
    return found


def drag(canvas, key, dx, dy, steps=4):
    at = canvas.handle_position(key).toPoint()
    QTest.mousePress(canvas, LEFT, NONE, at)
    for i in range(1, steps + 1):
        QTest.mouseMove(canvas, at + QPoint(dx * i // steps, dy * i // steps))
    QTest.mouseRelease(canvas, LEFT, NONE, at + QPoint(dx, dy))


def states(window):
    return {f.code: f.state for f in window.document.outcome.findings if f.subject in ("", "r1")}


def test_from_nothing_to_a_verdict_with_six_answers(empty_window, qtbot):
    start = empty_window.start
    qtbot.mouseClick(start.tiles[1], LEFT)
    for key, text in (("wet_length", "12 m"), ("distance", "6 ft"), ("outlet_length", "60"), ("fall", "4' 6\"")):
        QTest.keyClicks(start.entries[key], text)
    QTest.keyClick(start.entries["fall"], Qt.Key.Key_Return)
    job = empty_window.document.job
    place = job.features[0]
    assert (place.kind, place.dry_depth) == ("building", 0.9144) and value_at(job, "runs.r1.distance") == pytest.approx(6 * FT)
    assert value_at(job, "runs.r1.length") == pytest.approx(12 + 60 * FT) and job.assumed
    assert states(empty_window)["table"] != State.HOLDS  # nothing measured yet is not shown as sure
    assert empty_window.sheet.rail.buttons[0].isChecked()
    assert entry(empty_window, "features.t1.dry_depth").property("assumed") is True


def test_a_start_that_cannot_be_says_why(empty_window, qtbot):
    start = empty_window.start
    start.tiles[0].click()
    distance = start.entries["distance"]
    QTest.keyClicks(distance, "soon")
    start.entries["fall"].setFocus()
    QTest.keyClick(start.entries["fall"], Qt.Key.Key_Return)
    assert start.fault.text().startswith("How far") and empty_window.document.is_empty and distance.hasFocus()
    QTest.keyClicks(distance, "8 ft")  # in the place of what was wrong
    start.entries["fall"].setText("1 ft")
    QTest.keyClick(start.entries["fall"], Qt.Key.Key_Return)
    assert "pump" in start.fault.text()


def test_trying_and_keeping_a_fix(window, qtbot):
    card = window.sheet.findings.card_of("outlet-level")
    assert card is not None and "fails" in card.accessibleName()
    row = card._fix_rows[0]
    qtbot.waitUntil(lambda: "cures 1; spoils nothing" in row.effect.text(), timeout=3000)
    before = window.document.job
    qtbot.mouseClick(row.button, LEFT)
    assert window.document.job == before and states(window)["outlet-level"] != State.FAILS
    assert window.sheet.trial_bar.isVisible()
    qtbot.mouseClick(window.sheet.trial_bar.put_back, LEFT)
    assert states(window)["outlet-level"] == State.FAILS and not window.sheet.trial_bar.isVisible()
    window.document.try_fix(offered(window.document.outcome.findings[0].fixes[0], window.document.job))
    qtbot.mouseClick(window.sheet.trial_bar.keep, LEFT)
    assert states(window)["outlet-level"] != State.FAILS
    assert "Raise the outlet" in window.document.stack.undoText()
    window.document.stack.undo()
    assert window.document.job == before


@pytest.mark.parametrize(
    ("view", "key", "dx", "dy", "path", "grows"),
    [
        ("profile", "outlet", 0, -30, "runs.r1.invert", True),
        ("profile", "top-end", 0, -20, "runs.r1.slope", True),
        ("profile", "bottom", 0, 20, "runs.r1.invert", False),
        ("profile", "solid-end", 40, 0, "runs.r1.solid_length", True),
        ("section", "width", 30, 0, "sections.s1.width", True),
        ("section", "stone", 0, -25, "sections.s1.stone_cover", True),
        ("section", "bedding", 0, -12, "sections.s1.bedding", True),
        ("section", "bottom", 0, 20, "runs.r1.invert", False),
        ("plan", "distance", 0, 25, "runs.r1.distance", True),
        ("grains", "sieve-4", 0, -60, "soils.g1.layers.1.gradation.4.percent", True),
        ("grains", "sieve-4", 0, 500, "soils.g1.layers.1.gradation.4.percent", False),  # no further than what the finer sieve lets through
    ],
)
def test_dragging_is_one_named_step(window, view, key, dx, dy, path, grows):
    window.sheet.rail.choose("trench")
    QApplication.processEvents()
    canvas = staged(window, view)
    before = value_at(window.document.job, path)
    drag(canvas, key, dx, dy)
    after = value_at(window.document.job, path)
    assert (after > before) is grows and after != before
    assert window.document.stack.count() == 1
    window.document.stack.undo()
    assert value_at(window.document.job, path) == before


def test_the_level_of_a_grade_break_is_typed_where_it_stands(window):
    window.document.change(laid_through(window.document.job, "r1", [0, 20, 40, 52.4256], [28.9, 29.1, 29.5, 29.6]), "breaks")
    canvas = staged(window, "profile")
    canvas.type_into("runs.r1.break_level.0", canvas.typed_rects()["runs.r1.break_level.0"])
    type_in(canvas.findChild(QuantityEdit), "29.3 m")
    levels = laid_run(window.document.job, "r1").grade[1]
    assert levels == pytest.approx([28.9, 29.3, 29.5, 29.6])
    for wrong in (28.89, 29.51):  # it would run backwards on one side
        assert not window.document.set_value("runs.r1.break_level.0", wrong)
    assert window.document.set_value("runs.r1.break_level.0", 28.9) and window.document.set_value("runs.r1.break_level.0", 29.5)
    with pytest.raises(KeyError):
        value_at(window.document.job, "runs.r1.break_level.2")


def test_escape_takes_a_drag_back(window):
    canvas, before = staged(window, "profile"), window.document.job
    at = canvas.handle_position("outlet").toPoint()
    QTest.mousePress(canvas, LEFT, NONE, at)
    QTest.mouseMove(canvas, at + QPoint(0, -30))
    assert window.document.job != before
    QTest.keyClick(canvas, Qt.Key.Key_Escape)
    QTest.mouseRelease(canvas, LEFT, NONE, at)
    assert window.document.job == before


def test_keys_alone_move_a_handle_and_type_its_value(window):
    canvas = staged(window, "section")
    canvas.setFocus()
    QTest.keyClick(canvas, Qt.Key.Key_Tab)
    QTest.keyClick(canvas, Qt.Key.Key_Right)
    QTest.keyClick(canvas, Qt.Key.Key_Right)
    assert window.document.job.sections[0].width == pytest.approx(13 * 0.0254, abs=1e-4)
    assert window.document.stack.count() == 1 and canvas.accessibleDescription().startswith("Trench width: 13 in. ")
    QTest.keyClick(canvas, Qt.Key.Key_Return)
    small = canvas.findChild(QuantityEdit)
    QTest.keyClicks(small, "1 1/2 ft")
    QTest.keyClick(small, Qt.Key.Key_Return)
    assert window.document.job.sections[0].width == pytest.approx(1.5 * FT)
    assert window.document.stack.undoText() == "trench width: 13 in to 18 in"


@pytest.mark.parametrize(
    ("view", "path", "text", "value"),
    [
        ("section", "sections.s1.bedding", "100 mm", 0.1),
        ("profile", "runs.r1.invert", "95.2", 95.2 * FT),
        ("profile", "runs.r1.slope", "1.5 %", 0.015),
        ("profile", "runs.r1.solid_length", "80", 80 * FT),
        ("profile", "runs.r1.length", "180 ft", 180 * FT),
        ("plan", "runs.r1.distance", "12 ft", 12 * FT),
        ("section", "soils.g1.water_table_depth", "8 in", 8 * FT / 12),
        ("across", "soils.g1.hard_layer_depth", "31", 31 * FT / 12),
        ("across", "features.t10.dry_depth", "20 in", 20 * FT / 12),
    ],
)
def test_typing_into_a_dimension_on_the_drawing(window, view, path, text, value):
    canvas = staged(window, view)
    QTest.mouseClick(canvas, LEFT, NONE, canvas.typed_rects()[path].center().toPoint())
    small = canvas.findChild(QuantityEdit)
    QTest.keyClicks(small, text)
    QTest.keyClick(small, Qt.Key.Key_Return)
    assert value_at(window.document.job, path) == pytest.approx(value)


def test_one_station_in_every_view(window):
    profile, document = staged(window, "profile"), window.document
    QTest.mouseClick(
        profile, LEFT, NONE, profile.frame.to_paper((100 * FT, profile.drawing.bounds[3] * 0.9995)).toPoint()
    )
    assert document.station == pytest.approx(100 * FT, abs=0.3)
    plan = staged(window, "plan")
    QTest.mouseClick(plan, LEFT, NONE, plan.frame.to_paper(document.in_hand.run.alignment.point(60 * FT)).toPoint())
    assert document.station == pytest.approx(60 * FT, abs=0.3)
    assert "solid" not in str(
        [s for s in staged(window, "section").drawing.shapes if getattr(s, "material", "") == "stone"]
    )
    window.move_station(1)
    assert document.station == pytest.approx(61 * FT, abs=0.3)


@pytest.mark.parametrize("step", STEPS)
def test_a_turn_of_the_wheel_changes_no_choice(window, qtbot, step):
    """Who scrolls a card, or a page, passes over lists on the way: the pipe and the section of the run were other ones then."""
    window.sheet.show_step(step)
    window.sheet.catch_up()
    qtbot.wait(20)
    before, boxes = window.document.job, [b for b in window.findChildren(QComboBox) if b.isVisible() and b.count() > 1]
    chosen = [b.currentIndex() for b in boxes]
    for box in boxes:
        for by in (-120, 120):
            box.setFocus()
            turn_wheel(box, (5, 5), by)
            assert window.document.job is before and [b.currentIndex() for b in boxes] == chosen, box.accessibleName()


def test_wheel_zooms_and_nought_fits_again(window):
    plan = staged(window, "plan")
    before = plan.frame.scale_x
    world = plan.frame.to_world(QPointF(100, 100))
    turn_wheel(plan, (100, 100))
    assert plan.frame.scale_x > before * 1.3
    assert plan.frame.to_world(QPointF(100, 100)) == pytest.approx(world, abs=1e-6)
    for _ in range(30):
        turn_wheel(plan, (100, 100))
    assert plan.frame.scale_x == pytest.approx(30 * before)  # no closer than that
    QTest.keyClick(plan, Qt.Key.Key_0)
    assert plan.frame.scale_x == pytest.approx(before)


@pytest.mark.parametrize(
    ("path", "text", "si"),
    [
        ("runs.r1.slope", "1.5", 0.015),
        ("runs.r1.slope", "1 in per 10 ft", 1 / 120),
        ("runs.r1.invert", "95.6", 95.6 * FT),
        ("runs.r1.invert", "29.1 m", 29.1),
        ("limits.least_cover", "8", 8 * 0.0254),
        ("runs.r1.length", "180' 6\"", 180.5 * FT),
    ],
)
def test_typed_values_take_any_unit(window, path, text, si):
    type_in(entry(window, path), text)
    assert value_at(window.document.job, path) == pytest.approx(si)


@pytest.mark.parametrize(
    ("path", "text", "says"),
    [
        ("runs.r1.slope", "steep", "slope must start with a number"),
        ("runs.r1.slope", "60 %", "at most 50.00 %"),
        ("runs.r1.slope", "4 ft", "takes a value of slope"),
        ("runs.r1.solid_length", "400 ft", "not be more than the whole length"),
        ("runs.r1.invert", "", "is needed"),
    ],
)
def test_a_wrong_entry_stays_in_sight_until_mended(window, path, text, says):
    edit, before = entry(window, path), window.document.job
    edit.setFocus()
    edit.selectAll()
    QTest.keyClick(edit, Qt.Key.Key_Delete)
    QTest.keyClicks(edit, text)
    QTest.keyClick(edit, Qt.Key.Key_Return)
    assert window.document.job == before
    assert edit.text() == text and edit.property("bad") is True
    assert says in edit.fault + window.sheet.head.message.text()
    QTest.keyClick(edit, Qt.Key.Key_Escape)
    assert edit.property("bad") is False and edit.text() != text


def test_arrow_keys_step_an_entry(window):
    edit = entry(window, "runs.r1.slope")
    edit.setFocus()
    for _ in range(3):
        QTest.keyClick(edit, Qt.Key.Key_Up)
    assert window.document.job.runs[0].slope == pytest.approx(0.015)
    assert window.document.stack.count() == 1


def test_an_optional_value_can_be_taken_out(window):
    edit = entry(window, "nodes.n1.outlet.water_level")
    edit.setFocus()
    edit.selectAll()
    QTest.keyClick(edit, Qt.Key.Key_Delete)
    QTest.keyClick(edit, Qt.Key.Key_Return)
    assert window.document.job.nodes[0].outlet.water_level is None and states(window)["outlet-level"] == State.UNKNOWN


def test_readings_are_typed_one_below_the_other(window, qtbot):
    window.sheet.rail.choose("levels")
    table = window.sheet.views["readings"].table
    table.setCurrentIndex(table.shots.index(1, 3))
    for text in ("4.80", "5.00"):
        editor = QApplication.focusWidget()  # opened by arriving at the cell, its old reading selected
        assert isinstance(editor, QLineEdit) and editor.hasSelectedText()
        QTest.keyClicks(editor, text)
        QTest.keyClick(editor, Qt.Key.Key_Return)
    shots = window.document.job.survey.shots
    assert [s.foresight for s in shots[1:3]] == pytest.approx([4.80 * FT, 5.00 * FT])
    assert table.currentIndex().row() == 3
    assert window.document.stack.undoText() == "Rod reading of G2: 5.00 ft"


@pytest.mark.parametrize(("text", "says"), [("14.2", "longer than your 13.00 ft staff"), ("5.1o", "is not a reading")])
def test_a_wrong_reading_is_kept_and_marked(window, text, says):
    model = window.sheet.views["readings"].table.shots
    assert model.setData(model.index(2, 3), text)
    assert model.data(model.index(2, 3)) in (text, "14.20")
    assert says in model.data(model.index(2, 6)) and says in model.data(model.index(2, 0), Qt.ItemDataRole.ToolTipRole)
    assert states(window)["readings"] == State.FAILS
    window.document.stack.undo()
    assert "readings" not in states(window)


def test_shots_are_added_put_in_and_taken_out(window):
    table = window.sheet.views["readings"].table
    count = table.shots.rowCount() - 1
    table.shots.setData(table.shots.index(count, 3), "5.5")
    assert len(window.document.job.survey.shots) == count + 1
    table.setCurrentIndex(table.shots.index(1, 3))
    QTest.keyClick(table, Qt.Key.Key_Insert)
    assert len(window.document.job.survey.shots) == count + 2
    QTest.keyClick(table, Qt.Key.Key_Delete, Qt.KeyboardModifier.ControlModifier)
    assert len(window.document.job.survey.shots) == count + 1
    table.shots.setData(table.shots.index(1, 0), "peg")
    assert window.document.job.survey.shots[1].point == "peg"


def test_soil_entries(window):
    window.sheet.rail.choose("soil")
    strip = window.sheet.card
    from weirant.ui.steps.soil_fields import BandEdit, LayerChoice, LayerCount, SieveEdit

    strip.turn_to("its layers")
    band = strip.findChildren(BandEdit)[1]
    type_in(band, "0.5 / 1 / 2 m/day")
    assert window.document.job.soils[0].layers[1].conductivity.best == pytest.approx(1 / 86400)
    type_in(band, "3 / 2 / 1 ft/day")
    assert "must rise" in band.fault
    QTest.keyClick(band, Qt.Key.Key_Escape)
    type_in(band, "3 ft/day")
    assert window.document.job.soils[0].layers[1].conductivity.high == pytest.approx(9 * FT / 86400)
    strip.turn_to("laboratory")
    sieve = strip.findChild(SieveEdit)
    type_in(sieve, "2 mm:100, 0.075 mm:40")
    assert len(window.document.job.soils[0].layers[-1].gradation) == 2
    upper = strip.findChild(LayerChoice)
    upper.activated.emit(0)
    assert window.document.layer == 0 and "64" in window.sheet.card.findChild(SieveEdit).text()
    type_in(strip.findChild(SieveEdit), "2 mm:100, 0.02 mm:15")
    assert [len(layer.gradation) for layer in window.document.job.soils[0].layers] == [2, 2]
    window.document.take_layer(1)
    sieve = window.sheet.card.findChild(SieveEdit)
    type_in(sieve, "2 mm:40, 0.075 mm:100")
    assert "finer sieve" in sieve.fault
    strip.turn_to("the soil")
    layers = strip.findChildren(LayerCount)[-1]
    layers.setCurrentIndex(0)
    layers.activated.emit(0)
    assert len(window.document.job.soils[0].layers) == 1
    strip.findChild(LayerCount).activated.emit(3)
    four = window.document.job
    assert [layer.texture for layer in four.soils[0].layers] == ["loam", "silt-loam", "silt-loam", "silt-loam"] and four.soils[0].layers[-1].thickness is None
    assert "soils.g1.layers.2.thickness" in four.assumed and not faults(four)
    strip.findChild(LayerCount).activated.emit(1)
    assert window.document.job.soils[0].layers == (four.soils[0].layers[0], four.soils[0].layers[-1]) and not faults(window.document.job)


def test_materials_are_chosen_from_the_library(window):
    window.sheet.rail.choose("materials")
    choice = next(c for c in window.sheet.card.findChildren(WordChoice) if c.path == "sections.s1.geotextile")
    index = choice.findText("Woven slit film (weed cloth)")
    choice.setCurrentIndex(index)
    choice.activated.emit(index)
    assert window.document.job.sections[0].geotextile == "slit-film" and states(window)["clogging"] == State.FAILS


def test_units_switch_everywhere_and_back(window, qtbot):
    window.switch_units()
    assert entry(window, "runs.r1.length").text() == "52.43 m"
    qtbot.waitUntil(lambda: "mm" in window.sheet.findings.card_of("outlet-level").reason.text(), timeout=2000)
    window.sheet.findings.holds_button.click()
    qtbot.waitUntil(lambda: any("mm" in row.accessibleName() for row in window.sheet.findings._rows if not row.isHidden()))  # those that hold are told in them too
    type_in(entry(window, "runs.r1.length"), "53")
    assert value_at(window.document.job, "runs.r1.length") == pytest.approx(53.0)
    window.document.stack.undo()
    window.document.stack.undo()
    assert entry(window, "runs.r1.length").text() == "172.0 ft"


def test_a_hand_meets_the_card_of_what_is_in_hand_by_now(window, qtbot):
    window.sheet.rail.choose("line")
    links = [button for button in window.sheet.card.findChildren(QPushButton) if button.accessibleName().startswith("Card: ")]
    assert len(links) > 2
    before, card = window.sheet.card.pages, window.sheet.card
    window.sheet.rail.choose("map")  # it has one page, and is being laid while the links are still of the step before
    while card.pages == before:
        QApplication.processEvents()
    links[-1].click()  # as a screen reader does, which is no hand that all waits for
    QTest.mouseClick(links[-2], Qt.MouseButton.LeftButton)
    assert window.sheet.card.pages == window.sheet.step.pages and entry(window, "runs.r1.solid_length").isVisible()
    document = window.document
    document.take_run("r2")  # its entries come one by one, and a key is pressed before they are there
    QTest.keyClick(window, Qt.Key.Key_Shift)
    shown = [edit.path for edit in window.sheet.findChildren(QuantityEdit) if edit.isVisible()]
    assert shown == ["runs.r2.solid_length"]


@pytest.mark.parametrize("step", STEPS, ids=lambda s: s.key)
def test_every_entry_of_every_step_has_a_name_and_takes_the_keyboard(window, step):
    window.sheet.rail.choose(step.key)
    widgets = []
    for page in range(len(step.pages)):
        window.sheet.card.turn_to(page)
        shown = [w for kind in (QLineEdit, QComboBox) for w in window.sheet.card.findChildren(kind) if w.isVisible()]
        assert 0 < len(shown) <= 8
        widgets += shown
    for widget in widgets:
        assert widget.accessibleName() and widget.focusPolicy() & Qt.FocusPolicy.TabFocus
    for button in window.sheet.findChildren(QPushButton):
        assert button.text() or button.accessibleName()


def test_steps_say_what_they_lack(window):
    words = {b.step.key: (b.state, b.words) for b in window.sheet.rail.buttons}
    assert (
        words["line"] == ("fails", "1 fails")
        and words["order"] == ("unknown", "1 to ask")
        and words["soil"][0] == "holds"
    )
    assert "Step 5, Lay the line: 1 fails" in window.sheet.rail.buttons[4].accessibleName()


def test_what_is_asked_next_can_be_pressed_before_it_is_said(empty_window, qtbot):
    empty_window.open_demo()
    button = empty_window.sheet.findings.next_button
    assert bool(button.isVisibleTo(empty_window.sheet)) == bool(button.text())
    button.click()
    assert empty_window.sheet.step.key == "order"
    settle(empty_window, qtbot)
    assert button.isVisible() and button.text() == "Next: ask before you dig"


def test_why_is_asked_of_what_is_found_now(window, qtbot):
    """Right after another job is looked at, what stands in the column is still of the one before."""
    panel, document, told = window.sheet.findings, window.document, []
    document.refused.connect(told.append)
    panel.holds_button.click()
    settle(window, qtbot)
    gone = next(row for row in panel.findChildren(HoldsRow) if row.isVisible() and row.finding.code == "crossings")
    stays = next(row for row in panel.findChildren(HoldsRow) if row.isVisible() and row.finding.code == "slope")
    document.try_fix(Offer("as another", Instead(PATTERNS["nearly-level"].job())))
    gone.click()
    assert told == ["This is found no more"] and window.findChild(WhyDialog) is None
    document.put_back()
    stays.click()
    assert window.findChild(WhyDialog) is not None
    window.findChild(WhyDialog).reject()


def test_why_shows_formula_source_and_leaning(window, qtbot):
    card = window.sheet.findings.card_of("outlet-level")
    card.why_button.click()
    dialog = window.findChild(WhyDialog)
    assert dialog is not None
    dialog.reject()
    finding = next(f for f in window.document.outcome.findings if f.code == "table")
    window.why(finding)
    for words in (
        "drain depth − N x / (K i)",
        "National Engineering Handbook",
        "Leans most on: drain depth",
        "downslope-table",
        "Holds for",
        "Outside its range here",  # of the formulae beside, which come one after the other
    ):
        qtbot.waitUntil(lambda words=words: any(words in label.text() for d in window.findChildren(WhyDialog) for label in d.findChildren(QLabel)))
    for open_dialog in window.findChildren(QDialog):
        open_dialog.reject()
    window.why(window.document.outcome.takeoff.dug)


def test_all_actions_can_be_searched_and_run(window, qtbot):
    window.search()
    dialog = window.findChild(ActionSearch)
    QTest.keyClicks(dialog._query, "switch un")
    QTest.keyClick(dialog._query, Qt.Key.Key_Return)
    qtbot.waitUntil(lambda: window.document.job.units == "metric")
    window.search()
    dialog = window.findChildren(ActionSearch)[-1]
    QTest.keyClicks(dialog._query, "hooghoudt-spacing")
    assert "method hooghoudt-spacing" in dialog._list.currentItem().text()
    dialog.reject()


def test_actions_have_keys_of_their_own(window):
    keys = [a.shortcut().toString() for a in window._actions if a.shortcut().toString()]
    assert len(keys) == len(set(keys)) and len(keys) >= 20


def test_the_same_again_in_another_unit_is_no_step(window):
    window.document.set_value("sections.s1.width", 0.6096)
    window.sheet.rail.choose("trench")
    entry, steps = window.sheet.card.entry("sections.s1.width"), window.document.stack.count()
    for text in ("2 ft", "24", "609.6 mm", "2/3 yd"):
        assert entry.take(text) == "" and window.document.stack.count() == steps
    assert entry.take("25") == "" and window.document.stack.count() == steps + 1


def test_steps_of_long_ago_hold_next_to_nothing_and_are_undone_all_the_same(window):
    document, begun, count = window.document, window.document.outcome, 3 * AT_HAND
    for step in range(count):
        document.set_value("sections.s1.width", 0.3 + 0.001 * (step + 1))
    ended = document.outcome
    assert sum(document.stack.command(k).before.outcome is not None for k in range(count)) == AT_HAND
    for _ in range(count):
        document.stack.undo()
    assert document.job == begun.job and document.outcome.findings == begun.findings and not document.stack.canUndo()
    assert sum(document.stack.command(k).after.outcome is not None for k in range(count)) == AT_HAND
    for _ in range(count):
        document.stack.redo()
    assert document.job == ended.job and document.outcome.takeoff == ended.takeoff


def in_another_look(window):
    """What is in sight, takes letters or colours of the look, and has none of it."""
    def wears(widget):
        return widget is not None and (widget.styleSheet() == THEME.sheet or wears(widget.parentWidget()))

    return [w for w in QApplication.allWidgets() if w.isVisible() and isinstance(w, (QLabel, QAbstractButton, QLineEdit, QComboBox, QAbstractItemView, Canvas)) and not wears(w)]


def test_another_look_reaches_what_is_in_sight_part_by_part_and_the_rest_when_it_is_shown(window, qtbot):
    for step in STEPS:
        window.sheet.rail.choose(step.key)
        for view in step.views:
            window.sheet.show_view(view)
    for change in (window.switch_theme, partial(window.letters, 1), window.switch_theme):
        change()
        qtbot.waitUntil(window.updatesEnabled)
        told = tell(window, "A title", "A word", is_fault=False)
        for step in STEPS:
            window.sheet.rail.choose(step.key)
            for view in step.views:
                window.sheet.show_view(view)
                assert in_another_look(window) == [], (step.key, view)
        told.close()
        window.settings()
        assert in_another_look(window) == []
        window.findChild(SettingsDialog).reject()
    window.document.stack.setClean()
    window.new_job()
    assert in_another_look(window) == [] and window.start.isVisible()


@pytest.mark.parametrize("scale", [1.25, 1.5])
def test_larger_letters_clip_nothing(window, qtbot, scale):
    window.set_scale(scale)
    qtbot.waitUntil(window.updatesEnabled)
    QApplication.processEvents()
    for edit in window.sheet.card.findChildren(QuantityEdit):
        assert edit.fontMetrics().horizontalAdvance(edit.text()) < edit.width() - 8, edit.path
    for label in window.sheet.findings.findChildren(QLabel):
        if label.isVisible() and not label.wordWrap():
            assert label.sizeHint().width() <= label.width() + 1, label.text()
    assert window.sheet.rail.width() <= 0.2 * window.width()


def test_dim_theme_and_back(window):
    from weirant.ui.theme import THEME

    window.switch_theme()
    assert THEME.palette.name == "dim"
    window.grab()
    window.switch_theme()
    assert THEME.palette.name == "daylight"


def test_saving_opening_and_the_star(window, tmp_path, monkeypatch):
    path = tmp_path / "club"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    window.document.set_value("sections.s1.width", 0.4)
    assert window.windowTitle().startswith("*")
    assert window.files.save()
    saved = path.with_name("club.weirant")
    assert job_file.load(saved).sections[0].width == 0.4 and not window.windowTitle().startswith("*")
    window.document.set_value("sections.s1.width", 0.5)
    monkeypatch.setattr("weirant.ui.files.ask", lambda *a: 2)
    assert not window.close()
    monkeypatch.setattr("weirant.ui.files.ask", lambda *a: 1)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(saved), ""))
    window.files.ask_open()
    assert window.document.job.sections[0].width == 0.4 and window.document.stack.count() == 0


def test_a_damaged_file_is_told_and_the_job_stays(window, tmp_path):
    (tmp_path / "bad.weirant").write_text('{"format": "weirant-job", "version": 99, "job": {}}')
    before = window.document.job
    window.files.open_file(tmp_path / "bad.weirant")
    box = window.findChild(QMessageBox)
    assert "version 99" in box.text() and window.document.job == before
    box.accept()


def test_work_is_kept_aside_and_brought_back(window, qtbot):
    window.document.set_value("sections.s1.width", 0.45)
    window.files.keeping.keep_copy()
    qtbot.waitUntil(lambda: len(list(recovery_folder().glob("*.weirant"))) == 1, timeout=3000)
    assert find_recoverable(recovery_folder()) == []  # its owner lives
    window.files.keeping.keeper.release()
    (left,) = find_recoverable(recovery_folder())
    window.document.open(dataclasses.replace(window.document.job, name="another"), None)
    window.files.keeping.offer_recovery()
    box = next(b for b in window.findChildren(QMessageBox) if "Bring it back?" in b.text())
    next(b for b in box.buttons() if b.text() == "Bring it back").click()
    assert window.document.job.sections[0].width == 0.45 and not window.document.stack.isClean()
    assert not left.copy.exists()


def test_papers_are_written_beside_the_interface(window, tmp_path, monkeypatch, qtbot):
    window.sheet.rail.choose("order")
    for name, button in (("sheet.pdf", "Owner's sheet (PDF) …"), ("cuts.csv", "Cut sheet …")):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, n=name: (str(tmp_path / n), ""))
        next(b for b in window.sheet.views["order"].findChildren(QPushButton) if b.text() == button).click()
        qtbot.waitUntil(lambda n=name: (tmp_path / n).exists(), timeout=8000)
        qtbot.waitUntil(lambda n=name: f"Written: {n}" in window.statusBar().currentMessage(), timeout=8000)
    assert (tmp_path / "sheet.pdf").read_bytes().startswith(b"%PDF")
    page = window.sheet.views["order"]
    for wrap in ("none", "full wrap"):  # a row that is not there any more does not stay, nor stay away
        window.document.set_value("sections.s1.wrap", wrap)
        settle(window, qtbot)
        told = [label.text() for label in page.findChildren(QLabel) if not label.isHidden() and not page.kit.isAncestorOf(label)]
        labels = [figure.label for figure in window.document.outcome.takeoff.rows()]
        assert [text for text in told if text in labels] == labels
        qtbot.waitUntil(lambda w=wrap: any("needle-punched" in b.text() and b.isVisibleTo(page) for b in page.rows.findChildren(QPushButton)) == (w != "none"), timeout=5000)


def test_readings_by_csv(window, tmp_path, monkeypatch, qtbot):
    path = tmp_path / "book.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    window.papers.ask_write_readings()
    qtbot.waitUntil(path.exists, timeout=3000)
    path.write_text(path.read_text().replace("4.78", "4.81", 1))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(path), ""))
    window.papers.ask_read_readings()
    assert window.document.job.survey.shots[1].foresight == pytest.approx(4.81 * FT)
    assert window.document.stack.undoText() == "Readings from book.csv"
    path.write_text("not,a,book\n")
    window.papers.read_readings(path)
    assert "no column" in window.findChild(QMessageBox).text()


def test_empty_and_unknown_states_can_all_be_painted(window):
    job = window.document.job
    bare = dataclasses.replace(job, points=(), survey=dataclasses.replace(job.survey, shots=()))
    window.open_job(bare, None, "levels")
    for step in STEPS:
        window.sheet.rail.choose(step.key)
        assert not window.grab().isNull()
    assert states(window)["ground"] == State.UNKNOWN


def test_nothing_sticks_out_of_the_window(window):
    for step in STEPS:
        window.sheet.rail.choose(step.key)
        QApplication.processEvents()
        for part in (window.sheet.head, window.sheet.rail, window.sheet.findings, window.sheet.stage, window.sheet.card, window.sheet.companions):
            assert window.rect().contains(
                part.geometry().translated(part.parentWidget().mapTo(window, QPoint(0, 0)))
            ), step.key
        assert all(card.width() > 0 for card in window.sheet.findChildren(QWidget, "card") if card.isVisible())


def test_every_step_has_a_key_that_works(window, qtbot):
    for button in window.sheet.rail.buttons:
        key = button.shortcut()
        assert key.toString() and key.toString() in button.toolTip()
        qtbot.keyClick(window, Qt.Key(key[0].key()), key[0].keyboardModifiers())
        qtbot.waitUntil(lambda b=button: window.sheet.step is b.step, timeout=2000)


def test_one_digit_of_a_large_number_is_changed(window):
    window.sheet.rail.choose("water")
    edit = entry(window, "runs.r1.contributing_area")
    assert edit.text() == "12\u00a0000 ft²"
    edit.setFocus()
    edit.setCursorPosition(4)
    QTest.keyClick(edit, Qt.Key.Key_Backspace)
    QTest.keyClicks(edit, "5")
    QTest.keyClick(edit, Qt.Key.Key_Return)
    assert edit.text() == "12\u00a0500 ft²" and window.document.job.runs[0].contributing_area == pytest.approx(12500 * FT**2)
    edit.selectAll()
    QTest.keyClicks(edit, "11,250")
    QTest.keyClick(edit, Qt.Key.Key_Return)
    assert window.document.job.runs[0].contributing_area == pytest.approx(11250 * FT**2)  # in feet a comma marks thousands
    window.switch_units()
    edit.selectAll()
    QTest.keyClicks(edit, "1,250 m2")
    QTest.keyClick(edit, Qt.Key.Key_Return)
    assert "thousands or decimals" in edit.fault and window.document.job.runs[0].contributing_area == pytest.approx(11250 * FT**2)  # in metres it could be either


def test_papers_written_from_the_window_can_be_searched(window):
    """The window's own lettering has even figures, which a page of PDF gives no letters for."""
    outcome = window.document.outcome
    for data, wanted in ((owner_sheet_pdf(outcome), ("2026-11-24", "24.9 yd³")), (cut_sheet_pdf(outcome, "r1", crew_cut_sheet(outcome)), ("95.05", "page 1 of 1"))):
        text = " ".join(pypdf.PdfReader(io.BytesIO(data)).pages[0].extract_text().split())
        assert all(words in text for words in wanted), text


def test_a_pattern_is_begun_from_the_start_page(empty_window, qtbot):
    """By the mouse, or by Enter: its plan is drawn, it opens on the map with nothing failing, its levels marked as made up, and they go in one action."""
    empty = empty_window
    qtbot.waitUntil(lambda: all(tile.is_sketched for tile in empty.start.pattern_tiles), timeout=20_000)
    assert len(empty.start.pattern_tiles) == 12 and not empty.grab().isNull()
    tile = next(t for t in empty.start.pattern_tiles if t.pattern.key == "ring")
    QTest.mouseClick(tile, LEFT)
    assert empty.document.job.name == "Ring round a building"
    empty.document.stack.setClean()
    empty.new_job()
    tile.setFocus()
    assert not empty.sheet.isVisible()
    QTest.keyClick(tile, Qt.Key.Key_Return)
    assert empty.sheet.isVisible()
    document = empty.document
    assert document.job.name == "Ring round a building" and empty.sheet.step.key == "map"
    assert not any(f.state == State.FAILS for f in document.outcome.findings) and not document.job.is_surveyed
    empty.drop_made_up()
    assert document.job.points == () and document.job.is_surveyed and all(f.grade is None for f in document.outcome.site.runs)
    document.stack.undo()
    document.stack.setClean()


def test_the_card_says_what_is_assumed_how_it_is_measured_and_where_limits_come_from(window):
    document = window.document
    window.sheet.rail.choose("line")
    card = window.sheet.card
    assert "common practice" in card.entry("limits.least_cover").accessibleDescription()
    document.change(dataclasses.replace(document.job, assumed=("water.drainage_rate",)), "assumed")
    window.sheet.rail.choose("water")
    entry = window.sheet.card.entry("water.drainage_rate")
    label = next(cell for cell in card.findChildren(Labelled) if cell.entry is entry).findChild(QLabel)
    assert label.text().endswith(", assumed") and "bucket and watch" in entry.accessibleDescription()
    type_in(entry, "0.1 in/day")
    assert not label.text().endswith(", assumed") and not document.job.assumed and not entry.accessibleDescription()
    card.fold(True)
    assert card.height() < 60 and not entry.isVisible()
    card.fold(False)
    assert card.entry("water.drainage_rate").isVisible()


def test_a_companion_is_swapped_in_by_mouse_and_by_keys_and_draws_in_brief(window, qtbot):
    window.sheet.rail.choose("line")
    plan = window.sheet.views.canvas("plan")
    assert window.sheet.companions.keys == ("plan", "section") and plan.is_small and not plan.drawing.handles and plan.isVisible()
    QTest.mouseClick(plan, LEFT, NONE, plan.rect().center())
    assert window.sheet.view == "plan" and not plan.is_small and plan.drawing.handles
    profile = window.sheet.views.canvas("profile")
    assert profile.is_small and window.sheet.companions is profile.parent()
    QTest.keyClick(profile, Qt.Key.Key_Return)
    assert window.sheet.view == "profile" and plan.is_small
    window.sheet.rail.choose("levels")
    window.sheet.show_view("profile")
    plate = next(b for b in window.sheet.companions.findChildren(QPushButton) if b.accessibleName() == "Back to: Level book" and b.isVisible())
    plate.click()
    assert window.sheet.view == "readings" and QApplication.focusWidget() is not None
    stage = window.sheet.stage
    assert stage.width() * stage.height() >= 0.45 * 1280 * 800
    window.narrow_findings()
    QApplication.processEvents()
    assert stage.width() * stage.height() >= 0.55 * 1280 * 800 and window.sheet.findings.counts[State.FAILS].count == 1


def test_a_finding_is_opened_and_its_place_shown_on_the_stage(window, qtbot):
    window.sheet.rail.choose("order")
    panel, document = window.sheet.findings, window.document
    worst, other = panel.card_of("outlet-level"), panel.card_of("paving")
    assert worst.is_open and not other.is_open and worst.height() > 3 * other.height()
    other.setFocus()
    QTest.keyClick(other, Qt.Key.Key_Return)
    assert other.is_open and not worst.is_open and document.station == pytest.approx(other.finding.station)
    assert window.sheet.view == "plan"  # the list that was on the stage does not show where that is
    opened = [card for card in panel._cards if not card.isHidden() and card.is_open]
    assert len(opened) == 1 and panel.next_button.text() == "Next: ask before you dig"
    window.sheet.rail.choose("trench")
    panel.next_button.click()
    assert window.sheet.step.key == "order"


def test_the_menu_of_a_drawing_has_what_fits_there(window):
    plan = staged(window, "plan")

    def menu_at(at):
        plan.contextMenuEvent(QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, plan.mapToGlobal(at)))
        menu = next(m for m in plan.findChildren(QMenu) if m.isVisible())
        found = {action.text(): action for action in menu.actions()}
        menu.hide()
        return found

    roof = window.document.outcome.run("r2").run.alignment.point(3.0)
    on_run = menu_at(plan.frame.to_paper(roof).toPoint())
    assert {"Take in hand", "Take out", "Draw the run in hand on", "Copy the picture"} <= set(on_run)
    on_run["Take in hand"].trigger()
    assert window.document.run == "r2"
    on_run["Copy the picture"].trigger()
    assert not QApplication.clipboard().pixmap().isNull()
    assert "Take out" not in menu_at(QPoint(5, 60))
    section = staged(window, "section")
    rect = section.typed_rects()["sections.s1.width"]
    section.contextMenuEvent(QContextMenuEvent(QContextMenuEvent.Reason.Mouse, rect.center().toPoint(), section.mapToGlobal(rect.center().toPoint())))
    menu = next(m for m in section.findChildren(QMenu) if m.isVisible())
    next(a for a in menu.actions() if a.text() == "Type it …").trigger()
    assert isinstance(section.findChild(QuantityEdit), QuantityEdit)
    menu.hide()


def test_only_the_left_button_takes_hold_and_a_companion_takes_no_hand_at_all(window, qtbot):
    window.sheet.rail.choose("line")
    profile, plan, document = staged(window, "profile"), window.sheet.views.canvas("plan"), window.document
    before = document.job
    at = profile.handle_position("outlet").toPoint()
    QTest.mousePress(profile, Qt.MouseButton.RightButton, NONE, at)  # its release goes to the menu
    QTest.mouseMove(profile, at + QPoint(0, -40))
    assert not document.dragging and document.job == before and profile.findChild(QuantityEdit) is None
    on_run = plan.frame.to_paper(document.in_hand.run.alignment.point(20.0)).toPoint()
    right = Qt.MouseButton.RightButton
    for act in (lambda: QTest.mouseDClick(plan, LEFT, NONE, on_run), lambda: QTest.keyClick(plan, Qt.Key.Key_Delete), lambda: QTest.mousePress(plan, right, NONE, on_run)):
        act()
        assert document.job == before and document.station == pytest.approx(126 * FT, abs=0.5) and window.sheet.view == "profile"
    QTest.mousePress(profile, LEFT, NONE, at)
    window.sheet.next_view()  # by its key, in the midst of a drag
    assert not document.dragging
    QTest.mouseRelease(profile, LEFT, NONE, at)


def test_a_name_is_typed_without_the_card_being_laid_anew(window):
    window.sheet.rail.choose("map")
    name = next(cell.entry for cell in window.sheet.card.findChildren(Labelled) if cell.isVisible() and "name" in cell.entry.accessibleName().lower())
    type_in(name, "upper drain")
    assert window.document.in_hand.run.name == "upper drain" and name.isVisible() and name.hasFocus()
    assert window.sheet.card._title.text() == "Upper drain"


def test_a_sieve_file_and_a_jar_are_taken_for_the_layer_in_hand(window, qtbot, tmp_path):
    window.sheet.rail.choose("soil")
    window.sheet.card.turn_to("laboratory")
    window.document.take_layer(0)
    path = tmp_path / "lab.csv"
    path.write_text("sieve,percent_passing\nNo. 4,100\nNo. 10,90\nNo. 200,55\n")
    window.papers.read_gradation(path)
    layer = window.document.job.soils[0].layers[0]
    assert [p.percent for p in layer.gradation] == [100.0, 90.0, 55.0] and window.document.job.soils[0].layers[1].gradation != layer.gradation
    next(b for b in window.sheet.card.findChildren(QPushButton) if b.text() == "Hydrometer …").click()
    dialog = window.findChild(HydrometerDialog)
    qtbot.addWidget(dialog)
    QTest.keyClicks(dialog.readings, "2 min: 90")
    assert "between 0 and 60" in dialog.fault.text() and not dialog.take.isEnabled()
    dialog.readings.clear()
    QTest.keyClicks(dialog.readings, "2 min: 30; 1 h: 15")
    assert "45 %" in dialog.told.text() and dialog.take.isEnabled()
    dialog.take.click()
    assert [p.percent for p in window.document.job.soils[0].layers[0].gradation] == pytest.approx([100.0, 90.0, 55.0, 45.0, 18.0])
    window.document.stack.undo()
    assert len(window.document.job.soils[0].layers[0].gradation) == 3


def test_what_is_drawn_of_a_job_that_is_another_by_now_is_let_go(window, qtbot):
    """A press on a label, and a drag of a handle, whose field went meanwhile: nothing is typed into, and it is told."""
    canvas = window.sheet.views.canvas("section")
    window.sheet.rail.choose("trench")
    canvas.type_into("soils.g9.water_table_depth", QRectF(10, 10, 40, 12))
    assert canvas._entry is None
    refused = []
    window.document.refused.connect(refused.append)
    handle = dataclasses.replace(canvas.drawing.handles[0], path="runs.r1.breaks.7.level", move=lambda job, to: job)
    canvas._move(handle, window.document.job, (0.0, 0.0), "x")
    gone = dataclasses.replace(handle, move=lambda job, to: with_value(job, "soils.g9.name", "x"))
    canvas._move(gone, window.document.job, (0.0, 0.0), "x")
    assert len(refused) == 2 and all("not there any more" in words for words in refused)
