"""An outcome that is waited for, and whoever cannot wait for it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QCoreApplication, QEvent, QObject

from weirant.ui.worked import Worked

HANDS = (QEvent.Type.ShortcutOverride, QEvent.Type.KeyPress, QEvent.Type.MouseButtonPress, QEvent.Type.MouseButtonDblClick, QEvent.Type.Wheel, QEvent.Type.DragEnter,
         QEvent.Type.Drop, QEvent.Type.TouchBegin, QEvent.Type.InputMethod)  # fmt: skip


class Due(QObject):
    """Knows what is not shown yet; a key or a press before it is there has it shown first, so that no hand meets what is about to go."""

    def __init__(self, parent: QObject, show: Callable[[], None]) -> None:
        super().__init__(parent)
        self.of: Worked | None = None
        self._show = show

    def wait_for(self, worked: Worked) -> None:
        """From now on this one is waited for."""
        application = QCoreApplication.instance()
        if self.of is None and application is not None:
            application.installEventFilter(self)
        self.of = worked

    def over(self) -> Worked | None:
        """Nothing is waited for any more; gives what was."""
        application, was = QCoreApplication.instance(), self.of
        if was is not None and application is not None:
            application.removeEventFilter(self)
        self.of = None
        return was

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:  # noqa: N802, D102
        if event is not None and event.type() in HANDS:
            self._show()
        return False
