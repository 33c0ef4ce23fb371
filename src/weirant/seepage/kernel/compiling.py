"""How the kernel is compiled, and where the compiled form is kept."""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path
from typing import Any

_CACHE = Path(os.environ.get("XDG_CACHE_HOME") or Path.home() / ".cache") / "weirant" / "kernel"
os.environ.setdefault("NUMBA_CACHE_DIR", str(_CACHE))


def compiled(**options: Any) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """Decorator: compile on the first call, keep the result on disk, let other threads run meanwhile.

    No contraction or re-ordering of sums: the same section gives the same figures on every machine of a kind.
    """
    from numba import njit

    return njit(cache=True, nogil=True, error_model="numpy", **options)  # type: ignore[no-any-return]
