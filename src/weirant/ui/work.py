"""Slow work beside the interface: runs a function in a thread and brings back what it gave, or its error, as a signal."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QRunnable, QThreadPool, pyqtSignal

from weirant.errors import WeirantError


class _Signals(QObject):
    done = pyqtSignal(object)
    failed = pyqtSignal(str)


class _Run(QRunnable):
    def __init__(self, function: Callable[[], Any], signals: _Signals) -> None:
        super().__init__()
        self.function, self.signals = function, signals

    def run(self) -> None:
        try:
            result = self.function()
        except WeirantError as fault:
            self.signals.failed.emit(str(fault))
        except OSError as fault:
            self.signals.failed.emit(fault.strerror or str(fault))
        else:
            self.signals.done.emit(result)


_alive: set[_Signals] = set()


def in_background(function: Callable[[], Any], done: Callable[[Any], None], failed: Callable[[str], None]) -> None:
    """Run a function that touches no widget in a thread of the pool; the answers come on the interface thread."""
    signals = _Signals()
    _alive.add(signals)
    signals.done.connect(done)
    signals.failed.connect(failed)
    signals.done.connect(lambda _: _alive.discard(signals))
    signals.failed.connect(lambda _: _alive.discard(signals))
    pool = QThreadPool.globalInstance()
    assert pool is not None
    pool.start(_Run(function, signals))
