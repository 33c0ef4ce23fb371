"""Columns of a table as wide as what stands in them, worked out once after a change; Qt's own way asks every cell for everything at each layout."""

from __future__ import annotations

from PyQt6.QtCore import QAbstractItemModel, QEvent, QObject, Qt
from PyQt6.QtGui import QFontMetrics
from PyQt6.QtWidgets import QAbstractItemView, QTableView

from weirant.ui.rhythm import STEP
from weirant.ui.turn import InTurn

ROWS = 60  # whose texts are looked at; of a thousand the rest are alike


class FittedColumns(QObject):
    """Keeps the columns of a table fitted, the last of which takes what is left. It belongs to the table."""

    def __init__(self, table: QTableView) -> None:
        super().__init__(table)
        self._table = table
        self._rest = InTurn(self, self.fit)
        self._wide: list[int] = []  # of every column, the last for its heading alone
        table.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)  # by whole columns the last is never whole
        model = table.model()
        if model is not None:
            for changed in (model.modelReset, model.dataChanged, model.rowsInserted):
                changed.connect(self._wait)  # a method of an object of Qt's: let go of when the table is gone, which the model may outlive
        table.installEventFilter(self)
        inner = table.viewport()
        if inner is not None:
            inner.installEventFilter(self)  # has its new size before the table knows
        self.fit()

    def _wait(self, *_: object) -> None:
        self._rest.start()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:  # noqa: N802, D102
        if event is not None and event.type() in (QEvent.Type.FontChange, QEvent.Type.StyleChange):
            self._rest.start()
        elif event is not None and event.type() == QEvent.Type.Resize and watched is not self._table and self._wide:
            self._fit_last()
        return super().eventFilter(watched, event)

    def fit(self) -> None:
        """Set the widths."""
        table, model = self._table, self._table.model()
        if model is None:
            return
        table.ensurePolished()
        letters = table.font()
        letters.setBold(True)
        metrics, last = QFontMetrics(letters), model.columnCount() - 1
        self._wide = [_wide(model, column, metrics, 0 if column == last else ROWS) for column in range(last + 1)]
        for column, wide in enumerate(self._wide[:-1]):
            table.setColumnWidth(column, wide)
        self._fit_last()

    def _fit_last(self) -> None:
        """It takes what is left, or where that is too little is scrolled to, as wide as its heading."""
        header, inner = self._table.horizontalHeader(), self._table.viewport()
        if header is None or inner is None:
            return
        is_roomy = inner.width() >= sum(self._wide)
        header.setStretchLastSection(is_roomy)
        if not is_roomy:
            self._table.setColumnWidth(len(self._wide) - 1, self._wide[-1])


def _wide(model: QAbstractItemModel, column: int, metrics: QFontMetrics, rows: int) -> int:
    """How wide a column has to be for its heading and for what stands in so many rows."""
    texts = [model.headerData(column, Qt.Orientation.Horizontal), *(model.index(row, column).data() for row in range(min(model.rowCount(), rows)))]
    lines = (line for text in texts if text for line in str(text).split("\n"))
    return max((metrics.horizontalAdvance(line) for line in lines), default=0) + 2 * STEP
