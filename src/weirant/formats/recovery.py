"""Autosave and recovery: a copy of the work in hand, which outlives a crash."""

from __future__ import annotations

import contextlib
import json
import os
import threading
import uuid
from datetime import datetime
from pathlib import Path
from typing import Any

from weirant.errors import JobFileError
from weirant.formats import job_file
from weirant.formats.hold import Hold, is_held
from weirant.formats.plain_files import PART, read_plain, write_safely
from weirant.job import Job
from weirant.language import tr
from weirant.records import dataclass

NOTE = 10_000  # bytes of a note at most


def state_folder() -> Path:
    """Where the program keeps what outlives it: the XDG state folder."""
    base = os.environ.get("XDG_STATE_HOME") or str(Path.home() / ".local" / "state")
    return Path(base) / "weirant"


def recovery_folder() -> Path:
    """Where the copies live."""
    return state_folder() / "recovery"


@dataclass(frozen=True)
class Recoverable:
    """Work that a crash left behind: the copy, the file it belonged to (None if it was never saved) with the digest it had, the clock when it was
    kept.

    ``turn`` grows with every copy kept by anybody, whatever the clock says: the largest is the newest.
    """

    copy: Path
    original: Path | None
    kept: str = ""
    turn: int = 0
    digest: str = ""

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
        self._hold = Hold(self._copy.with_suffix(".lock"))
        self._writing = threading.Lock()
        self.turn = 0

    def keep(self, job: Job, original: Path | None, turn: int, digest: str = "") -> None:
        """Write the copy, with the file it belongs to and the digest that file had; raises JobFileError where it cannot be written."""
        with self._writing:
            if turn != self.turn:
                return
            self._own()
            newest = 1 + max((_note(path).turn for path in self._copy.parent.glob("*.json")), default=0)
            note = {"original": os.fsdecode(original) if original else None, "digest": digest, "kept": f"{datetime.now():%Y-%m-%d %H:%M}", "turn": newest}
            write_safely(self._copy.with_suffix(".json"), json.dumps(note).encode(), private=True)
            write_safely(self._copy, job_file.to_bytes(job), private=True)

    def _own(self) -> None:
        try:
            self._copy.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
            self._hold.take(str(os.getpid()))
        except OSError as fault:
            raise JobFileError(tr("The safety copy cannot be kept in {parent}: {strerror}.", parent=self._copy.parent, strerror=fault.strerror)) from fault

    def release(self) -> None:
        """Let go of the lock but leave the copy, as the death of the owner would."""
        with self._writing:
            self._hold.let_go(keep=True)

    def drop(self) -> None:
        """Forget the copy: the work is saved or given up."""
        with self._writing:
            self.turn += 1
            Recoverable(self._copy, None).discard()
            self._hold.let_go()


def find_recoverable(folder: Path) -> list[Recoverable]:
    """Copies whose owner no longer runs, newest first; what else was left behind is swept."""
    if not folder.is_dir():
        return []
    left = {path for path in folder.iterdir() if not is_held(path.with_suffix(".lock"))}
    copies = [path for path in left if path.suffix == job_file.SUFFIX]
    kept = {copy.stem for copy in copies}
    for path in left:
        if (path.suffix in (".json", ".lock") and path.stem not in kept) or (path.match(PART.format("*")) and not is_held(path)):
            with contextlib.suppress(OSError):
                path.unlink()
    found = [_note(copy.with_suffix(".json")) for copy in copies]
    return sorted(found, key=lambda r: (r.turn, r.kept, r.copy.name), reverse=True)


def _note(path: Path) -> Recoverable:
    """What stands beside a copy; a note that is missing or damaged says nothing."""
    copy = path.with_suffix(job_file.SUFFIX)
    try:
        note: Any = json.loads(read_plain(path, NOTE, tr("a note")))
        name, kept, turn, digest = (note.get(key) for key in ("original", "kept", "turn", "digest"))
    except (JobFileError, ValueError, AttributeError, RecursionError):
        return Recoverable(copy, None)
    is_count = isinstance(turn, int) and not isinstance(turn, bool)
    return Recoverable(copy, Path(name) if isinstance(name, str) else None, kept[:40] if isinstance(kept, str) else "", turn if is_count else 0,
                       digest if isinstance(digest, str) else "")  # fmt: skip
