"""Reading points from a file: what each column is, the first lines as they will be cut, units, and what could not be used."""

from __future__ import annotations

import dataclasses

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QHeaderView,
    QProgressBar,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from weirant.formats.points_csv import ROLES, UNITS, Layout, Preview, read_points, recognise, shift_wanted
from weirant.formats.points_read import NO_SHIFT, PointsRead, Shift
from weirant.job import Job
from weirant.language import tr
from weirant.ui.code_box import CodeBox
from weirant.ui.plain_text import PlainLabel
from weirant.ui.rhythm import Dialog
from weirant.ui.still_box import StillBox
from weirant.ui.theme import THEME
from weirant.ui.work import in_background

DELIMITERS = {",": tr("comma"), ";": tr("semicolon"), "\t": tr("tab"), " ": tr("spaces"), "|": tr("bar")}
NONE = "–"


class PointsDialog(Dialog):
    """Shows how a CSV file will be read, and reads it beside the interface."""

    told_in = ("step-levels", "")

    done_reading = pyqtSignal(object)

    def __init__(self, data: bytes, name: str, job: Job, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Points from {name}", name=name))
        self.data, self.preview, self.of_job = data, recognise(data), job.survey.shift
        self._share, self._stop = 0.0, False
        self.unit, self.delimiter, self.decimal, self.heading = CodeBox(), StillBox(), StillBox(), QCheckBox(tr("first line is a heading"))
        self.shift = QCheckBox()
        self.table, self.note, self.bar = QTableWidget(), PlainLabel(), QProgressBar()
        self.read, self.cancel = QPushButton(tr("Read the points")), QPushButton(tr("Cancel"))
        self._roles: list[CodeBox] = []
        self._wanted: Shift = NO_SHIFT
        self._clock = QTimer(self)
        self._clock.setInterval(80)
        self._clock.timeout.connect(self._show_share)
        self._lay_out(job.units)
        self._show(self.preview)

    def _lay_out(self, units: str) -> None:
        self.resize(round(52 * THEME.text), round(34 * THEME.text))
        self.unit.add_codes(UNITS)
        self.unit.take("ft" if units == "imperial" else "m")
        self.delimiter.addItems(list(DELIMITERS.values()))
        self.decimal.addItems([tr("decimal point"), tr("decimal comma")])
        row = QHBoxLayout()
        for label, widget in ((tr("unit of the file"), self.unit), (tr("columns parted by"), self.delimiter), ("", self.decimal)):
            words = PlainLabel(label)
            words.setBuddy(widget)
            row.addWidget(words)
            row.addWidget(widget)
            widget.setAccessibleName(label or tr("decimal mark"))
            widget.activated.connect(self._changed)
        row.addWidget(self.heading)
        row.addStretch(1)
        self.heading.toggled.connect(self._changed)
        self.note.setWordWrap(True)
        self.table.setAccessibleName(tr("First lines of the file"))
        self.table.setTabKeyNavigation(False)
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.bar.setVisible(False)
        self.read.setProperty("main", True)
        self.read.setDefault(True)
        self.read.clicked.connect(self.start)
        self.cancel.clicked.connect(self.reject)
        foot = QHBoxLayout()
        foot.addWidget(self.bar, 1)
        foot.addStretch(1)
        foot.addWidget(self.cancel)
        foot.addWidget(self.read)
        column = QVBoxLayout(self)
        column.addLayout(row)
        column.addWidget(PlainLabel(tr("Say over each column what it is:")))
        column.addWidget(self.table, 1)
        column.addWidget(self.shift)
        column.addWidget(self.note)
        column.addLayout(foot)

    def layout_now(self) -> Layout:
        """How the file is to be read as the dialog stands."""
        columns = {combo.code(): i for i, combo in enumerate(self._roles) if combo.code()}
        delimiter = list(DELIMITERS)[self.delimiter.currentIndex()]
        return Layout(self.preview.layout.encoding, delimiter, ("." if self.decimal.currentIndex() == 0 else ","), self.heading.isChecked(), columns)

    def _changed(self) -> None:
        now = self.layout_now()
        if now.delimiter != self.preview.layout.delimiter:
            lines = self.data[:20_000].decode(now.encoding, "replace").splitlines()[:12]
            rows = tuple(tuple(line.split(now.delimiter) if now.delimiter != " " else line.split()) for line in lines if line.strip())
            self._show(Preview(dataclasses.replace(now, columns={}), rows))
        else:
            self._warn()

    def _show(self, preview: Preview) -> None:
        self.preview = preview
        layout = preview.layout
        for widget in (self.delimiter, self.decimal, self.heading):
            widget.blockSignals(True)
        self.delimiter.setCurrentIndex(list(DELIMITERS).index(layout.delimiter))
        self.decimal.setCurrentIndex(1 if layout.decimal == "," else 0)
        self.heading.setChecked(layout.has_heading)
        for widget in (self.delimiter, self.decimal, self.heading):
            widget.blockSignals(False)
        count = max((len(row) for row in preview.rows), default=1)
        self.table.setRowCount(len(preview.rows) + 1)
        self.table.setColumnCount(count)
        header, side = self.table.horizontalHeader(), self.table.verticalHeader()
        if header is not None and side is not None:
            header.setVisible(False)
            side.setVisible(False)
            header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
            side.setDefaultSectionSize(THEME.row)
        self._roles = []
        roles = {index: role for role, index in layout.columns.items()}
        for index in range(count):
            combo = CodeBox()
            combo.addItem(NONE)
            combo.add_codes(ROLES)
            combo.take(roles.get(index, ""))
            combo.setAccessibleName(tr("Column {index} is", index=index + 1))
            combo.activated.connect(self._warn)
            self.table.setCellWidget(0, index, combo)
            self._roles.append(combo)
        self.table.setRowHeight(0, round(2.4 * THEME.text))
        for line, row in enumerate(preview.rows, 1):
            for index, cell in enumerate(row):
                self.table.setItem(line, index, QTableWidgetItem(cell[:60]))
        self._warn()

    def _offer_shift(self, layout: Layout) -> None:
        """Say what is taken off the coordinates: it is asked once a job, and then serves every file."""
        wanted = NO_SHIFT, ""
        if {"x", "y"} <= layout.columns.keys():
            wanted = shift_wanted(self.data, layout, self.unit.code(), self.of_job)
        if wanted[0] != self._wanted:
            self._wanted = wanted[0]
            self.shift.setChecked(wanted[0] != NO_SHIFT)
        self.shift.setVisible(wanted[0] != NO_SHIFT)
        why = tr("as with this job's other files") if self.of_job != NO_SHIFT else tr("so that the plan lies near its origin (put back on writing)")
        self.shift.setText(tr("take {wanted:,.0f} m off east and {wanted_2:,.0f} m off north, {why}", wanted=wanted[0][0], wanted_2=wanted[0][1], why=why))

    def _warn(self) -> None:
        self._offer_shift(self.layout_now())
        missing = [role for role in ("x", "y", "z") if role not in self.layout_now().columns]
        self.read.setEnabled(not missing)
        self.note.setText(tr("Say which column is {missing}.", missing=tr(" and ").join(missing)) if missing else " ".join(self.preview.notes))

    def start(self) -> None:
        """Read the file beside the interface; Cancel stops it and keeps what was read so far."""
        layout, unit = self.layout_now(), self.unit.code()
        shift = self._wanted if self.shift.isChecked() else NO_SHIFT
        self.read.setEnabled(False)
        self.bar.setVisible(True)
        self.cancel.setText(tr("Stop"))
        self.cancel.clicked.disconnect()
        self.cancel.clicked.connect(self._halt)
        self._clock.start()
        in_background(lambda: read_points(self.data, layout, unit, shift, self._progress), self._finish, self._fail)

    def _progress(self, share: float) -> bool:
        self._share = share
        return not self._stop

    def _show_share(self) -> None:
        self.bar.setValue(round(100 * self._share))

    def _halt(self) -> None:
        self._stop = True

    def _finish(self, found: PointsRead) -> None:
        self._clock.stop()
        self.done_reading.emit(found)
        self.accept()

    def _fail(self, text: str) -> None:
        self._clock.stop()
        self.note.setText(text)
        self.read.setEnabled(True)


def told(found: PointsRead) -> str:
    """What was read and what was not, in a few lines."""
    lines = [tr("{points:,} points read", points=len(found.points)) + (tr(", {features} things", features=len(found.features)) if found.features else "") + "."]
    lines += list(found.notes)
    if found.refused:
        lines.append(tr("{refused:,} could not be used; they are kept with the job:", refused=len(found.refused)))
        lines += [f"{r.where}: {r.why} ({r.text})" for r in found.refused[:5]]
    return "\n".join(lines)

