"""Elimination in a band without exchange of rows: the matrix of the flow problem is dominated by its diagonal, by columns."""

from __future__ import annotations

from typing import Any

from weirant.compiling import compiled


@compiled()
def solve_band(band: Any, width: int, rhs: Any) -> bool:
    """Solve in place; band (n, 2 width + 1) row by row with the diagonal in column ``width``, rhs (n,) becomes the answer.

    Gives False where a pivot is nought or not a number.
    """
    n = rhs.size
    for k in range(n):
        pivot = band[k, width]
        if not abs(pivot) > 0.0:
            return False
        last = min(width, n - 1 - k)
        upper = band[k, width + 1 : width + 1 + width]
        for r in range(1, last + 1):
            factor = band[k + r, width - r]
            if factor != 0.0:
                factor /= pivot
                lower = band[k + r, width - r + 1 : 2 * width - r + 1]
                for c in range(width):
                    lower[c] -= factor * upper[c]
                rhs[k + r] -= factor * rhs[k]
    for k in range(n - 1, -1, -1):
        total = rhs[k]
        for c in range(1, min(width, n - 1 - k) + 1):
            total -= band[k, width + c] * rhs[k + c]
        rhs[k] = total / band[k, width]
    return True
