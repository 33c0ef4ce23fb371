"""Round numbers for axes."""

from __future__ import annotations

import math


def nice(value: float) -> float:
    """A round number not less than a value."""
    if value <= 0:
        return 1.0
    size = 10.0 ** math.floor(math.log10(value))
    return next(n * size for n in (1, 1.5, 2, 3, 4, 5, 6, 8, 10) if n * size >= value * (1 - 1e-9))
