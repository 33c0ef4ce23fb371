"""The page of the level book: how to book, the table, and its CSV."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QFrame, QPushButton, QVBoxLayout, QWidget

from weirant.language import tr
from weirant.ui.document import Document
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.plain_text import PlainLabel
from weirant.ui.steps.readings import ReadingsTable

HOW = (
    tr("First the backsight on the benchmark, then rod readings down the line, last the benchmark again. The reading grows "
    "as the ground falls. Enter goes down, Insert puts a shot in, Ctrl+Delete takes one out. A shot off the line takes a place: "
    '"30, 12", "tape 40 left 12" or "angle 35 at 60".')
)
LEAST_ROWS = 6  # of the table, its heading among them, that are in sight before how to book has room too


class ReadingsPage(QFrame):
    """The level book with what can be done with it."""

    read_wanted = pyqtSignal()
    write_wanted = pyqtSignal()
    points_wanted = pyqtSignal()
    points_written = pyqtSignal()
    instrument_wanted = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("sheet")
        self.table = ReadingsTable(document)
        self._note, self._buttons = PlainLabel(HOW), QWidget()
        self._note.setProperty("quiet", True)
        self._note.setWordWrap(True)
        self.table.setAccessibleDescription(HOW)
        layout = QVBoxLayout(self)
        row = FlowLayout(self._buttons, 8)
        row.setContentsMargins(0, 0, 0, 0)
        layout.setContentsMargins(8, 4, 8, 4)
        layout.setSpacing(4)
        layout.addWidget(self._note)
        layout.addWidget(self.table, 1)
        for words, signal in ((tr("Read CSV …"), self.read_wanted), (tr("Write CSV …"), self.write_wanted), (tr("Read points …"), self.points_wanted),
                              (tr("Write points …"), self.points_written), (tr("From an instrument …"), self.instrument_wanted)):
            button = QPushButton(words)
            button.clicked.connect(signal)
            row.addWidget(button)
        layout.addWidget(self._buttons)

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802, D102
        super().resizeEvent(event)
        rows, wide = self.table.verticalHeader(), self.width() - 16
        left = self.height() - self._buttons.heightForWidth(wide) - self._note.heightForWidth(wide) - 16
        is_roomy = rows is None or left >= LEAST_ROWS * rows.defaultSectionSize()
        self._note.setVisible(is_roomy)
        self.table.setToolTip("" if is_roomy else HOW)
