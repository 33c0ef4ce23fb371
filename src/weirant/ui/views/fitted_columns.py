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
        table.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)  # by whole columns the last is never whole
        model = table.model()
        if model is not None:
            for changed in (model.modelReset, model.dataChanged, model.rowsInserted):
                changed.connect(self._wait)  # a method of an object of Qt's: let go of when the table is gone, which the model may outlive
        table.installEventFilter(self)
        self.fit()

    def _wait(self, *_: object) -> None:
        self._rest.start()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:  # noqa: N802, D102
        if event is not None and event.type() in (QEvent.Type.FontChange, QEvent.Type.StyleChange, QEvent.Type.Resize):
            self._rest.start()
        return super().eventFilter(watched, event)

    def fit(self) -> None:
        """Set the widths."""
        table, model, header, inner = self._table, self._table.model(), self._table.horizontalHeader(), self._table.viewport()
        if model is None or header is None or inner is None:
            return
        table.ensurePolished()
        letters = table.font()
        letters.setBold(True)
        metrics = QFontMetrics(letters)
        *others, last = range(model.columnCount())
        wide = {column: _wide(model, column, metrics, ROWS) for column in others}
        for column, width in wide.items():
            table.setColumnWidth(column, width)
        least = _wide(model, last, metrics, 0)
        is_roomy = inner.width() - sum(wide.values()) >= least
        header.setStretchLastSection(is_roomy)
        if not is_roomy:  # it is scrolled to, and as wide as its heading
            table.setColumnWidth(last, least)


def _wide(model: QAbstractItemModel, column: int, metrics: QFontMetrics, rows: int) -> int:
    """How wide a column has to be for its heading and for what stands in so many rows."""
    texts = [model.headerData(column, Qt.Orientation.Horizontal), *(model.index(row, column).data() for row in range(min(model.rowCount(), rows)))]
    lines = (line for text in texts if text for line in str(text).split("\n"))
    return max((metrics.horizontalAdvance(line) for line in lines), default=0) + 2 * STEP
