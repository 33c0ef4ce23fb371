"""The quote for the owner: what is built and why, what is in the price and what is not, other ways beside it, and how long it holds."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF

from weirant.design.offer import Option
from weirant.drawing.plan import plan_drawing
from weirant.drawing.section import section_drawing
from weirant.formats.plain_files import write_safely
from weirant.job.work_terms import HAULED
from weirant.language import capital, tr
from weirant.outcome.bill import DIG
from weirant.outcome.finding import State
from weirant.outcome.summary import summary
from weirant.paper.owner_sheet import CAUTIONS
from weirant.paper.page import Draw, pdf_page
from weirant.paper.sheet import ROW, PaperSheet
from weirant.words.findings import as_told
from weirant.words.order import more_words, price_rows, sold_words, worse_words
from weirant.words.pictures import profile_words
from weirant.words.spoil import spread_words

VALID, LEAST_PICTURES, PICTURES = 30, 0.2, 0.46  # days a price holds; shares of the page that pictures take
MOST_RUNS, MOST_LINES = 6, 26
EXCLUDED = (tr("rock, old pipes and buried things that nobody could see before digging"), tr("moving of lines that others own, permits and their fees"),
            tr("plants, sprinklers and paving beyond what is named here"),
            tr("water that the ground holds in a winter wetter than the one this is worked out for"))  # fmt: skip


def _earth_left(option: Option) -> list[str]:
    """What is left of the earth is hauled away by nobody whom this price pays."""
    is_priced = any(line.line.what == DIG and line.cost is not None for line in option.quote.lines)
    return [] if option.outcome.job.work.spoil != HAULED or is_priced else [tr("hauling away what is left of the earth")]


def quote_pages(options: tuple[Option, ...]) -> list[Draw]:
    """A page for the first of the options; a second where there are others, or more in it than the first holds."""
    first = options[0]
    return [lambda painter, page: _First(painter, first.outcome, page).draw(first), lambda painter, page: _Second(painter, first.outcome, page).draw(options)]


def quote_pdf(options: tuple[Option, ...]) -> bytes:
    """The quote as PDF."""
    return pdf_page(options[0].outcome.job, *quote_pages(options))


def write_quote(options: tuple[Option, ...], path: Path) -> None:
    """Write the quote to a file."""
    write_safely(path, quote_pdf(options))


class _First(PaperSheet):
    """What is built, drawn and told, and the price."""

    def draw(self, option: Option) -> None:
        """Draw the whole page."""
        job, text, wide = self.outcome.job, self.ink.text, self.page.width()
        self.head(tr("Quote"), ", ".join(words for words in (job.name, job.place) if words))
        found = self.outcome.told
        self.paragraph(tr("As drawn: {findings}.", findings=summary(found)), 0, wide, 1.1, True)
        for run in self.outcome.site.runs[:MOST_RUNS]:
            self.paragraph(capital(profile_words(self.outcome, run.id)), 0, wide)
        if len(self.outcome.site.runs) > MOST_RUNS:
            self.paragraph(tr("and {number} runs more, as drawn", number=len(self.outcome.site.runs) - MOST_RUNS), 0, wide)
        lines = min(len(option.quote.lines), MOST_LINES)
        room = self.page.bottom() - self.y - ((lines + 1) / 2 + 9) * ROW * text  # what stands below: lines in two columns, and the price
        high, half, top = min(max(room, LEAST_PICTURES * self.page.height()), PICTURES * self.page.height()), wide / 2 - text, self.y + 0.4 * text
        station = self.outcome.chosen().part.station
        self.picture(plan_drawing(self.outcome, station), QRectF(0, top, half, high), True, north=True)
        self.picture(section_drawing(self.outcome, station), QRectF(half + 2 * text, top, half, high), True)
        self.y = top + high + 0.8 * text
        self._included(option)
        self._price(option)

    def _included(self, option: Option) -> None:
        """What is in the price, in two columns."""
        text, half = self.ink.text, self.page.width() / 2 - self.ink.text
        self.paragraph(tr("In the price"), 0, self.page.width(), 1.1, True)
        lines = [priced.line for priced in option.quote.lines if priced.cost is not None]
        told = [(line.name, " ".join(sold_words(line, self.system))) for line in lines[:MOST_LINES]]
        if len(lines) > MOST_LINES:
            told[-1] = (tr("small parts"), tr("{number} kinds more", number=len(lines) - MOST_LINES + 1))
        top, rows = self.y, (len(told) + 1) // 2
        for number, (name, amount) in enumerate(told):
            left, y = (0.0 if number < rows else half + 2 * text), top + (number % rows + 1) * ROW * text
            room = half - self.ink.width(amount, 1.0, True) - text
            self.ink.lettering(self.painter, QPointF(left, y), self.fitting(name, room), "ink")
            self.ink.lettering(self.painter, QPointF(left + half, y), amount, "ink", 1.0, True, "right")
        self.y = top + (rows + 0.8) * ROW * text

    def _price(self, option: Option) -> None:
        self.rule()
        for label, amount in price_rows(option.quote):
            self.row(label, amount, self.page.width())
        self.y += 0.8 * self.ink.text
        if option.quote.missing:
            names = ", ".join(line.line.name for line in option.quote.missing)
            self.paragraph(tr("Not in this price, since nobody knows theirs yet: {names}.", names=names), 0, self.page.width(), 1.0, True)


class _Second(PaperSheet):
    """Other ways beside it, why, what is not in it, what to mind."""

    def draw(self, options: tuple[Option, ...]) -> None:
        """Draw the whole page."""
        wide, first = self.page.width(), options[0]
        self.head(tr("Quote, page 2"), self.outcome.job.name)
        if len(options) > 1:
            self.paragraph(tr("Other ways to build it"), 0, wide, 1.1, True)
            for option in options:
                self._option(option, first)
        self._why(first)
        self.paragraph(tr("Not in the price"), 0, wide, 1.1, True)
        for words in (*EXCLUDED, *_earth_left(first)):
            self.paragraph("– " + words, 0, wide)
        self.y += 0.5 * self.ink.text
        self.paragraph(tr("To mind"), 0, wide, 1.1, True)
        for caution in (*CAUTIONS, *spread_words(first.outcome)[-MOST_RUNS:]):
            self.paragraph(caution, 0, wide, 0.95)
        self.y += 0.5 * self.ink.text
        prices = first.quote.prices
        self.paragraph(tr("This price holds for {days} days from its date; by the prices of {name}, {date}. Quantities follow the drawing; what is found in the ground and was not seen "
                          "is settled before it is done.", days=VALID, name=prices.name, date=prices.date or tr("no date")), 0, wide)  # fmt: skip

    def _option(self, option: Option, first: Option) -> None:
        amount = price_rows(option.quote)[-1][1]
        self.row(option.name + (tr(" (not complete: {count} without a price)", count=len(option.quote.missing)) if option.quote.missing else ""), amount, self.page.width())
        self.y += 0.3 * self.ink.text
        said = [summary(option.outcome.told)]
        if option is not first:
            said = [more_words(option, first), *said, worse_words(option, first)]
        self.paragraph("; ".join(said) + ".", self.ink.text, self.page.width() - self.ink.text)
        self.y += 0.4 * self.ink.text

    def _why(self, option: Option) -> None:
        """What holds and what does not, since a price without that is none."""
        self.paragraph(tr("Why so"), 0, self.page.width(), 1.1, True)
        told = option.outcome.told
        for finding in (*(f for f in told if f.state != State.HOLDS), *(f for f in told if f.state == State.HOLDS))[:10]:
            words = as_told(finding, self.outcome.job)
            self.paragraph(f"{capital(tr(finding.state))} – {words.title}: {words.reason}", 0, self.page.width(), 0.95)
        self.y += 0.5 * self.ink.text
