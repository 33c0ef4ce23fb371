"""A tile of the start page: a sketch of where the water stands, and its words."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QPushButton, QSizePolicy

from weirant.design.first_job import Beginning
from weirant.drawing.primitives import Area, Drawing, Shape, Stroke, box
from weirant.paper.frame import fit
from weirant.paper.looks import HEADING_SIZE, LARGE_SIZE
from weirant.ui.theme import THEME

LARGE = 1.2
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
        self.setAccessibleName(f"{beginning.words}: {beginning.hint}")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(round(15 * THEME.text), round((_high() + 7.1) * THEME.text))

    def minimumSizeHint(self) -> QSize:  # noqa: N802, D102
        return self.sizeHint()

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        painter, ink, text = QPainter(self), THEME.ink, THEME.text
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        whole = QRectF(self.rect()).adjusted(1.5, 1.5, -1.5, -1.5)
        strong = self.isChecked() or self.hasFocus() or self.underMouse()
        painter.setPen(QPen(ink.colour("ink" if strong else "edge"), 3 if self.isChecked() else 1.5))
        painter.setBrush(ink.colour("field"))
        painter.drawRoundedRect(whole, 5, 5)
        picture = QRectF(whole.left() + 10, whole.top() + 10, whole.width() - 20, _high() * text)
        painter.save()
        painter.setClipRect(picture)
        drawing = _sketch(self.beginning.key)
        ink.draw(painter, drawing, fit(drawing, picture))
        painter.restore()
        painter.setPen(ink.colour("ink"))
        painter.setFont(ink.font(HEADING_SIZE, True))
        painter.drawText(QPointF(whole.left() + 14, picture.bottom() + 1.7 * text), self.beginning.words)
        painter.setFont(ink.font(LARGE_SIZE))
        painter.setPen(ink.colour("muted"))
        rest = QRectF(whole.left() + 14, picture.bottom() + 2.2 * text, whole.width() - 28, 4 * text)
        painter.drawText(rest, Qt.TextFlag.TextWordWrap, self.beginning.hint)
        painter.end()
