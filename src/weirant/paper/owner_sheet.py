"""The owner's sheet: one page with the verdict, the drawings, the figures, what is assumed and what to mind."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from weirant.design.worked_out import with_nothing_waiting
from weirant.drawing.plan import plan_drawing
from weirant.drawing.primitives import Drawing
from weirant.drawing.profile import profile_drawing
from weirant.drawing.section import section_drawing
from weirant.formats.plain_files import write_safely
from weirant.ground.inverts import least_slope
from weirant.job.paths import label_at
from weirant.language import capital, tr
from weirant.outcome.finding import State
from weirant.outcome.outcome import Outcome
from weirant.outcome.summary import summary
from weirant.paper.frame import fit
from weirant.paper.ink import Ink
from weirant.paper.lettering import FAMILY
from weirant.paper.page import DOTS, Draw, pdf_page, title_block
from weirant.paper.palette import PRINT
from weirant.units.display import LEVEL, SLOPE, System, shown
from weirant.words.findings import as_told
from weirant.words.products import wrap_words

ROW = 1.35  # height of a figure's line, of the letters
PICTURES, LEAST_PICTURES = 0.57, 0.6  # share of the page that pictures take where there is room, and how small they may become
CAUTIONS = (
    tr("Nobody enters a trench of 5 ft (1.5 m) or more without a protective system; narrow or wet walls can fall in at any depth. Keep spoil 2 ft (0.6 m) back."),
    tr("Call the public locating service before digging; private lines are not located by it. Expose crossings by hand."),
    tr("Water may not be sent onto a neighbour or a pavement. Local codes, the soils report and licensed practice come before this sheet."),
)  # fmt: skip


def owner_sheet_pdf(outcome: Outcome) -> bytes:
    """The sheet as PDF, Letter for imperial jobs and A4 for metric ones. Makes an application of its own where none runs."""
    return pdf_page(outcome.job, *owner_sheet_pages(outcome))


def owner_sheet_pages(outcome: Outcome) -> list[Draw]:
    """The sheet as what paints it."""
    known = with_nothing_waiting(outcome)  # paper cannot wait
    return [lambda painter, page: _Sheet(painter, known, page).draw()]


def write_owner_sheet(outcome: Outcome, path: Path) -> None:
    """Write the sheet to a file."""
    write_safely(path, owner_sheet_pdf(outcome))


class _Sheet:
    """Lays the page out from top to bottom."""

    def __init__(self, painter: QPainter, outcome: Outcome, page: QRectF) -> None:
        self.painter, self.outcome, self.page = painter, outcome, page
        self.system = System(outcome.job.units)
        self.ink = Ink(PRINT, FAMILY, 8.2 * DOTS / 72, tabular=False)
        self.y = page.top()

    def draw(self) -> None:
        """Draw the whole sheet."""
        job, text = self.outcome.job, self.ink.text
        self.y += 1.6 * text
        self.ink.lettering(self.painter, QPointF(0, self.y), job.name, "ink", 1.9, True)
        self.ink.lettering(self.painter, QPointF(self.page.right(), self.y), job.date, "ink", 1.0, False, "right")
        self.y += 1.5 * text
        self.ink.lettering(self.painter, QPointF(0, self.y), job.place, "muted", 1.05)
        self.ink.lettering(self.painter, QPointF(self.page.right(), self.y), title_block(job), "muted", 1.0, False, "right")
        self.y += 0.6 * text
        self._rule()
        self._verdict()
        high = self.page.height()
        station = self.outcome.chosen().part.station
        half = self.page.width() / 2 - text
        top, rows = self.y, self._figures()
        # the figures must all stand on the page: where there are many the pictures make room
        room = (self.page.bottom() - self.y - (ROW * len(rows) + 3.6) * text) / high
        share = min(max(room / PICTURES, LEAST_PICTURES), 1.0)
        wide, long = 0.31 * share, 0.24 * share
        self._picture(plan_drawing(self.outcome, station), QRectF(0, top, half, wide * high), True, north=True)
        self._picture(section_drawing(self.outcome, station), QRectF(half + 2 * text, top, half, wide * high), True)
        self.y = top + (wide + 0.01) * high
        self._picture(profile_drawing(self.outcome), QRectF(0, self.y, self.page.width(), long * high), False)
        self.y += (long + 0.01) * high
        self._columns(rows)

    def _rule(self) -> None:
        self.painter.setPen(QPen(self.ink.colour("ink"), 0.08 * self.ink.text))
        self.painter.drawLine(QPointF(0, self.y), QPointF(self.page.right(), self.y))
        self.y += 0.7 * self.ink.text

    def _paragraph(self, text: str, left: float, width: float, size: float = 1.0, bold: bool = False) -> None:
        self.painter.setFont(self.ink.font(size, bold))
        self.painter.setPen(self.ink.colour("ink"))
        rect = QRectF(left, self.y, width, self.page.bottom() - self.y)
        used = self.painter.boundingRect(rect, Qt.TextFlag.TextWordWrap, text)
        self.painter.drawText(rect, Qt.TextFlag.TextWordWrap, text)
        self.y += used.height() + 0.2 * self.ink.text

    def _verdict(self) -> None:
        findings = self.outcome.told
        self._paragraph(tr("As drawn: {findings}.", findings=summary(findings)), 0, self.page.width(), 1.15, True)
        for finding in [f for f in findings if f.state != State.HOLDS][:6]:
            words = as_told(finding, self.outcome.job)
            self._paragraph(f"{capital(tr(finding.state))} – {words.title}: {words.reason}", 0, self.page.width())
        self.y += 0.5 * self.ink.text

    def _picture(self, drawing: Drawing, area: QRectF, scale_bar: bool, north: bool = False) -> None:
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

    def _columns(self, rows: list[tuple[str, str]]) -> None:
        text, top, half = self.ink.text, self.y, self.page.width() / 2 - self.ink.text
        self._rule()
        self._paragraph(tr("What it takes"), 0, half, 1.1, True)
        for label, value in rows:
            self._row(label, value, half)
        end, self.y = self.y, top + 0.7 * text
        left = half + 2 * text
        self._paragraph(tr("Assumed, not measured"), left, half, 1.1, True)
        self._paragraph(self._assumptions(), left, half)
        self.y += 0.3 * text
        self._paragraph(tr("To mind"), left, half, 1.1, True)
        for caution in CAUTIONS:
            self._paragraph(caution, left, half, 0.92)
        self.y = max(self.y, end)

    def _row(self, label: str, value: str, width: float) -> None:
        self.y += ROW * self.ink.text
        room = width - self.ink.width(value, 1.0, True) - self.ink.text
        label = QFontMetricsF(self.ink.font()).elidedText(label, Qt.TextElideMode.ElideRight, room)
        self.ink.lettering(self.painter, QPointF(0, self.y), label, "ink")
        self.ink.lettering(self.painter, QPointF(width, self.y), value, "ink", 1.0, True, "right")

    def _figures(self) -> list[tuple[str, str]]:
        system = self.system
        rows = [*self._products(), *self._falls()]
        return rows + [
            (f.label, shown(f.value, f.kind, system))
            for f in (self.outcome.takeoff.rows() if self.outcome.takeoff else ())
        ]

    def _products(self) -> list[tuple[str, str]]:
        """Pipe, stone and separation: what is used of each, the longest first."""
        used: dict[tuple[str, str], float] = {}
        for stretch in (s for found in self.outcome.site.runs for s in found.stretches):
            make = stretch.make
            wrap = wrap_words(make)
            for row in ((tr("Pipe"), make.pipe.name), *(((tr("Stone"), make.aggregate.name), (tr("Separation"), wrap)) if not stretch.is_solid else ())):
                used[row] = used.get(row, 0.0) + stretch.high - stretch.low
        rows = sorted(used, key=lambda row: ((tr("Pipe"), tr("Stone"), tr("Separation")).index(row[0]), -used[row]))
        return [("" if i and rows[i - 1][0] == label else label, value) for i, (label, value) in enumerate(rows)][:8]

    def _falls(self) -> list[tuple[str, str]]:
        """Least fall of all runs, and the invert of each outlet; of more than three the lowest and the highest."""
        runs, system = self.outcome.site.network.runs, self.system
        least = min(least_slope(run)[0] for run in runs)
        outlets = sorted((run.invert, run.name) for run in runs if run.outlet is not None)
        rows = [(tr("Least fall") if len(runs) > 1 or runs[0].breaks else tr("Fall"), shown(least, SLOPE, system))]
        kept = outlets if len(outlets) <= 3 else [outlets[0], outlets[-1]]
        return rows + [(tr("Outlet invert, {name}", name=name) if len(outlets) > 1 else tr("Outlet invert"), shown(level, LEVEL, system)) for level, name in kept]

    def _assumptions(self) -> str:
        job, soils = self.outcome.job, self.outcome.soils.values()
        found = [] if job.is_surveyed else [tr("all levels: they are made up, nobody has shot them")]
        found += [label_at(job, path) for path in job.assumed]
        if any(soil.conductivity_assumed for soil in soils):
            found.append(tr("conductivity of the soil, from its texture"))
        if any(soil.gradation_assumed for soil in soils):
            found.append(tr("gradation of the soil, from its texture"))
        found += [tr("ground and hard layer parallel across the slope"), tr("waste and swell as set")]
        return "; ".join(found) + "."
