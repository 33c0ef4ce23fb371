"""A stopwatch on a button."""

from __future__ import annotations

from PyQt6.QtCore import QElapsedTimer, QTimer
from PyQt6.QtGui import QKeySequence

from weirant.language import tr
from weirant.ui.prompt_button import PromptButton

START = tr("Start the stopwatch")
BEAT = 200  # ms


class Stopwatch(PromptButton):
    """Pressed it starts at nought and shows the time; pressed again it stops."""

    def __init__(self, key: str) -> None:
        super().__init__()
        self._key = QKeySequence(key)
        self._clock, self._beat = QElapsedTimer(), QTimer(self)
        self._beat.setInterval(BEAT)
        self._beat.timeout.connect(self._show)
        self.clicked.connect(self._start_stop)
        self._say(START)

    @property
    def is_running(self) -> bool:
        """Whether it runs."""
        return self._beat.isActive()

    @property
    def seconds(self) -> float:
        """Time since the start, s; 0 where it does not run."""
        return self._clock.elapsed() / 1000 if self.is_running else 0.0

    def _start_stop(self) -> None:
        if self.is_running:
            self._beat.stop()
            self._say(START)
        else:
            self._clock.start()
            self._beat.start()
            self._show()

    def _show(self) -> None:
        minutes, seconds = divmod(self.seconds, 60)
        self._say(tr("Stop  {minutes}:{seconds:04.1f}", minutes=int(minutes), seconds=seconds))

    def _say(self, words: str) -> None:
        self.setText(words)
        self.setShortcut(self._key)  # a button forgets its key with every new text
