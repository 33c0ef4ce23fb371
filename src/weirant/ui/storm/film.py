"""The hours of a storm on a slider, which can be played like a film."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QSlider, QWidget

from weirant.language import tr
from weirant.ui.plain_text import PlainLabel

TICKS = 1000  # of the slider
BEAT, PLAY = 40, 8.0  # ms between frames, s for the whole film


class Film(QWidget):
    """A slider with its clock. ``moved`` tells of another moment, ``ended`` that the film has come to its end."""

    moved = pyqtSignal()
    ended = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.slider, self.clock = QSlider(Qt.Orientation.Horizontal), PlainLabel()
        self.slider.setRange(0, TICKS)
        self.slider.setPageStep(TICKS // 20)
        self.slider.setAccessibleName(tr("Hours since the rain began"))
        self.clock.setAccessibleName(tr("Time since the rain began"))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        row.addWidget(self.slider, 1)
        row.addWidget(self.clock)
        self._timer = QTimer(self)
        self._timer.setInterval(BEAT)
        self._timer.timeout.connect(self._next_frame)
        self.slider.valueChanged.connect(self.moved)

    @property
    def share(self) -> float:
        """The moment as a share of the whole."""
        return self.slider.value() / TICKS

    @property
    def is_running(self) -> bool:
        """Whether it is being played."""
        return self._timer.isActive()

    def turn_to(self, share: float) -> None:
        """Go to a moment."""
        self.slider.setValue(round(share * TICKS))

    def tell(self, moment: float) -> None:
        """Tell the moment, s."""
        self.clock.setText(tr("{moment:5.1f} h", moment=moment / 3600))

    def play(self) -> None:
        """From the slider on, or from the start where it stands at the end."""
        if self.slider.value() >= TICKS:
            self.slider.setValue(0)
        self._timer.start()

    def stop(self) -> None:
        """Leave it where it is."""
        self._timer.stop()

    def _next_frame(self) -> None:
        self.slider.setValue(self.slider.value() + max(1, round(TICKS * BEAT / 1000 / PLAY)))
        if self.slider.value() >= TICKS:
            self._timer.stop()
            self.ended.emit()
