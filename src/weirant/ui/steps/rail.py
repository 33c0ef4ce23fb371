"""The rail of steps: each a verb with its state in words."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QButtonGroup, QFrame, QVBoxLayout

from weirant.language import tr
from weirant.paper.looks import SIZE
from weirant.ui.document import Document
from weirant.ui.prompt_button import PromptButton
from weirant.ui.rest import Rest
from weirant.ui.steps.catalogue import STEPS, Step, state_of
from weirant.ui.theme import THEME


class _StepButton(PromptButton):
    """A step: its verb, and below it the state's mark and words."""

    def __init__(self, number: int, step: Step) -> None:
        super().__init__()
        self.step, self.number, self.state, self.words = step, number, "unknown", ""
        self.setCheckable(True)
        self.setProperty("step", True)
        key = f"Alt+{number % 10}"  # the tenth has the key after the ninth; Ctrl+0 is for the letters
        self.setShortcut(key)
        self.setToolTip(f"{step.verb}  ({key})")

    def show_state(self, state: str, words: str) -> None:
        """Show a state; the accessible name says it too."""
        if (state, words) == (self.state, self.words):
            return
        self.state, self.words = state, words
        self.setAccessibleName(tr("Step {number}, {verb}: {words}", number=self.number, verb=self.step.verb, words=words))
        self.update()

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(round(11.6 * THEME.text), round(3.5 * THEME.text))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        super().paintEvent(event)
        painter, ink, text = QPainter(self), THEME.ink, THEME.text
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(ink.font(1.0, self.isChecked()))
        painter.setPen(ink.colour("ink"))
        painter.drawText(QPointF(12, 1.45 * text), f"{self.number}  {self.step.verb}")
        ink.state_mark(painter, QPointF(18, 2.45 * text), self.state, 0.36 * text)
        painter.setFont(ink.font(SIZE))
        painter.setPen(ink.colour({"fails": "rust", "tight": "ochre", "unknown": "muted", "holds": "leaf"}[self.state]))
        painter.drawText(QPointF(18 + 0.8 * text, 2.75 * text), self.words)
        painter.end()


class StepRail(QFrame):
    """The steps from top to bottom; none is locked."""

    chosen = pyqtSignal(Step)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setObjectName("rail")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 4, 0, 4)
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

    def choose(self, key: str) -> None:
        """Choose a step by its key."""
        button = next(b for b in self.buttons if b.step.key == key)
        button.setChecked(True)
        self.chosen.emit(button.step)
