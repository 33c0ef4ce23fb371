"""The plan of the work in the window: its terms typed, kept up with the job, written as a calendar and read back."""

from __future__ import annotations

import datetime
import json

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMessageBox, QPushButton

from ui.keys import settle
from weirant.design.demo import demo_job
from weirant.design.own_rates import with_took
from weirant.job.paths import with_value
from weirant.job.work_terms import METHODS, WorkTerms
from weirant.ui import plan_page
from weirant.ui.dialogs.took import HoursEdit, TookDialog
from weirant.ui.memory import remember, words
from weirant.ui.own_rates import KEY as OWN
from weirant.ui.own_rates import own_rates
from weirant.ui.price_choice import KEY
from weirant.ui.task_rows import LONGEST, TaskBar
from weirant.ui.theme import THEME
from weirant.ui.work_terms import keep_usual, with_usual


@pytest.fixture
def page(window, qtbot):
    window.sheet.rail.choose("order")
    window.sheet.show_view("plan of work")
    page = window.sheet.views["plan of work"]
    typed(page.start, "2026-11-30")
    qtbot.waitUntil(lambda: page.plan is not None and page.plan.start == datetime.date(2026, 11, 30), timeout=5000)
    return page


def typed(edit, words):
    edit.setFocus()
    edit.selectAll()
    QTest.keyClicks(edit, words)
    QTest.keyClick(edit, Qt.Key.Key_Return)


def bars(page):
    return [bar for bar in page.findChildren(TaskBar) if bar.isVisibleTo(page)]


def named(page, words):
    return [b for b in page.findChildren(QPushButton) if b.accessibleName() == words and b.isVisibleTo(page)]


def test_terms_are_typed_and_what_cannot_be_is_told_and_kept_in_sight(page, qtbot):
    days, before = page.plan.dry_days, page.odds.text()
    qtbot.waitUntil(lambda: len(bars(page)) == len(page.plan.tasks))
    assert "8 of 10 times" in before and "Every year:" in page.yearly.text()
    laid = bars(page)
    typed(page.crew, "6")
    qtbot.waitUntil(lambda: page.plan.dry_days < days, timeout=5000)
    qtbot.waitUntil(lambda: all(bar.plan is page.plan for bar in bars(page)))
    qtbot.waitUntil(lambda: [bar.task.id for bar in sorted(bars(page), key=lambda bar: bar.y())] == [task.id for task in page.plan.tasks])
    assert {*bars(page)} == {*laid}  # filled anew, not made anew
    typed(page.rain, "50")
    qtbot.waitUntil(lambda: "50 %" in page.odds.text(), timeout=5000)
    for edit, wrong, kept in ((page.crew, "0", 6), (page.crew, "many", 6), (page.rain, "100 %", 0.5), (page.start, "2026-02-30", "2026-11-30"), (page.off, "Christmas", 6)):
        typed(edit, wrong)
        assert edit.text() == wrong and edit.fault and kept in (page.terms.people, *page.terms.rain, page.terms.start)
        QTest.keyClick(edit, Qt.Key.Key_Escape)


def test_the_plan_is_copied_as_a_table_and_days_off_are_left_out(page, window, qtbot):
    typed(page.off, "2026-12-01 to 2026-12-04")
    qtbot.waitUntil(lambda: page.plan.dates["dig r1"][0] >= datetime.date(2026, 12, 7), timeout=5000)
    assert window.document.job.work.days_off == ("2026-12-01/2026-12-04",) and page.off.text() == "2026-12-01 to 2026-12-04"
    next(b for b in page.findChildren(QPushButton) if b.text() == "Copy").click()
    rows = [row.split("\t") for row in QApplication.clipboard().text().splitlines()]
    assert len(rows) == len(page.plan.tasks) + 1 and {len(row) for row in rows} == {6} and ["2026-12-07", "2026-12-07"] in [row[1:3] for row in rows]
    typed(page.haul, "300 ft")
    qtbot.waitUntil(lambda: window.document.job.work.haul == pytest.approx(91.44), timeout=5000)
    typed(page.haul, "3000 ft")
    assert page.haul.fault and window.document.job.work.haul == pytest.approx(91.44)
    QTest.keyClick(page.haul, Qt.Key.Key_Escape)
    window.document.stack.undo()
    assert window.document.job.work.haul is None and page.haul.text() == ""
    window.document.stack.setClean()


def test_hours_that_the_work_took_are_typed_and_the_next_job_goes_by_them(page, window, qtbot):
    before = sum(t.hours for t in page.plan.tasks if t.id.startswith("dig"))
    next(b for b in page.findChildren(QPushButton) if b.text() == "How long it took …").click()
    dialog = next(d for d in window.findChildren(TookDialog) if d.isVisible())
    edit = next(e for e in dialog.findChildren(HoursEdit) if e.work == "dig-excavator")
    assert edit.text() == "" and "usual" in edit.placeholderText()
    typed(edit, "40")
    qtbot.waitUntil(lambda: sum(t.hours for t in page.plan.tasks if t.id.startswith("dig")) > before + 20, timeout=5000)
    assert own_rates()["dig-excavator"] > 0 and any("yd³" in label.text() for label in dialog._speeds.values())
    for wrong in ("-3", "0", "1e9", "long"):
        typed(edit, wrong)
        assert edit.fault and window.document.job.work.took[0].hours == 40
        QTest.keyClick(edit, Qt.Key.Key_Escape)
    dialog.reject()
    window.document.stack.setClean()
    window.open_demo()  # another job, of the same name: its own hours are not typed, and what was is forgotten with them
    assert window.document.job.work.took == () and own_rates() == {}
    for broken in ("[]", '{"a": 1}', '{"a": {"dig-hand": "x", "lay": NaN, "fill": 1e99}}', "{", "[" * 100_000):
        remember(OWN, broken)
        assert own_rates() == {}
    remember(OWN, '{"last": {"dig-excavator": 0.5}}')
    window.sheet.rail.choose("order")
    window.sheet.show_view("plan of work")
    qtbot.waitUntil(lambda: page.plan is not None and sum(t.hours for t in page.plan.tasks if t.id.startswith("dig")) > 3 * before, timeout=5000)
    remember(OWN, "")


def test_a_new_job_begins_with_the_crew_of_the_last_one_whatever_the_language_and_not_with_its_gate(page, window):
    months = tuple(0.01 * n + 0.123456 for n in range(12))
    job = with_value(with_value(window.document.job, "work.people", 5), "work.rain", months)
    keep_usual(with_value(with_value(job, "work.gate", 1.1), "work.method", "hand").work)
    assert with_usual(demo_job()).work == WorkTerms(people=5, rain=months, method="hand")
    for key, broken in (("people", "many"), ("rainy days", "0,25"), ("rainy days", "nan"), ("people", "41")):
        kept = words(key)
        remember(key, broken)
        assert with_usual(demo_job()) == demo_job()
        remember(key, kept)
    for key in ("people", "rainy days", "dig with"):
        remember(key, "")


def test_names_are_shown_letter_by_letter_on_bars_and_in_the_order(page, window, qtbot):
    document, odd = window.document, "<b>Q & A</b>"
    document.change(with_value(document.job, "runs.r1.name", odd), "odd")
    qtbot.waitUntil(lambda: [b.text() for b in named(page, f"Cut the turf of {odd}")] == [f"Cut the turf of {odd.replace('&', '&&')}"], timeout=5000)
    window.sheet.show_view("order")
    rows = window.sheet.views["order"].rows
    qtbot.waitUntil(lambda: any(odd in b.accessibleDescription() for b in rows.findChildren(QPushButton)), timeout=5000)
    tips = [w.toolTip() for w in (*page.findChildren(TaskBar), *rows.findChildren(QPushButton)) if "Q &" in w.toolTip()]
    assert len(tips) > 5 and not any("<b>" in tip and Qt.mightBeRichText(tip) for tip in tips)
    document.stack.setClean()


def test_the_room_for_a_long_name_grows_with_the_letters(page, window, qtbot):
    name = "a run that goes by a name as long as this one is, and longer"
    window.resize(1900, 1000)
    window.document.change(with_value(window.document.job, "runs.r1.name", name), "long")
    for scale in (1.0, 1.5):
        window.set_scale(scale)
        qtbot.waitUntil(lambda: window.updatesEnabled() and len(named(page, f"Cut the turf of {name}")) == 1, timeout=5000)
        settle(window, qtbot)
        link = named(page, f"Cut the turf of {name}")[0]
        assert link.width() == LONGEST * THEME.text and link.text().endswith("…")
    window.document.stack.setClean()


def test_how_it_is_dug_changes_the_hours_and_the_machine_is_held_against_the_gate(page, window, qtbot):
    hours = {t.id: t.hours for t in page.plan.tasks}
    page.method.setFocus()
    QTest.keyClick(page.method, Qt.Key.Key_Down)
    qtbot.waitUntil(lambda: {t.id: t.hours for t in page.plan.tasks}["dig r1"] < hours["dig r1"], timeout=5000)
    assert "Trencher" not in page.fits.text() and "Frost may come" in page.fits.text() and page.fits.isVisibleTo(page)
    typed(page.gate, "30 in")
    qtbot.waitUntil(lambda: "Trencher: it wants 3.0 ft to get in, and the gate is 2.5 ft" in page.fits.text() and page.fits.isVisibleTo(page), timeout=5000)
    typed(page.gate, "-3")
    assert page.gate.fault
    QTest.keyClick(page.gate, Qt.Key.Key_Escape)
    typed(page.gate, "")
    window.sheet.show_view("order")
    window.sheet.views["order"].choice.take("larkmead")
    order = window.sheet.views["order"].rows
    qtbot.waitUntil(lambda: order.quote is not None and any(line.line.key == "trencher" for line in order.quote.lines), timeout=5000)
    remember(KEY, "")
    for _ in range(3):  # the method, the gate there and gone again: all of the job, and so undone
        window.document.stack.undo()
    assert window.document.job.work.method == METHODS[0] and page.method.code() == METHODS[0]
    page.document.stack.setClean()


def test_it_follows_the_job_and_a_task_leads_to_its_run(page, window, qtbot):
    document, names = window.document, len(page.plan.tasks)
    document.change(with_value(document.job, "permissions.private_lines_checked", True), "asked")
    qtbot.waitUntil(lambda: len(page.plan.tasks) == names - 1, timeout=5000)
    qtbot.waitUntil(lambda: bool(named(page, "Dig green side, from its low end up")), timeout=5000)
    named(page, "Dig green side, from its low end up")[0].click()
    assert (document.run, document.station) == ("r4", 0.0)
    document.change(with_value(with_value(document.job, "survey.shots", ()), "points", ()), "nothing shot")
    qtbot.waitUntil(lambda: page.plan is None and not bars(page) and "nothing to be done" in page.odds.text(), timeout=5000)
    page.ask_write()  # nothing to write: nothing is asked
    document.stack.setClean()


def test_a_calendar_goes_out_and_what_was_moved_in_it_comes_back(page, window, qtbot, tmp_path, monkeypatch):
    path, told = tmp_path / "week.ics", []
    monkeypatch.setattr(plan_page, "ask_name", lambda *_: path)
    monkeypatch.setattr(plan_page, "ask_file", lambda *_: path)
    monkeypatch.setattr(plan_page, "tell", lambda _, __, text, is_fault=True: told.append((text, is_fault)) or QMessageBox())
    page.ask_write()
    qtbot.waitUntil(path.exists, timeout=5000)
    page.ask_moved()
    assert told.pop() == ("nothing was moved", False)
    dig = path.read_bytes().index(b"SUMMARY:Dig green side")
    moved = path.read_bytes()[:dig] + path.read_bytes()[dig:].replace(b"DTSTART;VALUE=DATE:2026120", b"DTSTART;VALUE=DATE:2026110", 1)
    path.write_bytes(moved)
    page.ask_moved()
    text, is_fault = told.pop()
    assert is_fault and text.startswith("Dig green side") and "it waits for" in text
    path.write_bytes(b"no calendar")
    page.ask_moved()
    assert "week.ics" in told.pop()[0]


def test_what_a_job_took_is_remembered_once_whatever_it_is_called_and_wherever_it_is_saved(window, tmp_path):
    document = window.document
    document.change(with_took(document.job, "dig-excavator", 40.0), "took")
    own = own_rates()
    for change in (lambda: document.set_value("name", "The same with another name"), lambda: window.files._save_to(tmp_path / "job.weirant", ""),
                   lambda: document.change(with_took(document.job, "dig-excavator", 40.5), "took")):  # fmt: skip
        change()
        assert len(json.loads(words(OWN))) == 1 and own_rates()["dig-excavator"] == pytest.approx(own["dig-excavator"], rel=0.02)
    document.stack.setClean()
