"""Slow work beside the interface: runs a function in a thread and brings back what it gave, or its error, on the interface thread.

Python's garbage collector runs in whatever thread happens to ask for memory, and a widget that is swept away outside the
interface thread brings Qt down. So it is switched off here and run by the interface thread alone. For the same reason a
thread never holds what was asked of it: whoever asked may be gone by the time it lets go, and would be swept away there.

Only one thread runs Python at a time, and whatever the window does it lets go of that turn hundreds of times: each time it would wait for a thread that
works beside it to have had its share, and a press that takes 30 ms takes ten seconds. So the interface thread waits ``TURN`` for its turn, and the others
are woken so late that they hardly ask for theirs while it has something to do.
"""

from __future__ import annotations

import ctypes
import gc
import sys
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from functools import cache, partial
from itertools import count
from traceback import clear_frames
from typing import Any

from PyQt6.QtCore import QCoreApplication, QObject, Qt, QTimer, pyqtSignal

from weirant.errors import NoJobError, WeirantError
from weirant.language import tr
from weirant.ui.turn import take_turn

TURN = 5e-6  # s until the thread that has the turn is asked for it
PROMPT, GIVING_WAY = 1, 20_000_000  # ns that the kernel may be late in waking a thread that waits for a while
SET_SLACK = 29  # of prctl, Linux' own call
SWEEP = 1000  # ms between looks whether there is garbage to collect
SETS_UP = 10  # looks in which the window, and what is loaded beside it, comes to be
STILL, WAITS = 300, 60  # objects made between two looks where nobody does anything; looks that a search of everything waits for that


class _Desk(QObject):
    """Lives on the interface thread: calls what other threads put on it, and sweeps."""

    _put = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self._put.connect(self._call, Qt.ConnectionType.QueuedConnection)  # type: ignore[call-arg]
        gc.disable()
        sys.setswitchinterval(TURN)
        be_woken(PROMPT)
        self._made = self._waits = self._looks = 0
        self._is_set_up = False
        self._clock = QTimer(self)
        self._clock.setInterval(SWEEP)
        self._clock.timeout.connect(self._sweep)
        self._clock.start()

    def put(self, call: Callable[[], None]) -> None:
        """Have something called on the interface thread; may come from any thread."""
        self._put.emit(call)

    def _call(self, call: Callable[[], None]) -> None:
        take_turn()
        try:
            call()
        except NoJobError:
            pass  # the job was closed meanwhile: nobody waits for the answer
        except RuntimeError as fault:
            if "has been deleted" not in str(fault):  # whoever asked is gone; nobody waits for the answer
                raise

    def _sweep(self) -> None:
        """Collect as often as Python would have done by itself; but search everything, which stops the window, while nobody does anything if that comes soon.

        What comes in the first looks, and what is there when everything would be searched for the first time – libraries, the window with its views – is
        there to stay, so that nobody ever searches it: that is nine tenths of all, and took a tenth of a second.
        """
        self._looks += 1
        due, made = [count > most for count, most in zip(gc.get_count(), gc.get_threshold(), strict=True)], gc.get_count()[0]
        is_still, self._made = abs(made - self._made) < STILL, made
        self._waits = self._waits + 1 if due[2] else 0
        generation = 2 if due[2] and (is_still or self._waits > WAITS) else 1 if due[1] else 0 if due[0] else None
        if generation is not None and (self._looks <= SETS_UP or (generation == 2 and not self._is_set_up)):
            gc.freeze()
            self._is_set_up = self._looks > SETS_UP
        elif generation is not None:
            gc.collect(generation)
            self._made = gc.get_count()[0]


_desks: list[_Desk] = []
_numbers = count(1)
_asked: dict[int, tuple[Callable[[], Any], Callable[[Any], None], Callable[[str], None]]] = {}  # taken out by the interface thread alone
_waiting: dict[int, Callable[[], None]] = {}  # likewise


def desk() -> _Desk:
    """The desk of the application that runs."""
    if not _desks:
        _desks.append(_Desk())
        application = QCoreApplication.instance()
        if application is not None:
            _desks[0].moveToThread(application.thread())
    return _desks[0]


def be_woken(late: int) -> None:
    """So many ns late the thread that calls may be woken where it waits for a while; where the kernel does not know that, threads take turns as ever."""
    prctl = getattr(ctypes.CDLL(None), "prctl", None)
    if prctl is not None:
        prctl(SET_SLACK, ctypes.c_ulong(late), 0, 0, 0)


def threads(count: int) -> ThreadPoolExecutor:
    """Threads that work beside the interface and give way to it."""
    return ThreadPoolExecutor(count, "beside", partial(be_woken, GIVING_WAY))


_threads = cache(partial(threads, 4))


def in_background(function: Callable[[], Any], done: Callable[[Any], None], failed: Callable[[str], None]) -> None:
    """Run a function that touches no widget in a thread; the answers come on the interface thread.

    ``failed`` is told whatever went wrong; an error that nobody foresaw is also raised there, for the one place that sees to such.
    """
    desk()
    number = next(_numbers)
    _asked[number] = function, done, failed
    _threads().submit(_work, number)


def is_idle() -> bool:
    """Whether nothing is worked out beside the interface, and nobody waits for it."""
    return not _asked and not _waiting


def _work(number: int) -> None:
    """In a thread: what was asked is only called here, and has been let go of before the answer is put on the desk."""
    desk().put(partial(_told, number, *_answer(number)))


def _answer(number: int) -> tuple[bool, Any]:
    """Whether it went well, and what it gave; or else the error, in words where it was foreseen."""
    try:
        return True, _asked[number][0]()
    except WeirantError as fault:
        return False, str(fault)
    except OSError as fault:
        return False, fault.strerror or str(fault)
    except BaseException as fault:  # noqa: BLE001 – raised again on the interface thread
        clear_frames(fault.__traceback__)  # where it happened is kept, but nothing that was at hand there
        return False, fault


def _told(number: int, went_well: bool, answer: Any) -> None:
    """On the interface thread: the answer for whoever asked."""
    _, done, failed = _asked.pop(number)
    if went_well:
        done(answer)
    elif isinstance(answer, BaseException):
        _unforeseen(answer, failed)
    else:
        failed(answer)


def when_done(future: Future[Any], told: Callable[[], None]) -> None:
    """Call on the interface thread when something is done, in an event of its own."""
    desk()
    number = next(_numbers)
    _waiting[number] = told
    future.add_done_callback(partial(_done, number))


def _done(number: int, _: Future[Any]) -> None:
    """In whatever thread it was done: who waits is known there by a number alone."""
    desk().put(partial(_tell, number))


def _tell(number: int) -> None:
    _waiting.pop(number)()


class Newest(QObject):
    """Work that follows something that changes often: one piece at a time, and of what is asked meanwhile only the newest.

    What is asked is begun after a short pause, so that the steps of a drag do not pile up behind it.
    """

    def __init__(self, parent: QObject | None = None, pause: int = 120) -> None:
        super().__init__(parent)
        self._wanted: tuple[Callable[[], Any], Callable[[Any], None], Callable[[str], None]] | None = None
        self._busy = False
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(pause)
        self._pause.timeout.connect(self._begin)

    def ask(self, function: Callable[[], Any], done: Callable[[Any], None], failed: Callable[[str], None]) -> None:
        """Like ``in_background``, in place of what was asked before and is not begun."""
        self._wanted = (function, done, failed)
        self._pause.start()

    def _begin(self) -> None:
        if self._busy or self._wanted is None:
            return
        function, done, failed = self._wanted
        self._wanted, self._busy = None, True
        in_background(function, partial(self._end, done), partial(self._end, failed))

    def _end(self, told: Callable[[Any], None], result: Any) -> None:
        self._busy = False
        told(result)
        if self._wanted is not None:
            self._pause.start()


def _unforeseen(error: BaseException, failed: Callable[[str], None]) -> None:
    failed(tr("an error that was not foreseen ({name})", name=type(error).__name__))
    raise error
