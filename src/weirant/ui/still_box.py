"""A list to choose from that a turn of the wheel over the page does not change."""

from __future__ import annotations

from PyQt6.QtGui import QWheelEvent
from PyQt6.QtWidgets import QComboBox


class StillBox(QComboBox):
    """Leaves the wheel to the page it stands on; opened, its list scrolls as ever."""

    def wheelEvent(self, event: QWheelEvent | None) -> None:  # noqa: N802, D102
        if event is not None:
            event.ignore()
