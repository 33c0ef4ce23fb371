"""Listens to an instrument on a serial line in a thread of its own, and averages what it says into a shot."""

from __future__ import annotations

import os
import queue
import threading
import time

import numpy as np
import serial

from weirant.errors import InputError, WeirantError
from weirant.instruments.messages import SURVEY_GRADE, Message, Position, StaffReading, read_message
from weirant.language import tr
from weirant.records import dataclass

STALE = 2.0  # s after which a message is too old to be part of a shot
LONGEST = 1000  # bytes of a line; more without an end is no instrument
SPREAD_LEVEL, SPREAD_FIX = 0.003, 0.03  # m: readings that scatter more are no steady shot (common practice, no source)


class InstrumentError(WeirantError, OSError):
    """A port that cannot be opened, or a line that went dead."""


@dataclass(frozen=True)
class Heard:
    """One thing heard: when (s, monotonic), the message, or why it was refused, or that the line is lost."""

    at: float
    message: Message | None
    refused: str = ""
    lost: bool = False


class Receiver:
    """Reads a port until it is closed; what it hears is put into ``heard``."""

    def __init__(self, port: str, speed: int = 9600, qualities: tuple[int, ...] = SURVEY_GRADE) -> None:
        try:
            self._line = serial.Serial(port, speed, timeout=0.1)
        except (serial.SerialException, OSError, ValueError) as fault:
            raise InstrumentError(tr("{port} cannot be opened: {fault}. Is the instrument plugged in and switched on?", port=port, fault=_plain(fault))) from fault
        self.heard: queue.SimpleQueue[Heard] = queue.SimpleQueue()
        self._qualities, self._open = qualities, True
        self._thread = threading.Thread(target=self._listen, name="instrument", daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Stop listening and free the port."""
        self._open = False
        self._thread.join(timeout=2.0)
        self._line.close()

    def take(self) -> list[Heard]:
        """Everything heard since the last time."""
        found = []
        while not self.heard.empty():
            found.append(self.heard.get_nowait())
        return found

    def _listen(self) -> None:
        waiting = b""
        while self._open:
            try:
                waiting += self._line.read(max(1, self._line.in_waiting))
            except (serial.SerialException, OSError, TypeError) as fault:
                self.heard.put(Heard(time.monotonic(), None, tr("The line went dead: {fault}. Plug the instrument in again.", fault=_plain(fault)), lost=True))
                return
            *lines, waiting = waiting.split(b"\n")
            for line in lines:
                self._hear(line)
            if len(waiting) > LONGEST:
                self.heard.put(Heard(time.monotonic(), None, tr("A line without an end came in; is the speed of the line right?")))
                waiting = b""

    def _hear(self, line: bytes) -> None:
        now = time.monotonic()
        try:
            message = read_message(line.decode("ascii", "replace"), self._qualities)
        except InputError as fault:
            self.heard.put(Heard(now, None, str(fault)))
            return
        except Exception as fault:  # one line, whatever is in it, must not end the listening
            self.heard.put(Heard(now, None, tr("A line could not be read ({name}); the next is awaited.", name=type(fault).__name__)))
            return
        if message is not None:
            self.heard.put(Heard(now, message))


def _plain(fault: Exception) -> str:
    number = getattr(fault, "errno", None)
    return os.strerror(number).lower() if number else tr("the line gave out")


@dataclass(frozen=True)
class AveragedShot:
    """The mean of several messages: a staff reading in m, or longitude, latitude and height; spread m; how many, how many refused."""

    values: tuple[float, ...]
    spread: float
    count: int
    refused: int


class Averager:
    """Gathers messages of one kind until there are enough, fresh and steady ones."""

    def __init__(self, wanted: int = 5) -> None:
        self.wanted, self.refused = wanted, 0
        self._kept: list[tuple[float, Message]] = []

    def add(self, heard: Heard) -> None:
        """Take one thing heard into account."""
        if heard.message is None:
            self.refused += 1
            return
        if self._kept and type(self._kept[-1][1]) is not type(heard.message):
            self._kept.clear()
        self._kept.append((heard.at, heard.message))

    @property
    def count(self) -> int:
        """How many messages are gathered."""
        return len(self._kept)

    def forget_stale(self, now: float) -> bool:
        """Drop messages where there was a gap of more than two seconds; True where some went."""
        kept = self._kept
        last_gap = max((i for i in range(1, len(kept)) if kept[i][0] - kept[i - 1][0] > STALE), default=0)
        self._kept = [] if kept and now - kept[-1][0] > STALE else kept[last_gap:]
        return len(self._kept) < len(kept)

    def shot(self, now: float) -> AveragedShot | None:
        """The mean of the last messages; None until there are enough. Raises InputError where they scatter too much."""
        self.forget_stale(now)
        if len(self._kept) < self.wanted:
            return None
        rows = np.array([_figures(message) for _, message in self._kept[-self.wanted :]])
        spread = float(np.ptp(rows[:, -1]))
        is_level = rows.shape[1] == 1
        if spread > (SPREAD_LEVEL if is_level else SPREAD_FIX) * 2:
            self._kept.clear()
            raise InputError("readings", tr("scatter by {spread:.0f} mm; hold the staff still and take the shot again", spread=1000 * spread))
        return AveragedShot(tuple(float(v) for v in rows.mean(axis=0)), spread, len(rows), self.refused)


def _figures(message: Message) -> tuple[float, ...]:
    if isinstance(message, StaffReading):
        return (message.value,)
    assert isinstance(message, Position)
    return message.longitude, message.latitude, message.height
