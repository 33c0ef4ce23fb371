"""One page of PDF: Letter for imperial jobs, A4 for metric ones."""

from __future__ import annotations

import os
from collections.abc import Callable

from PyQt6.QtCore import QBuffer, QIODevice, QMarginsF, QRectF
from PyQt6.QtGui import QGuiApplication, QPageLayout, QPageSize, QPainter, QPdfWriter

from weirant import __version__
from weirant.job import Job
from weirant.paper.lettering import load_fonts

DOTS = 300  # to the inch


def pdf_page(job: Job, *draws: Callable[[QPainter, QRectF], None]) -> bytes:
    """The pages that the functions draw, one each, as PDF. Makes an application of its own where none runs."""
    application = QGuiApplication.instance()
    if application is None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        application = QGuiApplication([])
    load_fonts()
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    size = QPageSize.PageSizeId.Letter if job.units == "imperial" else QPageSize.PageSizeId.A4
    margins = QMarginsF(12, 12, 12, 12)
    writer.setPageLayout(QPageLayout(QPageSize(size), QPageLayout.Orientation.Portrait, margins, QPageLayout.Unit.Millimeter))
    writer.setResolution(DOTS)
    writer.setTitle(job.name)
    writer.setCreator(f"Weirant {__version__}")
    painter = QPainter(writer)
    for number, draw in enumerate(draws):
        if number:
            writer.newPage()
        draw(painter, QRectF(0, 0, writer.width(), writer.height()))
    painter.end()
    buffer.close()
    return bytes(buffer.data().data())
