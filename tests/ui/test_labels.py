"""Labels as they are painted: of every drawing of the twelve patterns, at every size of the letters, none over another and none cut off."""

from __future__ import annotations

from itertools import combinations

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLineEdit, QPushButton

from ui.keys import staged
from weirant.design.patterns import PATTERNS
from weirant.drawing.primitives import Flag
from weirant.ui.lines_button import LinesButton
from weirant.ui.rhythm import off_grid
from weirant.ui.sheet.stage import GAP
from weirant.ui.theme import HIT, THEME

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
            texts = written(canvas)
            assert texts, view
            paper, card = QRectF(canvas.rect()).adjusted(-1, -1, 1, 1), canvas.clear_of().adjusted(GAP, GAP, -GAP, -GAP)
            for text, rect in texts:
                assert paper.contains(rect) and not card.intersects(rect), (view, text)
            for (one, a), (other, b) in combinations(texts, 2):
                assert not a.adjusted(0.6, 0.6, -0.6, -0.6).intersects(b.adjusted(0.6, 0.6, -0.6, -0.6)), (view, one, other)
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
