"""Doing one thing after the other, each in a turn of its own: a hand is heard between, however long it takes to do them all."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Iterable

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from weirant.ui.turn import InTurn


class BitByBit(QObject):
    """Does what is asked; what is asked anew takes the place of what is left of it. One that goes wrong leaves the others to be done."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._left: deque[Callable[[], None]] = deque()
        self._next = InTurn(self, self.do_next)

    def ask(self, bits: Iterable[Callable[[], None]]) -> None:
        """Do these, from when what goes on is done."""
        self._left = deque(bits)
        self._next.start()

    @property
    def is_done(self) -> bool:
        """Whether nothing is left."""
        return not self._left

    def catch_up(self) -> None:
        """Do at once what is left."""
        while self._left:
            self.do_next()

    def do_next(self) -> None:
        """Do the next one."""
        try:
            if self._left:
                self._left.popleft()()
        finally:
            if self._left:
                self._next.start()


class Unseen(BitByBit):
    """Changes what is in a widget bit by bit, and shows it when all is done: it would be laid out, and seen half done, once for each bit."""

    def __init__(self, of: QWidget) -> None:
        super().__init__(of)
        self._of = of

    def ask(self, bits: Iterable[Callable[[], None]]) -> None:
        """Do these, and show what they made."""
        self._see(False)
        super().ask((*bits, self._show))

    def _show(self) -> None:
        self._see(True)

    def _see(self, on: bool) -> None:
        layout = self._of.layout()
        if layout is not None:
            layout.setEnabled(on)
            if on:
                layout.activate()
        self._of.setUpdatesEnabled(on)
