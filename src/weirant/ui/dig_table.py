"""The cut sheet on screen: one column takes the rod readings of what is built."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFont, QKeyEvent

from weirant.design.as_built import profile_built, with_reading, without_reading
from weirant.design.sheets import OFF_STAFF, crew_cut_sheet, instrument_height
from weirant.errors import InputError, WeirantError
from weirant.ground.as_built import BuiltReading
from weirant.ground.cut_sheet import CutLine
from weirant.language import digits_here, tr
from weirant.ui.document import Document
from weirant.ui.plain_text import plain_tip
from weirant.ui.theme import THEME
from weirant.ui.views.fitted_columns import FittedColumns
from weirant.ui.views.staying_table import StayingTable
from weirant.ui.views.unread import Unread
from weirant.units.display import DEPTH, LEVEL, SECTION, STATION, shown, shown_number, unit_of
from weirant.units.staff import read_staff, staff_for, staff_text, staff_unit

COLUMNS = (tr("Station"), tr("Ground"), tr("Invert"), tr("Bottom"), tr("Cut"), tr("Rod"), tr("Pole"), tr("Built"), tr("Off by"), tr("What is there"))
BUILT = 7
ANY = Qt.ItemDataRole
ASKED = frozenset((ANY.TextAlignmentRole, ANY.DisplayRole, ANY.EditRole, ANY.ForegroundRole, ANY.FontRole, ANY.ToolTipRole))  # a view asks for much more


class DigModel(QAbstractTableModel):
    """Lines of the cut sheet of the run in hand, and the readings as built beside them."""

    read = pyqtSignal(float, float)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.lines: list[CutLine] = []
        self._built: dict[float, BuiltReading] = {}
        self.fault, self.in_sight, self._is_shot = "", False, False
        self.unread = Unread(document)
        document.changed.connect(self.refresh)
        document.run_changed.connect(self.refresh)

    def refresh(self) -> None:
        """Follow the job and the run in hand, while the sheet is in sight."""
        if self.document.is_empty or not self.in_sight:
            return
        outcome, name = self.document.outcome, self.document.run
        self.fault, self._is_shot = "", outcome.job.is_surveyed
        try:
            lines = crew_cut_sheet(outcome, name)
        except WeirantError as fault:
            lines, self.fault = [], str(fault)
        found = {round(r.station, 3): r for r in profile_built(outcome.job, name).readings}
        if len(lines) != len(self.lines):
            self.beginResetModel()
            self.lines, self._built = lines, found
            self.endResetModel()
        else:
            self.lines, self._built = lines, found
            if lines:
                self.dataChanged.emit(self.index(0, 0), self.index(len(lines) - 1, len(COLUMNS) - 1))

    @property
    def _staff(self) -> str:
        job = self.document.shown_job
        return staff_for(job.survey.staff, is_metric=job.units == "metric")

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: N802, B008, D102
        return len(self.lines)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: N802, B008, D102
        return len(COLUMNS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = ANY.DisplayRole) -> Any:  # noqa: N802, D102
        if role != ANY.DisplayRole or self.document.is_empty:
            return None
        if orientation == Qt.Orientation.Vertical:
            return str(section + 1)
        system, staff = self.document.system, staff_unit(self._staff)
        units = {0: unit_of(STATION, system), 1: unit_of(LEVEL, system), 2: unit_of(LEVEL, system), 3: unit_of(LEVEL, system), 5: staff, 6: staff, 7: staff}
        return f"{COLUMNS[section]}\n{units.get(section, '')}"

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:  # noqa: D102
        base = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
        return base | Qt.ItemFlag.ItemIsEditable if index.column() == BUILT else base

    def data(self, index: QModelIndex, role: int = ANY.DisplayRole) -> Any:  # noqa: D102
        if role not in ASKED:
            return None
        line, built = self.lines[index.row()], self._built.get(round(self.lines[index.row()].station, 3))
        if role == ANY.TextAlignmentRole:
            side = Qt.AlignmentFlag.AlignLeft if index.column() == len(COLUMNS) - 1 else Qt.AlignmentFlag.AlignRight
            return side | Qt.AlignmentFlag.AlignVCenter
        cell = self._cell(line)
        if index.column() == BUILT and self.unread.text(cell):
            return self.unread.told(cell, role)
        if role in (ANY.DisplayRole, ANY.EditRole):
            return self._text(line, built, index.column())
        if role == ANY.ForegroundRole and built is not None and not built.within and index.column() in (BUILT, BUILT + 1):
            return QColor(THEME.palette.rust)
        if role == ANY.FontRole and index.column() == 5 and self._is_shot:
            font = QFont()
            font.setWeight(QFont.Weight.Bold)
            return font
        if role == ANY.ToolTipRole and index.column() == len(COLUMNS) - 1:
            return plain_tip(line.note) or None
        return None

    def _cell(self, line: CutLine) -> tuple[str, float]:
        return self.document.run, round(line.station, 3)

    def _text(self, line: CutLine, built: BuiltReading | None, column: int) -> str:
        system, survey, staff = self.document.system, self.document.shown_job.survey, self._staff
        if column < 4:
            value = (line.station, line.ground, line.invert, line.trench_bottom)[column]
            return shown_number(value, STATION if column == 0 else LEVEL, system)
        if column == 4:
            return shown(line.cut, DEPTH, system)
        if column in (5, 6):
            if not self._is_shot:
                return tr("not shot")
            figure = line.rod if column == 5 else line.pole
            return OFF_STAFF if figure is None else digits_here(staff_text(figure, staff, survey.rounding))
        if column == BUILT:
            return "" if built is None else digits_here(staff_text(instrument_height(self.document.outcome) - line.trench_bottom - built.off, staff))
        if column == BUILT + 1:
            if built is None:
                return ""
            off = shown(abs(built.off), SECTION, system)
            return tr("good") if built.within else tr("{off} high", off=off) if built.off > 0 else tr("{off} low", off=off)
        return line.note

    def setData(self, index: QModelIndex, value: Any, role: int = ANY.EditRole) -> bool:  # noqa: N802, D102
        text, line, document = str(value).strip(), self.lines[index.row()], self.document
        if role != ANY.EditRole or index.column() != BUILT:
            return False
        where = shown(line.station, STATION, document.system)
        self.unread.forget(self._cell(line))
        self.dataChanged.emit(index, index)
        if not text:
            return document.edit(lambda job: without_reading(job, document.run, line.station), tr("Reading at {where} taken out", where=where))
        if text == self._text(line, self._built.get(round(line.station, 3)), BUILT):
            return True
        try:
            if not document.job.is_surveyed:
                raise InputError("", tr("The levels are made up, not shot: shoot the grades first (step 2); a reading cannot be held against them"))
            rod = read_staff(text, self._staff, tr("rod as built at {where}", where=where))
            if rod < 0:
                raise InputError(tr("Rod as built at {where}", where=where), tr("cannot be less than 0: a staff has no marks below its foot"), text)
            if rod > document.job.survey.staff_length + 1e-6:
                raise InputError(tr("Rod as built at {where}", where=where), tr("is longer than your {staff_length} staff",
                                                                                staff_length=shown(document.job.survey.staff_length, LEVEL, document.system)), text)
        except InputError as fault:
            self.unread.keep(self._cell(line), text, str(fault))
            return False
        level = instrument_height(document.settled) - rod + (line.invert - line.trench_bottom)
        done = document.edit(lambda job: with_reading(job, document.run, line.station, level), tr("As built at {where}: rod {text}", where=where, text=text))
        if done:
            self.read.emit(line.station, level)
        return done


class DigTable(StayingTable):
    """Enter goes down the readings."""

    def __init__(self, document: Document) -> None:
        self.sheet = DigModel(document)
        super().__init__(self.sheet, (0, BUILT))
        self.setAccessibleName(tr("Cut sheet"))
        self._columns = FittedColumns(self)
        rows = self.verticalHeader()
        if rows is not None:
            rows.setVisible(False)
            rows.setDefaultSectionSize(THEME.row)

    def after(self, row: int, column: int) -> tuple[int, int]:  # noqa: D102
        return row + 1, BUILT

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is not None and event.key() == Qt.Key.Key_Delete:
            self.sheet.setData(self.sheet.index(self.currentIndex().row(), BUILT), "")
        else:
            super().keyPressEvent(event)
