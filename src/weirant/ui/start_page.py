"""The empty window: where does the water stand? Four answers, six figures, and a first verdict."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QHideEvent, QKeyEvent, QShowEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from weirant.design.first_job import BEGINNINGS, Answers, Beginning, first_job
from weirant.design.patterns import PATTERNS
from weirant.errors import WeirantError
from weirant.job import Job
from weirant.language import capital, first_small, tr
from weirant.library import shipped
from weirant.ui import memory
from weirant.ui.column import emptied
from weirant.ui.entry import mark
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.line import EntryLine
from weirant.ui.pattern_tile import PatternTile
from weirant.ui.plain_text import PlainLabel, plain_button, plain_tip
from weirant.ui.start_tile import StartTile
from weirant.ui.still_box import StillBox
from weirant.ui.theme import THEME
from weirant.units import parse
from weirant.units.dimension import LENGTH

RECENT = 5  # jobs to go on with
A_ROW = 6  # patterns side by side
QUESTIONS = (
    ("wet_length", tr("How long is the wet place?"), tr("60 ft"), "18 m"),
    ("distance", tr("How far from it may the drain lie?"), tr("8 ft"), "2.5 m"),
    ("outlet_length", tr("How far from its end to where water can leave?"), tr("80 ft"), "24 m"),
    ("fall", tr("How much does the ground fall to there?"), tr("5 ft"), "1.5 m"),
)  # fmt: skip


class StartPage(QFrame):
    """Invites instead of showing a blank sheet. Escape goes back a step."""

    made = pyqtSignal(Job)
    demo_wanted = pyqtSignal()
    open_wanted = pyqtSignal()
    back_wanted = pyqtSignal()
    pattern_wanted = pyqtSignal(Job)
    recent_wanted = pyqtSignal(Path)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("sheet")
        self._beginning: Beginning = BEGINNINGS[0]
        layout = QVBoxLayout(self)
        layout.setContentsMargins(64, 40, 64, 32)
        layout.setSpacing(16)
        title = PlainLabel(tr("Where does the water stand?"))
        title.setProperty("loud", True)
        layout.addWidget(title)
        lead = PlainLabel(tr("Choose what comes nearest. Six figures later you see a first drain and what holds of it."))
        lead.setProperty("quiet", True)
        layout.addWidget(lead)
        layout.addLayout(self._tiles())
        self._form = self._questions()
        self._form.setVisible(False)
        layout.addWidget(self._form)
        self.patterns = self._pattern_tiles()
        layout.addWidget(self.patterns)
        self._recent = QWidget()
        FlowLayout(self._recent, 8).setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self._recent)
        layout.addStretch(1)
        row = QHBoxLayout()
        for words, signal in ((tr("Open a job file …"), self.open_wanted), (tr("Look at the demo job"), self.demo_wanted)):
            button = QPushButton(words)
            button.clicked.connect(signal.emit)
            row.addWidget(button)
        row.addStretch(1)
        self.back = QPushButton()
        self.back.clicked.connect(self.back_wanted.emit)
        self.back.setVisible(False)
        row.addWidget(self.back)
        layout.addLayout(row)

    def list_recent(self) -> None:
        """The jobs worked on last, each to go on with."""
        row = self._recent.layout()
        assert row is not None
        emptied(row)
        paths = memory.recent()[:RECENT]
        words = PlainLabel(tr("Or go on with:"))
        words.setProperty("quiet", True)
        row.addWidget(words)
        for path in paths:
            button = QPushButton(plain_button(path.stem))
            button.setProperty("link", True)
            button.setAccessibleName(tr("Go on with {stem}", stem=path.stem))
            button.setToolTip(plain_tip(str(path)))
            button.clicked.connect(partial(self.recent_wanted.emit, path))
            row.addWidget(button)
        self._recent.setVisible(bool(paths) and not self._form.isVisibleTo(self))

    def begin_anew(self, open_still: str | None) -> None:
        """Ask from the beginning; a job that is still open is offered to go back to."""
        self._ask(False)
        self.fault.setText("")
        for entry in self.entries.values():
            entry.clear()
        self.back.setVisible(open_still is not None)
        self.back.setText(tr("Back to {job}  (Esc)", job=plain_button((open_still or "")[:60])))
        self.tiles[0].setFocus()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is not None and event.key() == Qt.Key.Key_Escape:
            if self._form.isVisible():
                self._ask(False)
                self.tiles[0].setFocus()
            else:
                self.back_wanted.emit()
            return
        focus = self.focusWidget()
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and isinstance(focus, QAbstractButton):
            focus.click()  # by itself a button outside a dialog takes the space bar only
            return
        super().keyPressEvent(event)

    def _tiles(self) -> QHBoxLayout:
        row, group = QHBoxLayout(), QButtonGroup(self)
        row.setSpacing(16)
        self.tiles = []
        for beginning in BEGINNINGS:
            tile = StartTile(beginning)
            tile.clicked.connect(lambda _, b=beginning: self._begin(b))
            group.addButton(tile)
            row.addWidget(tile, 1)
            self.tiles.append(tile)
        return row

    def _pattern_tiles(self) -> QFrame:
        """Twelve patterns in two rows; their plans are worked out one by one once the page is seen."""
        frame = QFrame()
        grid = QGridLayout(frame)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(8)
        words = PlainLabel(tr("Or begin with a pattern of the trade, with assumed figures on a made-up ground, and drag it onto yours:"))
        words.setProperty("quiet", True)
        grid.addWidget(words, 0, 0, 1, A_ROW)
        self.pattern_tiles = [PatternTile(pattern) for pattern in PATTERNS.values()]
        for number, tile in enumerate(self.pattern_tiles):
            tile.clicked.connect(lambda _, t=tile: self.pattern_wanted.emit(t.pattern.job()))
            grid.addWidget(tile, 1 + number // A_ROW, number % A_ROW)
        self._unsketched = list(self.pattern_tiles)
        self._clock = QTimer(self)
        self._clock.timeout.connect(self._sketch_next)
        return frame

    def _sketch_next(self) -> None:
        if self._unsketched:
            self._unsketched.pop(0).sketch()
        else:
            self._clock.stop()

    def showEvent(self, event: QShowEvent | None) -> None:  # noqa: N802, D102
        super().showEvent(event)
        self.list_recent()
        if self._unsketched:
            self._clock.start(20)

    def hideEvent(self, event: QHideEvent | None) -> None:  # noqa: N802, D102
        super().hideEvent(event)
        self._clock.stop()

    def _questions(self) -> QFrame:
        form = QFrame()
        grid = QGridLayout(form)
        grid.setContentsMargins(8, 8, 8, 8)
        grid.setHorizontalSpacing(16)
        grid.setVerticalSpacing(8)
        self.units, self.texture = StillBox(), StillBox()
        self.units.addItems([tr("feet and inches"), tr("metres")])
        self.units.setAccessibleName(tr("Units"))
        self.texture.addItems([t.name for t in shipped().textures.values()])
        self.texture.setCurrentIndex(list(shipped().textures).index("silt-loam"))
        self.texture.setAccessibleName(tr("Soil"))
        self.units.currentIndexChanged.connect(self._show_examples)
        self.entries: dict[str, QLineEdit] = {}
        rows: list[tuple[str, StillBox | QLineEdit]] = [
            (tr("Units"), self.units),
            (tr("What soil is it, by feel?"), self.texture),
        ]
        for key, question, _, _ in QUESTIONS:
            entry = EntryLine()
            entry.setAccessibleName(question)
            entry.returnPressed.connect(partial(self._go_on, key))
            self.entries[key] = entry
            rows.append((question, entry))
        for number, (question, widget) in enumerate(rows):
            label = PlainLabel(question)
            label.setBuddy(widget)
            grid.addWidget(label, number, 0)
            grid.addWidget(widget, number, 1)
            widget.setFixedWidth(round(18 * THEME.text))
        self.fault = PlainLabel()
        self.fault.setProperty("bad", True)
        self.fault.setWordWrap(True)
        grid.addWidget(self.fault, len(rows), 0, 1, 3)
        go = QPushButton(tr("Show me"))
        go.setProperty("main", True)
        go.clicked.connect(self._finish)
        grid.addWidget(go, len(rows) + 1, 1, Qt.AlignmentFlag.AlignLeft)
        note = PlainLabel(
            tr("Everything else is assumed and marked so; you mend it step by step. Empty lines take the example.")
        )
        note.setProperty("quiet", True)
        grid.addWidget(note, len(rows) + 2, 0, 1, 3)
        grid.setColumnStretch(2, 1)
        self._show_examples(0)
        return form

    def _show_examples(self, index: int) -> None:
        for key, _, imperial, metric in QUESTIONS:
            self.entries[key].setPlaceholderText(metric if index else imperial)

    def _ask(self, wanted: bool) -> None:
        """Show the six questions in the place of the patterns, or the other way round."""
        self._form.setVisible(wanted)
        self.patterns.setVisible(not wanted)
        self._recent.setVisible(not wanted and bool(memory.recent()))
        for tile in self.tiles:
            mark(tile, "tile", "name" if wanted else "high")  # the questions need the room first

    def _begin(self, beginning: Beginning) -> None:
        self._beginning = beginning
        self._ask(True)
        self.entries[QUESTIONS[0][0]].setFocus()

    def _go_on(self, key: str) -> None:
        """Enter goes to the next question, and from the last to the first drain."""
        keys = list(self.entries)
        at = keys.index(key) + 1
        if at < len(keys):
            self.entries[keys[at]].setFocus()
        else:
            self._finish()

    def _finish(self) -> None:
        try:
            self.made.emit(first_job(self._beginning, self._answers()))
            self.fault.setText("")
        except WeirantError as fault:
            self.fault.setText(capital(str(fault)))

    def _answers(self) -> Answers:
        metric = self.units.currentIndex() == 1
        values = {key: self._length(key, question, "m" if metric else "ft") for key, question, _, _ in QUESTIONS}
        texture = list(shipped().textures)[self.texture.currentIndex()]
        return Answers(
            texture,
            values["wet_length"],
            values["outlet_length"],
            values["distance"],
            values["fall"],
            "metric" if metric else "imperial",
        )

    def _length(self, key: str, question: str, unit: str) -> float:
        """The answer to a question, m; one that is not understood gets the keys."""
        entry = self.entries[key]
        try:
            return parse(entry.text() or entry.placeholderText(), LENGTH, first_small(question.rstrip("?")), unit)
        except WeirantError:
            entry.setFocus()
            entry.selectAll()
            raise
