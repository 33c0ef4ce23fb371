"""The safety copy: kept while somebody works, offered after a crash."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QElapsedTimer, QObject, QTimer, pyqtSignal
from PyQt6.QtWidgets import QWidget

from weirant.errors import WeirantError
from weirant.formats.recovery import Keeper, Recoverable, find_recoverable, recovery_folder
from weirant.language import ntr, tr
from weirant.ui.asking import question, show_dialog, tell
from weirant.ui.document import Document
from weirant.ui.work import in_background

QUIET, LONGEST = 1500, 5000  # ms of quiet before a copy is made, and the longest that work goes without one


class Keeping(QObject):
    """Keeps a copy of work that is not saved; ``recovered`` gives back what a crash left behind."""

    recovered = pyqtSignal(object, Recoverable)

    def __init__(self, document: Document, window: QWidget) -> None:
        super().__init__(window)
        self.document, self.window = document, window
        self.keeper = Keeper(recovery_folder())
        self._since = QElapsedTimer()
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.keep_copy)
        document.stack.indexChanged.connect(self._work_changed)

    def _work_changed(self, _: int) -> None:
        """Wait for quiet, but not for ever: who types steadily is kept, too."""
        if not self._timer.isActive():
            self._since.start()
        self._timer.start(max(0, min(QUIET, LONGEST - self._since.elapsed())))

    def keep_copy(self) -> None:
        """Write the safety copy, beside the interface."""
        if not self.document.is_empty and not self.document.stack.isClean():
            document, turn, keep = self.document, self.keeper.turn, self.keeper.keep
            job, path, digest = document.job, document.path, document.digest
            in_background(lambda: keep(job, path, turn, digest), lambda _: None, document.refused.emit)

    def keep_now(self) -> bool:
        """Write the safety copy at once, where something went wrong; whether it is kept."""
        if self.document.is_empty:
            return False
        try:
            self.keeper.keep(self.document.job, self.document.path, self.keeper.turn, self.document.digest)
        except (WeirantError, OSError, ValueError):
            return False
        return True

    def drop(self) -> None:
        """The work is saved or given up: no copy is wanted any more."""
        self._timer.stop()
        self.keeper.drop()

    def offer_recovery(self) -> None:
        """Offer the newest work that a crash left behind."""
        found = find_recoverable(recovery_folder())
        if not found:
            return
        left = found[0]
        name = left.original.name if left.original else tr("a job that was never saved")
        when = tr(", kept {kept}", kept=left.kept) if left.kept else ""
        more = "\n" + ntr("{n} older one is kept beside it and offered next time.", "{n} older ones are kept beside it and offered next time.", len(found) - 1) if len(found) > 1 else ""
        box = question(self.window, tr("Weirant stopped unexpectedly"), tr("There is unsaved work on {name}{when}. Bring it back?{more}", name=name,
                                                                           when=when, more=more), (tr("Bring it back"), tr("Throw it away"), tr("Ask me later")))
        acts: dict[int, Callable[[Recoverable], None]] = {0: self.recover, 1: Recoverable.discard, 2: lambda _: None}
        box.buttonClicked.connect(lambda button: acts[button.property("choice")](left))
        show_dialog(box)

    def recover(self, left: Recoverable) -> None:
        """Bring the work of a safety copy back; it counts as not saved."""
        try:
            job = left.load()
            self.keeper.keep(job, left.original, self.keeper.turn, left.digest)
        except WeirantError as fault:
            tell(self.window, tr("The copy cannot be read"), str(fault))
            return
        self.recovered.emit(job, left)  # where it cannot be shown, the copy is all there is

    def is_back(self, left: Recoverable) -> None:
        """The work of a safety copy is in the window."""
        self.document.stack.resetClean()
        left.discard()
