"""A button whose key acts at once: Qt's own shows it pressed for a tenth of a second first, and what is typed meanwhile goes to the button and is lost."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtWidgets import QPushButton


class PromptButton(QPushButton):
    """Pressed by its key, it has acted before the next key comes."""

    def event(self, event: QEvent | None) -> bool:  # noqa: D102
        if event is None or event.type() != QEvent.Type.Shortcut or not self.isEnabled():
            return super().event(event)
        self.setFocus(Qt.FocusReason.ShortcutFocusReason)  # what was being typed elsewhere is taken
        self.click()
        return True
