"""Reads and writes plain files: bounded, never a device or a pipe, never half a file, never another's without a word."""

from __future__ import annotations

import contextlib
import os
import stat
import time
from pathlib import Path

from weirant.errors import JobFileError
from weirant.formats.hold import is_held, take_hold
from weirant.language import tr

LONGEST_NAME = 255  # bytes, of every usual file system
PART = ".weirant-{}.part"
FORGOTTEN = 60.0  # s: a half-written file that old and held by nobody was left by a kill


class ChangedOnDiskError(JobFileError):
    """The file is no longer what was read from it: somebody else has written it meanwhile."""


def digest_of(content: bytes) -> str:
    """What a content is known by."""
    import hashlib  # loads the system's cryptography, which reading a file does without

    return hashlib.sha256(content).hexdigest()


def read_plain(path: Path, largest: int, what: str) -> bytes:
    """The content of a plain file of at most so many bytes.

    Raises JobFileError where it cannot be read, is larger, or is a folder, pipe or device, which might never end. ``what`` names what the file
    was taken for, such as ``a job file``.
    """
    try:
        handle = os.open(path, os.O_RDONLY | os.O_CLOEXEC | os.O_NONBLOCK)  # a pipe that nobody writes to must not be waited for
        with os.fdopen(handle, "rb") as source:
            found = os.fstat(handle)
            if not stat.S_ISREG(found.st_mode):
                raise JobFileError(tr("{path} cannot be read: it is {st_mode}, no plain file.", path=shown_name(path), st_mode=_kind(found.st_mode)))
            content = source.read(largest + 1)
    except JobFileError:
        raise
    except (OSError, ValueError) as fault:
        raise JobFileError(tr("{path} cannot be read: {fault}.", path=shown_name(path), fault=_why(fault))) from fault
    if len(content) > largest:
        raise JobFileError(tr("{path} is too large for {what} ({st_size:.0f} MB; at most {largest:.0f} MB).", path=shown_name(path), what=what,
                              st_size=max(found.st_size, len(content)) / 1000000.0, largest=largest / 1000000.0))
    return content


def read_plain_text(path: Path, largest: int, what: str) -> str:
    """Like ``read_plain``, as text; bytes that are no UTF-8 become replacement marks, so that they are seen."""
    return read_plain(path, largest, what).decode("utf-8-sig", errors="replace")


def write_safely(path: Path, content: bytes, backup: bool = False, expected: str | None = None, private: bool = False) -> None:
    """Write beside the target, force to disk, then put in place in one step: a kill leaves the old file or the new one whole.

    A link is followed and stays a link; the mode of the old file is kept, a new one has the user's own (``private``: the user's alone). With
    ``backup`` the file before is kept beside it with a ~. With ``expected`` the file must still have that digest, else ChangedOnDiskError is raised.
    Raises JobFileError where it cannot be written, or where the target is no plain file; what stood there stands as it was.
    """
    try:
        target = Path(os.path.realpath(path))
        before = _stat(target)
        if before is not None and not stat.S_ISREG(before.st_mode):
            raise JobFileError(tr("{path} is {st_mode}, no plain file; nothing was written. Choose another name.", path=shown_name(path), st_mode=_kind(before.st_mode)))
        if before is not None and expected is not None and digest_of(target.read_bytes()) != expected:
            raise ChangedOnDiskError(tr("{path} was changed by somebody else since it was opened here.", path=shown_name(path)))
        _sweep(target.parent)
        mode = stat.S_IMODE(before.st_mode) if before is not None else 0o600 if private else None
        if backup and before is not None:
            _put(_backup_of(target), target.read_bytes(), mode)
        _put(target, content, mode)
    except JobFileError:
        raise
    except (OSError, ValueError) as fault:
        raise JobFileError(tr("{path} cannot be written: {fault}. The file as it was is untouched.", path=shown_name(path), fault=_why(fault))) from fault


def _put(target: Path, content: bytes, mode: int | None) -> None:
    import secrets

    part = target.parent / PART.format(secrets.token_hex(8))  # a name of its own: the target's may be as long as a name can be
    handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o666 if mode is None else 0o600)
    try:
        take_hold(handle)
        with os.fdopen(handle, "wb") as out:
            if mode is not None:
                os.fchmod(out.fileno(), mode)
            out.write(content)
            out.flush()
            os.fsync(out.fileno())
            os.replace(part, target)
    except BaseException:
        with contextlib.suppress(OSError):
            os.unlink(part)
        raise
    folder = os.open(target.parent, os.O_RDONLY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)


def _sweep(folder: Path) -> None:
    """Take away what a kill left half written here."""
    for part in folder.glob(PART.format("*")):
        with contextlib.suppress(OSError):
            if time.time() - part.lstat().st_mtime > FORGOTTEN and not is_held(part):
                part.unlink()


def _backup_of(target: Path) -> Path:
    name = target.name.encode("utf-8", "surrogateescape")
    return target.with_name(name[: LONGEST_NAME - 1].decode("utf-8", "ignore") + "~")


def _stat(path: Path) -> os.stat_result | None:
    try:
        return path.stat()
    except FileNotFoundError:
        return None


def _kind(mode: int) -> str:
    kinds = ((stat.S_ISDIR, tr("a folder")), (stat.S_ISFIFO, tr("a pipe")), (stat.S_ISSOCK, tr("a socket")))
    return next((words for asks, words in kinds if asks(mode)), tr("a device"))


def shown_name(path: Path) -> str:
    """The name for a message: at most one line of it, whatever a name may hold."""
    text = "".join(c if c.isprintable() else "?" for c in (path.name or str(path)))
    return text if len(text) <= 120 else f"{text[:117]}…"


def _why(fault: Exception) -> str:
    return getattr(fault, "strerror", None) or str(fault)
