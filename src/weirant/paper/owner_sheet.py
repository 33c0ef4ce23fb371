"""The owner's sheet: one page with the verdict, the drawings, the figures, what is assumed and what to mind."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QRectF

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
from weirant.paper.page import Draw, pdf_page
from weirant.paper.sheet import ROW, PaperSheet
from weirant.units.display import LEVEL, SLOPE, shown
from weirant.words.findings import as_told
from weirant.words.products import wrap_words

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
    """The sheet as what paints it; what is painted is made by now, since this may be done beside the interface and the painting not."""
    known = with_nothing_waiting(outcome)  # paper cannot wait
    station = known.chosen().part.station
    drawings = plan_drawing(known, station), section_drawing(known, station), profile_drawing(known)
    return [lambda painter, page: _OwnerSheet(painter, known, page).draw(*drawings)]


def write_owner_sheet(outcome: Outcome, path: Path) -> None:
    """Write the sheet to a file."""
    write_safely(path, owner_sheet_pdf(outcome))


class _OwnerSheet(PaperSheet):
    """Lays the page out from top to bottom."""

    def draw(self, plan: Drawing, section: Drawing, profile: Drawing) -> None:
        """Draw the whole sheet."""
        text = self.ink.text
        self.head(self.outcome.job.name, self.outcome.job.place)
        self._verdict()
        high = self.page.height()
        half = self.page.width() / 2 - text
        top, rows = self.y, self._figures()
        # the figures must all stand on the page: where there are many the pictures make room
        room = (self.page.bottom() - self.y - (ROW * len(rows) + 3.6) * text) / high
        share = min(max(room / PICTURES, LEAST_PICTURES), 1.0)
        wide, long = 0.31 * share, 0.24 * share
        self.picture(plan, QRectF(0, top, half, wide * high), True, north=True)
        self.picture(section, QRectF(half + 2 * text, top, half, wide * high), True)
        self.y = top + (wide + 0.01) * high
        self.picture(profile, QRectF(0, self.y, self.page.width(), long * high), False)
        self.y += (long + 0.01) * high
        self._columns(rows)

    def _verdict(self) -> None:
        findings = self.outcome.told
        self.paragraph(tr("As drawn: {findings}.", findings=summary(findings)), 0, self.page.width(), 1.15, True)
        for finding in [f for f in findings if f.state != State.HOLDS][:6]:
            words = as_told(finding, self.outcome.job)
            self.paragraph(f"{capital(tr(finding.state))} – {words.title}: {words.reason}", 0, self.page.width())
        self.y += 0.5 * self.ink.text

    def _columns(self, rows: list[tuple[str, str]]) -> None:
        text, top, half = self.ink.text, self.y, self.page.width() / 2 - self.ink.text
        self.rule()
        self.paragraph(tr("What it takes"), 0, half, 1.1, True)
        for label, value in rows:
            self.row(label, value, half)
        end, self.y = self.y, top + 0.7 * text
        left = half + 2 * text
        self.paragraph(tr("Assumed, not measured"), left, half, 1.1, True)
        self.paragraph(self._assumptions(), left, half)
        self.y += 0.3 * text
        self.paragraph(tr("To mind"), left, half, 1.1, True)
        for caution in CAUTIONS:
            self.paragraph(caution, left, half, 0.92)
        self.y = max(self.y, end)

    def _figures(self) -> list[tuple[str, str]]:
        system = self.system
        rows = [*self._products(), *self._falls()]
        return rows + [
            (f.label, shown(f.value, f.kind, system))
            for f in (self.outcome.takeoff.rows() if self.outcome.takeoff else ())
            if f.value  # what is not used is not told
        ]

    def _products(self) -> list[tuple[str, str]]:
        """Pipe, stone and separation: what is used of each, the longest first."""
        used: dict[tuple[str, str], float] = {}
        for stretch in (s for found in self.outcome.site.runs for s in found.stretches):
            make = stretch.make
            wrap = wrap_words(make)
            for row in ((tr("Pipe"), make.pipe_name), *(((tr("Stone"), make.aggregate.name),) if not stretch.is_solid and make.section.has_stone else ()),
                        *(((tr("Separation"), wrap),) if not stretch.is_solid else ())):
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
        return "; ".join(dict.fromkeys(found)) + "."  # what several things have is told once
