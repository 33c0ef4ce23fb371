"""Pages of a paper, in a PDF or on a printer: Letter for imperial jobs, A4 for metric ones."""

from __future__ import annotations

import os
import time
from collections.abc import Callable

from PyQt6.QtCore import QBuffer, QIODevice, QMarginsF, QPointF, QRectF
from PyQt6.QtGui import QGuiApplication, QPagedPaintDevice, QPageLayout, QPageSize, QPainter, QPdfWriter

from weirant import __version__
from weirant.job import Job
from weirant.language import tr
from weirant.paper.ink import Ink
from weirant.paper.lettering import FAMILY, load_fonts
from weirant.paper.palette import PRINT

DOTS = 300  # to the inch
Draw = Callable[[QPainter, QRectF], None]


def title_block(job: Job) -> str:
    """For whom and by whom, as far as it is known."""
    return "   ".join(words for words in (tr("for {client}", client=job.client) if job.client else "", f"by {job.contractor}" if job.contractor else "") if words)


def page_layout(job: Job) -> QPageLayout:
    """The paper of a job's country."""
    size = QPageSize.PageSizeId.Letter if job.units == "imperial" else QPageSize.PageSizeId.A4
    return QPageLayout(QPageSize(size), QPageLayout.Orientation.Portrait, QMarginsF(12, 12, 12, 12), QPageLayout.Unit.Millimeter)


def pdf_page(job: Job, *draws: Draw) -> bytes:
    """The pages that the functions draw, one each, as PDF. Makes an application of its own where none runs."""
    application = QGuiApplication.instance()
    if application is None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        application = QGuiApplication([])
    load_fonts()
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setPageLayout(page_layout(job))
    writer.setResolution(DOTS)
    writer.setTitle(job.name)
    writer.setCreator(tr("Weirant {version}", version=__version__))
    paint_pages(writer, *draws)
    buffer.close()
    return bytes(buffer.data().data())


def paint_pages(device: QPagedPaintDevice, *draws: Draw) -> None:
    """Paint pages on a device that has them, a file or a printer, each with its foot: by what they were made, and when."""
    painter = QPainter(device)
    ink = Ink(PRINT, FAMILY, 6.5 * DOTS / 72, tabular=False)
    words = tr("Weirant {version}, {time}", version=__version__, time=time.strftime("%Y-%m-%d %H:%M"))
    for number, draw in enumerate(draws):
        if number:
            device.newPage()
        whole = QRectF(0, 0, device.width(), device.height())
        draw(painter, whole.adjusted(0, 0, 0, -1.3 * ink.text))
        ink.lettering(painter, QPointF(whole.right(), whole.bottom() - 0.2 * ink.text), words, "muted", 1.0, False, "right")
    painter.end()
