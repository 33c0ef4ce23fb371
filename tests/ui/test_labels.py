"""Labels as they are painted: of every drawing of the twelve patterns, at every size of the letters, none over another and none cut off."""

from __future__ import annotations

import dataclasses
from itertools import combinations
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter
from PyQt6.QtWidgets import QAbstractButton, QApplication, QComboBox, QDialog, QLabel, QLineEdit, QPushButton

from ui.keys import settle, staged
from weirant.design.patterns import PATTERNS
from weirant.drawing.primitives import Flag
from weirant.paper.looks import SIZE
from weirant.ui import rhythm, start_tile
from weirant.ui.lines_button import LinesButton
from weirant.ui.opening import DIALOGS
from weirant.ui.rhythm import off_grid
from weirant.ui.sheet.stage import GAP
from weirant.ui.steps.rail import FOOT, LINE
from weirant.ui.theme import HIT, THEME
from weirant.ui.views.canvas import Canvas

VIEWS = {"plan": "map", "profile": "line", "section": "trench", "across": "water", "grains": "materials", "soil class": "soil"}


def written(canvas):
    """The texts that a canvas paints, and what each covers."""
    THEME.ink.written = []
    canvas.grab()
    found, THEME.ink.written = THEME.ink.written, None
    return found


@pytest.mark.parametrize("scale", [1.0, 1.25, 1.5])
@pytest.mark.parametrize("key", PATTERNS)
def test_no_label_is_over_another_or_cut_off(window, qtbot, key, scale):
    window.open_job(PATTERNS[key].job(), None)
    window.set_scale(scale)
    qtbot.waitUntil(window.updatesEnabled)
    for _ in range(2):
        for view, step in VIEWS.items():
            window.sheet.rail.choose(step)
            canvas = staged(window, view)
            for shown in (canvas, *(part for part in window.sheet.companions.children() if isinstance(part, Canvas) and part.isVisible())):
                texts = written(shown)
                assert texts, view
                paper, card = QRectF(shown.rect()).adjusted(-1, -1, 1, 1), canvas.clear_of().adjusted(GAP, GAP, -GAP, -GAP) if shown is canvas else QRectF()
                assert all(shown.rect().contains(button.geometry()) for button in shown.findChildren(QPushButton) if button.isVisible()), (view, shown.accessibleName())
                for text, rect in texts:
                    assert paper.contains(rect) and not card.intersects(rect), (view, shown.accessibleName(), text)
                for (one, a), (other, b) in combinations(texts, 2):
                    assert not a.adjusted(0.6, 0.6, -0.6, -0.6).intersects(b.adjusted(0.6, 0.6, -0.6, -0.6)), (view, shown.accessibleName(), one, other)
        window.switch_units()
        QApplication.processEvents()


@pytest.mark.parametrize("scale", [1.0, 1.5])
def test_the_words_of_every_button_are_within_it_and_a_finger_meets_it_and_all_stands_on_the_grid(window, qtbot, scale):
    window.set_scale(scale)
    qtbot.waitUntil(window.updatesEnabled)
    bar = window.menuBar()
    for menu in (action.menu() for action in bar.actions()):
        heights = [bar.actionGeometry(menu.menuAction()).height(), *(menu.actionGeometry(act).height() for act in menu.actions() if not act.isSeparator())]
        assert min(heights) >= HIT and menu.sizeHint().height() <= window.height(), menu.title()
    for button in window.sheet.rail.buttons:
        button.click()
        QApplication.processEvents()
        for low in (*window.sheet.card.findChildren(QLineEdit), *window.sheet.findChildren(QComboBox), *window.sheet.findChildren(QAbstractButton)):
            assert low.height() >= HIT or not low.isVisible() or type(low) is QAbstractButton, (button.step.key, low.accessibleName(), low.height())
        assert off_grid(window) == [], button.step.key
        for other in window.findChildren(QPushButton):
            if other.isVisible() and other.text() and not other.property("step"):
                letters = other.fontMetrics()
                wide = max(letters.horizontalAdvance(line.replace("&", "")) for line in other.text().split("\n"))
                assert wide <= other.width() - 4, (button.step.key, other.text(), wide, other.width())


@pytest.mark.parametrize("scale", [1.0, 1.5])
def test_what_a_step_says_of_itself_is_whole_or_ends_in_dots(window, qtbot, scale):
    rail = window.sheet.rail
    window.set_scale(scale)
    settle(window, qtbot)
    words = ["holds", "made up, not shot anywhere yet", "the water level at the outlet is not known, nor what comes in over its lip"]
    for number, button in enumerate(rail.buttons):
        button.show_state("unknown", words[number % 3])
    rail._part_room()
    settle(window, qtbot)
    for number, button in enumerate(rail.buttons):
        (verb, *lines), letters = button.told, QFontMetricsF(THEME.ink.font(SIZE))
        assert max(map(letters.horizontalAdvance, lines)) <= button.width() - button._left and verb.endswith(button.step.verb)
        assert button.height() >= (FOOT + (len(lines) - 1) * LINE) * THEME.text and rail.rect().contains(button.geometry())
        said = " ".join(lines)
        assert (said == words[number % 3]) != said.endswith("…") and (scale > 1 or len(lines) == (1, 2, 2)[number % 3]) and words[number % 3] in button.toolTip()


def test_the_head_gives_way_with_dots_and_keeps_the_name_longest(window, qtbot):
    head, job = window.sheet.head, window.document.job
    window.document.change(dataclasses.replace(job, name="Drain along the long side " * 3, place="Bowling green at the far end of the common " * 3), "named")
    window.resize(1000, 760)
    settle(window, qtbot)
    labels = head._name, head._place, head.kept
    for label in labels:
        assert label.fontMetrics().horizontalAdvance(QLabel.text(label)) <= label.width() and (QLabel.text(label) == label.text()) != QLabel.text(label).endswith("…")
    assert QLabel.text(head._name).startswith("Drain along") and QLabel.text(head._place).endswith("…") and head._place.text() in head._place.toolTip()
    assert head._name.width() > head._place.width() and head._units.isVisible() and head.rect().contains(head._units.geometry())


@pytest.mark.parametrize("scale", [1.0, 1.5])
def test_the_level_book_has_rows_before_it_has_words(window, qtbot, scale):
    window.set_scale(scale)
    window.sheet.rail.choose("levels")
    settle(window, qtbot)
    page = window.sheet.stage.view
    assert page.table.viewport().height() >= 4 * page.table.verticalHeader().defaultSectionSize()
    assert page._note.isVisible() == (scale == 1.0) == (not page.table.toolTip()) and page.table.accessibleDescription() == page._note.text()


@pytest.mark.parametrize("step", ["levels", "dig"])
@pytest.mark.parametrize(("scale", "wide"), [(1.0, 1300), (1.5, 1200)])
def test_the_last_column_of_a_table_takes_what_is_left_or_is_scrolled_to_whole(window, qtbot, step, scale, wide):
    window.set_scale(scale)
    window.sheet.rail.choose(step)
    settle(window, qtbot)
    table = window.sheet.stage.view.table
    for size in (wide, wide - 20):  # no cell is looked at for another width of the window
        window.resize(size, 800)
        settle(window, qtbot)
        bar, header, last = table.horizontalScrollBar(), table.horizontalHeader(), table.model().columnCount() - 1
        bar.setValue(bar.maximum())
        assert header.sectionSize(last) >= header.fontMetrics().horizontalAdvance(table.model().headerData(last, Qt.Orientation.Horizontal))
        assert header.sectionViewportPosition(last) + header.sectionSize(last) == table.viewport().width() and bool(bar.maximum()) == (scale > 1)


def test_a_button_breaks_its_words_where_they_would_pass_its_edge_and_shows_them_letter_by_letter(qtbot):
    button = LinesButton()
    qtbot.addWidget(button)
    button.resize(160, 40)
    button.say("Lift the run at Slab & lawn by two inches")
    lines = button.text().split("\n")
    assert " ".join(lines) == "Lift the run at Slab && lawn by two inches" and button.accessibleName() == "Lift the run at Slab & lawn by two inches"
    assert len(lines) > 1 and all(button.fontMetrics().horizontalAdvance(line.replace("&&", "&")) <= button.room for line in lines)


@pytest.mark.parametrize("key", ["curtain", "laterals", "nearly-level"])
def test_in_the_small_profile_the_station_is_under_no_mark(window, qtbot, key):
    """Wherever it stands, and however high the ground goes up."""
    window.open_job(PATTERNS[key].job(), None)
    window.sheet.rail.choose("trench")
    canvas = window.sheet.views.canvas("profile")
    qtbot.waitUntil(lambda: canvas.isVisible() and canvas.is_small)
    for station in np.linspace(0, window.document.in_hand.run.length, 25):
        window.document.move_to(float(station))
        flags = [shape for shape in canvas.drawing.shapes if isinstance(shape, Flag)]
        signs = [QRectF(0, 0, 1.24 * THEME.text, 1.24 * THEME.text) for _ in flags]
        for sign, flag in zip(signs, flags, strict=True):
            sign.moveCenter(canvas.frame.to_paper(flag.at) - QPointF(0, flag.pole * THEME.text))
            assert sign.top() > canvas._paper.top()  # there is room for it to stand
        assert flags and not any(sign.intersects(canvas.blocked()[-1]) for sign in signs)


@pytest.mark.parametrize("name", [*DIALOGS, "why", "handbook", "bench", "settings"])
def test_a_dialog_in_large_letters_is_no_larger_than_a_small_screen(window, qtbot, monkeypatch, name):
    """The buttons of the longest were below its edge."""
    room = QSize(1272, 728)
    monkeypatch.setattr("weirant.ui.rhythm.room_for", lambda _: room)
    monkeypatch.setattr("weirant.ui.dialogs.rows.room_for", lambda _: room)
    window.set_scale(1.5)
    qtbot.waitUntil(window.updatesEnabled)
    others = {"why": lambda: window.why(window.document.outcome.findings[0]), "handbook": lambda: window.show_help("methods"), "bench": window.bench, "settings": window.settings}
    others.get(name, lambda: window.open(name))()
    qtbot.waitUntil(lambda: any(d.isVisible() for d in window.findChildren(QDialog)), timeout=30_000)
    settle(window, qtbot)
    shown = [d for d in window.findChildren(QDialog) if d.isVisible()]
    assert [d.size().boundedTo(room) for d in shown] == [d.size() for d in shown] != []
    for dialog in shown:
        dialog.reject()


@pytest.mark.parametrize(("high", "fills"), [(759, True), (800, False)])
def test_a_first_window_that_does_not_fit_its_screen_fills_it(empty_window, monkeypatch, high, fills):
    monkeypatch.setattr(rhythm, "room_for", lambda _: QSize(1280, high))
    empty_window.hide()
    rhythm.show_whole(empty_window)
    assert empty_window.isMaximized() == fills


@pytest.mark.parametrize("scale", [1.0, 1.5])
@pytest.mark.parametrize("asked", [False, True])
def test_the_words_of_the_first_tiles_are_within_them(empty_window, qtbot, monkeypatch, scale, asked):
    """With large letters the last line of one was cut."""
    monkeypatch.setattr("weirant.ui.memory.recent", lambda: [Path("first.weirant"), Path("second.weirant")])
    empty_window.start.list_recent()
    empty_window.set_scale(scale)
    qtbot.waitUntil(empty_window.updatesEnabled)
    if asked:
        empty_window.start.tiles[1].click()
    settle(empty_window, qtbot)
    monkeypatch.setattr(start_tile, "QPainter", _Noted)
    for tile in empty_window.start.tiles:
        said = _Noted.said = []
        tile.grab()
        assert tile.beginning.words in [words for words, _ in said] and all(QRectF(tile.rect()).contains(rect) for words, rect in said if words), said
        assert (tile.beginning.hint in [words for words, _ in said]) or asked


class _Noted(QPainter):
    """A painter that notes its words and the room they take."""

    def drawText(self, at, *rest):  # noqa: N802
        words, flags = rest[-1], rest[0] if len(rest) > 1 else 0
        wide = QRectF(at.x(), at.y() - self.fontMetrics().ascent(), self.fontMetrics().horizontalAdvance(words), self.fontMetrics().height())
        self.said.append((words, self.boundingRect(at, flags, words) if isinstance(at, QRectF) else wide))
        super().drawText(at, *rest)
