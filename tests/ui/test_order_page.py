"""The order in the window: priced by a list, each line leading to where it comes from, kept up with the job."""

from __future__ import annotations

import re
from decimal import Decimal

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QMessageBox, QPushButton

from weirant.job.paths import with_value
from weirant.ui import price_choice
from weirant.ui.memory import words
from weirant.ui.name_link import NameLink
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
    page.choice.setFocus()
    QTest.keyClick(page.choice, Qt.Key.Key_Down)  # by keys alone
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


def test_a_line_leads_to_each_of_its_places_in_turn(page, window):
    document = window.document
    seen = []
    for _ in range(3):
        line(page, "End cap for 4 in (100 mm) single-wall corrugated").click()
        seen.append((document.run, document.station))
    assert len(set(seen)) == 3 and all(station == pytest.approx(document.outcome.run(run).run.length) for run, station in seen)


def test_what_is_pressed_in_a_drawing_marks_its_rows(page, window):
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

    assert rows.here.isVisible() and "the joint or bend at station" in rows.here.text() and marked() and all("pipe" not in name.lower() for name in marked())
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
