"""A line to type into that takes only what was meant for it: Alt with a digit turns to a step, and where that is not to be had it wrote the digit behind the figure."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QLineEdit


def is_command(event: QKeyEvent) -> bool:
    """Whether a key was pressed with Alt, which commands and never writes; the third sign of a key is another modifier."""
    return event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier in (Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.AltModifier | Qt.KeyboardModifier.ShiftModifier)


class EntryLine(QLineEdit):
    """Leaves commands to others."""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is not None and is_command(event):
            event.ignore()
        else:
            super().keyPressEvent(event)
