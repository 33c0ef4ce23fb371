"""The order in the window: priced by a list, each line leading to where it comes from, kept up with the job."""

from __future__ import annotations

import re
from decimal import Decimal

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QLabel, QMessageBox, QPushButton, QWidget

from ui.keys import type_in
from weirant.design.demo import demo_job
from weirant.design.patterns import PATTERNS
from weirant.job.paths import with_value
from weirant.outcome.trench_pipes import trench_at
from weirant.ui import price_choice
from weirant.ui.dialogs.part_rules import EachEdit, PartRulesDialog
from weirant.ui.entry import QuantityEdit
from weirant.ui.memory import remember, words
from weirant.ui.name_link import NameLink
from weirant.ui.part_rules import KEY, with_rules
from weirant.words.order import money_words


@pytest.fixture
def page(window, qtbot):
    window.sheet.rail.choose("order")
    page = window.sheet.views["order"]
    qtbot.waitUntil(lambda: page.rows.quote is not None, timeout=5000)
    return page


def line(page, name):
    return next(b for b in page.rows.findChildren(QPushButton) if b.accessibleName() == name and b.isVisibleTo(page))


def shown(page):
    return [w.text() for w in page.findChildren(type(page.lacks)) if w.isVisibleTo(page)]


def test_a_list_prices_the_order_and_the_price_follows_the_job(page, window, qtbot):
    assert page.rows.sums.text() == "" and "68.00 per coil" not in " ".join(shown(page))
    told = []
    page.rows.comes_to.connect(told.append)
    page.rows._show(*page.rows._of, page.rows.quote)  # the rows without prices are being laid when the list is taken: it is none of theirs
    page.choice.setFocus()
    QTest.keyClick(page.choice, Qt.Key.Key_Down)  # by keys alone
    page.rows._bits.catch_up()
    assert told == [""]
    qtbot.waitUntil(lambda: page.rows.sums.text() != "", timeout=5000)
    price = page.rows.quote.sums[-1][1]
    qtbot.waitUntil(lambda: "68.00 per coil" in shown(page))
    assert f"{money_words(price)} dollars" in shown(page) and words(price_choice.KEY) == "larkmead" and page.lacks.text() == ""
    next(b for b in page.findChildren(QPushButton) if b.accessibleName() == "Copy the order as a table").click()
    copied = [row.split("\t") for row in QApplication.clipboard().text().splitlines()]
    assert len(copied) == len(page.rows.quote.lines) + 1 and {len(row) for row in copied} == {6} and ["3", "coils", "68.00 per coil", "204.00"] in [[*row[:2], *row[3:5]] for row in copied]
    window.document.change(with_value(window.document.job, "sections.s1.width", 0.6), "wider")
    qtbot.waitUntil(lambda: page.rows.quote.sums[-1][1] > price, timeout=5000)
    window.document.stack.undo()
    qtbot.waitUntil(lambda: page.rows.quote.sums[-1][1] == price, timeout=5000)
    window.document.stack.setClean()


def test_a_line_in_hand_stays_in_hand_while_the_order_changes_and_nothing_is_left_of_those_before(page, window, qtbot):
    def laid():
        cells = [(column, item.widget()) for column in (0, 1, 3) for row in range(grid.rowCount()) if (item := grid.itemAtPosition(row, column))]
        return [(column, cell.text()) for column, cell in cells if isinstance(cell, QLabel)]

    def is_laid():
        return not window.document.is_due and page.rows._of[0] is window.document.outcome and page.rows._bits.is_done

    grid, pipe = page.rows._grid, next(p for p in page.rows.quote.lines if p.line.what == "pipe").line.name
    line(page, pipe).setFocus()
    before, rows, widgets = laid(), grid.rowCount(), len(page.rows.findChildren(QWidget))
    for width in (0.7, 0.75, 0.8, 0.85):
        window.document.change(with_value(window.document.job, "sections.s1.width", width), "wider")
        qtbot.waitUntil(is_laid, timeout=5000)
        assert line(page, pipe).hasFocus() and laid() != before
    for _ in range(4):
        window.document.stack.undo()
        qtbot.waitUntil(is_laid, timeout=5000)
    assert laid() == before and grid.rowCount() == rows and len(page.rows.findChildren(QWidget)) <= widgets  # a grid keeps every row it ever had


def test_what_a_hundred_feet_takes_follows_where_one_stands(page, window, qtbot):
    def told():
        return {row[2].text(): row[0].text() for row in page.kit._rows if row[0].isVisibleTo(page)}

    window.document.move_to(30.0)
    qtbot.waitUntil(lambda: told().get("4 in (100 mm) single-wall corrugated, slotted") == "100")
    assert "slab drain" in page.kit.heading.text() and "100 ft" in page.kit.heading.text()
    window.document.move_to(2.0)  # solid pipe, to the outlet
    qtbot.waitUntil(lambda: told().get("4 in (100 mm) single-wall corrugated, solid") == "100")
    assert not any("Nonwoven" in name for name in told())
    window.switch_units()
    qtbot.waitUntil(lambda: "100 m" in page.kit.heading.text(), timeout=5000)
    window.document.stack.setClean()
    job = PATTERNS["three-pipes"].job()
    guest, host = next((run.id, run.trench_of) for run in job.runs if run.trench_of)
    window.open_job(job, None, "order")
    seen = []
    there = trench_at(window.document.outcome.site, window.document.outcome.run(guest), 20.0)[1]
    for run, station in ((host, there), (guest, 20.0)):  # one trench, whichever of its pipes is in hand
        window.document.take_run(run)
        window.document.move_to(station)
        qtbot.waitUntil(lambda: page.kit._bill[0] is window.document.outcome and bool(told()), timeout=5000)
        seen.append(told())
    assert seen[0] == seen[1] and any(name.startswith("Dig") for name in seen[0])


def test_a_line_leads_to_each_of_its_places_in_turn(page, window):
    document = window.document
    seen = []
    for _ in range(3):
        line(page, "End cap for 4 in (100 mm) single-wall corrugated").click()
        seen.append((document.run, document.station))
    assert len(set(seen)) == 3 and all(station == pytest.approx(document.outcome.run(run).run.length) for run, station in seen)


def test_what_is_pressed_in_a_drawing_marks_its_rows(page, window, qtbot):
    """The bend of the slab drain on the long profile, put on the stage for it; back at the order its parts are marked, and then those of the pipe beside it."""
    document, rows = window.document, page.rows
    assert rows.here.isHidden()
    window.sheet.show_view("profile")
    profile = window.sheet.profile
    bend = document.in_hand.run.nodes[1][1]
    low = profile.drawing.bounds[1] + 0.05
    QTest.mouseClick(profile, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, profile.frame.to_paper((bend, low)).toPoint())
    assert document.station == pytest.approx(bend, abs=0.25)
    window.sheet.show_view("order")

    def marked():
        return [b.accessibleName() for b in rows.findChildren(NameLink) if b.property("here")]

    qtbot.waitUntil(rows.here.isVisible)
    assert "the joint or bend at station" in rows.here.text() and marked() and all("pipe" not in name.lower() for name in marked())
    document.move_to(bend + 5.0)
    assert "the pipe at station" in rows.here.text() and any("stone" in name for name in marked()) and any("slotted" in name for name in marked())
    document.take_run("r2")
    assert "green drain" in rows.here.text() or document.in_hand.run.name in rows.here.text()


def test_a_file_is_read_what_is_wrong_in_it_told_and_one_that_cannot_be_read_changes_nothing(page, window, qtbot, tmp_path, monkeypatch):
    told = []
    monkeypatch.setattr(price_choice, "tell", lambda _, __, text, is_fault=True: told.append((text, is_fault)) or QMessageBox())
    own, bad = tmp_path / "own.csv", tmp_path / "bad.csv"
    own.write_text("item;per;price\ncorrugated-100;coil;70,50\nno-57;m;3\nwye;piece;-1\nlist currency;;crowns\n", encoding="utf-8")
    bad.write_text("nothing of the kind\n", encoding="utf-8")
    monkeypatch.setattr(price_choice, "ask_file", lambda *_: own)
    page.choice.activated.emit(page.choice.count() - 1)
    qtbot.waitUntil(lambda: page.rows.quote is not None and page.rows.quote.prices.currency == "crowns", timeout=5000)
    assert told == [(told[0][0], False)] and "line 4" in told[0][0] and page.choice.currentText() == "own.csv"
    assert "No. 57" in page.lacks.text() and "counted by" in page.lacks.text() and page.rows.quote.cost == Decimal("282.00")
    page.choice.take(str(bad))
    assert "headings" in told[-1][0] and page.choice.currentText() == "own.csv" and page.rows.prices.currency == "crowns"
    page.choice.take("")
    qtbot.waitUntil(lambda: page.rows.sums.text() == "", timeout=5000)


def test_without_ground_there_is_no_order_and_nothing_is_said_of_money(page, window, qtbot):
    page.choice.take("larkmead")
    qtbot.waitUntil(lambda: page.rows.sums.text() != "", timeout=5000)
    document = window.document
    document.change(with_value(with_value(document.job, "survey.shots", ()), "points", ()), "nothing shot")
    qtbot.waitUntil(lambda: page.rows.sums.text() == "" and not [b for b in page.rows.findChildren(QPushButton) if b.isVisibleTo(page)], timeout=5000)
    document.stack.setClean()


def test_the_view_on_the_stage_is_written_at_a_scale_and_a_chart_is_not(window, qtbot, tmp_path, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "section.svg"), ""))
    window.sheet.rail.choose("trench")
    window.sheet.show_view("section")
    window.write_picture()
    qtbot.waitUntil((tmp_path / "section.svg").is_file, timeout=5000)
    title = re.search(r"1 : (\d+)<", (tmp_path / "section.svg").read_text(encoding="utf-8"))
    wide = re.search(r'width="([\d.]+)mm"', (tmp_path / "section.svg").read_text(encoding="utf-8"))
    assert title and int(title[1]) == 5 and 168 < float(wide[1]) <= 420
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: pytest.fail("asked for a name"))
    window.sheet.rail.choose("soil")
    window.sheet.show_view("grains")
    window.write_picture()


def test_how_parts_are_counted_is_typed_seen_in_the_order_undone_and_taken_into_the_next_job(page, window, qtbot):
    next(b for b in page.findChildren(QPushButton) if b.accessibleName() == "How parts are counted").click()
    dialog = next(d for d in window.findChildren(PartRulesDialog) if d.isVisible())

    def caps():
        return [priced.line.needed for priced in page.rows.quote.lines if priced.line.key == "end-cap"]

    def entry(key):
        return next(e for e in dialog.findChildren(EachEdit) if e.part.key == key)

    assert not words(KEY)  # nothing is typed yet
    assert not any(e.part.key == "pump" for e in dialog.findChildren(EachEdit))  # this job has none
    dialog.every.click()
    qtbot.waitUntil(lambda: any(e.part.key == "pump" and e.isVisible() for e in dialog.findChildren(EachEdit)))
    dialog.every.click()
    qtbot.waitUntil(lambda: not any(e.part.key == "pump" for e in dialog.findChildren(EachEdit)))
    before = caps()
    type_in(entry("end-cap"), "3")
    qtbot.waitUntil(lambda: caps() == [3 * n for n in before], timeout=5000)
    type_in(entry("pins"), "50")  # for each 100 ft
    assert [rule.each for rule in window.document.job.parts.counts] == [3.0, pytest.approx(50 / 30.48)] and entry("pins").source == "of this job; usually 33.53"
    for wrong in ("-1", "nan", "3049"):
        type_in(entry("pins"), wrong)
        assert entry("pins").fault, wrong
    assert entry("pins").fault == "must be from 0 to 3048" and len(window.document.job.parts.counts) == 2
    entry("pins").selectAll()
    for key in (Qt.Key.Key_Delete, Qt.Key.Key_Return):
        QTest.keyClick(entry("pins"), key)
    assert [rule.part for rule in window.document.job.parts.counts] == ["end-cap"]
    type_in(dialog.name, "Marker post")
    own = "own-marker-post"
    assert entry(own).source == f"{own} in a price list" and [priced.line.key for priced in page.rows.quote.lines].count(own) == 0
    type_in(entry(own), "2")
    qtbot.waitUntil(lambda: [p.line.needed for p in page.rows.quote.lines if p.line.key == own] == [2 * sum(before)], timeout=5000)
    kept = window.document.job.parts
    next(b for b in dialog.findChildren(QPushButton) if b.accessibleName() == "Take out Marker post").click()
    assert window.document.job.parts.own == ()
    window.document.stack.undo()
    assert window.document.job.parts == kept == with_rules(demo_job()).parts
    remember(KEY, '{"counts": [{"part": "rocket", "wanted": "end", "each": 1.0}], "own": 7}')
    assert with_rules(demo_job()) == demo_job()
    while window.document.stack.canUndo():
        window.document.stack.undo()


def test_how_pipe_and_cloth_are_sold_is_typed_on_the_card_and_the_order_follows(window, qtbot):
    window.sheet.rail.choose("materials")
    next(b for b in window.sheet.card.findChildren(QPushButton) if b.text() == "how it is sold").click()
    entries = {e.path.rpartition(".")[2]: e for e in window.sheet.card.findChildren(QuantityEdit)}
    assert set(entries) == {"sold_in", "roll_width", "roll_length"} and all(e.text() == "" and e.placeholderText() == "as usual" for e in entries.values())
    type_in(entries["sold_in"], "250 ft")
    assert window.document.stack.undoText() == "pipe in lengths of: as usual to 250.0 ft"
    type_in(entries["roll_length"], "50 ft")
    window.sheet.rail.choose("order")
    page = window.sheet.views["order"]

    def sold():
        return {(p.line.key, p.line.size): p.line.sold for p in page.rows.quote.lines} if page.rows.quote is not None else {}

    qtbot.waitUntil(lambda: (sold().get(("corrugated-100", "")), sold().get(("nonwoven-light", ""))) == (1, 3), timeout=5000)
    while window.document.stack.canUndo():
        window.document.stack.undo()
    qtbot.waitUntil(lambda: sold().get(("corrugated-100", "")) == 3, timeout=5000)


def test_a_page_made_narrow_while_its_rows_are_laid_shows_the_order_that_was_asked_for(page, window, qtbot):
    """And not the one before, which is the last that was laid whole."""
    rows = page.rows
    old = rows.quote
    window.document.set_value("sections.s1.width", 0.6)
    qtbot.waitUntil(lambda: rows._of[0] is window.document.outcome, timeout=5000)
    rows.resize(200, rows.height())
    qtbot.waitUntil(rows.updatesEnabled)
    assert rows.quote is not old
