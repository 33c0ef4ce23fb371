"""Blocks of cells to and from other programs: rows on lines, cells parted by tabs, with headings."""

from __future__ import annotations

from PyQt6.QtCore import QAbstractItemModel, QModelIndex, Qt

MOST_CELLS = 5000


def is_block(text: str) -> bool:
    """Whether a text is more than what goes into one cell."""
    return "\t" in text or "\n" in text.strip("\r\n")


def whole_table(model: QAbstractItemModel) -> str:
    """All rows with their headings."""
    columns = range(model.columnCount())
    lines = ["\t".join(_heading(model, column) for column in columns)]
    for row in range(model.rowCount()):
        cells = [str(model.index(row, column).data() or "") for column in columns]
        if any(model.index(row, column).data(Qt.ItemDataRole.EditRole) for column in columns):  # the row that waits for the next one is none
            lines.append("\t".join(cells))
    return "\n".join(lines) + "\n"


def cells_of(text: str, model: QAbstractItemModel, at: QModelIndex) -> list[tuple[int, int, str]]:
    """The cells that a block would set from a cell on; a first line of this table's headings is passed over."""
    lines = text.replace("\r\n", "\n").strip("\n").split("\n")
    headings = {_heading(model, column).strip().lower() for column in range(model.columnCount())}
    if lines and {cell.strip().lower() for cell in lines[0].split("\t")} & headings:
        lines = lines[1:]
    found = [(at.row() + i, at.column() + j, cell.strip()) for i, line in enumerate(lines) for j, cell in enumerate(line.split("\t"))]
    return [cell for cell in found if cell[1] < model.columnCount()][:MOST_CELLS]


def _heading(model: QAbstractItemModel, column: int) -> str:
    return str(model.headerData(column, Qt.Orientation.Horizontal) or "").replace("\n", " ")
