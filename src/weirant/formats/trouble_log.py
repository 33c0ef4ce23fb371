"""The log of errors that nobody foresaw: their traces, in the state folder, for whoever mends the program."""

from __future__ import annotations

import contextlib
import os
import traceback
from datetime import datetime
from pathlib import Path

from weirant import __version__
from weirant.formats.recovery import state_folder

FULL = 1_000_000  # bytes after which a new log is begun; the one before is kept
LONGEST = 50_000  # characters of one trace


def write_trouble(fault: BaseException) -> Path | None:
    """Add an error with its trace; gives the log, or None where it cannot be written. Raises nothing: it is called when all else failed."""
    try:
        trace = "".join(traceback.format_exception(fault))
    except Exception as worse:  # an error whose own text cannot be made
        trace = f"{type(fault).__name__}, and its trace could not be written: {type(worse).__name__}\n"
    if len(trace) > LONGEST:
        trace = f"{trace[: LONGEST // 2]}\n…\n{trace[-LONGEST // 2 :]}"
    log = state_folder() / "trouble.log"
    try:
        log.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        with contextlib.suppress(FileNotFoundError):
            if log.stat().st_size > FULL:
                os.replace(log, log.with_suffix(".log.old"))
        with os.fdopen(os.open(log, os.O_WRONLY | os.O_APPEND | os.O_CREAT | os.O_NONBLOCK, 0o600), "a", encoding="utf-8", errors="replace") as out:
            out.write(f"--- {datetime.now():%Y-%m-%d %H:%M:%S} Weirant {__version__}\n{trace}\n")
    except OSError:
        return None
    return log
