"""The picture of a drawing as it was last made: while nothing of it has changed it is shown again in next to no time, whatever made the window paint anew."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtWidgets import QWidget

from weirant.ui.theme import THEME
from weirant.ui.turn import InTurn


class KeptPicture:
    """Keeps what ``draw`` paints of a widget, as long as it shows the same; what it shows is told by the caller, first the drawing itself, of which only the
    very same is the same.
    """

    def __init__(self, of: QWidget, draw: Callable[[QPainter], None], again: Callable[[], None]) -> None:
        self._of, self._draw = of, draw
        self._picture: QImage | None = None
        self._shows: tuple[object, ...] = ()
        self._turn = InTurn(of, again)  # the picture is made then, in a turn in which nothing else is done

    def paint(self, painter: QPainter, shows: tuple[object, ...], *, may_wait: bool) -> None:
        """Paint what is kept if it shows this; else make it anew, or, where that may wait, soon, and until then paint what there was."""
        if may_wait and not self._is(shows):
            self._turn.start()
        else:
            self.have(shows)
        painter.fillRect(self._of.rect(), QColor(THEME.palette.paper))
        if self._picture is not None:
            painter.drawImage(0, 0, self._picture)

    def have(self, shows: tuple[object, ...]) -> None:
        """Make it now, unless it shows this already."""
        if not self._is(shows):
            self.make(shows)

    def _is(self, shows: tuple[object, ...]) -> bool:
        return bool(self._shows) and self._shows[0] is shows[0] and self._shows[1:] == (*shows[1:], *self._size)

    def make(self, shows: tuple[object, ...]) -> None:
        """Make it now; of a widget without room there is none."""
        if self._of.rect().isEmpty():
            return
        size, ratio = self._size
        self._picture = picture = QImage(size, QImage.Format.Format_RGB32)
        picture.setDevicePixelRatio(ratio)
        picture.fill(QColor(THEME.palette.paper))
        painter = QPainter(picture)
        self._draw(painter)
        painter.end()
        self._shows = *shows, *self._size

    def drop(self) -> None:
        """Keep nothing."""
        self._picture, self._shows = None, ()
        self._turn.stop()

    @property
    def _size(self) -> tuple[QSize, float]:
        """How large the picture is to be, in dots, and how many of them are one of the widget's."""
        ratio = self._of.devicePixelRatioF()
        return (self._of.size().toSizeF() * ratio).toSize(), ratio
