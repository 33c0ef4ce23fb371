"""An outcome that is waited for, and whoever cannot wait for it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject

from weirant.ui.next_hand import NextHand
from weirant.ui.worked import Worked


class Due:
    """Knows what is not shown yet; a key or a press before it is there has it shown first."""

    def __init__(self, parent: QObject, show: Callable[[], None]) -> None:
        self.of: Worked | None = None
        self._hand = NextHand(parent, show)

    def wait_for(self, worked: Worked) -> None:
        """From now on this one is waited for."""
        self._hand.expect()
        self.of = worked

    def over(self) -> Worked | None:
        """Nothing is waited for any more; gives what was."""
        self._hand.forget()
        was, self.of = self.of, None
        return was
