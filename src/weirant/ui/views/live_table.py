"""The simulated wet-season water table, kept up with the job beside the interface; while something is dragged it starts from the last one."""

from __future__ import annotations

import time
from functools import partial
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from weirant.outcome.outcome import Outcome
from weirant.ui.document import Document
from weirant.ui.work import in_background

if TYPE_CHECKING:
    from weirant.seepage.flow import State
    from weirant.seepage.mesh import Laid

Array = NDArray[np.float64]
PAUSE = 120  # ms between two of them


class LiveTable(QObject):
    """Holds x and depth of the last simulated table, m, and the outcome and station that it is of."""

    changed = pyqtSignal()

    def __init__(self, document: Document, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document = document
        self.line: tuple[Array, Array] | None = None
        self.of: tuple[Outcome, float] | None = None
        self.seconds = 0.0
        self._guess: tuple[Laid, State] | None = None
        self._busy = False
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(PAUSE)
        self._pause.timeout.connect(self._begin)

    def ask(self) -> None:
        """Have it brought up to date soon; the newest state of the job counts."""
        if not self._busy and not self._pause.isActive():
            self._pause.start()

    def _begin(self) -> None:
        if self.document.is_empty:
            return
        wanted = (self.document.seen, self.document.station)
        if self.of is not None and self.of[0] is wanted[0] and self.of[1] == wanted[1]:
            return
        self._busy = True
        in_background(partial(_work, *wanted, self._guess), partial(self._done, wanted), partial(self._failed, wanted))

    def _done(self, wanted: tuple[Outcome, float], found: tuple[Array, Array, tuple[Laid, State], float]) -> None:
        self.line, self._guess, self.seconds = (found[0], found[1]), found[2], found[3]
        self._settle(wanted)

    def _failed(self, wanted: tuple[Outcome, float], _: str) -> None:
        self.line = self._guess = None  # what is missing is told by the findings
        self._settle(wanted)

    def _settle(self, wanted: tuple[Outcome, float]) -> None:
        self._busy, self.of = False, wanted
        self.changed.emit()
        self.ask()  # the job may have gone on meanwhile


def _work(outcome: Outcome, station: float, guess: tuple[Laid, State] | None) -> tuple[Array, Array, tuple[Laid, State], float]:
    # the simulator takes half a second to load, and is loaded here, beside the interface
    from weirant.design.across import section_at
    from weirant.design.simulation import steady_state
    from weirant.seepage.mesh import lay_out
    from weirant.seepage.results import table_depths

    began = time.perf_counter()
    laid = lay_out(section_at(outcome, station))
    state = steady_state(laid, outcome.job.water.drainage_rate, guess)
    return laid.x, table_depths(laid, state.head), (laid, state), time.perf_counter() - began
