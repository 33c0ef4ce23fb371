"""Showing what changes many times a second no oftener than an eye follows."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer

REST = 120  # ms between two showings while a drag goes on


class Rest(QObject):
    """The first asking is answered at once; of the many that follow in a drag, every REST ms the latest."""

    def __init__(self, parent: QObject, act: Callable[[], None]) -> None:
        super().__init__(parent)
        self._act, self._is_behind = act, False
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(REST)
        self._pause.timeout.connect(self._catch_up)

    def ask(self) -> None:
        """Act now, or once the pause is over."""
        if self._pause.isActive():
            self._is_behind = True
        else:
            self._act()
            self._pause.start()

    def _catch_up(self) -> None:
        if self._is_behind:
            self._is_behind = False
            self._act()
            self._pause.start()
