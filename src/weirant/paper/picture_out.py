"""A drawing as SVG or PNG at a stated scale: a metre of the plan or the section is so many millimetres of the picture."""

from __future__ import annotations

import os

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QPointF, QRectF, QSize
from PyQt6.QtGui import QColor, QGuiApplication, QImage, QPainter
from PyQt6.QtSvg import QSvgGenerator

from weirant.drawing.plan import plan_drawing
from weirant.drawing.primitives import Drawing
from weirant.drawing.profile import profile_drawing
from weirant.drawing.section import section_drawing
from weirant.errors import InputError
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.paper.frame import Frame
from weirant.paper.ink import Ink
from weirant.paper.lettering import FAMILY, load_fonts
from weirant.paper.palette import PRINT
from weirant.units.display import System

KINDS = ("plan", "profile", "section")
DOTS, MARGIN, LETTERS = 300, 12.0, 2.6  # to the inch; mm round the drawing, and of the height of its letters
SCALES, SHEET = (1, 2, 5, 10, 20, 25, 50, 100, 200, 250, 500, 1000, 2000, 2500, 5000, 10_000, 20_000, 50_000), (420.0, 297.0)  # 1 to so much; mm
LARGEST, SMALLEST = 12_000, 100_000  # dots of a side; the scale that still shows something


def drawing_of(outcome: Outcome, what: str, run: str = "") -> Drawing:
    """The plan, the long profile or the section in the middle of what collects of a run. Raises InputError where it is none of them."""
    if what not in KINDS:
        raise InputError("what", tr("is none of {kinds}", kinds=", ".join(KINDS)), what)
    found = outcome.chosen(run)
    if what == "profile":
        return profile_drawing(outcome, found.id)
    return plan_drawing(outcome, found.part.station, run=found.id, whole=True) if what == "plan" else section_drawing(outcome, found.part.station, found.id)


def fitting_scale(drawing: Drawing) -> int:
    """The largest of the usual scales at which a drawing fits a sheet of 420 by 297 mm."""
    left, bottom, right, top = drawing.bounds
    across, up = SHEET[0] - 2 * MARGIN, SHEET[1] - 2.5 * MARGIN
    return next((scale for scale in SCALES if (right - left) * 1000 / scale <= across and (top - bottom) * 1000 / scale <= up), SCALES[-1])


def picture(drawing: Drawing, scale: float, suffix: str, system: System, *, north: bool = False) -> bytes:
    """The drawing at 1 to ``scale`` as ``.svg`` or ``.png``, lengths and heights alike, with a bar in the units of a system. Raises InputError where it would be too large."""
    if not 1 <= scale <= SMALLEST:
        raise InputError("scale", tr("must be from 1:1 to 1:{smallest}", smallest=SMALLEST), f"1:{scale:g}")
    load = QGuiApplication.instance()
    if load is None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        load = QGuiApplication([])
    load_fonts()
    to_mm = DOTS / 25.4
    left, bottom, right, top = drawing.bounds
    metre, margin = 1000 / scale * to_mm, MARGIN * to_mm
    wide, high = round((right - left) * metre + 2 * margin), round((top - bottom) * metre + 2.5 * margin)
    if max(wide, high) > LARGEST:
        raise InputError("scale", tr("makes a picture of {wide} by {high} mm; take a larger number", wide=round(wide / to_mm), high=round(high / to_mm)), f"1:{scale:g}")
    ink = Ink(PRINT, FAMILY, LETTERS * to_mm, tabular=False)
    frame = Frame(metre, metre, margin - left * metre, 1.5 * margin + top * metre)

    def paint(painter: QPainter) -> None:
        painter.fillRect(QRectF(0, 0, wide, high), QColor("white"))
        ink.draw(painter, drawing, frame)
        ink.lettering(painter, QPointF(margin, 0.8 * margin), tr("{title}, 1 : {scale:g}", title=drawing.title, scale=scale), "ink", 1.2, True)
        ink.scale_bar(painter, QPointF(margin, high - 0.35 * margin), metre, 0.3 * (wide - 2 * margin), system)
        if north:
            ink.north(painter, QPointF(wide - margin, margin))

    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    if suffix == ".svg":
        into = QSvgGenerator()
        into.setOutputDevice(buffer)
        into.setResolution(DOTS)
        into.setSize(QSize(wide, high))
        into.setViewBox(QRectF(0, 0, wide, high))
        into.setTitle(drawing.title)
        painter = QPainter(into)
        paint(painter)
        painter.end()
        return bytes(QByteArray(buffer.data()).data())
    image = QImage(wide, high, QImage.Format.Format_RGB32)
    image.setDotsPerMeterX(round(1000 * to_mm))
    image.setDotsPerMeterY(round(1000 * to_mm))
    painter = QPainter(image)
    paint(painter)
    painter.end()
    image.save(buffer, "PNG")
    return bytes(QByteArray(buffer.data()).data())
