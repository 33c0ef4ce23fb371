"""What of a drawing can be taken hold of or typed into, as buttons that nobody sees: a screen reader finds and names each, and presses it."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QObject, QRectF, Qt, QTimer
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import QAbstractButton, QWidget

from weirant.records import dataclass

SETTLED = 150  # ms after the last painting: while a hand or a film moves the drawing nothing is told of it


@dataclass(frozen=True)
class GripAt:
    """One thing to take hold of: what it is and how much, where it stands on the canvas, and what a press on it does."""

    words: str
    where: QRectF
    act: Callable[[], object]


class Grip(QAbstractButton):
    """Stands where a handle or a label stands; a mouse goes through it to the drawing."""

    def __init__(self, canvas: QWidget) -> None:
        super().__init__(canvas)
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.act: Callable[[], object] = lambda: None
        self.clicked.connect(lambda: self.act())

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        pass


class Grips(QObject):
    """The grips of a canvas, brought up to its drawing once that has come to rest."""

    def __init__(self, canvas: QWidget, places: Callable[[], Sequence[GripAt]]) -> None:
        super().__init__(canvas)
        self._canvas, self._places = canvas, places
        self.shown: list[Grip] = []
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(SETTLED)
        self._pause.timeout.connect(self._follow)

    def painted(self) -> None:
        """The drawing was painted."""
        self._pause.start()

    def _follow(self) -> None:
        places = self._places()
        for _ in range(len(places) - len(self.shown)):
            self.shown.append(Grip(self._canvas))
        for grip, place in zip(self.shown, places, strict=False):
            grip.act = place.act
            if grip.accessibleName() != place.words:
                grip.setAccessibleName(place.words)
            if grip.geometry() != place.where.toRect():
                grip.setGeometry(place.where.toRect())
            grip.show()
        for grip in self.shown[len(places) :]:
            grip.hide()
