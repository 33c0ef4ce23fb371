"""Autosave and recovery: a copy of the work in hand, which outlives a crash."""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
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
    """Keeps the copy of one open document. A lock tells other starts that its owner is alive."""

    def __init__(self, folder: Path) -> None:
        self._copy = folder / f"{uuid.uuid4().hex}{job_file.SUFFIX}"
        self._lock: IO[str] | None = None

    def keep(self, job: Job, original: Path | None) -> None:
        """Write the copy; raises JobFileError where it cannot be written."""
        try:
            if self._lock is None:
                self._copy.parent.mkdir(parents=True, exist_ok=True)
                self._lock = self._copy.with_suffix(".lock").open("w")
                fcntl.flock(self._lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as fault:
            raise JobFileError(f"The safety copy cannot be kept in {self._copy.parent}: {fault.strerror}.") from fault
        write_safely(
            self._copy.with_suffix(".json"), json.dumps({"original": str(original) if original else None}).encode()
        )
        write_safely(self._copy, job_file.to_text(job).encode())

    def drop(self) -> None:
        """Forget the copy: the work is saved or given up."""
        Recoverable(self._copy, None).discard()
        if self._lock is not None:
            self._lock.close()
            self._lock = None


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
