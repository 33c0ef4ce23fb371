"""The page of the level book: how to book, the table, and its CSV."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
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
        note = PlainLabel(HOW)
        note.setProperty("quiet", True)
        note.setWordWrap(True)
        layout, buttons = QVBoxLayout(self), QWidget()
        row = FlowLayout(buttons, 8)
        row.setContentsMargins(0, 0, 0, 0)
        layout.setContentsMargins(8, 4, 8, 4)
        layout.setSpacing(4)
        layout.addWidget(note)
        layout.addWidget(self.table, 1)
        for words, signal in ((tr("Read CSV …"), self.read_wanted), (tr("Write CSV …"), self.write_wanted), (tr("Read points …"), self.points_wanted),
                              (tr("Write points …"), self.points_written), (tr("From an instrument …"), self.instrument_wanted)):
            button = QPushButton(words)
            button.clicked.connect(signal)
            row.addWidget(button)
        layout.addWidget(buttons)
