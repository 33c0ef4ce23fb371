"""The handbook says something of everything, and what it says of keys and steps is so."""

from __future__ import annotations

import re
from importlib import import_module

import pytest
from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QTextBrowser

from weirant.handbook import explained, pages, search
from weirant.methods.catalogue import REGISTRY
from weirant.ui import memory
from weirant.ui.asking import show_dialog
from weirant.ui.dialogs.help import HelpDialog
from weirant.ui.dialogs.method import MethodDialog
from weirant.ui.dialogs.why import why_finding
from weirant.ui.opening import DIALOGS
from weirant.ui.steps.catalogue import STEPS
from weirant.ui.tour import SEEN, STOPS, Tour
from weirant.words.findings import titles


def test_every_step_finding_and_method_has_its_page():
    assert set(explained()) == set(titles())
    assert all(f"step-{step.key}" in pages() and step.verb in pages()[f"step-{step.key}"].title for step in STEPS)
    assert all(f"## {name}" in pages()["methods"].text for name in REGISTRY) and pages()["methods"].text.count("- Source: ") >= len(REGISTRY)
    assert all(f"## {title}" in pages()["findings"].text and "{" not in title for title in titles().values())


def test_it_is_searched_by_all_of_the_words_titles_first():
    assert search("hooghoudt")[0][0].key == "methods" and search("know soil")[0][0].key == "step-soil"
    assert {page.key for page, _ in search("benchmark")} >= {"step-levels", "glossary"} and search("no such word at all") == []
    assert len(search("")) == len(pages())


def test_the_keys_it_names_do_what_it_says(window):
    """Of the window: each key in the handbook is the key of an action, of a step, or of an entry."""
    keys = {key.toString() for action in window._actions for key in action.shortcuts()} | {b.shortcut().toString() for b in window.sheet.rail.buttons}
    named = {key for page in pages().values() for key in re.findall(r"\b(?:(?:Ctrl|Alt|Shift)\+)+(?:[A-Z0-9]|Left|Right|Enter|Backspace)\b|\bF\d+\b", page.text)}
    assert len(named) > 8 and {key.replace("Enter", "Return") for key in named} <= keys, named


def test_a_page_is_worked_through_once_whatever_was_searched_for(window, monkeypatch):
    worked_through, show = [], QTextBrowser.setMarkdown
    monkeypatch.setattr(QTextBrowser, "setMarkdown", lambda view, text: (worked_through.append(text[:30]), show(view, text))[1])
    window.show_help("glossary")
    assert len(worked_through) == 1
    dialog = window.findChild(HelpDialog)
    dialog.query.setText("sock")
    worked_through.clear()
    dialog.show_page("window")
    assert len(worked_through) == 1 and dialog.query.text() == "" and dialog.list.count() > 10 and dialog.list.currentItem().text() == pages()["window"].title


def test_f1_opens_the_page_of_what_has_the_keyboard(window, qtbot):
    window.sheet.rail.choose("soil")
    window.help()
    dialog = window.findChild(HelpDialog)
    assert dialog.page.toPlainText().startswith("Step 4: Know the soil")
    card = window.sheet.findings.card_of("outlet-level")
    card.setFocus()
    qtbot.waitUntil(lambda: card.hasFocus() or not window.isActiveWindow(), timeout=3000)
    window.activateWindow()
    card.setFocus()
    window.help()
    assert "stands above the outlet" in dialog.page.toPlainText() and dialog.list.currentItem().text().startswith("Findings")
    dialog.query.setText("turning point")
    assert dialog.list.count() >= 2 and "turning" in dialog.page.textCursor().selectedText().lower()
    dialog.query.setText("zzz")
    assert "Nothing is said" in dialog.page.toPlainText()


def told_by_f1(window, qtbot, dialog):
    """The page and the text where the handbook opens over a dialog, by the key."""
    dialog.activateWindow()
    qtbot.waitUntil(lambda: dialog.isActiveWindow(), timeout=3000)
    QTest.keyClick(QApplication.focusWidget() or dialog, Qt.Key.Key_F1)
    found = dialog.findChild(HelpDialog)
    assert found is not None and found.isVisible()
    told = found.list.currentItem().data(Qt.ItemDataRole.UserRole), found.page.textCursor().selectedText()
    dialog.close()
    return told


@pytest.mark.parametrize("key", sorted(DIALOGS))
def test_f1_in_a_dialog_opens_the_page_that_tells_of_it(window, qtbot, key):
    window.open(key)
    dialog = next(d for d in window.findChildren(getattr(import_module(f"weirant.ui.dialogs.{key}"), DIALOGS[key])) if d.isVisible())
    page, _ = told_by_f1(window, qtbot, dialog)
    assert page == dialog.told_in[0] and page in pages()


def test_f1_at_a_reason_or_a_method_opens_it_there(window, qtbot):
    finding = next(f for f in window.document.outcome.told if f.code == "outlet-level")
    assert told_by_f1(window, qtbot, show_dialog(why_finding(finding, window.document.outcome, window))) == ("findings", titles()["outlet-level"])
    assert told_by_f1(window, qtbot, show_dialog(MethodDialog(REGISTRY["hazen"], window))) == ("methods", "hazen")


def test_each_step_shows_its_picture_which_fits_the_page(window):
    window.help()
    dialog = window.findChild(HelpDialog)
    for key in ("worked-job", *(f"step-{step.key}" for step in STEPS)):
        dialog.show_page(key)
        named = re.findall(r"\]\((.+\.png)\)", pages()[key].text)
        shown = [dialog.page.loadResource(2, QUrl(name)) for name in named]
        assert named and len(named) == dialog.page.toPlainText().count("\ufffc") and all(image.height() > 200 for image in shown), key
        assert not dialog.page.horizontalScrollBar().maximum(), key
    assert not any("![" in line for _, line in search("outlet at the left"))


def test_the_tour_comes_once_with_the_first_job_and_is_walked_and_left_by_keys(empty_window, qtbot):
    window = empty_window
    window.tour_at_first()
    window.open_demo()
    qtbot.waitUntil(lambda: bool(window.sheet.findChildren(Tour)), timeout=3000)
    tour = window.sheet.findChild(Tour)
    seen = []
    for _ in range(len(STOPS)):
        seen.append(tour.title.text())
        assert tour.rect().contains(tour.bubble.geometry()) and not tour.light.isEmpty()
        assert not tour.bubble.geometry().intersects(tour.light) or tour.light.width() > 0.5 * tour.width()
        QTest.keyClick(tour, Qt.Key.Key_Return)
    assert len(set(seen)) == len(STOPS) and tour.isHidden() and memory.words(SEEN) == "seen"
    qtbot.waitUntil(lambda: not window.sheet.findChildren(Tour), timeout=3000)
    window.open_demo()
    qtbot.wait(600)
    assert not window.sheet.findChildren(Tour)
    window.tour()
    tour = window.sheet.findChild(Tour)
    QTest.keyClick(tour, Qt.Key.Key_Escape)
    qtbot.waitUntil(lambda: not window.sheet.findChildren(Tour), timeout=3000)
