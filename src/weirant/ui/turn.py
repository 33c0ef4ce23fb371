"""Taking turns: what follows an edit is done one thing in each turn of the event loop, and what that paints has the next turn to itself.

All clocks that are due go off in one turn of the loop, and a hand is not heard before all are done: a drawing, the findings, the card, the rail and the order,
each quick by itself, were a tenth of a second together.
"""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, QTimer

APART = 2  # turns from one thing to the next: what was posted by it is dealt with in the one between


class _Turn(QObject):
    """Knows whether something has been done in this turn, or is still being painted."""

    def __init__(self) -> None:
        super().__init__()
        self._left = 0
        self._clock = QTimer(self)
        self._clock.setSingleShot(True)
        self._clock.timeout.connect(self._pass)

    @property
    def is_free(self) -> bool:
        return not self._left

    def take(self) -> None:
        self._left = APART
        self._clock.start(0)

    def _pass(self) -> None:
        self._left -= 1
        if self._left:
            self._clock.start(0)


_turns: list[_Turn] = []


def _turn() -> _Turn:
    if not _turns:
        _turns.append(_Turn())
    return _turns[0]


def take_turn() -> None:
    """What is done now waits for nobody; the others wait until it is painted."""
    _turn().take()


class InTurn(QObject):
    """A clock that goes off once, as soon as it is due and nothing else is done in the same turn. It belongs to its parent and ends with it."""

    def __init__(self, parent: QObject, act: Callable[[], object], after: int = 0) -> None:
        super().__init__(parent)
        self._act, self._after = act, after
        self._clock = QTimer(self)
        self._clock.setSingleShot(True)
        self._clock.timeout.connect(self._due)

    def start(self, after: int | None = None) -> None:
        """Go off after so many ms, or as many as it was made for; if it runs already, from now."""
        self._clock.start(self._after if after is None else after)

    def stop(self) -> None:
        """Do not go off."""
        self._clock.stop()

    @property
    def is_active(self) -> bool:
        """Whether it is to go off."""
        return self._clock.isActive()

    @property
    def is_due(self) -> bool:
        """Whether only others are before it."""
        return self._clock.isActive() and not self._clock.interval()

    def _due(self) -> None:
        turn = _turn()
        if turn.is_free:
            turn.take()
            self._act()
        else:
            self._clock.start(0)


def is_quiet(within: QObject) -> bool:
    """Whether nothing of a window, or of what else is given, waits for its turn."""
    return not any(clock.is_due for clock in within.findChildren(InTurn))
