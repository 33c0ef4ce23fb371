"""How kernels are compiled, and where the compiled form is kept."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path
from typing import Any


def _kept_in() -> Path | None:
    """Where the compiled form is kept; None where nothing can be written, and every start compiles anew."""
    folder = Path(os.environ.get("NUMBA_CACHE_DIR") or Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "weirant" / "kernel")
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError:
        return None
    return folder if os.access(folder, os.W_OK) else None


KEPT_IN = _kept_in()
if KEPT_IN is not None:
    os.environ["NUMBA_CACHE_DIR"] = str(KEPT_IN)


def compiled(**options: Any) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Decorator: compile on the first call, keep the result on disk, let other threads run meanwhile.

    No contraction or re-ordering of sums: the same section gives the same figures on every machine of a kind.
    """
    from numba import njit

    return njit(cache=KEPT_IN is not None, nogil=True, error_model="numpy", **options)  # type: ignore[no-any-return]
