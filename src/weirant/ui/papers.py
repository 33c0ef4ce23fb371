"""Papers and tables of figures, written beside the interface and read in: owner's sheet, cut sheet, rod readings, storms."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QWidget

from weirant.design.offer import priced_option
from weirant.design.sheets import crew_cut_sheet
from weirant.design.worked_out import with_nothing_waiting
from weirant.drawing.primitives import Drawing
from weirant.errors import WeirantError
from weirant.formats import survey_csv
from weirant.formats.csv_text import LARGEST
from weirant.formats.cut_sheet_csv import write_cut_sheet
from weirant.formats.exports import EXPORTS, write_export
from weirant.formats.gradation_csv import read_gradation_csv
from weirant.formats.plain_files import read_plain_text, write_safely
from weirant.formats.products_csv import read_products, taken_in
from weirant.formats.pump_csv import read_pump_curve
from weirant.formats.quote_xlsx import write_quote_xlsx
from weirant.formats.rain_csv import read_rain
from weirant.job.paths import leads_somewhere, with_value
from weirant.language import first_small, tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import PriceList
from weirant.paper.cut_sheet import cut_sheet_pdf, write_every_sheet
from weirant.paper.order_list import write_order_list
from weirant.paper.owner_sheet import write_owner_sheet
from weirant.paper.picture_out import fitting_scale, picture
from weirant.paper.quote_sheet import write_quote
from weirant.paper.why_sheet import write_why_sheet
from weirant.ui import memory
from weirant.ui.asking import ask_file, ask_name, in_the_look, tell
from weirant.ui.document import Document
from weirant.ui.other_ways import option_at, other_ways
from weirant.ui.price_choice import remembered_prices
from weirant.ui.work import in_background
from weirant.units.display import System

CSV_FILES = "CSV (*.csv *.txt)"
PICTURES = {".svg": "SVG", ".png": "PNG"}
CSV, PDF, XLSX = {".csv": "CSV"}, {".pdf": "PDF"}, {".xlsx": "XLSX"}


class Papers(QObject):
    """Asks for names and writes; reads tables into the job."""

    said = pyqtSignal(str)

    def __init__(self, document: Document, window: QWidget) -> None:
        super().__init__(window)
        self.document, self.window = document, window

    def ask_owner_sheet(self) -> None:
        """Ask for a name and write the owner's sheet."""
        self._ask_write(tr("Owner's sheet"), PDF, write_owner_sheet)

    def ask_order_list(self) -> None:
        """Ask for a name and write the order list, by supplier where a price list is taken."""
        prices = remembered_prices()
        self._ask_write(tr("Order list"), PDF, lambda outcome, path: write_order_list(outcome, path, prices))

    def ask_quote(self) -> None:
        """Ask for a name and write the quote by the price list that was taken last, as a paper or a workbook by the ending."""
        prices, ways = remembered_prices(), other_ways(self.document)
        if not prices.prices:
            tell(self.window, tr("Quote"), tr("Take a price list first: in Ask and order, beside “prices by”."), is_fault=False)
            return
        self._ask_write(tr("Quote"), PDF | XLSX, lambda outcome, path: _write_quote(outcome, prices, ways, path))

    def ask_export(self) -> None:
        """Ask for a name and write the job for other programs, by the ending."""
        self._ask_write(tr("For other programs"), {ending: kind.name for ending, kind in EXPORTS.items()}, write_export)

    def ask_picture(self, drawing: Drawing, *, north: bool) -> None:
        """Ask for a name and write a drawing as a picture, at the largest usual scale that a sheet holds."""
        system, scale = self.document.system, fitting_scale(drawing)
        self._ask_write(drawing.title, PICTURES, lambda _, path: write_safely(path, picture(drawing, scale, path.suffix.lower(), system, north=north)))

    def ask_why_sheet(self) -> None:
        """Ask for a name and write why the run in hand is built as it is."""
        run = self.document.run
        self._ask_write(tr("Why this wrap"), PDF, lambda outcome, path: write_why_sheet(outcome, run, path))

    def ask_cut_sheet(self, suffix: str = ".pdf") -> None:
        """Ask for a name and write the cut sheet of the run in hand, as a page or as CSV by the ending."""
        run = self.document.run
        patterns = CSV | PDF if suffix == ".csv" else PDF | CSV
        self._ask_write(tr("Cut sheet"), patterns, lambda outcome, path: _write_cut_sheet(outcome, run, path))

    def ask_every_cut_sheet(self) -> None:
        """Ask for a folder and write the cut sheets of all runs into it, each as a page and as CSV."""
        if self.document.is_empty:
            return
        name, outcome = QFileDialog.getExistingDirectory(in_the_look(self.window), tr("Folder for the cut sheets of every run"), memory.folder()), self.document.settled
        if name:
            self.write_every_cut_sheet(outcome, Path(name))

    def write_every_cut_sheet(self, outcome: Outcome, folder: Path) -> None:
        """Write them beside the interface, and say what was left out."""
        self.said.emit(tr("Writing into {folder} …", folder=folder.name))
        in_background(lambda: write_every_sheet(outcome, folder), lambda done: self._written(folder, *done), lambda fault: self._fault(tr("The cut sheets are not written"), fault))

    def _written(self, folder: Path, written: list[Path], told: list[str]) -> None:
        self.said.emit(". ".join([tr("{written} cut sheets written into {folder}", written=len(written) // 2, folder=folder.name), *told]))

    def ask_write_readings(self) -> None:
        """Ask for a name and write the rod readings."""
        self._ask_write(tr("Rod readings"), CSV, _write_readings)

    def _ask_write(self, what: str, patterns: dict[str, str], write: Callable[[Outcome, Path], None]) -> None:
        if self.document.is_empty:
            return
        path, outcome = ask_name(self.window, what, f"{self.document.job.name} – {first_small(what)}", patterns), self.document.settled
        if path is None:
            return
        self.said.emit(tr("Writing {path} …", path=path.name))
        in_background(
            lambda: write(outcome, path),
            lambda _: self.said.emit(tr("Written: {path}", path=path.name)),
            lambda text: self._fault(tr("{what} is not written", what=what), text),
        )

    def ask_read_readings(self) -> None:
        """Ask for a CSV file of readings and take them over."""
        path = ask_file(self.window, tr("Read rod readings"), CSV_FILES)
        if path is not None:
            self.read_readings(path)

    def read_readings(self, path: Path) -> None:
        """Take over the readings of a CSV file; undo brings the old ones back."""
        try:
            runs = {run.name: run.id for run in self.document.job.runs}
            shots = survey_csv.read_survey(read_plain_text(path, LARGEST, tr("a file of readings")), runs, self.document.run)
        except WeirantError as fault:
            self._fault(tr("The readings are not read"), str(fault))
            return
        job = self.document.job
        survey = dataclasses.replace(job.survey, shots=shots)
        self.document.change(dataclasses.replace(job, survey=survey), tr("Readings from {path}", path=path.name), may_come=True)

    def ask_read_storm(self) -> None:
        """Ask for a CSV file of rain and add it to the job's storms."""
        path = ask_file(self.window, tr("Read a storm"), CSV_FILES)
        if path is not None:
            self.read_storm(path)

    def read_storm(self, path: Path) -> None:
        """Add the storm of a CSV file; one of the same name is replaced."""
        try:
            storm = read_rain(read_plain_text(path, LARGEST, tr("a file of rain")), path.stem)
        except WeirantError as fault:
            self._fault(tr("The storm is not read"), str(fault))
            return
        job = self.document.job
        storms = (*(s for s in job.storms if s.name != storm.name), storm)
        self.document.change(dataclasses.replace(job, storms=storms), tr("Storm from {path}", path=path.name), may_come=True)

    def ask_read_products(self) -> None:
        """Ask for a list of own products."""
        if self.document.is_empty:
            return
        path = ask_file(self.window, tr("Own products"), CSV_FILES)
        if path is not None:
            self.read_products(path)

    def read_products(self, path: Path) -> None:
        """Take the pipes, stones or fabrics of a list into the job; those of a name it has already take their place."""
        try:
            found = read_products(read_plain_text(path, LARGEST, tr("a list of products")), path.name)
        except WeirantError as fault:
            self._fault(tr("The products are not read"), str(fault))
            return
        self.document.change(taken_in(self.document.job, found), tr("Own products from {path}", path=path.name), may_come=True)

    def ask_read_pump_curve(self) -> None:
        """Ask for the curve of the pump at the low end of the run in hand."""
        path = ask_file(self.window, tr("Pump curve"), CSV_FILES)
        if path is not None:
            self.read_pump_curve(path)

    def read_pump_curve(self, path: Path) -> None:
        """Take the curve of a CSV file for the pump at the low end of the run in hand."""
        field = self.document.path_of("outlet.pump.curve")
        if not leads_somewhere(self.document.job, field):
            self._fault(tr("The pump curve is not read"), tr("The run in hand does not end in a pump. Take the run in hand that does."))
            return
        try:
            curve = read_pump_curve(read_plain_text(path, LARGEST, tr("a pump curve")), path.name)
        except WeirantError as fault:
            self._fault(tr("The pump curve is not read"), str(fault))
            return
        self.document.edit(lambda job: with_value(job, field, curve), tr("Pump curve from {path}", path=path.name), may_come=True)

    def ask_read_gradation(self) -> None:
        """Ask for the sieve result of the layer in hand."""
        path = ask_file(self.window, tr("Sieve result"), CSV_FILES)
        if path is not None:
            self.read_gradation(path)

    def read_gradation(self, path: Path) -> None:
        """Take the sieve result of a CSV file for the layer of soil in hand."""
        try:
            points = read_gradation_csv(read_plain_text(path, LARGEST, tr("a sieve result")), path.name)
        except WeirantError as fault:
            self._fault(tr("The sieve result is not read"), str(fault))
            return
        field = self.document.path_of("layer.gradation")
        self.document.edit(lambda job: with_value(job, field, points), tr("Sieve result from {path}", path=path.name), may_come=True)

    def _fault(self, title: str, text: str) -> None:
        tell(self.window, title, text)


def _write_cut_sheet(outcome: Outcome, run: str, path: Path) -> None:
    lines, survey = crew_cut_sheet(outcome, run), outcome.job.survey
    if path.suffix.lower() == ".pdf":
        write_safely(path, cut_sheet_pdf(outcome, run, lines))
    else:
        write_safely(path, write_cut_sheet(lines, System(outcome.job.units), survey.staff, survey.rounding, is_shot=outcome.job.is_surveyed).encode())


def _write_readings(outcome: Outcome, path: Path) -> None:
    unit = "ft" if outcome.job.units == "imperial" else "m"
    write_safely(path, survey_csv.write_survey(outcome.job.survey.shots, unit, {run.id: run.name for run in outcome.job.runs}).encode())


def _write_quote(outcome: Outcome, prices: PriceList, ways: tuple[Path, ...], path: Path) -> None:
    options = (priced_option(tr("as drawn"), with_nothing_waiting(outcome), prices), *(option_at(way, prices) for way in ways))
    if path.suffix.lower() == ".xlsx":
        write_quote_xlsx(options, path)
    else:
        write_quote(options, path)
