"""Draws primitives with a QPainter: materials by fill and hatch, lines by weight and dash, so that black and white reads too."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFont, QFontMetricsF, QImage, QPainter, QPainterPath, QPen, QPixmap, QPolygonF
from PyQt6.QtWidgets import QWidget

from weirant.drawing.primitives import Area, Drawing, Flag, Mark, Measure, Ring, Shade, Shape, Stroke, Words
from weirant.language import digits_here, tr
from weirant.paper.frame import Frame
from weirant.paper.labels import HIGH, RISE, Placed, placed_labels
from weirant.paper.looks import ANCHORS, FILLS, FINE_SIZE, HATCHES, LINES, MEASURE_SIZE, ROLES, SIZE
from weirant.paper.marks import draw_mark
from weirant.paper.palette import Palette
from weirant.paper.pieces import pieces
from weirant.paper.shade import draw_shade
from weirant.paper.tiles import stones, tile
from weirant.units.display import System

MOST_WIDTHS = 4000  # kept


class Ink:
    """Draws in one palette; ``text`` is the height of the letters in the painter's units.

    ``quick`` leaves the edges of areas and lines unsmoothed, for the frames of a drag. ``tabular`` figures
    are of equal width; in a PDF they would lose their meaning for search and copy, so there they are left out.
    """

    def __init__(self, palette: Palette, family: str, text: float, quick: bool = False, tabular: bool = True) -> None:
        self.palette, self.family, self.text, self.quick, self.tabular = palette, family, text, quick, tabular
        self._colours: dict[str, QColor] = {}
        self._pens: dict[str, QPen] = {}
        self._marks: dict[tuple[str, float], QPixmap] = {}
        self._widths: dict[tuple[str, float, bool], float] = {}
        self.written: list[tuple[str, QRectF]] | None = None  # texts and what they cover, kept where somebody asks for it

    def colour(self, name: str) -> QColor:
        """A colour of the palette by its name."""
        if name not in self._colours:
            self._colours[name] = QColor(getattr(self.palette, name))
        return QColor(self._colours[name])

    def font(self, size: float = 1.0, bold: bool = False) -> QFont:
        """The lettering in a size relative to ``text``."""
        font = QFont(self.family)
        font.setPixelSize(max(1, round(self.text * size)))
        font.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Medium)
        font.setUnderline(False)  # unsaid it is the widget's
        # said either way: unsaid it is the application's, whose even figures a printed page cannot be searched for
        font.setFeature(QFont.Tag(b"tnum"), 1 if self.tabular else 0)
        return font

    def draw(self, painter: QPainter, drawing: Drawing, frame: Frame, blocked: Sequence[QRectF] = ()) -> dict[int, Placed]:
        """Draw every shape in order, labels last, apart from one another and from what is ``blocked``; gives where each stands."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for shape in drawing.shapes:
            self._one(painter, shape, frame)
        return self._labels(painter, drawing, frame, blocked)

    def _labels(self, painter: QPainter, drawing: Drawing, frame: Frame, blocked: Sequence[QRectF]) -> dict[int, Placed]:
        placed = self.placed(drawing, frame, _paper(painter), blocked)
        painter.setPen(QPen(self.colour("muted"), max(0.6, 0.05 * self.text)))
        for leader in (spot.leader for spot in placed.values()):
            if leader is not None:
                painter.drawLine(leader)
        for shape in drawing.shapes:
            if isinstance(shape, Words | Measure) and id(shape) in placed:
                spot = placed[id(shape)]
                colour, size, bold = ROLES[shape.role] if isinstance(shape, Words) else ("ink", MEASURE_SIZE, bool(shape.path))
                self.lettering(painter, spot.start, shape.text, colour, size, bold)
                if shape.path and isinstance(painter.device(), QWidget | QPixmap | QImage):  # what can be typed into has a line of dots under it
                    painter.setPen(QPen(self.colour("ink"), max(0.7, 0.07 * self.text), Qt.PenStyle.DotLine))
                    painter.drawLine(QLineF(spot.rect.left(), spot.rect.bottom() + 1, spot.rect.right(), spot.rect.bottom() + 1))
        return placed

    def placed(self, drawing: Drawing, frame: Frame, paper: QRectF, blocked: Sequence[QRectF] = ()) -> dict[int, Placed]:
        """Where the labels of a drawing stand on a rectangle of paper, by the identity of their shape."""
        return placed_labels(drawing.shapes, frame, self.text, self.width, paper, blocked)

    def width(self, text: str, size: float = 1.0, bold: bool = False) -> float:
        """How wide a text comes out, in the painter's units."""
        key = (text, size, bold)
        if key not in self._widths:
            if len(self._widths) > MOST_WIDTHS:
                self._widths.clear()
            self._widths[key] = sum(QFontMetricsF(self.font(size, heavy)).horizontalAdvance(piece) for piece, heavy in pieces(text, bold))
        return self._widths[key]

    def _one(self, painter: QPainter, shape: Shape, frame: Frame) -> None:
        if isinstance(shape, Area):
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, not self.quick)
            self._area(painter, shape, frame)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        elif isinstance(shape, Stroke):
            painter.setPen(self.pen(shape.line))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, not (shape.line == "grid" or self.quick))
            left, top, across, up = frame.left, frame.top, frame.scale_x, frame.scale_y
            painter.drawPolyline(QPolygonF([QPointF(left + x * across, top - y * up) for x, y in shape.points]))
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        elif isinstance(shape, Ring):
            self._ring(painter, shape, frame)
        elif isinstance(shape, Measure):
            self._measure(painter, shape, frame)
        elif isinstance(shape, Mark):
            self._mark(painter, frame.to_paper(shape.at), shape.kind)
        elif isinstance(shape, Shade):
            draw_shade(painter, shape, frame, self.colour("water"))
        elif isinstance(shape, Flag):
            at = frame.to_paper(shape.at)
            up = -1 if at.y() - (shape.pole + 0.7) * self.text > _paper(painter).top() else 1  # it hangs where there is no room for it to stand
            self.state_mark(painter, QPointF(at.x(), at.y() + shape.pole * up * self.text), shape.state, 0.62 * self.text)
            painter.drawLine(QPointF(at.x(), at.y() + (shape.pole - 0.7) * up * self.text), at)

    def _mark(self, painter: QPainter, at: QPointF, kind: str) -> None:
        """A sign; on screen from a picture kept of it, since a plan has hundreds."""
        device, half = painter.device(), 0.36 * self.text
        if not isinstance(device, QWidget | QPixmap | QImage):
            draw_mark(painter, at, kind, half, self.colour)
            return
        ratio, size = device.devicePixelRatioF(), math.ceil(half) + 3
        if (kind, ratio) not in self._marks:
            picture = QPixmap(round(2 * size * ratio), round(2 * size * ratio))
            picture.setDevicePixelRatio(ratio)
            picture.fill(Qt.GlobalColor.transparent)
            inner = QPainter(picture)
            inner.setRenderHint(QPainter.RenderHint.Antialiasing)
            draw_mark(inner, QPointF(size, size), kind, half, self.colour)
            inner.end()
            self._marks[kind, ratio] = picture
        painter.drawPixmap(QPointF(round(at.x()) - size, round(at.y()) - size), self._marks[kind, ratio])

    def pen(self, line: str) -> QPen:
        """The pen of a kind of line."""
        if line not in self._pens:
            self._pens[line] = self._new_pen(line)
        return self._pens[line]

    def _new_pen(self, line: str) -> QPen:
        colour, weight, dashes = LINES[line]
        pen = QPen(
            self.colour(colour),
            max(0.6, weight * self.text / 100),
            Qt.PenStyle.SolidLine,
            Qt.PenCapStyle.FlatCap,
            Qt.PenJoinStyle.RoundJoin,
        )
        if dashes:
            pen.setDashPattern(list(dashes))
        return pen

    def _area(self, painter: QPainter, area: Area, frame: Frame) -> None:
        outline = QPolygonF([frame.to_paper(p) for p in area.points])
        painter.setPen(Qt.PenStyle.NoPen)
        if area.material == "water band":
            band = self.colour("water")
            band.setAlphaF(0.25)
            painter.setBrush(band)
            painter.drawPolygon(outline)
            return
        painter.setBrush(self.colour(FILLS[area.material]))
        painter.drawPolygon(outline)
        grain = area.grain * frame.scale_y
        if area.material == "stone" and grain > 0.25 * self.text:
            self._pebbles(painter, outline, grain)
        elif area.material in HATCHES or area.material == "stone":
            painter.setBrush(self._hatch(HATCHES.get(area.material, "pebbles")))
            painter.drawPolygon(outline)

    def _pebbles(self, painter: QPainter, outline: QPolygonF, size: float) -> None:
        """Stones at their true size, in the same places as long as the outline keeps its lower left corner."""
        corner = outline.boundingRect().bottomLeft()
        brush = QBrush(stones(round(size, 1), self.palette.stone, self.palette.stone_edge, max(0.6, 0.06 * self.text)))
        painter.save()
        painter.setBrushOrigin(corner)
        painter.setBrush(brush)
        painter.drawPolygon(outline)
        painter.restore()

    def _hatch(self, pattern: str) -> QBrush:
        return QBrush(tile(pattern, self.palette.stone_edge if pattern == "pebbles" else self.palette.water if pattern == "level"
                            else self.palette.muted, max(4, round(self.text * 0.9))))  # fmt: skip

    def _ring(self, painter: QPainter, ring: Ring, frame: Frame) -> None:
        centre, scale = frame.to_paper(ring.centre), frame.scale_y
        inner, outer = ring.inner * scale, ring.outer * scale
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.colour("pipe"))
        painter.drawEllipse(centre, outer, outer)
        painter.setBrush(self.colour("field"))
        painter.drawEllipse(centre, inner, inner)
        if ring.water > 0:
            painter.save()
            bore = QPainterPath()
            bore.addEllipse(centre, inner, inner)
            painter.setClipPath(bore, Qt.ClipOperation.IntersectClip)
            depth = max(ring.water * scale, 0.12 * self.text)
            painter.fillRect(
                QRectF(centre.x() - inner, centre.y() + inner - depth, 2 * inner, depth), self.colour("water")
            )
            painter.restore()
        painter.setPen(QPen(self.colour("field"), max(1.0, 0.7 * (outer - inner))))
        for angle in {"all round": range(0, 360, 45), "down": (230, 310)}.get(ring.holes, ()):
            way = QPointF(math.cos(math.radians(angle)), -math.sin(math.radians(angle)))
            painter.drawLine(centre + way * (inner - 0.5), centre + way * (outer + 0.5))

    def lettering(self, painter: QPainter, at: QPointF, text: str, colour: str, size: float = 1.0, bold: bool = False,
                  anchor: str = "left") -> None:  # fmt: skip
        """Text with its baseline at a point, on a halo of paper so that it reads over hatches; units after bold figures are lighter."""
        start = QPointF(at.x() - self.width(text, size, bold) * ANCHORS[anchor], at.y())
        if self.written is not None:
            self.written.append((text, QRectF(start.x(), start.y() - RISE * size * self.text, self.width(text, size, bold), HIGH * size * self.text)))
        device = painter.device()
        if isinstance(device, QWidget | QPixmap | QImage):
            ratio, light = device.devicePixelRatioF(), self.palette.muted if colour == "ink" else getattr(self.palette, colour)
            runs = tuple((piece, self.font(size, heavy).key(), getattr(self.palette, colour) if heavy == bold else light) for piece, heavy in pieces(text, bold))
            label = _label(runs, self.palette.paper, self.text, ratio)
            painter.drawPixmap(QPointF(round(start.x() - self.text), round(start.y() - 2 * self.text)), label)
        else:
            for piece, heavy in pieces(text, bold):
                font = self.font(size, heavy)
                _write(painter, start, piece, font, self.colour(colour), self.colour("paper"), self.text)
                start = QPointF(start.x() + QFontMetricsF(font).horizontalAdvance(piece), start.y())

    def _measure(self, painter: QPainter, measure: Measure, frame: Frame) -> None:
        a, b = frame.to_paper(measure.start), frame.to_paper(measure.end)
        painter.setPen(QPen(self.colour("ink"), max(0.6, 0.07 * self.text)))
        painter.drawLine(a, b)
        line = QLineF(a, b)
        if line.length() > 0:
            across = QPointF(-line.dy(), line.dx()) / line.length() * 0.32 * self.text
            for end in (a, b):
                painter.drawLine(end + across, end - across)
    def scale_bar(self, painter: QPainter, at: QPointF, scale: float, longest: float, system: System) -> None:
        """A scale bar from a point to the right, in a round number of the system's unit; scale in painter units a metre."""
        unit, name = (0.3048, "ft") if system == System.IMPERIAL else (1.0, "m")
        number = next(
            (n for n in (500, 200, 100, 50, 20, 10, 5, 2, 1, 0.5, 0.2, 0.1) if n * unit * scale <= longest), 0.1
        )
        end = QPointF(at.x() + number * unit * scale, at.y())
        painter.setPen(QPen(self.colour("ink"), 0.13 * self.text))
        painter.drawLine(at, end)
        for point in (at, end):
            painter.drawLine(point - QPointF(0, 0.3 * self.text), point + QPointF(0, 0.3 * self.text))
        self.lettering(painter, end + QPointF(0.4 * self.text, 0.3 * self.text), digits_here(f"{number:g} {name}"), "ink", SIZE)

    def north(self, painter: QPainter, at: QPointF) -> None:
        """Which way north is on a plan: a spear with its letter beside it; plans have it at the top."""
        high = 0.62 * self.text
        painter.setPen(QPen(self.colour("ink"), 0.1 * self.text))
        painter.setBrush(self.colour("ink"))
        painter.drawLine(at + QPointF(0, high), at + QPointF(0, -high))
        painter.drawPolygon(QPolygonF([at + QPointF(0, -high), at + QPointF(-0.26 * self.text, 0), at + QPointF(0.26 * self.text, 0)]))
        self.lettering(painter, at + QPointF(-0.5 * self.text, 0.36 * self.text), tr("N"), "ink", FINE_SIZE, True, "right")

    def state_mark(self, painter: QPainter, at: QPointF, state: str, half: float) -> None:
        """The shape of a state: filled with a cross, half filled, dashed with a question, or open with a tick."""
        colour = self.colour({"fails": "rust", "tight": "ochre", "unknown": "muted", "holds": "leaf"}[state])
        box = QRectF(at.x() - half, at.y() - half, 2 * half, 2 * half)
        pen = QPen(colour, max(1.0, half * 0.22))
        if state == "unknown":
            pen.setDashPattern([2, 1.5])
        painter.setPen(pen)
        painter.setBrush(colour if state == "fails" else self.colour("paper"))
        painter.drawRoundedRect(box, half * 0.3, half * 0.3)
        pen.setStyle(Qt.PenStyle.SolidLine)
        painter.setPen(pen)
        if state == "fails":
            painter.setPen(QPen(self.colour("paper"), max(1.2, half * 0.3)))
            painter.drawLine(at + QPointF(-half, -half) * 0.45, at + QPointF(half, half) * 0.45)
            painter.drawLine(at + QPointF(-half, half) * 0.45, at + QPointF(half, -half) * 0.45)
            painter.setPen(pen)
        elif state == "tight":
            painter.fillRect(QRectF(box.left(), at.y(), box.width(), half), colour)
        elif state == "holds":
            painter.drawPolyline(
                QPolygonF(
                    [
                        at + QPointF(-half * 0.5, 0),
                        at + QPointF(-half * 0.1, half * 0.42),
                        at + QPointF(half * 0.55, -half * 0.45),
                    ]
                )
            )
        else:
            painter.setFont(self.font(1.5 * half / self.text, True))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, "?")


def _write(painter: QPainter, start: QPointF, text: str, font: QFont, colour: QColor, paper: QColor, height: float) -> None:
    """Letters on a patch of paper: a halo along every stroke would make a page ten times as large."""
    paper.setAlphaF(0.8)
    wide, size = QFontMetricsF(font).horizontalAdvance(text), font.pixelSize()
    painter.fillRect(QRectF(start.x() - 0.12 * height, start.y() - 0.78 * size, wide + 0.24 * height, 0.98 * size), paper)
    painter.setFont(font)
    painter.setPen(colour)
    painter.drawText(start, text)


@lru_cache(maxsize=1024)
def _label(runs: tuple[tuple[str, str, str], ...], paper: str, height: float, ratio: float) -> QPixmap:
    """A label on its halo, kept as a picture: most labels stay as they are from one frame to the next. Runs are text, font and colour."""
    fonts = []
    for _, key, _ in runs:
        font = QFont()
        font.fromString(key)
        font.setFeature(QFont.Tag(b"tnum"), 1)
        fonts.append(font)
    widths = [QFontMetricsF(font).horizontalAdvance(text) for font, (text, _, _) in zip(fonts, runs, strict=True)]
    picture = QPixmap(max(1, math.ceil((sum(widths) + 2 * height) * ratio)), max(1, math.ceil(3 * height * ratio)))
    picture.setDevicePixelRatio(ratio)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ways = [QPointF(math.cos(turn * math.pi / 4), math.sin(turn * math.pi / 4)) * (0.13 * height) for turn in range(8)]
    for is_halo in (True, False):
        at = QPointF(height, 2 * height)
        for font, wide, (text, _, colour) in zip(fonts, widths, runs, strict=True):
            painter.setFont(font)
            painter.setPen(QColor(paper if is_halo else colour))
            for way in ways if is_halo else (QPointF(),):
                painter.drawText(at + way, text)
            at = QPointF(at.x() + wide, at.y())
    painter.end()
    return picture


def _paper(painter: QPainter) -> QRectF:
    """What of the paper can be seen, in the painter's own measure."""
    return painter.clipBoundingRect() if painter.hasClipping() else painter.combinedTransform().inverted()[0].mapRect(QRectF(painter.viewport()))
