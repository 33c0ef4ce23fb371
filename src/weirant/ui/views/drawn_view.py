"""A view of one drawing: made when it is to be seen, fitted, painted, and painted again only where it has changed."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QHideEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QApplication, QSizePolicy, QWidget

from weirant.drawing.brief import brief
from weirant.drawing.primitives import Drawing, Measure, Words
from weirant.job import Job
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.paper.frame import Frame, fit, fit_beside
from weirant.paper.labels import Placed
from weirant.paper.looks import LARGE_SIZE, SIZE
from weirant.ui.document import Document
from weirant.ui.rest import Rest
from weirant.ui.theme import THEME
from weirant.ui.views.kept_picture import KeptPicture
from weirant.ui.views.lens import Lens

GRIP = 5.0  # half size of a handle, px
TITLE = 1.7  # text heights of the band the title stands in


class DrawnView(QWidget):
    """Shows what ``draw`` makes of the outcome and the station.

    On the stage it keeps clear of what ``clear_of`` gives (a rectangle on the view); small, it is shown in brief.
    """

    def __init__(self, document: Document, draw: Callable[[Outcome, float], Drawing], name: str) -> None:
        super().__init__()
        self.document, self._draw = document, draw
        self._drawing: Drawing | None = None
        self._of: Job | None = None  # the job that is drawn: for a moment after an edit not yet the one in hand
        self._frame: Frame | None = None
        self._lens = Lens()
        self._basis: object = None
        self._written: tuple[Drawing, Frame, dict[int, Placed]] | None = None
        self.is_small = False
        self.clear_of: Callable[[], QRectF] | None = None
        self._name = name
        self.setAccessibleName(name)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        document.changed.connect(self.refresh)
        document.station_changed.connect(self.refresh)
        document.run_changed.connect(self._turn)
        document.drag_ended.connect(self._show_whole)
        self._behind = Rest(self, self._draw_shown)
        self._kept = KeptPicture(self, self._paint_drawing, self._make_picture)

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(420, 260)

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802, D102
        self._frame = None

    def hideEvent(self, event: QHideEvent | None) -> None:  # noqa: N802, D102
        super().hideEvent(event)
        self._kept.drop()

    @property
    def shown(self) -> Outcome:
        """What the view draws from."""
        return self.document.outcome

    @property
    def drawing(self) -> Drawing:
        """The drawing in its present state."""
        if self._drawing is None:
            self._drawing, self._of = self._draw(self.shown, self.document.station), self.shown.job
            if self.is_small:
                self._drawing = brief(self._drawing)
        return self._drawing

    @property
    def frame(self) -> Frame:
        """Where the drawing lies on the canvas; it stands still during a drag."""
        if self._frame is None:
            top, foot = self.head, (1.5 * THEME.text if self.drawing.has_foot else self.foot)
            area = QRectF(4, top, max(20, self.width() - 8), max(20, self.height() - top - foot))
            taken = self.clear_of() if self.clear_of is not None and not self.is_small else QRectF()
            whole = fit(self.drawing, area) if taken.isEmpty() else fit_beside(self.drawing, area, taken, THEME.text)
            self._frame = self._lens.through(whole, area.center())
        return self._frame

    @property
    def head(self) -> float:
        """Room over a drawing, px: for its name."""
        return 1.9 * THEME.text

    @property
    def foot(self) -> float:
        """Room under a drawing that has no figures there, px."""
        return 6.0

    @property
    def looked_at(self) -> tuple[float, float, float]:
        """How many times closer than whole it is seen, and what of the world is in the middle."""
        return self._lens.seen

    def look_at(self, times: float, x: float, y: float) -> None:
        """See it so many times closer, with a place of the world in the middle."""
        self._lens.look_at(times, (x, y))
        self._frame = None
        self.update()

    @property
    def is_held(self) -> bool:
        """Whether something of it is being dragged: it stands still then."""
        return False

    def set_small(self, small: bool) -> None:
        """Show it in brief, as a companion, or whole, on the stage; zoom and place are kept."""
        if small != self.is_small:
            self.is_small = small
            self.setAccessibleName(tr("{name}, small: Enter shows it on the stage", name=self._name) if small else self._name)
            self._drawing = self._frame = None
            self.update()

    def make_ready(self) -> None:
        """Make the drawing before it is painted, which takes as long again."""
        if not self.document.is_empty:
            with self.document.as_shown():
                _ = self.drawing

    def paint_ready(self) -> None:
        """Paint the picture of the drawing before it is seen, where what is seen with it takes as long."""
        if self.isVisible() and not self.document.is_empty and THEME.ink.written is None:
            with self.document.as_shown():
                self._kept.have(self._of_what())

    def fit_anew(self) -> None:
        """The room for the drawing has changed."""
        if not self.is_held:
            self._frame = None
            self.update()

    def refresh(self) -> None:
        """Draw anew; a companion a little later, so that the hand is followed on the stage."""
        if self.is_small and self.isVisible():
            self._behind.ask()
        else:
            self._draw_anew()

    def _show_whole(self) -> None:
        """A drag is over: everything is shown as it is, in full."""
        if self.is_small:
            self._draw_anew()
        self.update()

    def _draw_shown(self) -> None:
        with self.document.as_shown():
            self._draw_anew()

    def _draw_anew(self) -> None:
        """Paint only where something changed."""
        if self.document.is_empty:
            return
        before, self._drawing = self._drawing, None
        if before is not None and self.isVisible():
            basis = self.basis()
            if basis is not None and basis == self._basis:
                self._drawing, self._of = before, self.shown.job
                return
            self._basis = basis
            if _same(before, self.drawing):
                return
        if not self.is_held:
            self._frame = None
        self.update()

    def _turn(self) -> None:
        """Another run is in hand: draw it, fitted anew."""
        self._lens.look_at_all()
        self._drawing = self._frame = None
        self.update()

    def basis(self) -> object:
        """What the drawing rests on, where that is quick to tell; a drawing on the same basis is not made again."""
        return None

    # painting

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        if not self.document.is_empty:
            with self.document.as_shown():
                self._paint()

    def _paint(self) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if (self.document.dragging and not self.is_small) or THEME.ink.written is not None:
            painter.fillRect(self.rect(), QColor(THEME.palette.paper))
            self._paint_drawing(painter)
        else:
            self._kept.paint(painter, self._of_what(), may_wait=self.is_small)
        self.paint_over(painter)
        self.paint_handles(painter)
        self._paint_title(painter)
        painter.end()

    def _of_what(self) -> tuple[object, ...]:
        """What the picture of the drawing rests on."""
        return self.drawing, self.frame, THEME.ink, self.blocked(), self.document.dragging

    def _paint_drawing(self, painter: QPainter) -> None:
        ink = THEME.quick_ink if self.document.dragging else THEME.ink
        painter.setClipRect(self._paper)  # what stands under the title is not seen
        self._written = (self.drawing, self.frame, ink.draw(painter, self.drawing, self.frame, self.blocked()))
        painter.setClipping(False)

    def _make_picture(self) -> None:
        """What was painted was of a moment ago."""
        if self.isVisible() and not self.document.is_empty:
            with self.document.as_shown():
                self._kept.make(self._of_what())
            self.update()

    @property
    def _paper(self) -> QRectF:
        """What is under the title."""
        return QRectF(0, TITLE * THEME.text, self.width(), self.height() - TITLE * THEME.text)

    def blocked(self) -> list[QRectF]:
        """What labels keep clear of: handles, and the card that lies on the drawing."""
        half = GRIP + 2
        places = [] if self.is_small else [self.frame.to_paper(handle.at) for handle in self.drawing.handles]
        taken = self.clear_of() if self.clear_of is not None and not self.is_small else QRectF()
        return [*(QRectF(at.x() - half, at.y() - half, 2 * half, 2 * half) for at in places), *([] if taken.isEmpty() else [taken])]

    def typed_rects(self) -> dict[str, QRectF]:
        """Where the labels stand that can be typed into, by the path of their field."""
        if self._written is None or self._written[0] is not self.drawing or self._written[1] != self.frame:
            self._written = (self.drawing, self.frame, THEME.ink.placed(self.drawing, self.frame, self._paper, self.blocked()))
        placed = self._written[2]
        return {s.path: placed[id(s)].rect.adjusted(-4, -3, 4, 5) for s in self.drawing.shapes if isinstance(s, Measure | Words) and s.path and id(s) in placed}

    def paint_handles(self, painter: QPainter) -> None:
        """What can be taken hold of, over the drawing."""

    def paint_over(self, painter: QPainter) -> None:
        """What a view adds over its drawing."""

    def _paint_title(self, painter: QPainter) -> None:
        ink, text = THEME.ink, THEME.text
        painter.fillRect(QRectF(0, 0, self.width(), TITLE * text), QColor(THEME.palette.paper))
        title = QFontMetricsF(ink.font(LARGE_SIZE, True)).elidedText(self.drawing.title, Qt.TextElideMode.ElideRight, self.width() - 16)
        ink.lettering(painter, QPointF(8, 1.25 * text), title, "ink", LARGE_SIZE, True)
        if self.drawing.stretches or self.is_small:
            pass
        elif not self.drawing.may_exaggerate:
            ink.scale_bar(
                painter,
                QPointF(self.width() - 0.3 * self.width() - 3.4 * text, 1.05 * text),
                self.frame.scale_x,
                0.3 * self.width(),
                self.document.system,
            )
        elif self.frame.exaggeration > 1:
            ink.lettering(
                painter,
                QPointF(self.width() - 8, 1.25 * text),
                tr("heights × {exaggeration}", exaggeration=self.frame.exaggeration),
                "muted",
                SIZE,
                False,
                "right",
            )
        if self.hasFocus():
            painter.setPen(QPen(QColor(THEME.palette.accent), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(1, 1, self.width() - 2, self.height() - 2))

    def show_all(self) -> None:
        """Fit the drawing again."""
        self._lens.look_at_all()
        self._frame = None
        self.update()

    def copy_picture(self) -> None:
        """The drawing as a picture on the clipboard."""
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            self._make_picture()
            clipboard.setPixmap(self.grab())


def _same(one: Drawing, other: Drawing) -> bool:
    """Whether two drawings look alike: shapes, bounds and the places of their handles."""
    places = [tuple((h.key, h.at) for h in d.handles) for d in (one, other)]
    return one.bounds == other.bounds and places[0] == places[1] and one.shapes == other.shapes
