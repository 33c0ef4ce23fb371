"""The rail of steps: each a verb with its state in words."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QButtonGroup, QFrame, QVBoxLayout

from weirant.language import tr
from weirant.paper.looks import SIZE
from weirant.ui.document import Document
from weirant.ui.lines_button import broken
from weirant.ui.plain_text import plain_tip
from weirant.ui.prompt_button import PromptButton
from weirant.ui.rest import Rest
from weirant.ui.steps.catalogue import STEPS, Step, state_of
from weirant.ui.theme import THEME

ROW, FOOT, LINE = 3.5, 3.1, 1.2  # height of a step, the least in which its words are whole, and of a further line of its state, in text heights
EDGE, INDENT = 12, 18  # px
MOST_LINES = 2  # of a state
EDGES = 8  # px over and under the steps


class _StepButton(PromptButton):
    """A step: its verb, and below it the state's mark and words, in as many lines as it is given."""

    def __init__(self, number: int, step: Step) -> None:
        super().__init__()
        self.step, self.number, self.state, self.words = step, number, "unknown", ""
        self._lines = 1
        self.setCheckable(True)
        self.setProperty("step", True)
        key = f"Alt+{number % 10}"  # the tenth has the key after the ninth; Ctrl+0 is for the letters
        self.setShortcut(key)
        self._tip = f"{step.verb}  ({key})"

    def show_state(self, state: str, words: str) -> None:
        """Show a state; the accessible name says it too."""
        if (state, words) == (self.state, self.words):
            return
        self.state, self.words = state, words
        self.setAccessibleName(tr("Step {number}, {verb}: {words}", number=self.number, verb=self.step.verb, words=words))
        self.setToolTip(plain_tip(f"{self._tip}\n{words}"))
        self.update()

    @property
    def wanted(self) -> int:
        """How many lines its state would take."""
        return len(self._broken())

    def give(self, lines: int) -> None:
        """Have so many lines for its state."""
        if lines != self._lines:
            self._lines = lines
            self.updateGeometry()
            self.update()

    @property
    def told(self) -> list[str]:
        """Its verb and the lines of its state as they are painted: what has no room ends in dots."""
        lines = self._broken()
        kept = [*lines[: self._lines - 1], " ".join(lines[self._lines - 1 :])]
        verb = QFontMetricsF(THEME.ink.font(1.0, True)).elidedText(f"{self.number}  {self.step.verb}", Qt.TextElideMode.ElideRight, self.width() - EDGE - 2)
        return [verb, *(self._letters.elidedText(line, Qt.TextElideMode.ElideRight, self._room) for line in kept)]

    @property
    def _letters(self) -> QFontMetricsF:
        return QFontMetricsF(THEME.ink.font(SIZE))

    @property
    def _room(self) -> float:
        return self.width() - self._left - 2

    @property
    def _left(self) -> float:
        return INDENT + 0.8 * THEME.text

    def _broken(self) -> list[str]:
        return broken(self.words, self._letters, self._room)

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(round(11.6 * THEME.text), round((ROW + (self._lines - 1) * LINE) * THEME.text))

    def minimumSizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(0, round(FOOT * THEME.text))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        super().paintEvent(event)
        painter, ink, text = QPainter(self), THEME.ink, THEME.text
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(ink.font(1.0, self.isChecked()))
        painter.setPen(ink.colour("ink"))
        verb, *lines = self.told
        painter.drawText(QPointF(EDGE, 1.45 * text), verb)
        ink.state_mark(painter, QPointF(INDENT, 2.45 * text), self.state, 0.36 * text)
        painter.setFont(ink.font(SIZE))
        painter.setPen(ink.colour({"fails": "rust", "tight": "ochre", "unknown": "muted", "holds": "leaf"}[self.state]))
        for number, line in enumerate(lines):
            painter.drawText(QPointF(self._left, (2.75 + number * LINE) * text), line)
        painter.end()


class StepRail(QFrame):
    """The steps from top to bottom; none is locked."""

    chosen = pyqtSignal(Step)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setObjectName("rail")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, EDGES // 2, 0, EDGES // 2)
        layout.setSpacing(0)
        group = QButtonGroup(self)
        self.buttons = [_StepButton(number, step) for number, step in enumerate(STEPS, 1)]
        for button in self.buttons:
            group.addButton(button)
            layout.addWidget(button)
            button.clicked.connect(lambda _, b=button: self.chosen.emit(b.step))
        layout.addStretch(1)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._rest = Rest(self, self.refresh)
        document.changed.connect(self._rest.ask)
        document.found.connect(self.refresh)
        document.drag_ended.connect(self.refresh)

    def refresh(self) -> None:
        """Show the state of every step."""
        with self.document.as_shown():  # a clock asks
            outcome = self.document.outcome
        for button in self.buttons:
            state, words = state_of(button.step, outcome)
            button.show_state(str(state), words)
        self._part_room()

    def _part_room(self) -> None:
        """A state that is too long for its line has a second, the upper steps first, as far as there is room."""
        room = self.height() - EDGES - len(self.buttons) * round(ROW * THEME.text)
        for button in self.buttons:
            wants = min(button.wanted, MOST_LINES) - 1
            more = wants if wants * round(LINE * THEME.text) <= room else 0
            button.give(1 + more)
            room -= more * round(LINE * THEME.text)

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802, D102
        super().resizeEvent(event)
        self._part_room()

    def choose(self, key: str) -> None:
        """Choose a step by its key."""
        button = next(b for b in self.buttons if b.step.key == key)
        button.setChecked(True)
        self.chosen.emit(button.step)
