"""Colours and letter sizes of the window: one style sheet made from a palette."""

from __future__ import annotations

import math
from collections.abc import Iterable
from importlib import resources

from PyQt6.QtGui import QColor, QFont, QPalette
from PyQt6.QtWidgets import QApplication, QWidget

from weirant.paper.ink import Ink
from weirant.paper.lettering import FAMILY
from weirant.paper.looks import HEADING_SIZE, SIZE
from weirant.paper.palette import DAYLIGHT, THEMES, Palette

TEXT = 14  # pixels at 100 %
LOOK = "look"  # property of a part: which look it wears, 0 for none any more
HIT = 32  # pixels that whatever is pressed or typed into is high at least


def _icon(name: str) -> str:
    """Path of a shipped icon, as the style sheet wants it."""
    return str(resources.files("weirant.ui").joinpath("icons", name)).replace("\\", "/")


class Theme:
    """The look in force: palette and text scale."""

    def __init__(self) -> None:
        self.palette: Palette = DAYLIGHT
        self.scale = 1.0
        self.ink = self.quick_ink = Ink(DAYLIGHT, FAMILY, TEXT)
        self.sheet, self._number = "", 0  # the style sheet of the look, and the how manieth it is

    @property
    def text(self) -> int:
        """Height of the letters in pixels."""
        return round(TEXT * self.scale)

    @property
    def row(self) -> int:
        """Height in pixels of an entry, a button, a row of a table that is typed into."""
        return max(HIT, round(1.9 * self.text))

    def apply(self, name: str, scale: float) -> None:
        """Choose a theme for the whole application; what is on the screen takes it part by part, by ``dress``."""
        self.palette, self.scale = THEMES.get(name, DAYLIGHT), scale
        self.ink, self.quick_ink = (
            Ink(self.palette, FAMILY, self.text),
            Ink(self.palette, FAMILY, self.text, quick=True),
        )
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        written = self._written()
        self._number += written != self.sheet
        self.sheet = written
        font = QFont(FAMILY)
        font.setPixelSize(self.text)
        font.setWeight(QFont.Weight.Medium)
        font.setFeature(QFont.Tag(b"tnum"), 1)
        app.setFont(font)
        colours, p = QPalette(), self.palette
        for role, colour in ((QPalette.ColorRole.Window, p.paper), (QPalette.ColorRole.Base, p.field), (QPalette.ColorRole.Text, p.ink),
                             (QPalette.ColorRole.WindowText, p.ink), (QPalette.ColorRole.ButtonText, p.ink), (QPalette.ColorRole.Button, p.panel),
                             (QPalette.ColorRole.Highlight, p.accent), (QPalette.ColorRole.HighlightedText, p.paper),
                             (QPalette.ColorRole.AlternateBase, p.panel), (QPalette.ColorRole.ToolTipBase, p.field),
                             (QPalette.ColorRole.ToolTipText, p.ink), (QPalette.ColorRole.PlaceholderText, p.muted)):  # fmt: skip
            colours.setColor(role, QColor(colour))
        app.setPalette(colours)

    def dress(self, part: QWidget) -> None:
        """Put the look on a part of a window, and on all that is in it, where it does not wear it yet. What is out of sight is dressed when it is shown: a
        sheet is worked through by every widget under it, and nine in ten of them are on pages that are not turned to.
        """
        while part.property(LOOK) != self._number:
            self.dress_by_half(part)

    def is_outworn(self, part: QWidget) -> bool:
        """Whether a part wears the look of before, or is between the two."""
        return part.property(LOOK) not in (None, self._number)

    def undress(self, part: QWidget) -> None:
        """Take the look of before off a part."""
        if self.is_outworn(part) and part.property(LOOK):
            self.dress_by_half(part)

    def dress_by_half(self, part: QWidget) -> None:
        """Take the former look off a part; or put this one on, where it wears none: a sheet in place of another takes every widget three times as long as one in place of none."""
        wears = bool(part.property(LOOK))
        part.setStyleSheet("" if wears else self.sheet)
        part.setProperty(LOOK, 0 if wears else self._number)

    def undressed(self, parts: Iterable[QWidget]) -> list[QWidget]:
        """Those of parts that wear another look still, what is in sight first; those that were never shown wear none."""
        worn = [part for part in parts if part.property(LOOK) != self._number]
        return [part for part in worn if part.isVisible()] or [part for part in worn if part.property(LOOK) is not None]

    def _written(self) -> str:
        p, em, row = self.palette, self.text, self.row
        room = math.ceil((row - 1.2 * em) / 2)  # over and under the words of a menu
        return f"""
        QWidget {{ color: {p.ink}; font-family: {FAMILY}; font-size: {em}px; font-weight: 500; }}
        QMainWindow, QDialog, #sheet {{ background: {p.paper}; }}
        #panel, #rail, #strip, #head {{ background: {p.panel}; }}
        #stage {{ background: {p.paper}; border-radius: 6px; }}
        #floating {{ background: {p.field}; border: 1px solid {p.ink}; border-radius: 6px; }}
        #cardpage {{ background: {p.field}; }}
        QLabel[quiet="true"] {{ color: {p.muted}; font-size: {round(em * SIZE)}px; }}
        QLabel[loud="true"] {{ font-weight: 600; font-size: {round(em * HEADING_SIZE)}px; }}
        QLabel[strong="true"] {{ font-weight: 600; }}
        QLabel[bad="true"] {{ color: {p.rust}; font-weight: 600; }}
        QLineEdit, QComboBox, QSpinBox, QPlainTextEdit, QTableView, QListView {{
            background: {p.field}; border: 1px solid {p.edge}; border-radius: 3px; padding: 3px 7px; min-height: {row - 8}px;
            selection-background-color: {p.accent}; selection-color: {p.paper}; }}
        QSpinBox::up-button, QSpinBox::down-button {{ width: 0; border: none; }}
        QComboBox QAbstractItemView {{ background: {p.field}; color: {p.ink}; selection-background-color: {p.accent}; selection-color: {p.paper}; }}
        QLineEdit {{ placeholder-text-color: {p.muted}; }}
        QComboBox::drop-down {{ border: none; width: {round(em * 1.5)}px; }}
        QComboBox::down-arrow {{ image: url("{_icon(f"choose-{p.name}.svg")}"); width: {round(em * 0.85)}px; }}
        QLineEdit:focus, QComboBox:focus, QTableView:focus, QListView:focus {{ border: 2px solid {p.accent}; padding: 2px 6px; }}
        QLineEdit[assumed="true"], QComboBox[assumed="true"] {{ border-style: dashed; border-color: {p.ochre}; font-style: italic; }}
        QLineEdit[bad="true"] {{ border: 2px solid {p.rust}; padding: 2px 6px; }}
        QCheckBox {{ min-height: {row}px; }}
        QCheckBox::indicator {{ width: {em}px; height: {em}px; border: 2px solid {p.muted}; border-radius: 3px; background: {p.field}; }}
        QCheckBox::indicator:checked {{ background: {p.accent}; image: url("{_icon(f"tick-{p.name}.svg")}"); }}
        QCheckBox::indicator:focus {{ border-color: {p.accent}; }}
        QPushButton {{ background: {p.field}; border: 1px solid {p.edge}; border-radius: 4px; padding: 3px 11px; min-height: {row - 8}px; outline: none; }}
        QPushButton[tile="high"] {{ min-height: {round(10.1 * em)}px; }}
        QPushButton[tile="name"] {{ min-height: {round(2.0 * em)}px; }}
        QPushButton[tile="low"] {{ min-height: {round(4.6 * em)}px; }}
        QPushButton:hover {{ border-color: {p.accent}; }}
        QPushButton:focus {{ border: 2px solid {p.accent}; padding: 2px 10px; }}
        QPushButton:disabled {{ color: {p.muted}; }}
        QPushButton[main="true"] {{ background: {p.accent}; color: {p.paper}; border-color: {p.accent}; font-weight: 600; }}
        QPushButton[main="true"]:focus {{ border: 3px double {p.paper}; padding: 1px 9px; }}
        QPushButton[main="true"]:disabled {{ background: {p.panel}; color: {p.muted}; border-color: {p.rule}; }}
        QPushButton[link="true"] {{ background: transparent; border: none; text-decoration: underline; padding: 0 4px; text-align: left;
            min-height: {row}px; }}
        QPushButton[link="true"]:focus {{ border: 1px solid {p.accent}; }}
        QPushButton[link="true"][here="true"] {{ border-left: 5px solid {p.accent}; padding-left: 6px; font-weight: 600; }}
        QPushButton[tab="true"] {{ border-radius: 0; border: none; border-bottom: 3px solid transparent; background: transparent; padding: 4px 8px 1px 8px; min-height: {row - 8}px; }}
        QPushButton[tab="true"]:checked {{ border-bottom-color: {p.ink}; font-weight: 600; }}
        QPushButton[tab="true"]:focus {{ background: {p.field}; }}
        QPushButton[step="true"] {{ text-align: left; border: none; border-left: 4px solid transparent; border-radius: 0; background: transparent;
            padding: 4px 8px; }}
        QPushButton[step="true"]:checked {{ background: {p.paper}; border-left-color: {p.ink}; }}
        QPushButton[step="true"]:focus {{ border: 1px solid {p.accent}; border-left: 4px solid {p.accent}; }}
        #card {{ background: {p.paper}; border: 1px solid {p.edge}; border-radius: 6px; }}
        #card:focus {{ border: 2px solid {p.accent}; }}
        QPushButton[next="true"] {{ text-align: left; background: {p.paper}; border: none; border-left: 4px solid {p.accent}; border-radius: 0; font-weight: 600;
            min-height: {row - 6}px; }}
        QPushButton[next="true"]:focus {{ border: 2px solid {p.accent}; border-left: 4px solid {p.accent}; }}
        QPushButton[plate="true"] {{ background: {p.paper}; border: 1px dashed {p.edge}; border-radius: 6px; font-weight: 600; }}
        QPushButton[plate="true"]:focus {{ border: 2px solid {p.accent}; }}
        #trial {{ background: {p.field}; border: 2px solid {p.ochre}; border-radius: 4px; }}
        QScrollArea {{ border: none; background: transparent; }}
        #haskeys {{ border: 2px solid {p.accent}; border-radius: 6px; background: transparent; }}
        QHeaderView::section {{ background: {p.panel}; border: none; border-bottom: 1px solid {p.rule}; padding: 4px 8px; font-weight: 600; }}
        QTableView::item:selected {{ background: {p.panel}; color: {p.ink}; border: 2px solid {p.accent}; }}
        QTableView QLineEdit, QTableView QComboBox {{ min-height: 0; padding: 0 4px; }}
        QTableView {{ gridline-color: {p.rule}; }}
        QMenuBar, QMenu {{ background: {p.panel}; }}
        QMenu {{ border: 1px solid {p.edge}; }}
        QMenuBar::item {{ padding: {room}px 8px; background: transparent; }}
        QMenu::item {{ padding: {room}px 24px {room}px 24px; }}
        QMenuBar::item:selected, QMenu::item:selected {{ background: {p.accent}; color: {p.paper}; }}
        QProgressBar {{ background: {p.field}; border: 1px solid {p.edge}; border-radius: 3px; text-align: right; color: {p.ink}; }}
        QProgressBar::chunk {{ background: {p.rule}; }}
        QStatusBar {{ background: {p.panel}; color: {p.muted}; }}
        QToolTip {{ background: {p.field}; color: {p.ink}; border: 1px solid {p.rule}; padding: 3px; }}
        QDialogButtonBox {{ dialogbuttonbox-buttons-have-icons: 0; }}
        QSplitter::handle {{ background: {p.rule}; }}
        """


THEME = Theme()
