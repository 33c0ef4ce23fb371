"""Something that is to be done before the next hand: a key or a press is not to meet what is about to go. A turn of the wheel changes no job, and waits for nothing."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QCoreApplication, QEvent, QObject
from PyQt6.QtGui import QDropEvent, QInputEvent, QInputMethodEvent

HANDS = (QEvent.Type.ShortcutOverride, QEvent.Type.KeyPress, QEvent.Type.MouseButtonPress, QEvent.Type.MouseButtonDblClick, QEvent.Type.DragEnter,
         QEvent.Type.Drop, QEvent.Type.TouchBegin, QEvent.Type.InputMethod)  # fmt: skip

OF_HANDS = (QInputEvent, QDropEvent, QInputMethodEvent)  # what those are: every event of the program is asked, and its class is quicker told than its type


class NextHand(QObject):
    """Calls ``act`` before a key or a press comes to any window of the program, as long as one is expected."""

    def __init__(self, parent: QObject, act: Callable[[], None]) -> None:
        super().__init__(parent)
        self._act, self.is_expected = act, False

    def expect(self) -> None:
        """From now on."""
        application = QCoreApplication.instance()
        if not self.is_expected and application is not None:
            application.installEventFilter(self)
            self.is_expected = True

    def forget(self) -> None:
        """It is done, or need not be."""
        application = QCoreApplication.instance()
        if self.is_expected and application is not None:
            application.removeEventFilter(self)
        self.is_expected = False

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:  # noqa: N802, D102
        if isinstance(event, OF_HANDS) and event.type() in HANDS:
            self._act()
        return False
