"""How kernels are compiled, and where the compiled form is kept."""

from __future__ import annotations

import os
import re
import shutil
from collections.abc import Callable
from hashlib import sha256
from pathlib import Path
from typing import Any

VERSIONS = 4  # of the kernels, whose compiled forms are kept


def kernels_digest(package: Path = Path(__file__).parent) -> str:
    """What tells one version of all kernels from another. A compiled form is kept by the file it is written in alone, but holds what it calls from others too:
    after a change there it would go on as it was before.
    """
    found = sha256()
    for path in sorted(package.glob("*/kernel/*.py")):
        found.update(path.read_bytes())
    return found.hexdigest()[:16]


def _kept_in() -> Path | None:
    """Where the compiled form of this version is kept; None where nothing can be written, and every start compiles anew."""
    given, version = os.environ.get("NUMBA_CACHE_DIR"), kernels_digest()
    base = Path(given or Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "weirant" / "kernel")
    folder = base if base.name == version else base / version  # as it was handed on by the process that began this one
    try:
        if not folder.is_dir():
            folder.mkdir(parents=True)
            if not given:  # in a folder of somebody else's nothing is taken away
                _forget_old(base)
    except OSError:
        return None
    return folder if os.access(folder, os.W_OK) else None


def _forget_old(base: Path) -> None:
    """Take the compiled forms of versions long gone away."""
    old = sorted((path for path in base.iterdir() if path.is_dir() and re.fullmatch("[0-9a-f]{16}", path.name)), key=lambda path: path.stat().st_mtime)
    for path in old[:-VERSIONS]:
        shutil.rmtree(path, ignore_errors=True)


KEPT_IN = _kept_in()
if KEPT_IN is not None:
    os.environ["NUMBA_CACHE_DIR"] = str(KEPT_IN)


def compiled(**options: Any) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Decorator: compile on the first call, keep the result on disk, let other threads run meanwhile.

    No contraction or re-ordering of sums: the same section gives the same figures on every machine of a kind.
    """
    from numba import njit

    return njit(cache=KEPT_IN is not None, nogil=True, error_model="numpy", **options)  # type: ignore[no-any-return]
