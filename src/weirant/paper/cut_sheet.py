"""The crew's cut sheet: long profile, section with its dimensions and the table, legible in black and white in a trench."""

from __future__ import annotations

import re
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPen

from weirant.design.sheets import OFF_STAFF, crew_cut_sheet, instrument_height, off_staff
from weirant.drawing.plan import benchmark_note, plan_sketch
from weirant.drawing.primitives import Drawing
from weirant.drawing.profile import profile_drawing
from weirant.drawing.section import section_drawing
from weirant.errors import InputError
from weirant.formats.cut_sheet_csv import write_cut_sheet
from weirant.formats.plain_files import write_safely
from weirant.ground.cut_sheet import CutLine
from weirant.ground.stretches import Make
from weirant.job import Job
from weirant.language import digits_here, ntr, tr
from weirant.outcome.finding import State
from weirant.outcome.outcome import Outcome
from weirant.paper.frame import fit
from weirant.paper.ink import Ink
from weirant.paper.lettering import FAMILY
from weirant.paper.page import DOTS, Draw, pdf_page, title_block
from weirant.paper.palette import PRINT
from weirant.units.display import DEPTH, LEVEL, SECTION, STATION, System, shown, shown_number, unit_of
from weirant.units.staff import staff_for, staff_text, staff_unit
from weirant.words.products import wrap_words

FIRST, LATER = 25, 43  # lines of the table on the first page and on the others
NOT_SURVEYED = tr("NOT SURVEYED. These levels are made up from first answers: shoot the ground before anything is dug to them.")
CAUTION = (tr("Dig from the low end up. Expose crossings by hand inside their hand-dig lengths. Nobody enters a trench of 5 ft (1.5 m) or more without a "
           "protective system; keep spoil 2 ft (0.6 m) back. Local rules and the competent person on site come first."))  # fmt: skip


def cut_sheet_pdf(outcome: Outcome, run: str, lines: list[CutLine]) -> bytes:
    """The cut sheet of a run as PDF; a long table goes on over further pages."""
    return pdf_page(outcome.job, *cut_sheet_pages(outcome, run, lines))


def cut_sheet_pages(outcome: Outcome, run: str, lines: list[CutLine]) -> list[Draw]:
    """The cut sheet as what paints it, page by page; what is drawn is made by now, since this may be done beside the interface and the painting not."""
    parts = [lines[:FIRST], *(lines[i : i + LATER] for i in range(FIRST, len(lines), LATER))]
    return [_Page(outcome, run, part, number + 1, len(parts)).draw for number, part in enumerate(parts)]


def write_every_sheet(outcome: Outcome, folder: Path, step: float | None = None) -> tuple[list[Path], list[str]]:
    """Write the cut sheet of every run into a folder, as a page and as CSV. Gives what was written, and which runs were left out and why."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as fault:
        raise InputError(folder.name, tr("cannot be made a folder: {strerror}", strerror=fault.strerror)) from fault
    survey, written, told = outcome.job.survey, [], []
    taken: set[str] = set()
    for found in outcome.site.runs:
        try:
            lines = crew_cut_sheet(outcome, found.id, step)
        except InputError as fault:
            told.append(tr("{run} left out: {fault}", run=found.run.name, fault=fault))
            continue
        stem = file_stem(found.run.name)
        stem = stem if stem not in taken else f"{stem} {found.id}"
        taken.add(stem)
        text = write_cut_sheet(lines, System(outcome.job.units), survey.staff, survey.rounding, is_shot=outcome.job.is_surveyed)
        for suffix, content in ((".pdf", cut_sheet_pdf(outcome, found.id, lines)), (".csv", text.encode())):
            written.append(folder / f"{stem}{suffix}")
            write_safely(written[-1], content)
    return written, told


def located_words(job: Job) -> str:
    """Whether buried lines were located, as the crew must know it."""
    said = {True: tr("yes"), False: tr("NO"), None: tr("NOT ASKED")}
    return tr("Public lines marked: {public}. Private lines looked for: {private}.", public=said[job.permissions.public_lines_marked],
              private=said[job.permissions.private_lines_checked])


def file_stem(name: str) -> str:
    """A name as that of a file: letters, digits, blanks and dashes only."""
    return re.sub(r"[^\w \-]+", "_", name).strip(" ._")[:80] or tr("run")


MOST_MAKES = 4  # kinds of stretches told one by one


class _Page:
    def __init__(self, outcome: Outcome, run: str, lines: list[CutLine], number: int, count: int) -> None:
        self.outcome, self.run, self.lines, self.number, self.count = outcome, run, lines, number, count
        self.system = System(outcome.job.units)
        self.ink = Ink(PRINT, FAMILY, 8.6 * DOTS / 72, tabular=False)
        laid = outcome.run(run).run
        self.drawings: tuple[Drawing, ...] = ()
        if number == 1:
            self.drawings = profile_drawing(outcome, run), section_drawing(outcome, min(laid.solid_length + 0.01, laid.length), run), plan_sketch(outcome, run)

    def draw(self, painter: QPainter, page: QRectF) -> None:
        job, text = self.outcome.job, self.ink.text
        self.ink.lettering(painter, QPointF(0, 1.6 * text), tr("Cut sheet: {run}", run=self.outcome.run(self.run).run.name), "ink", 1.8, True)
        self.ink.lettering(painter, QPointF(page.right(), 1.6 * text), tr("{date}   page {number} of {count}", date=job.date, number=self.number,
                                                                          count=self.count), "ink", 1.0, False, "right")
        self.ink.lettering(painter, QPointF(0, 3.1 * text), "   ".join(w for w in (f"{job.name}, {job.place}", title_block(job)) if w), "muted", 1.0)
        height = instrument_height(self.outcome)
        said = tr("Instrument stands at {height} ({benchmark_name} = {benchmark_elevation})", height=shown(height, LEVEL, self.system),
                  benchmark_name=job.survey.benchmark_name, benchmark_elevation=shown(job.survey.benchmark_elevation, LEVEL, self.system))
        if not job.is_surveyed:
            said = tr("No instrument has stood here yet")
        elif any(line.rod is None for line in self.lines):
            said = off_staff(self.outcome)
        self.ink.lettering(painter, QPointF(page.right(), 3.1 * text), said, "ink", 1.0, True, "right")
        self.ink.lettering(painter, QPointF(0, 4.5 * text), located_words(job), "ink")
        self.ink.lettering(painter, QPointF(page.right(), 4.5 * text), self._summary(), "ink", 1.0, False, "right")
        top = 5.2 * text
        if not job.is_surveyed:
            top = self._warn(painter, page, top)
        if self.number == 1:
            top = self._pictures(painter, page, top)
        bottom = self._table(painter, page, top + 0.6 * text)
        painter.setFont(self.ink.font(0.9))
        painter.setPen(self.ink.colour("ink"))
        area = QRectF(0, bottom + 0.8 * text, page.width(), page.bottom() - bottom)
        painter.drawText(area, Qt.TextFlag.TextWordWrap, CAUTION)

    def _summary(self) -> str:
        """What stands against digging it."""
        states = [f.state for f in self.outcome.told if not f.subject or self.run in (f.subject, *f.also)]
        failing, unknown = states.count(State.FAILS), states.count(State.UNKNOWN)
        words = [ntr("{n} fails", "{n} fail", failing)] if failing else []
        words += [tr("{unknown} not known", unknown=unknown)] if unknown else []
        return tr("Of this run {words}.", words=", ".join(words)) if words else tr("Nothing of this run fails.")

    def _warn(self, painter: QPainter, page: QRectF, top: float) -> float:
        """Levels that nobody has shot: in a box across the page, on every page."""
        text = self.ink.text
        box = QRectF(0.1 * text, top + 0.2 * text, page.width() - 0.2 * text, 2.2 * text)
        painter.setPen(QPen(self.ink.colour("ink"), 0.16 * text))
        painter.drawRect(box)
        self.ink.lettering(painter, QPointF(0.8 * text, top + 1.65 * text), NOT_SURVEYED, "ink", 1.15, True)
        return top + 2.6 * text

    def _pictures(self, painter: QPainter, page: QRectF, top: float) -> float:
        high, (profile, section, plan) = 0.235 * page.height(), self.drawings
        wide, third = 0.46 * page.width(), 0.29 * page.width()
        sketch = QRectF(wide + third, top, page.width() - wide - third, high)
        for drawing, area in ((profile, QRectF(0, top, wide, high)), (section, QRectF(wide, top, third, high)), (plan, sketch)):
            self._picture(painter, drawing, area)
        painter.save()  # the spear is filled, what follows is not
        self.ink.north(painter, QPointF(sketch.right() - 0.8 * self.ink.text, top + 0.8 * self.ink.text))
        painter.restore()
        self.ink.lettering(painter, QPointF(sketch.left(), sketch.bottom()), benchmark_note(self.outcome.job), "muted", 0.9)
        return self._made_of(painter, page, top + high + 0.4 * self.ink.text)

    def _made_of(self, painter: QPainter, page: QRectF, y: float) -> float:
        """What the run is laid of, a line for each make, and how near it is to be built."""
        found, job = self.outcome.chosen(self.run), self.outcome.job
        told = dict.fromkeys(self._make_words(stretch.make) for stretch in found.stretches)
        tolerance = tr("Tolerance of the invert: {tolerance} up or down. Staff in {staff}.", tolerance=shown(job.limits.tolerance, SECTION, self.system),
                       staff=tr(staff_for(job.survey.staff, is_metric=job.units == "metric")))
        for line in (*list(told)[:MOST_MAKES], tolerance):
            painter.setFont(self.ink.font(0.95))
            painter.setPen(self.ink.colour("ink"))
            room = QRectF(0, y, page.width(), 4 * self.ink.text)
            y += painter.boundingRect(room, Qt.TextFlag.TextWordWrap, line).height()
            painter.drawText(room, Qt.TextFlag.TextWordWrap, line)
        return y

    def _make_words(self, make: Make) -> str:
        if make.is_solid:
            return tr("Solid pipe: {pipe}", pipe=make.pipe_name)
        wrap = wrap_words(make)
        if not make.section.has_stone:
            return tr("Collecting pipe: {pipe}; separation: {wrap}", pipe=make.pipe_name, wrap=wrap)
        return tr("Collecting pipe: {pipe}; stone: {stone}; separation: {wrap}", pipe=make.pipe_name, stone=make.aggregate.name, wrap=wrap)

    def _picture(self, painter: QPainter, drawing: Drawing, area: QRectF) -> None:
        text = self.ink.text
        painter.save()
        painter.setClipRect(area)
        frame = fit(drawing, area.adjusted(0, 1.4 * text, -0.5 * text, -1.5 * text))
        self.ink.draw(painter, drawing, frame)
        note = tr(", heights × {exaggeration}", exaggeration=frame.exaggeration) if frame.exaggeration > 1 else ""
        self.ink.lettering(painter, QPointF(area.left(), area.top() + text), drawing.title + note, "ink", 1.0, True)
        painter.restore()

    def _table(self, painter: QPainter, page: QRectF, top: float) -> float:
        is_shot, text, width = self.outcome.job.is_surveyed, self.ink.text, page.width()
        staff_kind = staff_for(self.outcome.job.survey.staff, is_metric=self.outcome.job.units == "metric")
        unit, staff = unit_of(LEVEL, self.system), staff_unit(staff_kind)
        heads = ((tr("station"), unit_of(STATION, self.system)), (tr("ground"), unit), (tr("invert"), unit), (tr("bottom"), unit), (tr("cut"), ""), (tr("rod on bottom"), staff),
                 (tr("pole mark"), staff))  # fmt: skip
        rights = [0.09, 0.18, 0.27, 0.36, 0.45, 0.57, 0.67]
        y, row = top + text, 1.55 * text
        for (name, what), right in zip(heads, rights, strict=True):
            self._cell(painter, right * width, y, name, True)
            self._cell(painter, right * width, y + 1.1 * text, what, False)
        self._cell(painter, 0.69 * width + 2.6 * text, y, tr("built"), True)
        self._cell(painter, 0.735 * width + 6.6 * text, y, tr("what is there"), True)
        y += 1.6 * text
        for line in self.lines:
            painter.setPen(QPen(self.ink.colour("rule"), 0.05 * text))
            painter.drawLine(QPointF(0, y), QPointF(width, y))
            cells = (shown_number(line.station, STATION, self.system), shown_number(line.ground, LEVEL, self.system), shown_number(line.invert, LEVEL, self.system),
                     shown_number(line.trench_bottom, LEVEL, self.system), shown(line.cut, DEPTH, self.system),
                     *(self._rods(line) if is_shot else (tr("not shot"), "–")))  # fmt: skip
            for index, (cell, right) in enumerate(zip(cells, rights, strict=True)):
                self._cell(painter, right * width, y + 1.1 * text, cell, index == 0 or (index == 5 and is_shot))
            painter.setPen(QPen(self.ink.colour("muted"), 0.05 * text))
            painter.drawRect(QRectF(0.69 * width, y + 0.25 * text, 0.035 * width, 1.05 * text))
            y += self._note(painter, line.note, QRectF(0.735 * width, y + 0.12 * text, 0.265 * width, 8 * text), row)
        painter.setPen(QPen(self.ink.colour("ink"), 0.08 * text))
        painter.drawLine(QPointF(0, y), QPointF(width, y))
        return y

    def _rods(self, line: CutLine) -> tuple[str, str]:
        """Rod and pole mark as read on the crew's staff."""
        survey = self.outcome.job.survey
        staff = staff_for(self.outcome.job.survey.staff, is_metric=self.outcome.job.units == "metric")
        pole = digits_here(staff_text(line.pole, staff, survey.rounding))
        return OFF_STAFF if line.rod is None else digits_here(staff_text(line.rod, staff, survey.rounding)), pole

    def _cell(self, painter: QPainter, right: float, y: float, words: str, bold: bool) -> None:
        """Plain letters that end at a place; on white paper they need no halo, and a page has hundreds."""
        font = self.ink.font(1.0 if words[:1].isdigit() else 0.92, bold)
        painter.setFont(font)
        painter.setPen(self.ink.colour("ink"))
        painter.drawText(QPointF(right - QFontMetricsF(font, painter.device()).horizontalAdvance(words), y), words)

    def _note(self, painter: QPainter, note: str, area: QRectF, row: float) -> float:
        if not note:
            return row
        painter.setFont(self.ink.font(0.86))
        painter.setPen(self.ink.colour("ink"))
        used = painter.boundingRect(area, Qt.TextFlag.TextWordWrap, note)
        painter.drawText(area, Qt.TextFlag.TextWordWrap, note)
        return max(row, used.height() + 0.3 * self.ink.text)
