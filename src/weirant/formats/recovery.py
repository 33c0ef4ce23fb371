"""Autosave and recovery: a copy of the work in hand, which outlives a crash."""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import threading
import uuid
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from weirant.errors import JobFileError
from weirant.formats import job_file
from weirant.formats.atomic import write_safely
from weirant.job import Job


def recovery_folder() -> Path:
    """Where the copies live: the XDG state folder."""
    base = os.environ.get("XDG_STATE_HOME") or str(Path.home() / ".local" / "state")
    return Path(base) / "weirant" / "recovery"


@dataclass(frozen=True)
class Recoverable:
    """Work that a crash left behind: the copy, and the file it belonged to (None if it was never saved)."""

    copy: Path
    original: Path | None

    def load(self) -> Job:
        """The job as it was; raises JobFileError where the copy itself is damaged."""
        return job_file.load(self.copy)

    def discard(self) -> None:
        """Remove the copy for good."""
        for path in (self.copy, self.copy.with_suffix(".json"), self.copy.with_suffix(".lock")):
            with contextlib.suppress(OSError):
                path.unlink()


class Keeper:
    """Keeps the copy of one open document. A lock tells other starts that its owner is alive.

    Copies are written by another thread: ``turn`` is taken when the work is handed over, and a copy whose turn is past
    (the work was saved or given up meanwhile) is not written any more.
    """

    def __init__(self, folder: Path) -> None:
        self._copy = folder / f"{uuid.uuid4().hex}{job_file.SUFFIX}"
        self._owned: IO[str] | None = None
        self._writing = threading.Lock()
        self.turn = 0

    def keep(self, job: Job, original: Path | None, turn: int) -> None:
        """Write the copy; raises JobFileError where it cannot be written."""
        with self._writing:
            if turn != self.turn:
                return
            self._own()
            note = json.dumps({"original": str(original) if original else None})
            write_safely(self._copy.with_suffix(".json"), note.encode())
            write_safely(self._copy, job_file.to_text(job).encode())

    def _own(self) -> None:
        if self._owned is not None:
            return
        try:
            self._copy.parent.mkdir(parents=True, exist_ok=True)
            self._owned = self._copy.with_suffix(".lock").open("w")
            fcntl.flock(self._owned, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as fault:
            raise JobFileError(f"The safety copy cannot be kept in {self._copy.parent}: {fault.strerror}.") from fault

    def release(self) -> None:
        """Let go of the lock but leave the copy, as the death of the owner would."""
        with self._writing:
            if self._owned is not None:
                self._owned.close()
                self._owned = None

    def drop(self) -> None:
        """Forget the copy: the work is saved or given up."""
        with self._writing:
            self.turn += 1
            Recoverable(self._copy, None).discard()
        self.release()


def find_recoverable(folder: Path) -> list[Recoverable]:
    """Copies whose owner no longer runs, newest first."""
    copies = (
        sorted(folder.glob(f"*{job_file.SUFFIX}"), key=lambda p: p.stat().st_mtime, reverse=True)
        if folder.is_dir()
        else []
    )
    return [Recoverable(copy, _original(copy)) for copy in copies if not _owned(copy.with_suffix(".lock"))]


def _original(copy: Path) -> Path | None:
    try:
        name = json.loads(copy.with_suffix(".json").read_text()).get("original")
        return Path(name) if isinstance(name, str) else None
    except (OSError, ValueError, AttributeError):
        return None


def _owned(lock: Path) -> bool:
    try:
        with lock.open("r+") as handle:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return True
    except OSError:
        return False
    return False
