"""The stage: the one large drawing or page of the step, and the card of the thing in hand in a corner of it."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QFrame, QWidget

from weirant.ui.steps.card import Card
from weirant.ui.theme import THEME
from weirant.ui.views.canvas import Canvas

GAP, ROUND = 8, 6  # px; of its corners
LEFT, RIGHT, BELOW = "left", "right", "below"  # where the card is


class Stage(QFrame):
    """Shows one view. On a drawing the card lies in a corner, and the drawing is fitted so that it hides nothing; a page makes room beside it or below."""

    def __init__(self, card: Card) -> None:
        super().__init__()
        self.card = card
        self.view: QWidget | None = None
        self._canvas: Canvas | None = None
        self._place = RIGHT
        card.setParent(self)
        card.grown.connect(self.lay_out)
        card.installEventFilter(self)
        self.setMinimumSize(320, 200)

    def put(self, view: QWidget, canvas: Canvas | None, place: str) -> None:
        """Set a view on the stage in place of the one before."""
        if self._canvas is not None and self._canvas is not canvas:
            self._canvas.clear_of = None
        if self.view is not None and self.view is not view and self.view.parent() is self:
            self.view.hide()
            self.view.removeEventFilter(self)
        if view is not self.view:
            view.installEventFilter(self)
        self.view, self._canvas, self._place = view, canvas, place
        self.card.set_broad(place == BELOW)
        self.adopt(view)
        if canvas is not None:
            canvas.clear_of = self._taken
        for part in (view, canvas):
            if part is not None:
                THEME.dress(part)
        view.show()
        self.card.raise_()
        self.lay_out()
        if canvas is not None:
            canvas.fit_anew()

    def adopt(self, view: QWidget) -> None:
        """Have a view for its own, not in sight yet: one that wears the look already would be worked through once more for it."""
        if view.parent() is not self:
            view.setParent(self)

    def clear(self) -> None:
        """Let go of view and card: they go."""
        for part in (self.view, self.card):
            if part is not None:
                part.removeEventFilter(self)
        self.view = self._canvas = None

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(THEME.palette.paper))
        painter.drawRoundedRect(self.rect(), ROUND, ROUND)
        painter.end()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:  # noqa: N802, D102
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self.lay_out()  # the tools over a plan may have come or gone, or the card wants another height
        return False

    def _taken(self) -> QRectF:
        """What the card takes of the drawing, on its canvas."""
        if self._canvas is None:
            return QRectF()
        corner = self._canvas.mapFrom(self, self.card.pos())
        return QRectF(QPointF(corner), self.card.size().toSizeF()).adjusted(-GAP, -GAP, GAP, GAP)

    def lay_out(self) -> None:
        """Set the view and the card where they belong."""
        if self.view is None:
            return
        if self._place == BELOW:
            high = min(self.card.needed_height(self.width() - 2 * GAP), self.height() // 2)
            self.card.take_place(GAP, self.height() - high - GAP, self.width() - 2 * GAP, high)
            self.view.setGeometry(0, 0, self.width(), self.height() - high - GAP)
            return
        beside = 0 if self._canvas is not None or self.card.is_folded else self.card.wide() + GAP
        self.view.setGeometry(0, 0, self.width() - beside, self.height())
        layout = self.view.layout()
        if layout is not None and self._canvas is not self.view:
            layout.activate()
        top = GAP
        if self._canvas is not None:
            top = self._canvas.mapTo(self, self._canvas.rect().topLeft()).y() + round(2.1 * THEME.text)
        wide = self.card.shown_width()
        self.card.take_place(GAP if self._place == LEFT else self.width() - wide - GAP, top, wide, self.height() - top - GAP)
        if self._canvas is not None:
            self._canvas.fit_anew()

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802, D102
        super().resizeEvent(event)
        self.lay_out()
