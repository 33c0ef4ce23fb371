"""Makes figures by running a registered method, so that each keeps the arguments it was made from."""

from __future__ import annotations

from typing import Any

from weirant.methods.catalogue import REGISTRY
from weirant.outcome.figure import Figure
from weirant.units.display import Kind


def figure(label: str, method: str, kind: Kind, arguments: dict[str, Any], result: str = "", note: str = "") -> Figure:
    """Run the method with SI arguments and keep one of its results (the first where none is named)."""
    entry = REGISTRY[method]
    values = entry.results_of(entry.function(**arguments))
    name = result or next(iter(entry.results))
    return Figure(label, values[name], kind, method, arguments, name, None, note)


def banded(label: str, method: str, kind: Kind, arguments: dict[str, Any], *, key: str, ends: tuple[float, float],
           result: str = "", note: str = "") -> Figure:  # fmt: skip
    """Like figure, with its band from the two ends of one argument."""
    best = figure(label, method, kind, arguments, result, note)
    low, high = (figure(label, method, kind, {**arguments, key: end}, result).value for end in ends)
    return Figure(label, best.value, kind, method, arguments, best.result, (min(low, high), max(low, high)), note)


def counted(label: str, value: float, kind: Kind, note: str) -> Figure:
    """A figure that comes from adding up along the profile rather than from one formula."""
    return Figure(label, value, kind, "", {}, "", None, note)
