"""A job and its outcome, which is worked out beside the interface where that takes longer than a hand notices."""

from __future__ import annotations

import time
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from functools import cache

from weirant.design.assess import assess
from weirant.design.session import Session
from weirant.errors import InputError, WeirantError
from weirant.formats.trouble_log import write_trouble
from weirant.job import Job
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.ui.work import threads, when_done

PATIENCE: float | None = 0.012  # s that an event waits for an outcome before the window goes on; None: as long as it takes


_last: list[Future[Outcome]] = []  # what was given to the thread last


@cache
def _thread() -> ThreadPoolExecutor:
    """One, so that jobs are worked out one after the other: they share what their sessions keep."""
    return threads(1)


class Worked:
    """One state of a job. Its outcome is there, or comes, or is given up and worked out again when it is asked for."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self.outcome: Outcome | None = None
        self.took = 0.0  # s that it was worked out for
        self._coming: Future[Outcome] | None = None

    def begin(self, session: Session, *, at_once: bool) -> bool:
        """Work the outcome out; whether it is there after PATIENCE, for which ``at_once`` does not go by. Raises WeirantError where it cannot be worked out."""
        patience: float | None = 0.0
        if self.outcome is None and self._coming is None:
            if at_once and all(coming.done() for coming in _last):
                self.outcome = self._work_out(session)  # to and fro between threads costs half a ms
                return True
            self._coming, patience = _thread().submit(self._work_out, session), PATIENCE
            _last[:] = [self._coming]
        try:
            self.wait(None if at_once else patience)
        except TimeoutError:
            return False
        return True

    def _work_out(self, session: Session) -> Outcome:
        began = time.perf_counter()
        try:
            return _worked_out(self.job, session)
        finally:
            self.took = time.perf_counter() - began

    @property
    def is_coming(self) -> bool:
        """Whether it is being worked out."""
        return self._coming is not None

    @property
    def is_slow(self) -> bool:
        """Whether it took longer than an event waits."""
        return PATIENCE is not None and self.took > PATIENCE

    def tell(self, told: Callable[[], None]) -> None:
        """Call on the interface thread when the outcome is there, or cannot be."""
        if self._coming is not None:
            when_done(self._coming, told)

    def wait(self, patience: float | None = None) -> None:
        """Wait until the outcome is there, at most so many s: then TimeoutError. Raises WeirantError where it cannot be worked out."""
        if self._coming is not None:
            self.outcome = self._coming.result(patience)
            self._coming = None

    def give_up(self) -> None:
        """Nobody waits for it any more: leave it, if it is not begun."""
        if self._coming is not None and self._coming.cancel():
            self._coming = None

    def lighten(self) -> None:
        """Keep the job alone."""
        self.outcome = self._coming = None


def _worked_out(job: Job, session: Session) -> Outcome:
    """The outcome of a job. An error that nobody foresaw becomes a refusal with its trace in the log, so that what is open stays as it is."""
    try:
        return assess(job, session=session)
    except WeirantError:
        raise
    except Exception as fault:
        write_trouble(fault)
        raise InputError("", tr("this cannot be worked out, because of an error that was not foreseen ({name}); nothing was changed", name=type(fault).__name__)) from fault
