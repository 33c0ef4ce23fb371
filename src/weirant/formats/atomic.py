"""Writes a file so that a kill or a power cut at any moment leaves the old one or the new one whole."""

from __future__ import annotations

import contextlib
import os
import tempfile
from pathlib import Path

from weirant.errors import JobFileError


def write_safely(path: Path, content: bytes, backup: Path | None = None) -> None:
    """Write beside the target, force to disk, then put in place in one step; the file before goes to ``backup``.

    Raises JobFileError where it cannot be written; the old file then stands as it was.
    """
    try:
        if backup is not None and path.exists():
            _put(backup, path.read_bytes())
        _put(path, content)
    except OSError as fault:
        raise JobFileError(
            f"{path.name} cannot be written: {fault.strerror or fault}. The file as it was is untouched."
        ) from fault


def _put(path: Path, content: bytes) -> None:
    handle, name = tempfile.mkstemp(prefix=f".{path.name}.", suffix=".part", dir=path.parent)
    try:
        with os.fdopen(handle, "wb") as target:
            target.write(content)
            target.flush()
            os.fsync(target.fileno())
        os.chmod(name, path.stat().st_mode & 0o777 if path.exists() else 0o644)
        os.replace(name, path)
    except BaseException:
        with contextlib.suppress(OSError):
            os.unlink(name)
        raise
    folder = os.open(path.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)
