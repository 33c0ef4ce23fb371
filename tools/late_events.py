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
        self.worked: dict[str, list[float]] = defaultdict(list)  # the same of the processor's time alone: what others take of the machine is not in it
        self._within: list[list[float]] = []  # loop level, ms of events in loops within, and of the processor
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
        began, worked, mine = time.perf_counter(), time.thread_time(), [float(self._level()), 0.0, 0.0]
        self._within.append(mine)
        try:
            return act()
        finally:
            whole, work = 1e3 * (time.perf_counter() - began), 1e3 * (time.thread_time() - worked)
            self._within.pop()
            if self._within:
                self._within[-1][1] += whole
                self._within[-1][2] += work
            self.count += 1
            for kept, spent in ((self.took, whole - mine[1]), (self.worked, work - mine[2])):
                if spent > LATE:
                    kept[f"{doing() if doing else self.doing}: {what}"].append(spent)

    def _level(self) -> int:
        return self._home.loopLevel() if self._home is not None else 0

    def _is_within(self) -> bool:
        """Whether an event of this loop is under way, of which what comes now is a part."""
        return bool(self._within) and self._within[-1][0] == self._level()

    def told(self, most: int = 25) -> str:
        """The late ones, the longest first."""
        return "\n".join((*_told(self.took, self.count, "took", most), *_told(self.worked, self.count, "kept the processor", most)))


def _told(kept: dict[str, list[float]], count: int, what: str, most: int) -> list[str]:
    late = sorted(kept.items(), key=lambda kind: -max(kind[1]))
    lines = [f"{max(times):7.0f} ms at most, {len(times):4} times: {kind}" for kind, times in late[:most]]
    return [f"{sum(map(len, kept.values()))} of {count} events {what} longer than {LATE:.0f} ms", *lines]
