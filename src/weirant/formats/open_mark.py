"""Says beside a job file who has it open, so that two windows do not work on one file unawares."""

from __future__ import annotations

import contextlib
import getpass
import hashlib
import os
import socket
from datetime import datetime
from pathlib import Path

from weirant.formats.hold import Hold
from weirant.language import tr


def mark_of(path: Path) -> Path:
    """Where the mark of a job file stands; links lead to the one of the file itself."""
    target = Path(os.path.realpath(path))
    name = target.name if len(os.fsencode(target.name)) < 240 else hashlib.sha256(os.fsencode(target.name)).hexdigest()
    return target.with_name(f".{name}.open")


class OpenMark:
    """The mark of the file that one window has open."""

    def __init__(self) -> None:
        self._hold: Hold | None = None

    def move_to(self, path: Path | None) -> str | None:
        """Mark another file as open here, and the former one no longer; gives who has it open already, if anybody."""
        if self._hold is not None and path is not None and self._hold.path == mark_of(path):
            return None
        self.let_go()
        if path is None:
            return None
        hold = Hold(mark_of(path))
        with contextlib.suppress(OSError):  # a folder that cannot be written to: then nobody else writes there either
            taken = hold.take(_who())
            if taken is not None:
                return taken
            self._hold = hold
        return None

    def let_go(self) -> None:
        """Nothing is open here any more."""
        if self._hold is not None:
            self._hold.let_go()
            self._hold = None


def _who() -> str:
    try:
        user = getpass.getuser()
    except (KeyError, OSError):
        user = "somebody"
    return tr("{user} on {gethostname}, since {now:%Y-%m-%d %H:%M} (process {getpid})", user=user, gethostname=socket.gethostname(), now=datetime.now(), getpid=os.getpid())
