"""A tile of the start page that offers a pattern: its plan in small above its name."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QPushButton, QSizePolicy

from weirant.design.patterns import Pattern
from weirant.drawing.pattern import pattern_drawing
from weirant.drawing.primitives import Drawing
from weirant.language import tr
from weirant.paper.frame import fit
from weirant.paper.looks import LARGE_SIZE
from weirant.ui.theme import THEME
from weirant.ui.work import in_background


class PatternTile(QPushButton):
    """A button with the pattern's plan; the plan is worked out when ``sketch`` is called, so that the window is there first."""

    def __init__(self, pattern: Pattern) -> None:
        super().__init__()
        self.pattern = pattern
        self._drawing: Drawing | None = None
        self.setProperty("tile", "low")  # no lower than its picture and words let it be
        self.setAccessibleName(tr("Pattern: {title}. {hint}", title=pattern.title, hint=pattern.hint))
        self.setToolTip(f"{pattern.title}: {pattern.hint}")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Maximum)

    @property
    def is_sketched(self) -> bool:
        """Whether its plan is there."""
        return self._drawing is not None

    def sketch(self) -> None:
        """Have the plan worked out beside the interface."""
        pattern = self.pattern
        in_background(lambda: pattern_drawing(pattern.job()), self._show, lambda _: None)

    def _show(self, drawing: Drawing) -> None:
        self._drawing = drawing
        self.update()

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(round(9 * THEME.text), round(7.6 * THEME.text))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        painter, ink, text = QPainter(self), THEME.ink, THEME.text
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        whole = QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5)
        strong = self.hasFocus() or self.underMouse()
        painter.setPen(QPen(ink.colour("ink" if strong else "edge"), 2.4 if strong else 1.2))
        painter.setBrush(ink.colour("field"))
        painter.drawRoundedRect(whole, 5, 5)
        picture = QRectF(whole.left() + 8, whole.top() + 6, whole.width() - 16, whole.height() - 2.0 * text)
        if self._drawing is not None:
            painter.save()
            painter.setClipRect(picture)
            ink.draw(painter, self._drawing, fit(self._drawing, picture))
            painter.restore()
        painter.setPen(ink.colour("ink"))
        painter.setFont(ink.font(LARGE_SIZE, True))
        wide = painter.fontMetrics().horizontalAdvance(self.pattern.title)
        if wide > picture.width():  # a long name in large letters is set smaller rather than cut
            painter.setFont(ink.font(LARGE_SIZE * picture.width() / wide, True))
        painter.drawText(QPointF(whole.left() + 8, whole.bottom() - 0.55 * text), self.pattern.title)
        painter.end()
