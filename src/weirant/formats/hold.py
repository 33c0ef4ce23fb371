"""Who holds a file: a lock that the system lets go of when its owner dies, however he dies."""

from __future__ import annotations

import contextlib
import fcntl
import os
import stat
import time
from pathlib import Path

from weirant.language import tr

TRIES, PAUSE = 5, 0.02  # s between tries: somebody who only looks whether a file is held, holds it for a moment


def take_hold(handle: int) -> bool:
    """Take the lock of an open file; False where another has it."""
    for attempt in range(TRIES):
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
            return True
        except BlockingIOError:
            time.sleep(PAUSE if attempt < TRIES - 1 else 0)
        except OSError:
            return True  # a file system that knows no locks
    return False


def is_held(path: Path) -> bool:
    """Whether somebody holds a file; what is missing or no plain file is not held."""
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_NOFOLLOW | os.O_CLOEXEC)
    except OSError:
        return False
    try:
        fcntl.flock(handle, fcntl.LOCK_SH | fcntl.LOCK_NB)
    except BlockingIOError:
        return True
    except OSError:
        return False
    finally:
        os.close(handle)
    return False


class Hold:
    """A small file held for as long as something is open; what stands in it says who holds it."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._handle: int | None = None

    @property
    def is_ours(self) -> bool:
        """Whether this hold has it."""
        return self._handle is not None

    def take(self, who: str) -> str | None:
        """Take hold and write who does; gives None, or who has it already. Raises OSError where no such file can be made."""
        while self._handle is None:
            handle = os.open(self.path, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC | os.O_NONBLOCK | os.O_NOFOLLOW, 0o644)
            try:
                if not stat.S_ISREG(os.fstat(handle).st_mode):
                    raise OSError(tr("{path} is no plain file", path=self.path.name))
                if not take_hold(handle):
                    return os.read(handle, 400).decode("utf-8", "replace").strip() or "somebody"
                if not self._is_same(handle):
                    continue  # its former owner took it away between our opening and holding it
                os.ftruncate(handle, 0)
                os.write(handle, who.encode("utf-8", "replace"))
                self._handle, handle = handle, -1
            finally:
                if handle >= 0:
                    os.close(handle)
        return None

    def _is_same(self, handle: int) -> bool:
        try:
            return os.path.samestat(os.fstat(handle), os.lstat(self.path))
        except FileNotFoundError:
            return False

    def let_go(self, keep: bool = False) -> None:
        """Let go and take the file away; with ``keep`` it stays, as the death of its owner would leave it."""
        if self._handle is None:
            return
        if not keep:
            with contextlib.suppress(OSError):
                self.path.unlink()
        os.close(self._handle)
        self._handle = None
