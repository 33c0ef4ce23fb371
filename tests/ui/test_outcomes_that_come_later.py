"""An edit changes the job at once; what is worked out of it may come later, and much may happen until then."""

from __future__ import annotations

import ctypes
import dataclasses
import threading
import time

import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QHelpEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMessageBox

from ui.keys import settle, staged, turn_wheel
from weirant.design.assess import assess
from weirant.design.patterns import PATTERNS
from weirant.errors import InputError
from weirant.job.paths import with_value
from weirant.outcome.commands import Instead, Offer
from weirant.ui import work
from weirant.ui.bit_by_bit import BitByBit
from weirant.ui.views.canvas import Canvas

WIDTH = "sections.s1.width"


class Gate:
    """Holds whatever is worked out until it is opened, and may refuse it then."""

    def __init__(self) -> None:
        self.way, self.fault, self.worked_out = threading.Event(), "", []

    def __call__(self, job, session=None):
        self.worked_out.append(job.name)
        assert self.way.wait(20)
        if self.fault and job.sections[0].width == 0.5:
            raise InputError("", self.fault)
        return assess(job, session=session)


@pytest.fixture
def gate(window, monkeypatch):
    gate = Gate()
    monkeypatch.setattr("weirant.ui.worked.assess", gate)
    monkeypatch.setattr("weirant.ui.worked.PATIENCE", 0.0)
    yield gate
    gate.way.set()
    _ = window.document.outcome


@pytest.fixture
def told(window):
    told = []
    window.document.changed.connect(lambda: told.append("changed"))
    window.document.refused.connect(told.append)
    return told


def test_an_edit_is_made_at_once_and_shown_when_its_outcome_comes(window, gate, told, qtbot):
    document, before = window.document, window.document.outcome
    assert document.set_value(WIDTH, 0.5)
    while not gate.worked_out:
        time.sleep(0.001)  # until it is begun; the window's clocks do not run meanwhile, which may ask for the outcome
    assert document.set_value("name", "Wide") and document.set_value("name", "Wider")
    assert document.job.sections[0].width == 0.5 and document.stack.count() == 3 and told == [] and window.windowTitle().startswith("*")
    gate.way.set()
    qtbot.waitUntil(lambda: told == ["changed"])  # of the three the newest
    assert gate.worked_out == [before.job.name, "Wider"]  # that between was given up
    assert document.outcome.job is document.job and document.outcome is not before
    gate.way.clear()
    document.stack.undo()  # one that was never shown is worked out now
    assert document.job.name == "Wide" and document.stack.index() == 2
    threading.Timer(0.05, gate.way.set).start()
    assert document.outcome.job is document.job and document.job.sections[0].width == 0.5  # who asks for it waits


def test_what_is_undone_before_its_outcome_comes_is_not_shown(window, gate, told, qtbot):
    document, before = window.document, window.document.outcome
    document.set_value(WIDTH, 0.5)
    document.stack.undo()
    assert document.outcome is before and told == ["changed"]
    gate.way.set()
    qtbot.wait(60)
    assert document.outcome is before and told == ["changed"]
    document.stack.redo()
    qtbot.waitUntil(lambda: len(told) > 1)
    assert document.outcome.job.sections[0].width == 0.5


@pytest.mark.parametrize("asked", [False, True])
def test_what_cannot_be_worked_out_after_all_is_taken_back_and_told(window, gate, told, qtbot, asked):
    document, before = window.document, window.document.outcome
    gate.fault = "This cannot be"
    assert document.set_value(WIDTH, 0.5)
    gate.way.set()
    if asked:
        assert document.outcome is before
    qtbot.waitUntil(lambda: gate.fault in told)
    assert document.outcome is before and document.stack.count() == 0 and window.sheet.head.message.text() == gate.fault
    assert document.set_value(WIDTH, 0.4) and document.outcome.job.sections[0].width == 0.4


def test_of_steps_that_merge_the_last_alone_is_taken_back_and_what_stands_before_them_stays(window, gate, told, qtbot):
    document = window.document
    gate.fault = "This cannot be"
    assert document.set_value("name", "Wide")
    for width in (0.4, 0.45, 0.5):
        assert document.change(with_value(document.job, WIDTH, width), "wider", "one hand", may_come=True)
    gate.way.set()
    qtbot.waitUntil(lambda: gate.fault in told)
    assert (document.job.name, document.outcome.job.sections[0].width, document.stack.count()) == ("Wide", 0.45, 2)
    document.stack.undo()
    assert document.job.name == "Wide" and document.job.sections[0].width < 0.4


def test_an_outcome_that_is_known_is_not_worked_out_again(window, gate, told):
    document, job = window.document, with_value(window.document.job, WIDTH, 0.6)
    other = assess(with_value(job, WIDTH, 0.7))
    assert document.change(job, "wide", known=(known := assess(job))) and document.outcome is known and gate.worked_out == [] and told == ["changed"]
    gate.way.set()
    assert document.change(with_value(job, "name", "Other"), "renamed", known=other) and document.outcome is not other and gate.worked_out == ["Other"]


def test_a_fix_on_trial_comes_later_and_is_kept_as_it_was_worked_out(window, gate, told, qtbot):
    document, job = window.document, with_value(window.document.job, WIDTH, 0.6)
    document.try_fix(Offer("wider", Instead(job)))
    assert document.trial is not None and document.shown_job.sections[0].width == 0.6 and document.job.sections[0].width != 0.6
    gate.way.set()
    qtbot.waitUntil(lambda: told == ["changed"])
    tried = document.outcome
    gate.way.clear()  # so that it would have to wait
    document.keep_trial()
    assert document.settled is tried and document.stack.undoText() == "wider"
    gate.way.set()
    gate.fault = "This cannot be"
    document.try_fix(Offer("another", Instead(with_value(job, WIDTH, 0.5))))
    qtbot.waitUntil(lambda: gate.fault in told)
    assert document.trial is None and document.outcome is tried


def test_what_paints_and_what_clocks_do_waits_for_nothing(window, gate, told, qtbot):
    """Every view is painted, a step turned to and the card laid for another run, of the job as it is shown; what is to follow the edit follows it."""
    document, sheet = window.document, window.sheet
    window.lay_beside()
    made = document.job.runs[-1].id
    document.take_thing("t10")
    for _ in range(3):
        assert not window.grab().isNull() and not sheet.part("card").grab().isNull()
        sheet.show_step(sheet.rail.buttons[5].step)
        settle(window, qtbot)
        for view in (v for v in window.findChildren(Canvas) if v.isVisible()):
            view.setFocus()
            for across in range(0, view.width(), 25):
                QTest.mouseMove(view, QPoint(across, view.height() // 2))
            QApplication.sendEvent(view, QHelpEvent(QEvent.Type.ToolTip, QPoint(60, 60), view.mapToGlobal(QPoint(60, 60))))
        window.resize(window.width() - 10, window.height())
        settle(window, qtbot)
        assert sheet.view == "section" and told == [] and document.run != made and document.job.runs[-1].id == made
    gate.way.set()
    qtbot.waitUntil(lambda: told == ["changed"])
    assert document.run == made and document.thing == "t10"
    gate.way.clear()
    gate.fault = "This cannot be"
    assert document.set_value(WIDTH, 0.5)
    document.when_shown(lambda: told.append("followed"))
    gate.way.set()
    qtbot.waitUntil(lambda: gate.fault in told)
    assert "followed" not in told  # what was taken back is followed by nothing


def test_the_first_step_of_a_drag_is_waited_for_by_nobody_however_quick_the_edit_before_was(window, gate, told, qtbot):
    """Another thing is dragged than was edited: how long that takes is not known before."""
    document, section = window.document, staged(window, "section")
    gate.way.set()
    assert document.set_value(WIDTH, 0.4)
    qtbot.waitUntil(lambda: told == ["changed"])
    document._now.took = 0.0
    gate.way.clear()
    at = section.handle_position("width").toPoint()
    QTest.mousePress(section, Qt.MouseButton.LeftButton, pos=at)
    QTest.mouseMove(section, at + QPoint(10, 0))
    assert document.is_due and told == ["changed"] and document.job.sections[0].width > 0.4
    gate.way.set()
    qtbot.waitUntil(lambda: len(told) == 2)
    QTest.mouseRelease(section, Qt.MouseButton.LeftButton, pos=at + QPoint(10, 0))


@pytest.mark.parametrize("hurried", [False, True])
def test_a_drag_goes_on_while_its_steps_are_worked_out_and_ends_where_the_hand_let_go(window, gate, told, qtbot, hurried):
    """Of the steps between only those are worked out that there is time for; the whole drag is one step, and of a drag the last one alone is taken back."""
    document, section, left = window.document, staged(window, "section"), Qt.MouseButton.LeftButton
    gate.way.set()
    assert document.set_value(WIDTH, 0.4)
    qtbot.waitUntil(lambda: told == ["changed"])
    gate.way.clear()  # slow, as the last one was
    gate.worked_out.clear()
    at = section.handle_position("width").toPoint()
    QTest.mousePress(section, left, pos=at)
    for way in range(5, 45, 5):
        QTest.mouseMove(section, at + QPoint(way, 0))
    first = document.job.sections[0].width
    assert 0.4 < first < 0.45 and document.dragging and told == ["changed"]
    gate.way.set()
    qtbot.waitUntil(lambda: len(told) == 3)  # the first, and the last
    last = document.job.sections[0].width
    assert last > first + 0.02 and len(gate.worked_out) == 2 and document.outcome.job is document.job
    gate.way.clear()
    QTest.mouseMove(section, at + QPoint(60, 0))
    QTest.mouseMove(section, at + QPoint(80, 0))
    QTest.mouseRelease(section, left, pos=at + QPoint(80, 0))
    scale = section.frame.scale_x
    turn_wheel(section, (100, 100))
    assert document.dragging and section.frame.scale_x > scale  # nobody has waited
    threading.Timer(0.05, gate.way.set).start()
    if hurried:
        QTest.keyPress(section, Qt.Key.Key_Shift)  # whoever does something else has the last step before it
        assert not document.dragging
    qtbot.waitUntil(lambda: not document.dragging)
    assert document.job.sections[0].width == pytest.approx(2 * last - 0.4, abs=0.015) and document.outcome.job is document.job and document.stack.count() == 2
    gate.fault, kept = "This cannot be", document.job
    gate.way.clear()  # or it is refused at once
    assert document.change(with_value(kept, WIDTH, 0.5), "nudged", document.stack.command(1).merge_key, may_come=True) and document.stack.count() == 2
    gate.way.set()
    qtbot.waitUntil(lambda: gate.fault in told)
    assert document.job is kept and document.stack.count() == 2
    document.stack.undo()
    assert document.job.sections[0].width == 0.4


def test_a_fix_that_cannot_be_kept_is_put_back_and_the_reason_stands(window, qtbot, monkeypatch):
    document = window.document
    document.try_fix(Offer("wider", Instead(with_value(document.job, WIDTH, 0.6))))
    monkeypatch.setattr("weirant.ui.document.faults", lambda *_: [("", "This cannot be")])
    document.keep_trial()
    assert document.trial is None and window.sheet.head.message.text() == "This cannot be" and document.stack.count() == 0


def test_another_job_is_opened_when_it_is_worked_out_and_the_one_before_is_edited_no_more(window, gate, told, qtbot, monkeypatch):
    document, ring, shown = window.document, PATTERNS["ring"].job(), []
    window.open_job(ring, None, "trench", then=lambda: shown.append(window.sheet.step.key))
    before = document.job
    assert before is not ring and shown == [] and not document.set_value(WIDTH, 0.5) and "being opened" in told[-1]
    gate.way.set()
    qtbot.waitUntil(lambda: bool(shown))
    assert document.job is ring and shown == ["trench"] and document.stack.count() == 0
    gate.fault = "This cannot be"
    seen = []
    monkeypatch.setattr(QMessageBox, "open", lambda box: seen.append(box.informativeText() or box.text()), raising=False)
    monkeypatch.setattr("weirant.ui.window.tell", lambda _, title, words: seen.append(words))
    window.open_job(dataclasses.replace(with_value(before, WIDTH, 0.5), name="none"), None)
    qtbot.waitUntil(lambda: seen == [gate.fault])
    assert document.job is ring and document.set_value(WIDTH, 0.4)  # which can be worked on again


def test_what_works_beside_is_woken_later_than_the_window(qtbot):
    asked, slack = [], lambda: ctypes.CDLL(None).prctl(30, 0, 0, 0, 0)  # PR_GET_TIMERSLACK
    work.in_background(slack, asked.append, asked.append)
    qtbot.waitUntil(lambda: bool(asked))
    assert slack() == work.PROMPT and asked == [work.GIVING_WAY]


def test_what_is_drawn_is_named_as_it_is_drawn_until_the_outcome_comes(window, gate, qtbot):
    """What a screen reader is told is of the drawing; its job may be another by then, with other levels or without what is drawn."""
    profile = staged(window, "profile")

    def named():
        return [grip.words for grip in profile._places()]

    before = named()
    assert any("95.05 ft" in words for words in before)
    window.document.set_value("runs.r1.invert", 28.9)
    assert named() == before
    gate.way.set()
    qtbot.waitUntil(lambda: any("94.82 ft" in words for words in named()))


def test_a_hand_that_does_not_wait_meets_no_view_of_what_was_before(window, gate, told, qtbot):
    """The next key or press has what is waited for shown first; and what a table goes on from, its next row, is waited for with the edit."""
    document = window.document
    window.sheet.rail.choose("line")
    entry = window.sheet.card.entry("runs.r1.slope")
    assert document.set_value(WIDTH, 0.5) and told == []
    threading.Timer(0.05, gate.way.set).start()
    QTest.keyClick(entry, Qt.Key.Key_Left)
    assert told == ["changed"] and document._due.of is None
    gate.way.clear()
    threading.Timer(0.05, gate.way.set).start()
    assert document.change(with_value(document.job, "survey.shots", document.job.survey.shots[:-1]), "one less") and told == ["changed"] * 2


def test_a_finding_closed_before_its_fixes_are_worked_out_has_them_worked_out_when_it_is_opened_again(window, qtbot):
    panel = window.sheet.findings
    worst, other = panel.card_of("outlet-level"), panel.card_of("paving")
    panel.open(other.finding)
    window.document.set_value("name", "Another")  # so that what fixes cost is told anew
    settle(window, qtbot)
    panel.open(worst.finding)
    panel.open(other.finding)  # before the hand has rested
    qtbot.wait(400)
    panel.open(worst.finding)
    qtbot.waitUntil(lambda: "cures 1" in worst._fix_rows[0].effect.text(), timeout=3000)


@pytest.mark.parametrize("at_once", [False, True])
def test_what_goes_wrong_in_one_bit_leaves_the_others_to_be_done(qtbot, at_once):
    """The last of them may be what lets the stage be seen again."""
    done = []
    bits = BitByBit(QApplication.instance())
    with qtbot.captureExceptions() as faults:
        bits.ask((lambda: done.append(1), lambda: done.append(1 / 0), lambda: done.append(3)))
        if at_once:
            with pytest.raises(ZeroDivisionError):
                bits.catch_up()
        qtbot.wait(60)
    assert done == [1, 3] and len(faults) == (0 if at_once else 1)
