"""A tile of the start page: a sketch of where the water stands, and its words."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QPushButton, QSizePolicy

from weirant.design.first_job import BEGINNINGS, Beginning
from weirant.drawing.primitives import Area, Drawing, Shape, Stroke, box
from weirant.paper.frame import fit
from weirant.paper.looks import HEADING_SIZE, LARGE_SIZE
from weirant.ui.theme import THEME

LARGE = 1.2
HEAD, LEAST, SEEN = 2.2, 3.0, 1.5  # text heights that the name takes, that a picture wants, and under which it is none
_GROUND: tuple[Shape, ...] = (Area(box(0, -3, 10, 0), "soil"), Area(box(0, -3, 10, -2.2), "hard layer"))
_SURFACE = Stroke(((0, 0), (10, 0)), "ground")


def _sketch(key: str) -> Drawing:
    """Small drawings with the same materials as the real ones."""
    sketches: dict[str, tuple[Shape, ...]] = {
        "slab": (Area(((0, -3), (10, -3), (10, 0), (5, 0), (0, 2.2)), "soil"), Area(((0, -3), (10, -3), (10, -1.9), (5, -1.9), (0, 0.3)), "hard layer"),
                 Area(((0, 0.3), (5, -1.9), (6, -1.9), (6, -0.3), (5, -0.6), (0, 1.5)), "wet ground"), Area(box(6, -0.5, 10, 0.3), "building"),
                 Stroke(((0.6, 1.3), (3.6, 0.0)), "seep"), Stroke(((3.1, 0.55), (3.6, 0.0), (2.8, -0.05)), "seep"),
                 Stroke(((0, 2.2), (5, 0), (6, 0)), "ground")),
        "footing": (*_GROUND, Area(box(0, -2.2, 5.4, -0.8), "wet ground"), Area(box(5.4, -1.9, 6.1, 2.0), "building"), Area(box(4.9, -2.2, 6.6, -1.8), "building"),
                    Area(box(6.1, -1.8, 10, -1.5), "building"), Stroke(((0, 0), (5.4, 0)), "ground"), Stroke(((0, -0.8), (5.4, -0.8)), "water")),
        "strip": (*_GROUND, Area(((2.4, 0), (5, -0.7), (7.6, 0)), "water"), Area(((0, -2.2), (10, -2.2), (10, -1.2), (5, -0.7), (0, -1.2)), "wet ground"),
                  Stroke(((0, 0.25), (2.4, 0), (5, -0.7), (7.6, 0), (10, 0.25)), "ground")),
        "field": (*_GROUND, Area(box(0, -2.2, 10, -0.15), "wet ground"), *(Area(box(x, 0, x + 1.6, 0.16), "water") for x in (0.8, 3.4, 6.1)), _SURFACE),
    }  # fmt: skip
    return Drawing(sketches[key], (0, -3, 10, 2.4))


def _high() -> float:
    """Height of the sketch in text heights: with large letters the words need the room."""
    return 8.4 if THEME.scale < LARGE else 4.4


class StartTile(QPushButton):
    """A large button with a sketch above its words."""

    def __init__(self, beginning: Beginning) -> None:
        super().__init__()
        self.beginning = beginning
        self.setCheckable(True)
        self.setProperty("tile", "high")  # no lower than its picture and words let it be
        self.setAccessibleName(f"{beginning.words}: {beginning.hint}")
        self.setToolTip(beginning.hint)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Maximum)

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(round(15 * THEME.text), round((_high() + 7.1) * THEME.text))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        painter, ink, text = QPainter(self), THEME.ink, THEME.text
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        whole = QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5)
        strong = self.isChecked() or self.hasFocus() or self.underMouse()
        painter.setPen(QPen(ink.colour("ink" if strong else "edge"), 3 if self.isChecked() else 1.5))
        painter.setBrush(ink.colour("field"))
        painter.drawRoundedRect(whole, 5, 5)
        painter.setFont(ink.font(LARGE_SIZE))
        told, wide = self.beginning.hint, whole.width() - 28
        hint = max(painter.boundingRect(QRectF(0, 0, wide, 1000), Qt.TextFlag.TextWordWrap, beside.hint).height() for beside in BEGINNINGS)  # the pictures are of one size
        under = HEAD * text + hint + 0.5 * text
        if whole.height() - under < LEAST * text:  # little room: the picture and its name say most
            told, under = "", HEAD * text
        picture = QRectF(whole.left() + 10, whole.top() + 10, whole.width() - 20, min(_high() * text, whole.height() - 10 - under))
        if picture.height() > SEEN * text:
            painter.save()
            painter.setClipRect(picture)
            drawing = _sketch(self.beginning.key)
            ink.draw(painter, drawing, fit(drawing, picture))
            painter.restore()
        painter.setPen(ink.colour("ink"))
        painter.setFont(ink.font(HEADING_SIZE, True))
        if (asked := painter.fontMetrics().horizontalAdvance(self.beginning.words)) > wide:
            painter.setFont(ink.font(HEADING_SIZE * wide / asked, True))
        painter.drawText(QPointF(whole.left() + 14, min(picture.bottom() + 1.7 * text, whole.bottom() - 0.6 * text)), self.beginning.words)
        painter.setFont(ink.font(LARGE_SIZE))
        painter.setPen(ink.colour("muted"))
        painter.drawText(QRectF(whole.left() + 14, picture.bottom() + HEAD * text, wide, hint), Qt.TextFlag.TextWordWrap, told)
        painter.end()
