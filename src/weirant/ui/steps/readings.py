"""The level book on screen: made for the number pad, flowing down the rod readings."""

from __future__ import annotations

import dataclasses
from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtGui import QColor, QFont, QKeyEvent

from weirant.errors import InputError
from weirant.ground.levels import BookedShot
from weirant.ground.places import place_text, read_place
from weirant.job.geometry import has_run, run_of
from weirant.job.survey import Shot
from weirant.language import digits_here, tr
from weirant.ui.document import Document
from weirant.ui.plain_text import plain_tip
from weirant.ui.theme import THEME
from weirant.ui.views.fitted_columns import FittedColumns
from weirant.ui.views.staying_table import StayingTable
from weirant.ui.views.unread import Unread
from weirant.units import parse
from weirant.units.dimension import LENGTH
from weirant.units.display import LEVEL, STATION, shown, shown_number, unit_of
from weirant.units.staff import DECIMAL_FEET, read_staff, staff_for, staff_text, staff_unit

COLUMNS = (tr("Point"), tr("Station"), tr("Backsight"), tr("Rod reading"), tr("Ground level"), tr("Place in plan"), tr("Look at"))
FIELDS = ("point", "station", "backsight", "foresight")
ALONG, READING, PLACE = 1, 3, 5
MADE_UP = tr("made up: shoot it")
ANY = Qt.ItemDataRole


class ReadingsModel(QAbstractTableModel):
    """The shots of the job; the last row is empty and takes the next one."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._shown: tuple[BookedShot, ...] = ()
        self.unread = Unread(document)  # of where a shot is; of what it reads the job keeps it
        document.changed.connect(self.refresh)
        self.refresh()

    @property
    def _staff(self) -> str:
        """The staff in use; none is open at first."""
        if self.document.is_empty:
            return DECIMAL_FEET
        job = self.document.shown_job
        return staff_for(job.survey.staff, is_metric=job.units == "metric")

    def refresh(self) -> None:
        """Follow the job."""
        booked = () if self.document.is_empty else self.document.outcome.book.shots
        if len(booked) != len(self._shown):
            self.beginResetModel()
            self._shown = booked
            self.endResetModel()
        elif booked != self._shown:
            self._shown = booked
            self.dataChanged.emit(self.index(0, 0), self.index(self.rowCount() - 1, len(COLUMNS) - 1))

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: N802, B008, D102
        return len(self._shown) + 1

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: N802, B008, D102
        return len(COLUMNS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = ANY.DisplayRole) -> Any:  # noqa: N802, D102
        if role != ANY.DisplayRole:
            return None
        if orientation == Qt.Orientation.Vertical:
            return str(section + 1)
        system, staff = self.document.system, staff_unit(self._staff)
        unit = {1: unit_of(STATION, system), 2: staff, 3: staff, 4: unit_of(LEVEL, system)}.get(section, "")
        return f"{COLUMNS[section]}, {unit}" if unit and section else COLUMNS[section]

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:  # noqa: D102
        base = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        return base | Qt.ItemFlag.ItemIsEditable if index.column() < len(FIELDS) or index.column() == PLACE else base

    def data(self, index: QModelIndex, role: int = ANY.DisplayRole) -> Any:  # noqa: D102
        if role == ANY.TextAlignmentRole and 1 <= index.column() <= 4:
            return Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        if index.row() >= len(self._shown):
            return tr("next shot …") if role == ANY.DisplayRole and index.column() == 0 else None
        booked = self._shown[index.row()]
        cell = index.row(), booked.shot.point, index.column()
        if self.unread.text(cell):
            return self.unread.told(cell, role)
        if role in (ANY.DisplayRole, ANY.EditRole):
            return self._text(booked, index.column())
        if role == ANY.ForegroundRole and (booked.mark or booked.shot.is_assumed):
            return QColor(THEME.palette.rust if booked.mark else THEME.palette.ochre)
        if role == ANY.FontRole and booked.shot.is_assumed:
            font = QFont()
            font.setItalic(True)
            return font
        if role == ANY.ToolTipRole:
            return plain_tip(booked.mark) or None
        return None

    def _text(self, booked: BookedShot, column: int) -> str:
        shot, system = booked.shot, self.document.system
        if column == 0:
            return shot.point
        if column == READING and shot.unread:
            return shot.unread
        if column in (1, 2, 3):
            value = getattr(shot, FIELDS[column])
            if value is not None and column > 1:
                return digits_here(staff_text(value, self._staff).replace("−", "-"))
            return "" if value is None else shown_number(value, STATION, system)
        if column == 4:
            return "" if booked.elevation is None else shown_number(booked.elevation, LEVEL, system)
        return place_text(shot.place, system) if column == PLACE else booked.mark or (MADE_UP if shot.is_assumed else self._elsewhere(shot))

    def _elsewhere(self, shot: Shot) -> str:
        """Along which run a station counts, where that is not the one in hand."""
        job = self.document.shown_job
        return tr("along {job}", job=run_of(job, shot.run).name) if shot.run and shot.run != self.document.run and has_run(job, shot.run) else ""

    def setData(self, index: QModelIndex, value: Any, role: int = ANY.EditRole) -> bool:  # noqa: N802, D102
        if role != ANY.EditRole or (index.column() >= len(FIELDS) and index.column() != PLACE):
            return False
        text, row = str(value).strip(), index.row()
        if row >= len(self._shown) and not text:
            return False
        shots = list(self.document.job.survey.shots)
        name = self._typed(shots, row, index.column(), text)
        if not name:
            self.dataChanged.emit(index, index)
        return not name or self._set_shots(tuple(shots), name)

    def take_block(self, cells: list[tuple[int, int, str]]) -> bool:
        """Set many cells (row, column, text) as one step; rows are added as they are needed."""
        shots = list(self.document.job.survey.shots)
        for row, column, text in cells:
            if text and (column < len(FIELDS) or column == PLACE):
                self._typed(shots, min(row, len(shots)), column, text)
        return self._set_shots(tuple(shots), tr("Pasted {cells} cells", cells=len(cells)))

    def _typed(self, shots: list[Shot], row: int, column: int, text: str) -> str:
        """Change one entry among shots, in place; the name of the step, empty where nothing changed."""
        is_new = row >= len(shots)
        if is_new:
            shots.append(self._next_shot(len(shots)))
        self.unread.forget((row, shots[row].point, column))
        changed, name = self._edited(shots[row], row, column, text)
        if column in (2, READING) and shots[row].is_assumed and changed.unread == "":
            changed = dataclasses.replace(changed, is_assumed=False)  # typed, if only to say that it was right
            name = name or tr("{columns} of {point} confirmed", columns=COLUMNS[column], point=changed.point)
        same = changed == shots[row]
        shots[row] = changed
        return "" if same and not is_new else name

    def _next_shot(self, count: int) -> Shot:
        return Shot(self.document.job.survey.benchmark_name if not count else f"G{count}")

    def _edited(self, shot: Shot, row: int, column: int, text: str) -> tuple[Shot, str]:
        """The shot with one entry changed. A reading that cannot be understood is kept as it was typed."""
        if column == 0:
            return dataclasses.replace(shot, point=text or shot.point), tr("Point {text}", text=text)
        if column == PLACE:
            return self._placed(shot, row, text)
        field, kind = FIELDS[column], STATION if column == ALONG else LEVEL
        if not text:
            return self._along(_with(shot, field, None, "" if column == READING else shot.unread)), tr("{columns} of {point} taken out", columns=COLUMNS[column], point=shot.point)
        if text == self._text(BookedShot(shot, None), column):
            return shot, ""
        try:
            number = (parse(text, LENGTH, COLUMNS[column], unit_of(kind, self.document.system)) if column == ALONG
                      else read_staff(text, self._staff, COLUMNS[column]))  # fmt: skip
            next(f for f in dataclasses.fields(Shot) if f.name == field).metadata["spec"].check(number)  # what no job can hold is kept as it was typed
        except InputError as fault:
            if column == ALONG:
                self.unread.keep((row, shot.point, column), text, str(fault))
            else:
                self.document.refused.emit(str(fault))
                shot = self._along(_with(shot, field, None, text))
            return shot, tr("{columns} of {point}: not understood", columns=COLUMNS[column], point=shot.point)
        return self._along(_with(shot, field, number, "")), tr("{columns} of {point}: {number}", columns=COLUMNS[column], point=shot.point,
                                                               number=shown(number, kind, self.document.system))

    def _along(self, shot: Shot) -> Shot:
        """A station counts along the run it was booked along, or else along the run in hand."""
        return dataclasses.replace(shot, run="" if shot.station is None else shot.run or self.document.run)

    def _placed(self, shot: Shot, row: int, text: str) -> tuple[Shot, str]:
        """The shot at a place in plan; a shot has a place or a station, not both."""
        if not text or text == place_text(shot.place, self.document.system):
            return (dataclasses.replace(shot, place=None), tr("Place of {point} taken out", point=shot.point)) if not text else (shot, "")
        try:
            place = read_place(text, self.document.system)
        except InputError as fault:
            self.unread.keep((row, shot.point, PLACE), text, str(fault))
            return shot, tr("{columns} of {point}: not understood", columns=COLUMNS[PLACE], point=shot.point)
        return dataclasses.replace(shot, place=place, station=None, run=""), tr("Place of {point}: {text}", point=shot.point, text=text)

    def _set_shots(self, shots: tuple[Shot, ...], name: str) -> bool:
        job = self.document.job
        assumed = tuple(p for p in job.assumed if not p.startswith("survey.shots"))
        survey = dataclasses.replace(job.survey, shots=shots)
        return self.document.change(dataclasses.replace(job, survey=survey, assumed=assumed), name)

    def remove(self, row: int) -> None:
        """Take a shot out; undo brings it back."""
        shots = self.document.job.survey.shots
        if 0 <= row < len(shots):
            self._set_shots((*shots[:row], *shots[row + 1 :]), tr("Shot {point} taken out", point=shots[row].point))

    def insert(self, row: int) -> None:
        """An empty shot before a row."""
        shots = self.document.job.survey.shots
        row = max(row, 0)
        self._set_shots((*shots[:row], self._next_shot(len(shots)), *shots[row:]), tr("Shot put in"))


def _with(shot: Shot, field: str, number: float | None, unread: str) -> Shot:
    """The shot with one reading replaced, and what could not be understood kept beside it."""
    changes: dict[str, Any] = {field: number, "unread": unread}
    return dataclasses.replace(shot, **changes)


class ReadingsTable(StayingTable):
    """Enter goes down the column, so that readings are typed one below the other."""

    def __init__(self, document: Document) -> None:
        self.shots = ReadingsModel(document)
        super().__init__(self.shots, (self.shots.rowCount() - 1, READING))
        self.setAccessibleName(tr("Rod readings"))
        self._columns = FittedColumns(self)
        rows = self.verticalHeader()
        if rows is not None:
            rows.setDefaultSectionSize(THEME.row)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        index = self.currentIndex()
        if event is None:
            return
        if event.key() == Qt.Key.Key_Delete:
            if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                self.shots.remove(index.row())
            else:
                self.shots.setData(index, "")
        elif event.key() == Qt.Key.Key_Insert:
            self.shots.insert(index.row())
        else:
            super().keyPressEvent(event)
