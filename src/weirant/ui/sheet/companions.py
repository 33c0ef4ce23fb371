"""The companions: the other views of the same place, small and live at the stage's edge; a press swaps one in."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from weirant.language import tr
from weirant.ui.plain_text import plain_tip
from weirant.ui.sheet.views import WORDS
from weirant.ui.theme import THEME
from weirant.ui.views.canvas import Canvas

HIGH = 11.0  # text heights


class Companions(QWidget):
    """Two views side by side, and the names of what else the step can show."""

    wanted = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(0, 0, 0, 0)
        self._row.setSpacing(8)
        self._held: list[tuple[str, QWidget]] = []
        self._others = QFrame()
        self._others.setObjectName("stage")
        self._names = QVBoxLayout(self._others)
        self._names.setContentsMargins(8, 8, 8, 8)
        self._names.setSpacing(0)
        self._names.addStretch(1)
        self._row.addWidget(self._others)
        self._buttons: dict[str, QPushButton] = {}

    @property
    def parts(self) -> tuple[QWidget, ...]:
        """What stands here beside drawings."""
        return (self._others, *(widget for _, widget in self._held if not isinstance(widget, Canvas)))

    @property
    def keys(self) -> tuple[str, ...]:
        """Which views stand here now."""
        return tuple(key for key, _ in self._held)

    def put(self, views: Sequence[tuple[str, Canvas | None]], others: Sequence[str]) -> None:
        """Show views, drawings small and pages by their name; others are told by name."""
        for _, widget in self._held:
            self._row.removeWidget(widget)
            if isinstance(widget, Canvas):
                if widget.parent() is self and widget not in [c for _, c in views]:
                    widget.hide()
            else:
                widget.hide()
                widget.deleteLater()
        self._held = []
        for place, (key, canvas) in enumerate(views):
            widget = canvas if canvas is not None else self._plate(key)
            if canvas is not None:
                canvas.set_small(True)
                canvas.swap_in = partial(self.wanted.emit, key)
            THEME.dress(widget)
            self._row.insertWidget(place, widget, 1)
            widget.show()
            self._held.append((key, widget))
        self._name(others)

    def _plate(self, key: str) -> QPushButton:
        """A page in small: its name, to press."""
        plate = QPushButton(tr("{words}\nback to it", words=WORDS[key]))
        plate.setAccessibleName(tr("Back to: {words}", words=WORDS[key]))
        plate.setProperty("plate", True)
        plate.clicked.connect(partial(self.wanted.emit, key))
        return plate

    def _name(self, others: Sequence[str]) -> None:
        for key in others:
            if key not in self._buttons:
                button = QPushButton(WORDS[key])
                button.setProperty("link", True)
                button.setToolTip(plain_tip(tr("Show on the stage: {words}", words=WORDS[key])))
                button.clicked.connect(partial(self.wanted.emit, key))
                self._names.insertWidget(self._names.count() - 1, button)
                self._buttons[key] = button
        for key, button in self._buttons.items():
            button.setVisible(key in others)
        self._others.setVisible(bool(others))

    def set_height(self, most: int) -> None:
        """Keep to a height that fits the letters, at most a share of what there is."""
        self.setFixedHeight(min(round(HIGH * THEME.text), most))
