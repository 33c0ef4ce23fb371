"""How long the interface thread is away, for the random walk: in each turn of its loop and each thing that a hand does, or in each event by name.

A turn is all that is done before a hand is heard again: what the screen server sends, what was posted, and every clock that is due. It is timed from
outside, at no cost to what goes on in it. Event by event costs more than half as much again, and so finds more late than there are: it is there for their names.
"""

from __future__ import annotations

import time
from collections import defaultdict
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QEvent, QEventLoop, QObject, QThread, QTimer
from PyQt6.QtWidgets import QApplication

LATE = 50.0  # ms that a hand notices
IDLE = 2e-3  # s until the loop is looked at again where nothing was to be done


class Watched(QApplication):
    """Times turns of the event loop, and what is done in ``timed``."""

    what = "turns of the loop and things done"

    def __init__(self, arguments: list[str]) -> None:
        super().__init__(arguments)
        self.doing = ""
        self.count = 0
        self.took: dict[str, list[float]] = defaultdict(list)
        self.worked: dict[str, list[float]] = defaultdict(list)  # the same of the processor's time alone: what others take of the machine is not in it
        self._within: list[list[float]] = []  # loop level, ms in loops within, and of the processor
        self._home = QThread.currentThread()

    def pause(self, milliseconds: int) -> None:
        """Let the window do its work, turn by turn."""
        loop, end = QEventLoop(), time.perf_counter() + milliseconds / 1e3
        turned = QEventLoop()

        def go_on() -> None:
            while time.perf_counter() < end:
                began = time.perf_counter()
                self.timed("a turn", turned.processEvents)
                if time.perf_counter() - began < 1e-4:
                    time.sleep(IDLE)
            loop.quit()

        QTimer.singleShot(0, go_on)  # within a loop that runs, or what is to be deleted would stay
        loop.exec()

    def apart(self, act: Callable[[], Any]) -> Any:
        """Do something within what is timed that is none of it: a box that waits for its answer."""
        began, worked, within = time.perf_counter(), time.thread_time(), self._within
        self._within = []
        try:
            return act()
        finally:
            self._within = within
            if within:
                within[-1][1] += 1e3 * (time.perf_counter() - began)
                within[-1][2] += 1e3 * (time.thread_time() - worked)

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
        """Whether something is timed already, of which what comes now is a part."""
        return bool(self._within)

    def told(self, most: int = 25) -> str:
        """The late ones, the longest first."""
        return "\n".join((*_told(self.took, self.count, self.what, "took", most), *_told(self.worked, self.count, self.what, "kept the processor", most)))


class WatchedByEvent(Watched):
    """Times every event of the interface thread; what runs in a loop of its own within one, as a dialog does, counts for itself."""

    what = "events"

    def notify(self, receiver: QObject | None, event: QEvent | None) -> bool:
        """As ever, on the clock."""
        if self._is_within() or QThread.currentThread() is not self._home or receiver is None or event is None:
            return super().notify(receiver, event)  # most are part of another
        kind, name = event.type(), type(receiver).__name__
        return bool(self.timed(f"{name} {kind.name}", lambda: QApplication.notify(self, receiver, event)))

    def pause(self, milliseconds: int) -> None:
        """Let the window do its work."""
        loop = QEventLoop()
        QTimer.singleShot(milliseconds, loop.quit)
        loop.exec()

    def apart(self, act: Callable[[], Any]) -> Any:
        """Its events count for themselves."""
        return act()

    def _is_within(self) -> bool:
        """Whether an event of this loop is under way, of which what comes now is a part."""
        return bool(self._within) and self._within[-1][0] == self._level()


def _told(kept: dict[str, list[float]], count: int, things: str, what: str, most: int) -> list[str]:
    late = sorted(kept.items(), key=lambda kind: -max(kind[1]))
    lines = [f"{max(times):7.0f} ms at most, {len(times):4} times: {kind}" for kind, times in late[:most]]
    return [f"{sum(map(len, kept.values()))} of {count} {things} {what} longer than {LATE:.0f} ms", *lines]
