"""A state's mark with its word, and a number against its limit as a bar."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from weirant.language import tr
from weirant.outcome.finding import Finding, State
from weirant.paper.looks import SIZE
from weirant.ui.document import Document
from weirant.ui.theme import THEME
from weirant.units.display import shown
from weirant.words.facts import at_most_words


class MarkAndWord(QWidget):
    """A state's shape with its word."""

    def __init__(self) -> None:
        super().__init__()
        self.state = "unknown"
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        letters = QFontMetricsF(THEME.ink.font(SIZE, True))
        return QSize(math.ceil(1.4 * THEME.text + max(letters.horizontalAdvance(tr(state)) for state in State)), round(1.5 * THEME.text))  # alike for all: they stand in a column

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        painter, ink, text = QPainter(self), THEME.ink, THEME.text
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        ink.state_mark(painter, QPointF(0.55 * text, 0.75 * text), self.state, 0.45 * text)
        painter.setFont(ink.font(SIZE, True))
        painter.setPen(ink.colour({"fails": "rust", "tight": "ochre", "unknown": "muted", "holds": "leaf"}[self.state]))
        painter.drawText(QPointF(1.3 * text, 1.1 * text), tr(self.state))
        painter.end()


class LimitBar(QWidget):
    """The number against its limit: a bar with the limit as a notch, and both written out."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.finding: Finding | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(120, round(2.0 * THEME.text))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        f = self.finding
        if f is None or f.value is None or f.limit is None or f.kind is None:
            return
        painter, ink, text = QPainter(self), THEME.ink, THEME.text
        low, high = min(0.0, f.value, f.limit), max(0.0, f.value, f.limit)
        span = (high - low) or 1.0
        low, high = low - 0.04 * span * (low < 0), high + 0.12 * span

        def x(v: float) -> float:
            return (v - low) / (high - low) * self.width()

        top, thick = 0.15 * text, 0.42 * text
        painter.fillRect(QRectF(0, top, self.width(), thick), QColor(THEME.palette.panel))
        state = {"fails": "rust", "tight": "ochre", "unknown": "muted", "holds": "leaf"}[str(f.state)]
        start, end = sorted((x(0.0), x(f.value)))
        painter.fillRect(QRectF(start, top, max(end - start, 2.0), thick), ink.colour(state))
        painter.setPen(QPen(ink.colour("ink"), 2))
        painter.drawLine(QPointF(x(f.limit), top - 2), QPointF(x(f.limit), top + thick + 3))
        system = self.document.system
        painter.setFont(ink.font(SIZE, True))
        painter.drawText(QPointF(0, 1.75 * text), shown(f.value, f.kind, system))
        words = f"{at_most_words(f.at_most)} {shown(f.limit, f.kind, system)}"
        painter.setFont(ink.font(SIZE))
        painter.setPen(ink.colour("muted"))
        painter.drawText(
            QRectF(0, 0.75 * text, self.width(), 1.3 * text),
            Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignAbsolute | Qt.AlignmentFlag.AlignVCenter,
            words,
        )
        painter.end()
