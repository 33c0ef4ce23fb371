"""Checks of a formula's domain. Each refuses with the name of the argument; numbers and arrays alike."""

from __future__ import annotations

import math
from collections.abc import Callable

from weirant.errors import InputError
from weirant.language import tr


def _refuse(values: dict[str, float], holds: Callable[[float], bool], rule: str) -> None:
    for name, value in values.items():
        if not (math.isfinite(value) and holds(value)):
            raise InputError(name, rule, value)


def positive(**values: float) -> None:
    """Refuse what is not finite and more than 0."""
    _refuse(values, lambda v: v > 0, tr("must be more than 0"))


def not_negative(**values: float) -> None:
    """Refuse what is not finite and 0 or more."""
    _refuse(values, lambda v: v >= 0, tr("must not be less than 0"))


def share(**values: float) -> None:
    """Refuse what is not between 0 and 1."""
    _refuse(values, lambda v: 0 <= v <= 1, tr("must be between 0 and 1 (0 % and 100 %)"))


def between(low: float, high: float, **values: float) -> None:
    """Refuse what is not between two limits, both allowed."""
    _refuse(values, lambda v: low <= v <= high, tr("must be between {low:g} and {high:g}", low=low, high=high))


def whole(**values: float) -> None:
    """Refuse what is not a whole number of 1 or more."""
    _refuse(values, lambda v: v >= 1 and v == int(v), tr("must be a whole number of 1 or more"))
