"""Mapping the site, finding the grade and digging to it, in the real window by mouse and keys."""

from __future__ import annotations

import dataclasses
import time

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QComboBox, QLabel, QLineEdit, QMessageBox, QPushButton

from laying import one, only
from ui.keys import staged, turn_wheel
from weirant.design.patterns import pattern
from weirant.ground.inverts import grade_nodes, invert_at
from weirant.ground.network import laid_run
from weirant.job.identity import by_id
from weirant.job.network import CrossingChoice
from weirant.outcome.finding import State
from weirant.ui.dialogs.corners import CornersDialog
from weirant.ui.dialogs.points import PointsDialog
from weirant.ui.dialogs.receiver import ReceiverDialog
from weirant.ui.dialogs.stretches import StretchesDialog
from weirant.ui.entry import QuantityEdit, TypedEdit, WordChoice
from weirant.ui.steps.thing_fields import CarriesLabel
from weirant.ui.theme import THEME
from weirant.ui.views.pencil import DRAIN, ROOF
from weirant.words.findings import worded

FT = 0.3048
LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier


@pytest.fixture
def plan(window):
    window.sheet.rail.choose("map")
    QApplication.processEvents()
    return staged(window, "plan")


def paper(plan, x, y):
    return plan.frame.to_paper((x * FT, y * FT)).toPoint()


def click(plan, *places):
    for x, y in places:
        QTest.mouseMove(plan, paper(plan, x, y))
        QTest.mouseClick(plan, LEFT, NONE, paper(plan, x, y))


def words_of(column):
    return [column.itemAt(i).widget().text() for i in range(column.count())]


def test_a_drain_is_drawn_up_from_a_run(window, plan):
    plan.pencil.take(DRAIN)
    click(plan, (0, 30), (-40, 30), (-40, 8))
    QTest.keyClick(plan, Qt.Key.Key_Backspace)
    assert len(plan.pencil.corners) == 2 and not plan.grab().isNull()
    QTest.keyClick(plan, Qt.Key.Key_Return)
    new, found = window.document.job.runs[-1], window.document.in_hand
    ((host, at),) = window.document.outcome.site.network.drains_to(found.run)
    assert (host.id, window.document.run, plan.pencil.mode) == ("r1", new.id, "")
    assert at == pytest.approx(30 * FT, abs=0.3) and found.run.length == pytest.approx(40 * FT, rel=0.03)
    assert found.grade is not None and window.document.stack.undoText() == "drain drawn"
    QTest.keyClick(plan, Qt.Key.Key_Delete)
    assert len(window.document.job.runs) == 4 and window.document.run == "r1"
    window.document.stack.undo()
    assert window.document.job.runs[-1] == new


def test_a_roof_pipe_brings_a_roof_that_is_asked_for(window, plan):
    """What it carries is told, and is nothing once the roof is led elsewhere; one undo takes pipe and roof."""
    document = window.document
    plan.pencil.take(ROOF)
    click(plan, (-100, 10), (-100, 40))
    QTest.keyClick(plan, Qt.Key.Key_Return)
    new, roof = document.job.runs[-1], document.job.sources[-1]
    assert (roof.kind, roof.node, roof.area) == ("roof", new.nodes[-1], None) and document.run == new.id
    (label,) = window.sheet.card.findChildren(CarriesLabel)
    assert label.text() == "roof water"
    told = {f.subject: worded(f, document.job).reason for f in document.outcome.findings if f.code == "capacity"}
    assert "the area of roof 1" in told[new.id]
    document.set_value(f"sources.{roof.id}.node", "")
    assert label.text() == "nothing led in yet" and one(document.outcome, "capacity", new.id).state == State.UNKNOWN
    document.stack.undo()
    document.stack.undo()
    assert len(document.job.runs) == 4 and len(document.job.sources) == 1


def test_a_run_needs_two_points_and_escape_leaves(window, plan):
    plan.pencil.take(ROOF)
    click(plan, (-100, 10))
    QTest.keyClick(plan, Qt.Key.Key_Return)
    assert "needs two points" in window.sheet.head.message.text() and len(window.document.job.runs) == 4
    QTest.keyClick(plan, Qt.Key.Key_Escape)
    QTest.keyClick(plan, Qt.Key.Key_Escape)
    assert plan.pencil.mode == ""


def test_a_tree_is_one_click_and_a_building_has_its_footing_typed(window, plan):
    plan.pencil.take("tree")
    click(plan, (-120, 70))
    assert window.document.job.features[-1].kind == "tree" and window.document.thing == window.document.job.features[-1].id
    plan.pencil.take("building")
    click(plan, (-140, 20), (-130, 20), (-130, 12))
    QTest.mouseDClick(plan, LEFT, NONE, paper(plan, -130, 12))
    assert window.document.job.features[-1].kind == "building"
    names = [w.accessibleName() for w in window.sheet.card.findChildren(object) if hasattr(w, "accessibleName") and w.isVisible()]
    assert "footing depth" in names and "name" in names
    window.document.set_value(f"features.{window.document.thing}.footing_depth", 0.6)
    before, handle = window.document.job.features[-1].points[0].x, plan.handle_position("corner-0").toPoint()
    QTest.mousePress(plan, LEFT, NONE, handle)
    QTest.mouseMove(plan, handle + QPoint(10, 0))
    QTest.mouseRelease(plan, LEFT, NONE, handle + QPoint(10, 0))
    assert window.document.job.features[-1].points[0].x > before + 1.0
    QTest.keyClick(plan, Qt.Key.Key_Delete)
    assert window.document.job.features[-1].kind == "tree"


def test_pressing_takes_runs_things_and_low_spots_in_hand(window, plan):
    click(plan, (70, 0))
    assert window.document.run == "r3"
    click(plan, (-42, 101))
    assert by_id(window.document.job.features, window.document.thing).name == "the old beech"
    QTest.keyClick(plan, Qt.Key.Key_Escape)
    assert window.document.thing == ""
    spot = plan._terrain[2].low_spots[1]
    QTest.mouseClick(plan, LEFT, NONE, plan.frame.to_paper(spot.lowest).toPoint())
    assert any("holds" in getattr(s, "text", "") and "fed by" in s.text for s in plan.drawing.shapes if hasattr(s, "text"))


def test_views_follow_the_run_in_hand_and_edits_go_to_it(window):
    document, profile = window.document, staged(window, "profile")
    window.next_run(1)
    assert document.run == "r2" and document.in_hand.run.length == pytest.approx(36 * FT)
    before = document.job.runs
    at = profile.handle_position("top-end").toPoint()
    QTest.mousePress(profile, LEFT, NONE, at)
    QTest.mouseMove(profile, at - QPoint(0, 25))
    QTest.mouseRelease(profile, LEFT, NONE, at - QPoint(0, 25))
    assert document.job.runs[1].slope > 0.008 and (document.job.runs[0], *document.job.runs[2:]) == (before[0], *before[2:])
    window.sheet.rail.choose("line")
    entry = window.sheet.card.entry("runs.r2.slope")
    assert entry.text().endswith("%")
    document.take_run("nowhere")
    assert document.run == "r2"


def test_of_many_ways_each_can_be_chosen_and_the_station_stands_on_it(window):
    """In a grid: chosen from the list by name; a press on a length in the middle of a run takes that run at that station."""
    window.open_job(pattern("grid").job(), None)
    document, profile = window.document, staged(window, "profile")
    line = {run.name: run.id for run in document.job.runs}
    document.take_run(line["line 2"])
    assert profile.others.isVisible()
    profile._list.aboutToShow.emit()
    names = [action.text() for action in profile._list.actions()]
    assert "lateral 4 › line 2 › lateral 1 › line 1" in names and len(names) == len(set(names)) == 12
    next(action for action in profile._list.actions() if action.text() == "lateral 3 › line 2 › lateral 2 › line 1").trigger()
    lowest, upper = profile.drawing.bounds[3] * 0.9999, profile.reaches[2]
    assert upper.found.id == line["line 2"] and 0 < upper.low < upper.high < upper.found.run.length
    QTest.mouseClick(profile, LEFT, NONE, profile.frame.to_paper((upper.start + (upper.low + upper.high) / 2, lowest)).toPoint())
    assert document.run == line["line 2"] and document.station == pytest.approx((upper.low + upper.high) / 2, abs=0.2)
    assert all(upper.start + upper.low - 1e-6 <= h.at[0] <= upper.start + upper.high + 1e-6 for h in profile.drawing.handles)
    document.move_to(upper.high + 1.0)
    assert profile.along is None  # the way leaves that out
    document.take_run(line["lateral 4"])  # beside the way: the way from its own top
    assert [r.found.run.name for r in profile.reaches] == ["line 1", "lateral 4"]


def test_the_whole_way_is_shown_pressed_and_dragged_in_the_profile(window):
    """From the top of the run in hand through the one that takes its water to the brook, as far as that is on the way."""
    document, profile = window.document, staged(window, "profile")
    assert not profile.way.isVisible()  # the slab drain leads into nothing else
    document.take_run("r4")
    alone = profile.drawing.bounds[2]
    QTest.mouseClick(profile.way, LEFT)
    joint = next(station for other, station in document.outcome.site.network.drains_to(document.in_hand.run) if other.id == "r3")
    length = document.in_hand.run.length
    assert profile.drawing.bounds[2] == pytest.approx((joint + length) * 1.077) and profile.drawing.bounds[2] > alone
    lowest = profile.drawing.bounds[3] * 0.9995
    QTest.mouseClick(profile, LEFT, NONE, profile.frame.to_paper((joint + 10.0, lowest)).toPoint())
    assert document.run == "r4" and document.station == pytest.approx(10.0, abs=0.15) and profile.along == pytest.approx(joint + document.station)
    QTest.mouseClick(profile, LEFT, NONE, profile.frame.to_paper((joint / 2, lowest)).toPoint())
    assert document.run == "r3" and document.station == pytest.approx(joint / 2, abs=0.15) and profile.drawing.bounds[2] == pytest.approx((joint + length) * 1.077)
    assert {h.key for h in profile.drawing.handles} and all(h.at[0] <= joint + 1e-6 for h in profile.drawing.handles)
    document.move_to(joint + 1.0)
    assert profile.along is None  # up the other leg
    document.take_run("r4")
    at, before = profile.handle_position("top-end").toPoint(), document.job.runs
    QTest.mousePress(profile, LEFT, NONE, at)
    QTest.mouseMove(profile, at - QPoint(0, 25))
    QTest.mouseRelease(profile, LEFT, NONE, at - QPoint(0, 25))
    assert [a.id for a, b in zip(document.job.runs, before, strict=True) if a != b] == ["r4"] and document.in_hand.run.slope > 0.011
    document.take_run("r1")  # beside the way: its own, which is itself
    assert profile.reaches == () and not profile.way.isVisible()
    document.take_run("r4")
    assert profile.way.text() == "this run only" and len(profile.reaches) == 2  # the whole way is shown until it is let go
    QTest.keyClick(window, Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert profile.way.text() == "the whole way" and profile.drawing.bounds[2] == pytest.approx(alone)
    assert not profile.others.isVisible()  # there is but one
    QTest.keyClick(window, Qt.Key.Key_L, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
    assert [r.found.id for r in profile.reaches] == ["r3", "r4"] and profile.drawing.title == "Long profile: green side › green drain"
    document.change(dataclasses.replace(document.job, points=(), survey=dataclasses.replace(document.job.survey, shots=())), "no ground")
    assert not profile.way.isVisible() and "No ground yet" in profile.drawing.shapes[0].text and profile.drawing.stretches  # no scale beside nothing


def best(window, qtbot):
    window.find_best_grade()
    page = window.sheet.card.grade
    qtbot.waitUntil(lambda: page.find_button.isEnabled(), timeout=20_000)
    return page


def test_the_best_grade_is_found_tried_and_kept(window, qtbot):
    page = best(window, qtbot)
    assert page.head.text().startswith("Dig 21.") and window.document.trial.name == "Best grade of every run: least dig"
    assert any("each 1 in costs" in words for words in words_of(page._found))
    window.document.keep_trial()
    assert not [f for f in window.document.outcome.findings if f.state == State.FAILS]
    assert len(window.document.job.runs[0].breaks) == 1


def test_without_a_line_the_offers_can_be_tried(window, qtbot):
    job = window.document.job
    window.document.change(dataclasses.replace(job, limits=dataclasses.replace(job.limits, least_slope=0.03, least_slope_solid=0.03)), "steep")
    page = best(window, qtbot)
    assert "No grade line satisfies every demand" in page.head.text() and any("sump" in words for words in words_of(page._found))
    offer = next(b for b in page.findChildren(QPushButton) if b.text().startswith("Try: Accept a slope"))
    offer.click()
    assert window.document.outcome.job.limits.least_slope < 0.03


def test_daylight_places_and_held_inverts(window, qtbot):
    window.sheet.rail.choose("line")
    window.sheet.card.turn_to("best grade")
    page = window.sheet.card.grade
    page.find_places()
    qtbot.waitUntil(lambda: page._found.count() > 0)
    assert "least dig first" in page.head.text() and words_of(page._found)[0].startswith("Try: 63.0 ft towards S")
    offer = page._found.itemAt(0).widget()
    assert offer.isEnabled()
    window.document.set_value("sections.s1.width", 0.4)
    assert not offer.isEnabled()  # it would take the new width back
    window.document.move_to(40 * FT)
    page.hold_here()
    assert window.document.job.runs[0].held[0].station == pytest.approx(40 * FT)
    next(b for b in page.findChildren(QPushButton) if b.text() == "Let go").click()
    assert window.document.job.runs[0].held == ()
    way = next(c for c in page.findChildren(QComboBox) if c.accessibleName() == "How to pass gas line")
    way.activated.emit(2)
    assert window.document.job.crossings == (CrossingChoice("r1", "t7", "under"),)


def test_dragging_with_the_grade_kept_best(window, qtbot):
    best(window, qtbot)
    window.document.keep_trial()
    document, profile = window.document, staged(window, "profile")
    window.sheet.card.grade.live.setChecked(True)
    steps = document.stack.count()
    at = profile.handle_position("top-end").toPoint()
    QTest.mousePress(profile, LEFT, NONE, at)
    for way in (8, 16, 24):
        QTest.mouseMove(profile, at + QPoint(0, way))
    QTest.mouseRelease(profile, LEFT, NONE, at + QPoint(0, 24))
    assert document.stack.count() == steps + 1 and "kept best" in document.stack.undoText()
    run = document.in_hand.run
    (held,) = run.held
    assert float(invert_at(run, np.array(held.station))) == pytest.approx(held.level, abs=1e-6)
    nodes, levels = grade_nodes(run)
    assert (np.diff(levels) / np.diff(nodes)).min() >= 0.005 - 1e-6


def test_a_reading_in_the_trench_is_judged_at_once(window):
    window.sheet.rail.choose("dig")
    page, model = window.sheet.views["dig"], window.sheet.views["dig"].table.sheet
    row = next(i for i, line in enumerate(model.lines) if line.station == pytest.approx(100 * FT, abs=1e-3))
    good = model.lines[row].rod
    assert model.setData(model.index(row, 7), f"{good / FT:.2f}") and model.data(model.index(row, 8)) == "good"
    assert "all within" in page.verdict.text()
    assert model.setData(model.index(row, 7), f"{good / FT - 0.25:.2f}")
    assert model.data(model.index(row, 8)).endswith("high") and "too high" in page.verdict.text()
    assert model.data(model.index(row, 8), Qt.ItemDataRole.ForegroundRole).name() == THEME.palette.rust.lower() and model.data(model.index(row, 5), Qt.ItemDataRole.FontRole).bold()
    tries = [b.text() for b in page.findChildren(QPushButton) if b.text().startswith("Try:")]
    assert any("Keep the top end" in t for t in tries) and any("Raise from 100.0 ft" in t for t in tries)
    next(b for b in page.findChildren(QPushButton) if "Raise" in b.text()).click()
    assert window.document.trial is not None
    window.document.put_back()
    window.document.set_value("sections.s1.width", 0.4)
    QApplication.processEvents()
    next(b for b in page.findChildren(QPushButton) if "Raise" in b.text() and b.isVisible()).click()
    assert window.document.outcome.job.sections[0].width == 0.4
    window.document.put_back()
    assert not model.setData(model.index(row, 7), "25 ft") and "longer than your 13.00 ft staff" in window.sheet.head.message.text()
    assert model.setData(model.index(row, 7), "") and model.data(model.index(row, 7)) == ""
    window.document.take_run("r4")
    assert model.lines[-1].note == "end cap"


def test_the_staff_of_feet_and_inches(window):
    window.sheet.rail.choose("levels")
    window.document.set_value("survey.staff", "feet and inches")
    table = window.sheet.views["readings"].table.shots
    assert table.headerData(3, Qt.Orientation.Horizontal) == "Rod reading, ft in" and table.data(table.index(0, 2)) == "4' 3 13/16\""
    assert table.setData(table.index(1, 3), "4 9 3/8")
    assert window.document.job.survey.shots[1].foresight == pytest.approx((57 + 3 / 8) * 0.0254)
    assert table.setData(table.index(1, 5), "tape 40 left 12") and window.document.job.survey.shots[1].station is None
    before = window.document.job
    table.setData(table.index(1, 5), "yonder")
    assert "cannot be understood" in window.sheet.head.message.text() and window.document.job is before


def test_points_are_read_with_a_preview(window, qtbot, tmp_path):
    path = tmp_path / "shots.csv"
    path.write_text("name;east;north;height\nA;10,5;20,5;30,25\nB;x;1;2\n", encoding="utf-8")
    dialog = window.points.read(path)
    assert isinstance(dialog, PointsDialog) and dialog.read.isEnabled() and dialog.delimiter.currentText() == "semicolon"
    dialog._roles[3].setCurrentText("–")
    dialog._warn()
    assert not dialog.read.isEnabled() and "Say which column is z" in dialog.note.text()
    dialog._roles[3].setCurrentText("z")
    dialog.unit.setCurrentText("m")
    dialog._warn()
    dialog.start()
    qtbot.waitUntil(lambda: len(window.document.job.points) == 151, timeout=20_000)
    point = window.document.job.points[-1]
    assert (point.name, point.x, point.level) == ("A", 10.5, 30.25) and "line 3" in window.document.job.unread[0]
    qtbot.waitUntil(lambda: window.findChild(QMessageBox) is not None)
    assert "could not be used" in window.findChild(QMessageBox).text()


@pytest.mark.parametrize(("name", "text", "says"), [("a.xml", "<html/>", "no LandXML"), ("a.geojson", "{", "damaged"), ("a.csv", "", "is empty")])
def test_files_that_are_no_points_leave_the_job_alone(window, qtbot, tmp_path, name, text, says):
    (tmp_path / name).write_text(text)
    window.points.read(tmp_path / name)
    qtbot.waitUntil(lambda: window.findChild(QMessageBox) is not None)
    assert says in window.findChild(QMessageBox).text() and len(window.document.job.points) == 150


def test_points_are_written_and_read_again(window, qtbot, tmp_path):
    for name in ("p.csv", "p.xml"):
        window.points.write(window.document.job, tmp_path / name)
    window.points.read(tmp_path / "p.xml")
    qtbot.waitUntil(lambda: len(window.document.job.points) == 300, timeout=20_000)
    assert window.document.job.points[150].x == pytest.approx(window.document.job.points[0].x, abs=1e-4)


@pytest.mark.parametrize(("port", "grown"), [("practice: a level and its staff", "shots"), ("practice: a satellite rover", "points")])
def test_shots_from_an_instrument_to_practise_with(window, qtbot, port, grown):
    dialog = ReceiverDialog(window.document, window)
    dialog.show()
    dialog.ports.setCurrentText("/dev/no-such-port")
    dialog.toggle()
    assert "cannot be opened" in dialog.state.text()
    dialog.ports.setCurrentText(port)
    dialog.count.setValue(3)
    dialog.toggle()
    before = window.document.job
    until = time.monotonic() + 20
    while window.document.job == before and time.monotonic() < until:
        if not dialog._waiting:
            dialog.start_shot()
        qtbot.wait(100)
    dialog.close()
    assert dialog.receiver is None and "mean of 3" in dialog.last.text() and dialog.name.text() == "S2"
    if grown == "shots":
        assert window.document.job.survey.shots[-1].foresight == pytest.approx(1.35, abs=0.3)
    else:
        assert window.document.job.points[-1].name == "S1" and window.document.job.survey.longitude == pytest.approx(-30, abs=0.01)


def test_the_wheel_and_the_middle_button_move_a_picture_that_is_then_drawn_sharp(window, qtbot, plan):
    turn_wheel(plan, (200, 200))
    assert plan._still is not None and not plan.grab().isNull()
    qtbot.waitUntil(lambda: plan._still is None)
    before = plan.frame.to_world(QPointF(100, 100))
    QTest.mousePress(plan, Qt.MouseButton.MiddleButton, NONE, QPoint(300, 200))
    QTest.mouseMove(plan, QPoint(340, 230))
    assert plan._still is not None
    QTest.mouseRelease(plan, Qt.MouseButton.MiddleButton, NONE, QPoint(340, 230))
    assert plan.frame.to_paper(before).x() == pytest.approx(140, abs=1.5)


def test_many_shots_are_worked_out_beside_the_window(window, qtbot, plan):
    chance = np.random.default_rng(1)
    more = tuple(dataclasses.replace(window.document.job.points[0], name=str(i), x=float(x), y=float(y), level=float(30 + 0.01 * x))
                 for i, (x, y) in enumerate(chance.uniform(-40, 40, (900, 2))))  # fmt: skip
    window.document.change(dataclasses.replace(window.document.job, points=more), "many")
    plan.grab()
    assert plan._awaited is not None
    qtbot.waitUntil(lambda: plan._terrain is not None and plan._terrain[0] is window.document.outcome.site.surface, timeout=20_000)
    assert not plan.grab().isNull() and laid_run(window.document.job, "r1").run == window.document.job.runs[0]


def entries(window):
    found = (w for kind in (QLineEdit, QComboBox, QPushButton, QLabel) for w in window.sheet.card.findChildren(kind))
    return {w.accessibleName(): w for w in found if w.accessibleName() and w.isVisible()}


@pytest.mark.parametrize(("kind", "has", "lacks"), [
    ("gas line", {"depth to its top", "its diameter", "zone to dig by hand, each side", "private line", "located and marked"}, {"footing depth"}),
    ("building", {"footing depth"}, {"depth to its top"}), ("tree", {"radius of the root zone"}, {"footing depth"}), ("walk", set(), {"footing depth", "depth to its top"}),
])  # fmt: skip
def test_the_strip_asks_what_the_kind_of_thing_needs(window, plan, kind, has, lacks):
    window.document.take_thing("t7")
    window.document.set_value("features.t7.kind", kind)
    names = set(entries(window))
    assert has | {"name", "kind"} <= names and not lacks & names


def test_things_and_runs_are_renamed_in_the_strip(window, plan):
    window.document.take_thing("t1")
    entry = entries(window)["name"]
    entry.setFocus()
    entry.selectAll()
    QTest.keyClicks(entry, "the wood")
    QTest.keyClick(entry, Qt.Key.Key_Return)
    assert window.document.job.features[0].name == "the wood"
    window.document.take_thing("")
    window.document.take_run("r3")
    entry = entries(window)["name of the run"]
    entry.selectAll()
    QTest.keyClicks(entry, "roof line")
    QTest.keyClick(entry, Qt.Key.Key_Return)
    assert "taken" in entry.fault and window.document.in_hand.run.name == "green drain"
    entry.selectAll()
    QTest.keyClicks(entry, "lawn")
    QTest.keyClick(entry, Qt.Key.Key_Return)
    assert (window.document.run, window.document.in_hand.run.name) == ("r3", "lawn") and window.document.outcome.findings
    assert "lawn" in [window.sheet.card.grade.runs.itemText(i) for i in range(4)]


def test_fittings_are_set_at_the_station_and_taken_out(window, plan):
    window.document.take_run("r3")
    window.document.move_to(30 * FT)
    entries(window)["Set a fitting at the station"].activated.emit(2)
    assert [(n.kind, s) for n, s in window.document.in_hand.run.nodes if n.kind != "plain"] == [("inlet", pytest.approx(30 * FT))]
    window.document.stack.undo()
    window.document.stack.redo()
    entries(window)["Set a fitting at the station"].activated.emit(8)
    assert len(window.document.in_hand.run.nodes) == 3 and window.document.stack.undoText() == "Fitting taken out"


def test_a_finding_on_a_branch_takes_it_in_hand(window, qtbot):
    window.document.set_value("runs.r4.slope", 0.05)
    qtbot.waitUntil(lambda: window.sheet.findings.card_of("cover") is not None)
    card = window.sheet.findings.card_of("cover")
    assert card.title.text() == "Cover over the pipe: green side"
    QTest.mouseClick(card, LEFT, NONE, QPoint(20, 30))
    assert window.document.run == "r4" and window.document.station > 0


@pytest.mark.parametrize("theme", ["daylight", "dim"])
@pytest.mark.parametrize("scale", [1.0, 1.5])
def test_the_site_pages_are_painted_in_every_look(window, theme, scale):
    window._apply_look(theme, scale)
    for step in ("map", "line", "dig", "levels"):
        window.sheet.rail.choose(step)
        window.sheet.catch_up()
        QApplication.processEvents()
        assert not window.grab().isNull()
    assert window.sheet.plan_page.tools.isHidden()
    window.document.take_run("r4")
    window.document.change(only(window.document.job, "r1"), "one run left")
    assert window.document.run == "r1" and not window.grab().isNull()


def test_any_run_is_taken_out_with_what_hangs_on_it_and_the_last_stays(window, plan):
    window.document.take_run("r1")
    plan.take_out()
    message = window.sheet.head.message
    assert "11 shots booked along it keep their places in plan; no run keeps the clubhouse slab dry any more" in message.text() and window.document.run == "r2"
    window.document.take_run("r3")
    plan.take_out()
    assert "green side then leads nowhere" in message.text() and not window.grab().isNull()
    plan.take_out()
    plan.take_out()
    assert "is the only run" in message.text() and len(window.document.job.runs) == 1
    while window.document.stack.canUndo():
        window.document.stack.undo()
    assert len(window.document.job.runs) == 4


def test_a_run_is_joined_and_let_go_by_its_entry(window, plan):
    """By the list in the strip; the entry of the water level is there only where there is an outlet."""
    window.document.take_run("r2")
    window.sheet.rail.choose("line")
    assert "water level at the outlet" in entries(window)
    window.sheet.card.turn_to("name and lengths")
    choice = entries(window)["Where the low end leads"]
    choice.activated.emit([choice.itemText(i) for i in range(choice.count())].index("joins slab drain"))
    assert window.document.outcome.site.network.drains_to(window.document.in_hand.run)[0][0].id == "r1"
    assert window.sheet.card.entry("nodes.n3.outlet.water_level") is None and window.document.stack.undoText() == "roof line joins slab drain"
    window.sheet.card.turn_to("name and lengths")
    entries(window)["Where the low end leads"].activated.emit(0)
    assert window.document.in_hand.run.outlet is not None and window.sheet.card.entry(window.document.path_of("outlet.water_level")) is not None


def test_a_grade_found_for_a_job_that_has_changed_is_not_put_on_trial(window, qtbot):
    window.find_best_grade()
    window.document.set_value("sections.s1.width", 0.4)
    page = window.sheet.card.grade
    qtbot.waitUntil(lambda: page.find_button.isEnabled(), timeout=20_000)
    assert "changed meanwhile" in page.head.text() and window.document.trial is None and window.document.job.sections[0].width == 0.4


def test_an_odd_reading_at_the_outlet_itself(window):
    window.sheet.rail.choose("dig")
    page, model = window.sheet.views["dig"], window.sheet.views["dig"].table.sheet
    assert model.setData(model.index(0, 7), f"{model.lines[0].rod / FT - 0.2:.2f}")
    assert "Station 0.0 ft lies 2 3/8 in too high" in page.verdict.text()
    assert len([b for b in page.findChildren(QPushButton) if b.text().startswith("Try:")]) == 2


def test_a_value_half_typed_is_asked_again_when_the_units_are_switched(window):
    """12 typed in feet must not be taken for 12 m."""
    window.sheet.rail.choose("line")
    entry = window.sheet.card.entry("runs.r1.length")
    before = window.document.job.runs
    entry.setFocus()
    entry.selectAll()
    QTest.keyClicks(entry, "175")
    window.switch_units()
    assert entry.text() == "175" and "type it again" in entry.fault
    QTest.keyClick(entry, Qt.Key.Key_Return)
    assert window.document.job.runs == before
    QTest.keyClick(entry, Qt.Key.Key_Escape)
    assert entry.text() == "52.43 m" and not entry.fault


def test_the_run_in_hand_is_turned_round_and_made_up_levels_go_by_the_menu(window, qtbot, tmp_path):
    actions = {a.text(): a for a in window._actions}
    window.document.take_run("r4")
    actions["&Turn the run round"].trigger()
    assert window.document.in_hand.run.nodes[0][0].id == "n11" and "turned round" in window.document.stack.undoText()
    assert next(f for f in window.document.outcome.findings if f.code == "way-out").subject == "r4"
    window.document.stack.undo()
    actions["Take out &made-up levels"].trigger()
    assert "No level is made up" in window.sheet.head.message.text()
    shots = window.document.job.survey.shots
    made_up = (*shots[:2], dataclasses.replace(shots[2], is_assumed=True), *shots[3:])
    window.document.change(dataclasses.replace(window.document.job, survey=dataclasses.replace(window.document.job.survey, shots=made_up)), "made up")
    actions["Take out &made-up levels"].trigger()
    assert window.document.job.survey.shots == (*shots[:2], *shots[3:])
    said = []
    window.papers.said.connect(said.append)
    window.papers.write_every_cut_sheet(window.document.settled, tmp_path / "sheets")
    qtbot.waitUntil(lambda: any("4 cut sheets written into sheets" in words for words in said), timeout=30_000)
    assert len(list((tmp_path / "sheets").iterdir())) == 8


def test_a_pipe_is_laid_beside_and_put_on_the_other_side_by_a_press(window, qtbot):
    """By the menu, then in the section: a press changes sides, a drag moves it, its levels are the host's, and all of it is undone."""
    window.sheet.rail.choose("trench")
    before = window.document.job
    next(a for a in window._actions if "beside" in a.text()).trigger()
    document, section = window.document, staged(window, "section")
    guest = document.run
    assert document.job.runs[-1].id == guest and document.job.runs[-1].trench_of == "r1"
    QApplication.processEvents()
    bores = document.section.bores
    at = section.handle_position(f"pipe {guest}").toPoint()
    QTest.mouseClick(section, LEFT, NONE, at)
    assert [b.across for b in document.section.bores] == [-b.across for b in bores]
    document.stack.undo()
    assert document.section.bores == bores
    QApplication.processEvents()
    QTest.mousePress(section, LEFT, NONE, section.handle_position(f"pipe {guest}").toPoint())
    QTest.mouseMove(section, at + QPoint(6, -20))
    QTest.mouseMove(section, at + QPoint(6, -40))
    QTest.mouseRelease(section, LEFT, NONE, at + QPoint(6, -40))
    lifted = document.section.bores[1].height
    assert lifted > 0.03 and document.outcome.run(guest).run.invert == pytest.approx(document.outcome.run("r1").run.invert + lifted)
    said = []
    document.refused.connect(said.append)
    assert not document.set_value(f"runs.{guest}.invert", 29.5) and "follows from the run in whose trench it lies" in said[0]
    document.set_value("runs.r1.invert", 28.9)
    assert document.outcome.run(guest).run.invert == pytest.approx(28.9 + lifted)
    while document.stack.canUndo():
        document.stack.undo()
    assert document.job == before


def test_what_lies_where_along_a_run_is_chosen_in_its_stretches(window, qtbot):
    """Parted at the station, another pipe and a section of its own above; the strip follows the station from one section to the other."""
    window.sheet.rail.choose("trench")
    document = window.document
    document.move_to(40.0)
    dialog = StretchesDialog(document, window)
    qtbot.addWidget(dialog)
    dialog.show()
    dialog.split.click()
    QApplication.processEvents()
    assert [s.to_station for s in document.job.runs[0].stretches] == [pytest.approx(78 * FT, abs=1e-4), 40.0, None]
    upper = document.job.runs[0].stretches[-1].id
    pipe = next(c for c in dialog.findChildren(WordChoice) if c.path == f"runs.r1.stretches.{upper}.pipe" and c.isVisible())
    pipe.setFocus()
    pipe.activated.emit(pipe.findText("3 in (75 mm) single-wall corrugated, slotted"))
    QApplication.processEvents()
    sections = [c for c in dialog.findChildren(QComboBox) if c.accessibleName() == "Trench section" and c.isVisible()]
    sections[-1].activated.emit(sections[-1].findText("a section of its own"))
    assert [s.name for s in document.job.sections] == ["trench", "trench 2"] and document.job.runs[0].stretches[-1].pipe == "corrugated-75"
    document.move_to(45.0)
    assert entries(window)["name of the section"].text() == "trench 2"
    document.set_value(document.path_of("section.width"), 0.25)
    document.move_to(30.0)
    assert entries(window)["name of the section"].text() == "trench" and document.section.width == 0.3048
    end = next(e for e in dialog.findChildren(QuantityEdit) if e.path.endswith("p2.to_station") and e.isVisible())
    for text, at in (("150 ft", 150 * FT), ("60 ft", 150 * FT)):  # not below where the stretch begins
        end.setFocus()
        end.selectAll()
        QTest.keyClicks(end, text)
        QTest.keyClick(end, Qt.Key.Key_Return)
        assert document.job.runs[0].stretches[1].to_station == pytest.approx(at)
    QApplication.processEvents()
    out = [b for b in dialog.findChildren(QPushButton) if b.text() == "Take out" and b.isVisible()]
    out[-1].click()
    assert len(document.job.runs[0].stretches) == 2 and document.job.runs[0].stretches[-1].to_station is None


@pytest.mark.parametrize("step", ["map", "line", "trench", "materials", "order", "storm"])
def test_the_run_in_hand_is_taken_out_at_any_step(window, step):
    """What the entries are about is gone and comes back; none of them falls over it."""
    window.document.take_run("r4")
    window.sheet.rail.choose(step)
    QApplication.processEvents()
    staged(window, "plan").take_out()
    QApplication.processEvents()
    assert [r.id for r in window.document.job.runs] == ["r1", "r2", "r3"] and window.document.run != "r4"
    window.document.stack.undo()
    QApplication.processEvents()
    assert len(window.document.job.runs) == 4 and not window.grab().isNull()


def test_own_products_are_read_and_chosen(window, tmp_path, monkeypatch):
    """From a list into the choices of the page, at once; one undo takes them out again, and a list that cannot be used changes nothing."""
    path, told = tmp_path / "yard.csv", []
    path.write_text("name,inside,outside,roughness,opening,open_area\nYard pipe,100 mm,118 mm,0.012,1.6 mm,21 cm2/m\n")
    assert window.document.set_value("runs.r2.pipe", "corrugated-100")  # every run of one pipe
    window.sheet.rail.choose("materials")
    monkeypatch.setattr("weirant.ui.papers.tell", lambda *a: told.append(a[2]))
    window.papers.read_products(path)
    choice = entries(window)["pipe"]
    choice.activated.emit(choice.findText("Yard pipe"))
    document = window.document
    assert {s.pipe for run in document.job.runs for s in run.stretches} == {"own-yard-pipe"} and "every run" in document.stack.undoText()
    document.stack.undo()
    document.stack.undo()
    assert document.job.products.pipes == () and entries(window)["pipe"].findText("Yard pipe") == -1
    path.write_text("name,inside\n")
    window.papers.read_products(path)
    assert "are not those of pipes, stones or fabrics" in told[0] and document.job.products.pipes == ()


def test_a_ring_is_drawn_with_typed_corners(window, plan):
    """First click on the drain, two corners by keys, last click on the drain again; a slip is told and kept, and one undo takes it all out."""
    plan.pencil.take(DRAIN)
    line = window.sheet.plan_page.tools.corner
    assert line.isVisible()
    click(plan, (0, 30))
    line.setFocus()
    for text in ("20 ft at 90", "20 furlongs", "E 20 ft N 60 ft"):
        line.selectAll()
        QTest.keyClicks(line, text)
        QTest.keyClick(line, Qt.Key.Key_Return)
    assert [tuple(round(v / FT) for v in c) for c in plan.pencil.corners] == [(0, 30), (20, 30), (20, 60)] and line.text() == ""
    click(plan, (0, 60))
    line.setFocus()
    QTest.keyClick(line, Qt.Key.Key_Return)
    new = window.document.in_hand.run
    others = [window.document.outcome.site.network.others_at(new, node.id) for node, _ in (new.nodes[0], new.nodes[-1])]
    assert [[o.id for o, _ in there] for there in others] == [["r1"], ["r1"]] and plan.pencil.mode == "" and not line.isVisible()
    assert not any(f.code == "runs-apart" and f.subject == new.id for f in window.document.outcome.findings)
    window.document.stack.undo()
    assert len(window.document.job.runs) == 4


def test_corners_are_put_in_dragged_and_taken_out(window, plan):
    """Two presses put one in, a drag bends the run there, Delete takes it out again; an end, and where another run joins, are kept with a word."""
    before = window.document.job
    at = paper(plan, 0, 40)
    QTest.mouseDClick(plan, LEFT, NONE, at)
    assert window.document.job.runs[0].nodes[:2] == ("n1", "n12") and len(window.document.job.nodes) == 12
    QApplication.processEvents()
    QTest.mousePress(plan, LEFT, NONE, plan.handle_position("run-1").toPoint())
    QTest.mouseMove(plan, at + QPoint(-15, 0))
    QTest.mouseMove(plan, at + QPoint(-30, 0))
    QTest.mouseRelease(plan, LEFT, NONE, at + QPoint(-30, 0))
    assert len(window.document.in_hand.run.bends) == 2 and window.document.outcome.run("r1").run.length > 53
    plan.setFocus()
    QTest.keyClick(plan, Qt.Key.Key_Delete)
    assert window.document.job.runs[0].nodes == before.runs[0].nodes and window.document.outcome.run("r1").run.length == pytest.approx(172 * FT, abs=1e-3)
    said = []
    window.document.refused.connect(said.append)
    for index, words in ((0, "begins there"), (1, "is joined to green side there")):
        window.document.take_run("r3")
        plan._take_corner(index)
        assert words in said[-1]
    while window.document.stack.canUndo():
        window.document.stack.undo()
    assert window.document.job == before


def test_a_run_is_carried_on_crossed_and_its_corners_typed(window, plan):
    """By presses and keys: the side of the green goes on to a typed corner; a drain drawn over it, pressed twice there, shares a node; a leg is typed after."""
    document = window.document
    document.take_run("r4")
    window.sheet.plan_page.tools.onward.click()
    line = window.sheet.plan_page.tools.corner
    line.setFocus()
    QTest.keyClicks(line, "20 ft at 270")
    QTest.keyClick(line, Qt.Key.Key_Return)
    QTest.keyClick(line, Qt.Key.Key_Return)  # on an empty line it ends
    assert len(document.job.runs[3].nodes) == 4 and document.outcome.run("r4").run.length == pytest.approx(106 * FT, abs=1e-3) and plan.pencil.mode == ""
    plan.pencil.take(DRAIN)
    plan.setFocus()
    click(plan, (100, 40), (88, 40), (88, 40), (70, 40))
    QTest.keyClick(plan, Qt.Key.Key_Return)
    new = document.outcome.site.network.run(document.run)
    assert new.id == "r5" and [other.id for other, _ in document.outcome.site.network.others_at(new, new.nodes[1][0].id)] == ["r4"]
    document.take_run("r4")
    window.sheet.plan_page.tools.corners.click()
    dialog = window.findChild(CornersDialog)
    length = next(e for e in dialog.findChildren(TypedEdit) if e.accessibleName() == "Corner 5, length")
    for text, feet in (("30 ft", 30), ("0", 30), ("moon", 30)):
        length.setFocus()
        length.selectAll()
        QTest.keyClicks(length, text)
        QTest.keyClick(length, Qt.Key.Key_Return)
        at = document.outcome.run("r4").run.alignment
        assert at.stations[-1] - at.stations[-2] == pytest.approx(feet * FT, abs=1e-3) and (length.fault == "") == (text == "30 ft")
    dialog.close()
    document.take_thing("t10")
    window.open("corners")
    east = next(e for d in window.findChildren(CornersDialog) if d.isVisible() for e in d.findChildren(TypedEdit) if e.accessibleName() == "Corner 1, east")
    east.setFocus()
    east.selectAll()
    QTest.keyClicks(east, "-12 ft")
    QTest.keyClick(east, Qt.Key.Key_Return)
    slab = next(f for f in document.job.features if f.id == "t10")
    assert slab.points[0].x == pytest.approx(-12 * FT) and "Corner 1, east" in document.stack.undoText()


def test_what_would_be_with_its_exit_plugged_is_told_for_the_run_in_hand_by_a_key(window, qtbot):
    window.open_job(pattern("footing").job(), None)
    before = window.document.job
    window.document.take_run("r6")  # under the slab: its water gets out by what it runs into
    QTest.keyClick(window, Qt.Key.Key_X, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
    qtbot.waitUntil(lambda: window.findChild(QMessageBox) is not None)
    box = window.findChild(QMessageBox)
    first, *rest = box.text().splitlines()
    assert first.startswith("If exit ") and any(" leave by exit " in line for line in rest) and any("full" in line for line in rest)
    box.close()
    assert window.document.job is before and not window.document.stack.canUndo()
    window.sheet.rail.choose("map")
    plan, node = staged(window, "plan"), next(n for n in before.nodes if n.id == "n9")
    offered = dict(plan.offered_at(plan.frame.to_paper((node.x, node.y))))
    assert "If this exit were plugged …" in offered and "If this exit were plugged …" not in dict(plan.offered_at(plan.frame.to_paper((node.x + 9, node.y + 9))))


def test_a_plan_that_has_no_room_yet_is_turned_and_shoved_all_the_same(window, qtbot, plan):
    plan.setMinimumSize(0, 0)
    plan.resize(300, 0)
    turn_wheel(plan, (10, 0))
    assert plan._still is None
    plan.resize(300, 200)
    turn_wheel(plan, (10, 10))
    assert plan._still is not None
