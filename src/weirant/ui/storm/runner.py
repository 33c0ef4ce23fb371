"""Runs simulations beside the interface: the newest wish wins, partial results come as they are made, and it can be left."""

from __future__ import annotations

import time
from functools import partial
from threading import Event

from PyQt6.QtCore import QObject, pyqtSignal

from weirant.design.simulation import Simulation, Wish, running
from weirant.outcome.outcome import Outcome
from weirant.ui.work import desk, in_background

EVERY = 0.12  # s between partial results


class Runner(QObject):
    """``grown`` brings (name, simulation) while it runs, ``done`` when all are through, ``failed`` an error in the user's words."""

    grown = pyqtSignal(str, object)
    done = pyqtSignal()
    failed = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._stop = Event()
        self.is_running = False

    def start(self, outcome: Outcome, wishes: dict[str, Wish]) -> None:
        """Leave what runs and simulate every wish, one after the other."""
        self.stop()
        stop = self._stop = Event()
        self.is_running = True
        in_background(partial(self._work, outcome, wishes, stop), partial(self._end, stop), partial(self._fail, stop))

    def stop(self) -> None:
        """Leave what runs; what has come is kept."""
        self._stop.set()
        self.is_running = False

    def _work(self, outcome: Outcome, wishes: dict[str, Wish], stop: Event) -> None:
        for name, wish in wishes.items():
            told = time.monotonic()
            last = None
            for last in running(outcome, wish):
                if stop.is_set():
                    return
                if time.monotonic() - told > EVERY:
                    told = time.monotonic()
                    desk().put(partial(self._grow, stop, name, last))
            if last is not None:
                desk().put(partial(self._grow, stop, name, last))

    # on the interface thread

    def _grow(self, stop: Event, name: str, simulation: Simulation) -> None:
        if not stop.is_set():
            self.grown.emit(name, simulation)

    def _end(self, stop: Event, _: object) -> None:
        if not stop.is_set():
            self.is_running = False
            self.done.emit()

    def _fail(self, stop: Event, words: str) -> None:
        if not stop.is_set():
            self.is_running = False
            self.failed.emit(words)
