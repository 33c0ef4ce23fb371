"""How sure it is: the ensemble beside the interface, on this machine's processes, with its progress."""

from __future__ import annotations

from functools import partial
from threading import Event

from PyQt6.QtCore import QObject, pyqtSignal

from weirant.design.ensemble import Ensemble, ensemble
from weirant.design.pool import own_pool
from weirant.job.rain import Storm
from weirant.outcome.outcome import Outcome
from weirant.ui.work import desk, in_background

SAMPLES = 100


class Surety(QObject):
    """``progressed`` tells how many samples are done, ``found`` brings the ensemble, ``failed`` an error in the user's words."""

    progressed = pyqtSignal(int)
    found = pyqtSignal(object)
    failed = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._stop = Event()
        self.is_running = False

    def start(self, outcome: Outcome, storm: Storm, station: float, run: str, hours: float) -> None:
        """Leave what runs and begin."""
        self.stop()
        stop = self._stop = Event()
        self.is_running = True
        in_background(partial(self._work, outcome, storm, station, run, hours, stop), partial(self._end, stop), partial(self._fail, stop))

    def stop(self) -> None:
        """Leave what runs."""
        self._stop.set()
        self.is_running = False

    def _work(self, outcome: Outcome, storm: Storm, station: float, run: str, hours: float, stop: Event) -> Ensemble | None:
        def told(done: int) -> bool:
            desk().put(partial(self._tell, stop, done))
            return not stop.is_set()

        found = ensemble(outcome, storm, own_pool(), SAMPLES, station=station, run=run, hours=hours, told=told)
        return None if stop.is_set() else found

    # on the interface thread

    def _tell(self, stop: Event, done: int) -> None:
        if not stop.is_set():
            self.progressed.emit(done)

    def _end(self, stop: Event, found: Ensemble | None) -> None:
        if not stop.is_set() and found is not None:
            self.is_running = False
            self.found.emit(found)

    def _fail(self, stop: Event, words: str) -> None:
        if not stop.is_set():
            self.is_running = False
            self.failed.emit(words)
