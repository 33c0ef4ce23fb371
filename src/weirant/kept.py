"""Numbers of an earlier start that are dear to work out again, kept in the user's cache folder; nothing is lost where they cannot be."""

from __future__ import annotations

import contextlib
import json
import os
from collections.abc import Callable, Sequence
from importlib.util import find_spec
from pathlib import Path

MOST = 200  # rows of numbers under one name; past that all begin anew

Row = tuple[float, ...]


def kept(name: str, library: str, on: Sequence[float], make: Callable[[], Sequence[float]], may_be: Callable[[Row], bool]) -> Row:
    """What a library gave for some numbers in an earlier start, as long as it is the same library; else what it gives now, which is kept.

    What is kept is looked at as if a stranger had written it: a file that was cut off, or holds what ``may_be`` refuses, costs the time of working it
    out. ``library`` is the name of a package, which is not imported for it.
    """
    file, stamp, key = _folder() / f"{name}.json", _stamp(library), json.dumps([float(number) for number in on])
    rows = _read(file, stamp)
    if key in rows and may_be(rows[key]):
        return rows[key]
    made = tuple(float(number) for number in make())
    if may_be(made):
        _write(file, stamp, {**(rows if len(rows) < MOST else {}), key: made})
    return made


def _folder() -> Path:
    return Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "weirant"


def _stamp(library: str) -> str:
    """What tells one version of a library from another: where it lies and when its files were last put there."""
    spec = find_spec(library)
    with contextlib.suppress(OSError):
        return " ".join([str(spec.origin), *(str(part.stat().st_mtime_ns) for part in sorted(Path(str(spec.origin)).parent.iterdir()))]) if spec is not None else ""
    return ""


def _read(file: Path, stamp: str) -> dict[str, Row]:
    try:
        found = json.loads(file.read_text(encoding="utf-8"))
        if found["stamp"] != stamp or not stamp:
            return {}
        return {key: tuple(float(number) for number in row) for key, row in found["rows"].items()}
    except (OSError, ValueError, TypeError, KeyError, AttributeError, RecursionError):
        return {}


def _write(file: Path, stamp: str, rows: dict[str, Row]) -> None:
    """Whole or not at all: several windows and the checks of a script may write at once."""
    import tempfile

    with contextlib.suppress(OSError):
        file.parent.mkdir(parents=True, exist_ok=True)
        handle, name = tempfile.mkstemp(dir=file.parent, prefix=file.stem)
        try:
            with os.fdopen(handle, "w", encoding="utf-8") as out:
                json.dump({"stamp": stamp, "rows": rows}, out)
            os.replace(name, file)
        except OSError:
            Path(name).unlink(missing_ok=True)
