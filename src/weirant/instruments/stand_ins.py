"""Instruments to practise with: they stream over a pseudo-terminal as real ones do over a serial line.

All they say is made up: a level that sees a staff moved about, and a rover that walks over a made-up lawn.
"""

from __future__ import annotations

import math
import os
import random
import threading
import time
import tty
from collections.abc import Callable, Iterator

from weirant.ground.flat_plan import FlatPlan
from weirant.instruments.messages import LEVEL_SENTENCE, checksum

ORIGIN = FlatPlan(-30.0, 45.0)  # in the middle of an ocean: no real place is meant
GARBLED, NO_FIX, FLOAT = 0.03, 0.04, 0.08  # shares of the lines that go wrong


class StandIn:
    """Writes lines to a pseudo-terminal at a rate until it is closed; ``port`` is the name to connect to."""

    def __init__(self, lines: Iterator[str], rate: float = 10.0) -> None:
        self._lines, self._pause = lines, 1.0 / rate
        self._ours, self._theirs = os.openpty()
        tty.setraw(self._theirs)
        os.set_blocking(self._ours, False)
        self.port = os.ttyname(self._theirs)
        self._open = True
        self._thread = threading.Thread(target=self._speak, name="stand-in", daemon=True)
        self._thread.start()

    def close(self) -> None:
        """Fall silent and let the port go."""
        if self._open:
            self._open = False
            self._thread.join(timeout=2.0)
            for end in (self._ours, self._theirs):
                os.close(end)

    def _speak(self) -> None:
        while self._open:
            try:
                os.write(self._ours, (next(self._lines) + "\r\n").encode("ascii"))
            except BlockingIOError:
                pass  # nobody listens: a real line loses what is not fetched, too
            except OSError:
                return
            time.sleep(self._pause)


def sentence(body: str) -> str:
    """A body with its $ and checksum."""
    return f"${body}*{checksum(body)}"


def level_lines(reading: Callable[[], float], seed: int = 1) -> Iterator[str]:
    """Readings in m with a millimetre of noise, now and then no beam or a garbled line."""
    chance = random.Random(seed)
    while True:
        draw = chance.random()
        if draw < NO_FIX:
            yield sentence(f"{LEVEL_SENTENCE},0.0000,m,NOBEAM")
        else:
            line = sentence(f"{LEVEL_SENTENCE},{reading() + chance.gauss(0, 0.0006):.4f},m,OK")
            yield line if draw > NO_FIX + GARBLED else line[:9] + "#" + line[10:]


def rover_lines(place: Callable[[], tuple[float, float, float]], seed: int = 1) -> Iterator[str]:
    """GGA sentences of a rover at a place (east, north, height m): noise of a centimetre, float and lost fixes, garbled lines."""
    chance, started = random.Random(seed), time.monotonic()
    while True:
        draw, (x, y, height) = chance.random(), place()
        quality = 0 if draw < NO_FIX else 5 if draw < NO_FIX + FLOAT else 4
        noise = 0.006 if quality == 4 else 0.25
        longitude, latitude = ORIGIN.position(x + chance.gauss(0, noise), y + chance.gauss(0, noise))
        line = sentence(gga(longitude, latitude, height + chance.gauss(0, 1.5 * noise), quality, time.monotonic() - started))
        yield line if draw < 1 - GARBLED else line[:20] + "~" + line[21:]


def gga(longitude: float, latitude: float, height: float, quality: int, seconds: float) -> str:
    """The body of a GGA sentence; without a fix its fields are empty, as a real rover sends them."""
    clock = f"{int(seconds // 3600) % 24:02d}{int(seconds // 60) % 60:02d}{seconds % 60:05.2f}"
    if quality == 0:
        return f"GPGGA,{clock},,,,,0,03,,,M,,M,,"
    ends = f"{_degrees(latitude, 2)},{'N' if latitude >= 0 else 'S'},{_degrees(longitude, 3)},{'E' if longitude >= 0 else 'W'}"
    return f"GPGGA,{clock},{ends},{quality},14,0.7,{height:.3f},M,0.0,M,1.0,0001"


def _degrees(value: float, digits: int) -> str:
    whole = math.floor(abs(value))
    return f"{whole:0{digits}d}{(abs(value) - whole) * 60:010.7f}"


def practice_level() -> StandIn:
    """A level whose staff moves to another height every eight seconds."""
    started = time.monotonic()
    return StandIn(level_lines(lambda: 1.35 + 0.28 * math.sin(2.4 * ((time.monotonic() - started) // 8))), 8.0)


def practice_rover() -> StandIn:
    """A rover that stands for eight seconds at each of many places of a made-up lawn."""
    started = time.monotonic()

    def place() -> tuple[float, float, float]:
        stop = (time.monotonic() - started) // 8
        x, y = 6.0 * (stop % 5), 5.0 * (stop // 5)
        return x, y, 30.0 + 0.02 * x - 0.015 * y + 0.1 * math.sin(stop)

    return StandIn(rover_lines(place), 5.0)
