"""Which inputs a result leans on most."""

from __future__ import annotations

from weirant.errors import WeirantError
from weirant.methods.catalogue import REGISTRY
from weirant.outcome.figure import Figure

NUDGE = 0.1


def leanings(figure: Figure) -> list[tuple[str, float]]:
    """Relative change of a figure for 10 % more of each number put in, largest first; inputs that cannot be moved are left out."""
    method = REGISTRY.get(figure.method)
    if method is None:
        return []
    start = method.results_of(method.function(**figure.arguments))[figure.result]
    if not isinstance(start, (int, float)) or start == 0:
        return []
    found = []
    for key, value in figure.arguments.items():
        if isinstance(value, bool) or not isinstance(value, (int, float)):
            continue
        try:
            moved = method.results_of(method.function(**{**figure.arguments, key: value * (1 + NUDGE)}))[figure.result]
        except WeirantError:
            continue
        if isinstance(moved, (int, float)):
            found.append((key, (moved - start) / abs(start)))
    return sorted(found, key=lambda item: -abs(item[1]))
