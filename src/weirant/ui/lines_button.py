"""A button whose words are broken into lines that fit it."""

from __future__ import annotations

from PyQt6.QtGui import QFontMetrics, QFontMetricsF, QResizeEvent
from PyQt6.QtWidgets import QPushButton, QSizePolicy, QWidget

from weirant.ui.plain_text import plain_button

EDGES = 30  # px of border and padding beside the words


def broken(words: str, letters: QFontMetrics | QFontMetricsF, room: float) -> list[str]:
    """Words in lines that fit a room, px; a word that is wider has a line of its own."""
    lines = [""]
    for word in words.split():
        longer = f"{lines[-1]} {word}".lstrip()
        if lines[-1] and letters.horizontalAdvance(longer) > room:
            lines.append(word)
        else:
            lines[-1] = longer
    return lines


class LinesButton(QPushButton):
    """Takes the width it is given and the height that its words need there."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._words = ""
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)

    def say(self, words: str) -> None:
        """Show words."""
        self._words = words
        self.setAccessibleName(words)
        self._break_lines()

    @property
    def room(self) -> int:
        """How wide a line may be, px."""
        return self.width() - EDGES

    def _break_lines(self) -> None:
        if (text := plain_button("\n".join(broken(self._words, self.fontMetrics(), self.room)))) != self.text():
            self.setText(text)

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802, D102
        super().resizeEvent(event)
        self._break_lines()
