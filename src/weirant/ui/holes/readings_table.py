"""Readings of a field test: time on the stopwatch and depth to water, made for the number pad."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHeaderView

from weirant.errors import InputError
from weirant.job.hole_edits import with_reading
from weirant.job.holes import FieldTest, WaterReading
from weirant.language import digits_here, tr
from weirant.ui.document import Document
from weirant.ui.theme import THEME
from weirant.ui.views.staying_table import StayingTable
from weirant.ui.views.unread import Unread
from weirant.units import parse
from weirant.units.dimension import LENGTH, TIME
from weirant.units.display import FINE_DEPTH, shown_number, unit_of

ANY = Qt.ItemDataRole
TIMES, DEPTHS = 0, 1


def read_time(text: str) -> float:
    """Seconds from ``90``, ``1:30``, ``1:02:30`` or a time with its unit."""
    parts = text.strip().split(":")
    if len(parts) > 1 and all(p.strip().isdigit() for p in parts):
        seconds = 0.0
        for part in parts:
            seconds = 60 * seconds + float(part)
        return seconds
    return parse(text, TIME, tr("time on the stopwatch"), "s")


class TestReadingsModel(QAbstractTableModel):
    """The readings of the test in hand; the last row takes the next one. A time marked by the stopwatch waits there for its depth."""

    __test__ = False

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.hole, self.number = -1, 0
        self.marked: list[float] = []
        self._shown: tuple[WaterReading, ...] = ()
        self._rows = 0
        self.unread = Unread(document)

    @property
    def test(self) -> FieldTest | None:
        """The test in hand."""
        holes = self.document.shown_job.holes if not self.document.is_empty else ()
        if 0 <= self.hole < len(holes) and self.number < len(holes[self.hole].tests):
            return holes[self.hole].tests[self.number]
        return None

    def take(self, hole: int, number: int) -> None:
        """Take a test in hand."""
        if (hole, number) != (self.hole, self.number):
            self.beginResetModel()
            self.marked = []
            self.hole, self.number, self._shown, self._rows = hole, number, (), 0
            self.endResetModel()
        self.refresh()

    def refresh(self) -> None:
        """Follow the job; rows come and go at the end, so that whoever types keeps the cell open."""
        test, before = self.test, self._rows
        self._shown = test.readings if test is not None else ()
        rows = 0 if test is None else len(self._shown) + max(1, len(self.marked))
        if rows > before:
            self.beginInsertRows(QModelIndex(), before, rows - 1)
            self._rows = rows
            self.endInsertRows()
        elif rows < before:
            self.beginRemoveRows(QModelIndex(), rows, before - 1)
            self._rows = rows
            self.endRemoveRows()
        if rows:
            self.dataChanged.emit(self.index(0, 0), self.index(rows - 1, 1))
        self.headerDataChanged.emit(Qt.Orientation.Horizontal, 0, 1)

    def mark(self, seconds: float) -> None:
        """Keep a time of the stopwatch until its depth is typed."""
        self.marked.append(round(seconds, 1))
        self.refresh()

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: N802, B008, D102
        return self._rows

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: N802, B008, D102
        return 2

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = ANY.DisplayRole) -> Any:  # noqa: N802, D102
        if role != ANY.DisplayRole:
            return None
        if orientation == Qt.Orientation.Vertical:
            return str(section + 1)
        return tr("Time, s") if section == TIMES else tr("Water at, {unit}", unit=unit_of(FINE_DEPTH, self.document.system))

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:  # noqa: D102
        return Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsEditable

    def data(self, index: QModelIndex, role: int = ANY.DisplayRole) -> Any:  # noqa: D102
        if role == ANY.TextAlignmentRole:
            return Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        cell = self._cell(index)
        if self.unread.text(cell):
            return self.unread.told(cell, role)
        if role not in (ANY.DisplayRole, ANY.EditRole):
            return None
        row = index.row()
        if row >= len(self._shown):
            waiting = row - len(self._shown)
            return digits_here(f"{self.marked[waiting]:g}") if index.column() == TIMES and waiting < len(self.marked) else None
        reading = self._shown[row]
        return digits_here(f"{reading.time:g}") if index.column() == TIMES else shown_number(reading.depth, FINE_DEPTH, self.document.system)

    def _cell(self, index: QModelIndex) -> tuple[object, ...]:
        """A cell by its time, since rows move when a reading before them comes or goes."""
        times = [*(reading.time for reading in self._shown), *self.marked]
        return self.hole, self.number, times[index.row()] if index.row() < len(times) else None, index.column()

    def setData(self, index: QModelIndex, value: Any, role: int = ANY.EditRole) -> bool:  # noqa: N802, D102
        text, row, test = str(value).strip(), index.row(), self.test
        if role != ANY.EditRole or test is None:
            return False
        waiting = row - len(self._shown)
        cell = self._cell(index)
        self.unread.forget(cell)
        self.dataChanged.emit(index, index)
        if not text:
            if waiting < 0 and index.column() == DEPTHS:
                return self._edit(row, None, tr("Reading taken out"))
            return False
        try:
            if index.column() == TIMES:
                time = read_time(text)
                if waiting >= 0:
                    self.marked[waiting : waiting + 1] = [time]
                    self.refresh()
                    return True
                reading = WaterReading(time, test.readings[row].depth)
            else:
                depth = parse(text, LENGTH, tr("depth to water"), unit_of(FINE_DEPTH, self.document.system))
                if waiting >= 0 and waiting >= len(self.marked):
                    raise InputError("time", tr("comes first: type it, or mark it with the stopwatch"))
                reading = WaterReading(test.readings[row].time if waiting < 0 else self.marked[waiting], depth)
        except InputError as fault:
            self.unread.keep(cell, text, str(fault))
            return False
        if not self._edit(row if waiting < 0 else len(self._shown), reading, tr("Reading at {time:g} s", time=reading.time)):
            return False
        if waiting >= 0:
            del self.marked[waiting]
            self.refresh()
        return True

    def _edit(self, row: int, reading: WaterReading | None, name: str) -> bool:
        return self.document.edit(lambda job: with_reading(job, self.hole, self.number, row, reading), name)


class TestReadingsTable(StayingTable):
    """Enter goes from the time to its depth and down to the next time."""

    __test__ = False

    def __init__(self, document: Document) -> None:
        self.readings = TestReadingsModel(document)
        super().__init__(self.readings, (0, TIMES))
        self.setAccessibleName(tr("Readings of the test"))
        header, rows = self.horizontalHeader(), self.verticalHeader()
        if header is not None:
            header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        if rows is not None:
            rows.setDefaultSectionSize(THEME.row)

    def after(self, row: int, column: int) -> tuple[int, int]:  # noqa: D102
        return (row, DEPTHS) if column == TIMES else (row + 1, TIMES)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        index = self.currentIndex()
        if event is not None and event.key() == Qt.Key.Key_Delete and index.isValid():
            self.readings.setData(self.readings.index(index.row(), DEPTHS), "")
        else:
            super().keyPressEvent(event)
