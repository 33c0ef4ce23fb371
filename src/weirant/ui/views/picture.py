"""A widget that shows one drawing, without handles."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QWidget

from weirant.drawing.primitives import Drawing
from weirant.paper.frame import Frame, fit
from weirant.paper.looks import LARGE_SIZE
from weirant.ui.theme import THEME


class Picture(QWidget):
    """Shows a drawing fitted to its size; ``pointed`` tells the world's x where it is pressed or dragged."""

    pointed = pyqtSignal(float)

    def __init__(self, name: str) -> None:
        super().__init__()
        self.drawing: Drawing | None = None
        self.hint = ""
        self.setAccessibleName(name)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(400, self.minimumSizeHint().height())  # it takes what room there is

    def minimumSizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(200, round(5 * THEME.text))

    def show_drawing(self, drawing: Drawing | None, hint: str = "") -> None:
        """Show a drawing, or words in its place."""
        self.drawing, self.hint = drawing, hint
        self.update()

    @property
    def frame(self) -> Frame | None:
        """Where the drawing lies on the widget."""
        if self.drawing is None:
            return None
        top, foot = 1.7 * THEME.text, 1.4 * THEME.text if self.drawing.has_foot else 4
        return fit(self.drawing, QRectF(4, top, max(20, self.width() - 8), max(20, self.height() - top - foot)))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        painter, text = QPainter(self), THEME.text
        painter.fillRect(self.rect(), QColor(THEME.palette.paper))
        frame = self.frame
        if self.drawing is None or frame is None:
            THEME.ink.lettering(painter, QPointF(self.width() / 2, self.height() / 2), self.hint, "muted", 1.0, False, "centre")
        else:
            painter.save()
            painter.setClipRect(QRectF(4, 0, self.width() - 8, self.height()))
            THEME.ink.draw(painter, self.drawing, frame)
            painter.restore()
            painter.fillRect(QRectF(0, 0, self.width(), 1.5 * text), QColor(THEME.palette.paper)) if not self.drawing.has_foot else None
            THEME.ink.lettering(painter, QPointF(8, 1.15 * text), self.drawing.title, "ink", LARGE_SIZE, True)
        painter.end()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802, D102
        self._point(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802, D102
        if event is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._point(event)

    def _point(self, event: QMouseEvent | None) -> None:
        frame = self.frame
        if event is not None and frame is not None:
            self.pointed.emit(frame.to_world(event.position())[0])
