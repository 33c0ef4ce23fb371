"""A sheet of one page that is laid out from top to bottom: its head, paragraphs, rows, pictures."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from weirant.drawing.primitives import Drawing
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.paper.frame import fit
from weirant.paper.ink import Ink
from weirant.paper.lettering import FAMILY
from weirant.paper.page import DOTS, title_block
from weirant.paper.palette import PRINT
from weirant.units.display import System

ROW = 1.35  # height of a figure's line, of the letters


class PaperSheet:
    """What the sheets for the owner have in common; ``y`` is how far down the page is full."""

    def __init__(self, painter: QPainter, outcome: Outcome, page: QRectF) -> None:
        self.painter, self.outcome, self.page = painter, outcome, page
        self.system = System(outcome.job.units)
        self.ink = Ink(PRINT, FAMILY, 8.2 * DOTS / 72, tabular=False)
        self.y = page.top()

    def head(self, title: str, below: str) -> None:
        """Title and date, what stands below, for whom and by whom."""
        job, text = self.outcome.job, self.ink.text
        self.y += 1.6 * text
        self.ink.lettering(self.painter, QPointF(0, self.y), title, "ink", 1.9, True)
        self.ink.lettering(self.painter, QPointF(self.page.right(), self.y), job.date, "ink", 1.0, False, "right")
        self.y += 1.5 * text
        self.ink.lettering(self.painter, QPointF(0, self.y), below, "muted", 1.05)
        self.ink.lettering(self.painter, QPointF(self.page.right(), self.y), title_block(job), "muted", 1.0, False, "right")
        self.y += 0.6 * text
        self.rule()

    def rule(self) -> None:
        """A line across the page."""
        self.painter.setPen(QPen(self.ink.colour("ink"), 0.08 * self.ink.text))
        self.painter.drawLine(QPointF(0, self.y), QPointF(self.page.right(), self.y))
        self.y += 0.7 * self.ink.text

    def paragraph(self, text: str, left: float, width: float, size: float = 1.0, bold: bool = False) -> None:
        """Words of a width from a left edge, below what stands there."""
        self.painter.setFont(self.ink.font(size, bold))
        self.painter.setPen(self.ink.colour("ink"))
        rect = QRectF(left, self.y, width, self.page.bottom() - self.y)
        used = self.painter.boundingRect(rect, Qt.TextFlag.TextWordWrap, text)
        self.painter.drawText(rect, Qt.TextFlag.TextWordWrap, text)
        self.y += used.height() + 0.2 * self.ink.text

    def picture(self, drawing: Drawing, area: QRectF, scale_bar: bool, north: bool = False) -> None:
        """A drawing with its title, and a scale or a north arrow where they are wanted."""
        painter, text = self.painter, self.ink.text
        painter.save()
        painter.setClipRect(area)
        body = area.adjusted(0, 1.3 * text, 0, -1.4 * text if drawing.has_foot or scale_bar else -0.3 * text)
        frame = fit(drawing, body)
        painter.setClipRect(body.adjusted(0, 0, 0, 1.4 * text) if drawing.has_foot else body)
        self.ink.draw(painter, drawing, frame)
        painter.setClipRect(area)
        note = tr(", heights × {exaggeration}", exaggeration=frame.exaggeration) if frame.exaggeration > 1 else ""
        self.ink.lettering(painter, QPointF(area.left(), area.top() + text), drawing.title + note, "ink", 1.0, True)
        if scale_bar:
            self.ink.scale_bar(
                painter,
                QPointF(area.left(), area.bottom() - 0.5 * text),
                frame.scale_x,
                0.4 * area.width(),
                self.system,
            )
        if north:
            self.ink.north(painter, QPointF(area.right() - 0.8 * text, area.top() + 0.8 * text))
        painter.restore()

    def fitting(self, words: str, room: float, *, bold: bool = False) -> str:
        """Words cut so that they fit."""
        return QFontMetricsF(self.ink.font(1.0, bold)).elidedText(words, Qt.TextElideMode.ElideRight, room)

    def row(self, label: str, value: str, width: float) -> None:
        """A label with its value at the end of a width."""
        self.y += ROW * self.ink.text
        room = width - self.ink.width(value, 1.0, True) - self.ink.text
        label = self.fitting(label, room)
        self.ink.lettering(self.painter, QPointF(0, self.y), label, "ink")
        self.ink.lettering(self.painter, QPointF(width, self.y), value, "ink", 1.0, True, "right")
