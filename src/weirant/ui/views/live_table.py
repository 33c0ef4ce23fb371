"""The simulated wet-season water table, kept up with the job beside the interface; while something is dragged it starts from the last one."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QObject, pyqtSignal

from weirant.outcome.outcome import Outcome
from weirant.ui.document import Document
from weirant.ui.work import Newest

if TYPE_CHECKING:
    from weirant.seepage.flow import FlowState
    from weirant.seepage.mesh import Laid

Array = NDArray[np.float64]


class LiveTable(QObject):
    """Holds x and depth of the last simulated table, m, for the outcome, station and run that it is of."""

    changed = pyqtSignal()

    def __init__(self, document: Document, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.document = document
        self._line: tuple[Array, Array] | None = None
        self._of: tuple[Outcome, float, str] | None = None
        self._guess: tuple[Laid, FlowState] | None = None
        self._work = Newest(self)

    def ask(self) -> None:
        """Have it brought up to date soon."""
        if self.document.is_empty:
            return
        wanted = (self.document.outcome, self.document.station, self.document.run)
        if not self._is_of(*wanted):
            self._work.ask(lambda: _work(*wanted, self._guess), partial(self._done, wanted), partial(self._failed, wanted))

    def line_of(self, outcome: Outcome, station: float) -> tuple[Array, Array] | None:
        """The table of an outcome at a station; None while it is not known."""
        return self._line if self._is_of(outcome, station, self.document.run) else None

    def _is_of(self, outcome: Outcome, station: float, run: str) -> bool:
        return self._of is not None and self._of[0] is outcome and self._of[1:] == (station, run)

    def _done(self, wanted: tuple[Outcome, float, str], found: tuple[Array, Array, tuple[Laid, FlowState]]) -> None:
        self._line, self._guess, self._of = (found[0], found[1]), found[2], wanted
        self.changed.emit()

    def _failed(self, wanted: tuple[Outcome, float, str], _: str) -> None:
        self._line, self._guess, self._of = None, None, wanted  # what is missing is told by the findings
        self.changed.emit()


def _work(outcome: Outcome, station: float, run: str, guess: tuple[Laid, FlowState] | None) -> tuple[Array, Array, tuple[Laid, FlowState]]:
    # the simulator takes half a second to load, and is loaded here, beside the interface
    from weirant.design.across import section_at
    from weirant.design.simulation import steady_state
    from weirant.seepage.mesh import lay_out
    from weirant.seepage.results import table_depths

    laid = lay_out(section_at(outcome, station, run=run))
    state = steady_state(laid, outcome.job.water.drainage_rate, guess)
    return laid.x, table_depths(laid, state.head), (laid, state)
