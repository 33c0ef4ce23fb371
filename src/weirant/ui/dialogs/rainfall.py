"""The rainfall table of the place: typed, read from CSV or asked of a service, and storms made from it."""

from __future__ import annotations

import dataclasses
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QDialogButtonBox,
    QHBoxLayout,
    QHeaderView,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from weirant.design.plan_terms import rain_typed, rainy_shares
from weirant.errors import InputError, WeirantError
from weirant.formats.csv_text import LARGEST
from weirant.formats.plain_files import read_plain_text
from weirant.formats.rain_days_csv import is_of_days, read_rain_days
from weirant.formats.rainfall_csv import disorder, read_rainfall
from weirant.instruments.rainfall_service import places, rain_days_at, rainfall_at
from weirant.job.rain import EVEN, PEAKED, TYPES, RainfallDepth, Storm
from weirant.language import tr
from weirant.methods.storms import depth_in
from weirant.ui.asking import ask_file
from weirant.ui.code_box import CodeBox
from weirant.ui.document import Document
from weirant.ui.line import EntryLine
from weirant.ui.plain_text import PlainLabel, plain_tip
from weirant.ui.rhythm import Dialog
from weirant.ui.still_box import StillBox
from weirant.ui.views.staying_table import keys_flow
from weirant.ui.work import in_background
from weirant.units import parse
from weirant.units.dimension import LENGTH
from weirant.units.display import RAIN_DEPTH, shown, shown_number, unit_of

DEPTH = next(field.metadata["spec"] for field in dataclasses.fields(RainfallDepth) if field.name == "depth")
YEARS = (2.0, 10.0, 100.0)
DURATIONS = (5, 10, 15, 30, 60, 120, 360, 1440)  # minutes
DAYS = tr("For the plan of the work: a share of the days, such as 25 %; or the days lost in each month, twelve numbers, January first. Weather services tell on how many days of a month "
          "0.1 in (2.5 mm) or more falls; each is taken for a day lost (common practice, no source).")  # fmt: skip
SHAPES = (PEAKED, EVEN, *TYPES)


class RainfallDialog(Dialog):
    """A table of depths; what is typed is kept with the job when it is taken over."""

    told_in = ("step-storm", "")

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.document = document
        self.setWindowTitle(tr("Rain of the place"))
        self.resize(620, 560)
        self.table, self.said = QTableWidget(), PlainLabel()
        keys_flow(self.table)
        self.table.setAccessibleName(tr("Rain depth by duration and return period"))
        header = self.table.horizontalHeader()
        if header is not None:
            header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.said.setWordWrap(True)
        self.said.setAccessibleName(tr("Message"))
        self.place, self.years, self.length, self.shape = StillBox(), StillBox(), StillBox(), CodeBox()
        self.place.addItems(places())
        self.place.setAccessibleName(tr("Place (practice service)"))
        self.years.setAccessibleName(tr("Once in so many years"))
        self.length.setAccessibleName(tr("Duration of the storm"))
        self.shape.add_codes(SHAPES)
        self.shape.setAccessibleName(tr("Shape of the storm"))
        self.ask, self.read, self.make = QPushButton(tr("Ask the practice service")), QPushButton(tr("Read CSV …")), QPushButton(tr("Make this storm"))
        self.storms, self.drop = StillBox(), QPushButton(tr("Take it out"))
        self.days = EntryLine(rain_typed(document.job.work.rain))
        self.days.setAccessibleName(tr("days lost to rain"))
        self.days.setToolTip(plain_tip(DAYS))
        self.storms.setAccessibleName(tr("Storm of the job"))
        self.drop.clicked.connect(self.drop_storm)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        column = QVBoxLayout(self)
        column.addWidget(PlainLabel(tr("Depth of rain, {unit}; type it from your weather service's table, leave out what you do not have.", unit=unit_of(RAIN_DEPTH, document.system))))
        column.addWidget(self.table, 1)
        days = QHBoxLayout()
        days.addWidget(PlainLabel(tr("days lost to rain, a share of them or those of each month")))
        days.addWidget(self.days, 1)
        column.addLayout(days)
        column.addLayout(_row(self.read, self.place, self.ask))
        column.addWidget(PlainLabel(tr("A storm from the table:")))
        column.addLayout(_row(self.years, self.length, self.shape, self.make))
        column.addLayout(_row(PlainLabel(tr("Storms of the job:")), self.storms, self.drop))
        column.addWidget(self.said)
        column.addWidget(buttons)
        self.read.clicked.connect(self.ask_read)
        self.ask.clicked.connect(self.ask_service)
        self.make.clicked.connect(self.make_storm)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        self.show_table(document.job.rainfall)
        self._list_storms()

    def show_table(self, table: tuple[RainfallDepth, ...]) -> None:
        """Fill the cells; the usual durations and years where the table is empty."""
        system = self.document.system
        self._durations = sorted({e.duration for e in table} | ({60.0 * m for m in DURATIONS} if not table else set()))
        self._years = sorted({e.years for e in table} | (set(YEARS) if len({e.years for e in table}) < 2 else set()))
        depths = {(e.duration, e.years): e.depth for e in table}
        self.table.setRowCount(len(self._durations))
        self.table.setColumnCount(len(self._years))
        self.table.setVerticalHeaderLabels([_span(d) for d in self._durations])
        self.table.setHorizontalHeaderLabels([tr("once in {y:g} years", y=y) for y in self._years])
        for i, duration in enumerate(self._durations):
            for j, years in enumerate(self._years):
                depth = depths.get((duration, years))
                item = QTableWidgetItem("" if depth is None else shown_number(depth, RAIN_DEPTH, system))
                item.setData(Qt.ItemDataRole.UserRole, (item.text(), depth))  # what is not retyped is kept to its last figure
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self.table.setItem(i, j, item)
        for choice, words in ((self.years, [tr("once in {y:g} years", y=y) for y in self._years]), (self.length, [_span(d) for d in self._durations])):
            choice.clear()
            choice.addItems(words)
            choice.setCurrentIndex(len(words) // 2)

    def _list_storms(self) -> None:
        self.storms.clear()
        self.storms.addItems([storm.name for storm in self.document.job.storms])
        self.drop.setEnabled(self.storms.count() > 0)

    def drop_storm(self) -> None:
        """Take a storm out of the job; undo brings it back."""
        job, name = self.document.job, self.storms.currentText()
        if self.document.change(dataclasses.replace(job, storms=tuple(s for s in job.storms if s.name != name)), tr("Storm {name} taken out", name=name)):
            self._list_storms()

    def typed(self) -> tuple[RainfallDepth, ...]:
        """The table as it is typed; InputError that names the cell at fault."""
        found = []
        for i, duration in enumerate(self._durations):
            for j, years in enumerate(self._years):
                item = self.table.item(i, j)
                text = item.text().strip() if item is not None else ""
                if not text:
                    continue
                written, exact = item.data(Qt.ItemDataRole.UserRole) if item is not None else ("", None)
                depth = exact if text == written and exact is not None else parse(text, LENGTH, tr("{duration}, once in {years:g} years",
                                                                                                   duration=_span(duration), years=years), unit_of(RAIN_DEPTH, self.document.system))
                dataclasses.replace(DEPTH, label=tr("{duration}, once in {years:g} years", duration=_span(duration), years=years)).check(depth, self.document.system, text)
                found.append(RainfallDepth(duration, years, depth))
        wrong = disorder(tuple(found))
        if wrong:
            raise InputError("", wrong[0])
        return tuple(found)

    def ask_service(self) -> None:
        """Ask the stand-in for the table of a place, beside the interface."""
        place = self.place.currentText()
        self.said.setText(tr("Asking for {place} …", place=place))
        self.ask.setEnabled(False)
        in_background(lambda: (rainfall_at(place), rain_days_at(place)), self._answered, self._failed)

    def _answered(self, found: tuple[tuple[RainfallDepth, ...], tuple[float, ...]]) -> None:
        self.ask.setEnabled(True)
        self.show_table(found[0])
        self.days.setText(rain_typed(found[1]))
        self.said.setText(tr("A made-up table to practise with; your weather service has the true one."))

    def _failed(self, words: str) -> None:
        self.ask.setEnabled(True)
        self.said.setText(words)

    def ask_read(self) -> None:
        """Ask for a CSV file and fill the table from it."""
        path = ask_file(self, tr("Read a rainfall table"), "CSV (*.csv *.txt)")
        if path is not None:
            self.read_file(path)

    def read_file(self, path: Path) -> None:
        """Fill the table from a CSV file, or the days with rain, by its headings."""
        try:
            text = read_plain_text(path, LARGEST, tr("a rainfall table"))
            if is_of_days(text):
                self.days.setText(rain_typed(read_rain_days(text, path.name)))
            else:
                self.show_table(read_rainfall(text, path.name))
            self.said.setText(tr("Read from {path}.", path=path.name))
        except WeirantError as fault:
            self.said.setText(str(fault))

    def make_storm(self) -> None:
        """Add a storm of the chosen return period, duration and shape to the job."""
        try:
            table = self.typed()
            years, duration = self._years[self.years.currentIndex()], self._durations[self.length.currentIndex()]
            entries = sorted((e.duration, e.depth) for e in table if e.years == years)
            depth = depth_in([d for d, _ in entries], [p for _, p in entries], duration)
        except InputError as fault:
            self.said.setText(str(fault))
            return
        shape = self.shape.code()
        storm = Storm(tr("once in {years:g} years, {duration}, {shape}", years=years, duration=_span(duration), shape=shape), shape, round(depth, 6), duration)
        job = self.document.job
        changed = dataclasses.replace(job, rainfall=table, storms=(*(s for s in job.storms if s.name != storm.name), storm))
        if self.document.change(changed, tr("Storm {storm}", storm=storm.name)):
            self._list_storms()
            self.said.setText(tr("{storm}: {depth}. It is in the list of storms.", storm=storm.name, depth=shown(depth, RAIN_DEPTH, self.document.system)))
        else:
            self.said.setText(tr("{depth} is more than a storm can be: look at the table again.", depth=shown(depth, RAIN_DEPTH, self.document.system)))

    def accept(self) -> None:
        """Keep the table with the job."""
        try:
            table, job = self.typed(), self.document.job
            lost = job.work.rain if self.days.text() == rain_typed(job.work.rain) else rainy_shares(self.days.text(), tr("days lost to rain"), "%")
        except InputError as fault:
            self.said.setText(str(fault))
            return
        self.document.change(dataclasses.replace(job, rainfall=table, work=dataclasses.replace(job.work, rain=lost)), tr("Rainfall table"))
        super().accept()


def _span(seconds: float) -> str:
    return tr("{seconds:g} min", seconds=seconds / 60) if seconds < 7200 else tr("{seconds:g} h", seconds=seconds / 3600)


def _row(*widgets: QWidget) -> QHBoxLayout:
    row = QHBoxLayout()
    for widget in widgets:
        row.addWidget(widget)
    row.addStretch(1)
    return row
