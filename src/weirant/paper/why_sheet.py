"""Why this wrap: one page for the owner with the soil, what is built against another way at one scale, what each contact asks, and the years."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF

from weirant.design.schools import School, schools
from weirant.design.two_ways import WayBuilt, two_ways
from weirant.design.variants import AS_DRAWN, BARE, VARIANTS, WRAPPED
from weirant.design.worked_out import with_nothing_waiting
from weirant.drawing.schools import schools_drawing
from weirant.drawing.two_ways import two_sections
from weirant.errors import InputError
from weirant.formats.plain_files import write_safely
from weirant.language import capital, tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.paper.page import Draw, pdf_page
from weirant.paper.sheet import ROW, PaperSheet
from weirant.words.findings import worded
from weirant.words.schools import CAUTION, basis_words, soil_words, years_words
from weirant.words.two_ways import lines, name_of

YEARS, MOST_FINDINGS = 30, 6
HALF, PICTURE, CHART = 0.5, 0.29, 0.19  # of the page: where the second way stands, and how high the sections and the chart of the years are
COLUMNS = (0.42, 0.70, 1.0)  # of the page's width: where the columns of the table end


def why_sheet_pdf(outcome: Outcome, run: str = "", against: str = "") -> bytes:
    """The sheet as PDF. Raises InputError as ``why_sheet_pages``."""
    return pdf_page(outcome.job, *why_sheet_pages(outcome, run, against))


def why_sheet_pages(outcome: Outcome, run: str = "", against: str = "") -> list[Draw]:
    """The sheet as what paints it: of a run, by default the one that serves the place, against another way to build by its key, by default bare stone, or a wrap
    where none is drawn. Raises InputError where the run does not collect, or there is no such way.
    """
    known = with_nothing_waiting(outcome)
    found = known.chosen(run)
    other = against or (BARE if found.make(found.part.station).section.has_cloth else WRAPPED)
    if other not in VARIANTS:
        raise InputError(tr("way to build"), tr("is none of {keys}", keys=", ".join(VARIANTS)), other)
    ways = two_ways(known, found, (AS_DRAWN, other), YEARS)
    years = schools(known, found, YEARS) if ways[0].years is not None else []
    return [lambda painter, page: _WhySheet(painter, known, page).draw(found, ways, years)]


def write_why_sheet(outcome: Outcome, run: str, path: Path) -> None:
    """Write the sheet of a run to a file."""
    write_safely(path, why_sheet_pdf(outcome, run))


class _WhySheet(PaperSheet):
    """Lays the page out from top to bottom."""

    def draw(self, found: RunOutcome, ways: tuple[WayBuilt, WayBuilt], years: list[School]) -> None:
        """Draw the whole sheet."""
        text, wide = self.ink.text, self.page.width()
        self.head(tr("Why it is built this way"), ", ".join(words for words in (self.outcome.job.name, found.run.name, self.outcome.job.place) if words))
        self.paragraph(tr("The soil"), 0, wide, 1.1, True)
        self.paragraph(soil_words(self.outcome, found), 0, wide)
        top, half, high = self.y + 0.4 * text, HALF * wide - text, PICTURE * self.page.height()
        for number, drawing in enumerate(two_sections(ways, found)):
            self.picture(drawing, QRectF(number * (half + 2 * text), top, half, high), True)
        self.y = top + high + 0.8 * text
        self._contacts(ways[0])
        self._table(ways)
        self._years(years)
        self.paragraph(CAUTION + basis_words(self.outcome, found), 0, wide, 0.92)

    def _contacts(self, way: WayBuilt) -> None:
        self.paragraph(tr("What it must do, and does"), 0, self.page.width(), 1.1, True)
        for finding in way.contacts[:MOST_FINDINGS]:
            words = worded(finding, self.outcome.job)
            self.paragraph(f"{capital(tr(finding.state))} – {words.title}: {words.reason}", 0, self.page.width())
        self.y += 0.3 * self.ink.text

    def _table(self, ways: tuple[WayBuilt, WayBuilt]) -> None:
        wide, text = self.page.width(), self.ink.text
        self._cells(["", *(name_of(way) for way in ways)], bold=True)
        for line in lines(ways, self.outcome, YEARS):
            if line.differs:
                self._cells([line.label, line.one, line.other])
        self.y += 0.6 * text
        self.paragraph(tr("What is alike in both is left out."), 0, wide, 0.92)

    def _years(self, years: list[School]) -> None:
        if not years:
            return
        self.paragraph(tr("Other ways on this soil: when half of a hundred plausible soils have shut them"), 0, self.page.width(), 1.0, True)
        told = [f"{capital(school.built.name)}: {years_words(school.lasts[1], YEARS)}" for school in years]
        self.paragraph("; ".join(told) + ".", 0, self.page.width())
        high = min(CHART * self.page.height(), self.page.bottom() - self.y - 6 * self.ink.text)  # the caution still stands on the page
        if high > 8 * self.ink.text:
            self.picture(schools_drawing(years, YEARS), QRectF(0, self.y, self.page.width(), high), False)
            self.y += high + 0.5 * self.ink.text

    def _cells(self, cells: list[str], *, bold: bool = False) -> None:
        self.y += ROW * self.ink.text
        left = 0.0
        for words, end in zip(cells, COLUMNS, strict=True):
            right = end * self.page.width()
            self.ink.lettering(self.painter, QPointF(left, self.y), self.fitting(words, right - left - self.ink.text, bold=bold), "ink", 1.0, bold)
            left = right
