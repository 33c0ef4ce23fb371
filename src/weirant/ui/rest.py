"""Showing what changes many times a second no oftener than an eye follows."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject

from weirant.ui.turn import InTurn

REST = 120  # ms between two showings while a drag goes on


class Rest(QObject):
    """The first asking is answered as soon as what goes on is done, in a turn of its own; of the many that follow in a drag, every REST ms the latest."""

    def __init__(self, parent: QObject, act: Callable[[], None]) -> None:
        super().__init__(parent)
        self._act, self._is_behind = act, False
        self._pause = InTurn(self, self._catch_up)

    def ask(self) -> None:
        """Act when this event is over, or once the pause is."""
        self._is_behind = True
        if not self._pause.is_active:
            self._pause.start(0)

    def _catch_up(self) -> None:
        if self._is_behind:
            self._is_behind = False
            self._act()
            self._pause.start(REST)
