"""The one place for errors that nobody foresaw: they are written down, the work is kept, the user is told, and the window lives on."""

from __future__ import annotations

import sys
import threading
import time
from functools import partial
from types import TracebackType

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QApplication, QMessageBox

from weirant.errors import NoJobError
from weirant.formats.trouble_log import write_trouble
from weirant.language import tr
from weirant.ui.asking import tell
from weirant.ui.window import Window
from weirant.ui.work import desk

AGAIN = 30.0  # s before the same error is told once more: one in a painting comes with every painting
SAFE = tr("What you did last may not be done. ")


class Mishaps(QObject):
    """Stands in for Python's own hooks, whose way is to end the program."""

    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self.window = window
        self._told: dict[tuple[str, int], float] = {}
        self.box: QMessageBox | None = None

    def install(self) -> None:
        """Take over from Python's hooks, in every thread."""
        sys.excepthook = self.met
        threading.excepthook = lambda found: desk().put(partial(self.met, found.exc_type, found.exc_value, found.exc_traceback))

    def met(self, kind: type[BaseException], fault: BaseException | None, trace: TracebackType | None) -> None:
        """An error came through to the event loop."""
        if fault is None or issubclass(kind, (KeyboardInterrupt, SystemExit)):
            QApplication.quit()
            return
        if issubclass(kind, NoJobError):
            return  # a clock of a view that is about to go asked once more after the job was given up
        place = _place_of(trace)
        now = time.monotonic()
        if now - self._told.get(place, -AGAIN) < AGAIN:
            return
        self._told[place] = now
        log = write_trouble(fault)
        kept = self.window.files.keeping.keep_now()
        if self.box is not None:
            return
        words = [tr("Something went wrong that was not foreseen. ") + SAFE + (tr("A copy of your work was just kept.") if kept else tr("Save your work now.")),
                 tr("What led to it is written in {log}.", log=log) if log is not None else ""]  # fmt: skip
        self.box = tell(self.window, tr("Weirant met an error"), "\n".join(filter(None, words)))
        self.box.destroyed.connect(self._closed)

    def _closed(self) -> None:
        self.box = None


def _place_of(trace: TracebackType | None) -> tuple[str, int]:
    """Where it was raised: innermost file and line."""
    while trace is not None and trace.tb_next is not None:
        trace = trace.tb_next
    return (trace.tb_frame.f_code.co_filename, trace.tb_lineno) if trace is not None else ("", 0)
