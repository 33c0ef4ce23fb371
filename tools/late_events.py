"""How long the interface thread is away in each event, for the random walk."""

from __future__ import annotations

import time
from collections import defaultdict
from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, QThread
from PyQt6.QtWidgets import QApplication

LATE = 50.0  # ms that a hand notices


class Watched(QApplication):
    """Times every event of the interface thread; what runs in a loop of its own within one, as a dialog does, counts for itself."""

    def __init__(self, arguments: list[str]) -> None:
        super().__init__(arguments)
        self.doing = ""
        self.count = 0
        self.took: dict[str, list[float]] = defaultdict(list)
        self._within: list[list[float]] = []  # loop level, ms of events in loops within
        self._home = QThread.currentThread()

    def notify(self, receiver: QObject | None, event: QEvent | None) -> bool:
        """As ever, on the clock."""
        if self._is_within() or QThread.currentThread() is not self._home or receiver is None or event is None:
            return super().notify(receiver, event)  # most are part of another: the clock is to cost no more than what it times
        kind, name = event.type(), type(receiver).__name__
        return bool(self.timed(f"{name} {kind.name}", lambda: QApplication.notify(self, receiver, event)))

    def timed(self, what: str, act: Callable[[], object], doing: Callable[[], str] | None = None) -> object:
        """Do something as one event, unless it is part of one; what is being done may be known only afterwards."""
        if self._is_within():
            return act()
        began, mine = time.perf_counter(), [float(self._level()), 0.0]
        self._within.append(mine)
        try:
            return act()
        finally:
            whole = 1e3 * (time.perf_counter() - began)
            self._within.pop()
            if self._within:
                self._within[-1][1] += whole
            self.count += 1
            if whole - mine[1] > LATE:
                self.took[f"{doing() if doing else self.doing}: {what}"].append(whole - mine[1])

    def _level(self) -> int:
        return self._home.loopLevel() if self._home is not None else 0

    def _is_within(self) -> bool:
        """Whether an event of this loop is under way, of which what comes now is a part."""
        return bool(self._within) and self._within[-1][0] == self._level()

    def told(self, most: int = 25) -> str:
        """The late ones, the longest first."""
        late = sorted(self.took.items(), key=lambda kind: -max(kind[1]))
        lines = [f"{max(times):7.0f} ms at most, {len(times):4} times: {kind}" for kind, times in late[:most]]
        return "\n".join([f"{sum(map(len, self.took.values()))} of {self.count} events took longer than {LATE:.0f} ms", *lines])
