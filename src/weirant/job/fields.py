"""How a field of a job is described: label, kind of quantity and the values it may take.

One description serves typing on screen, the file's checks, the names of undo steps and the published schema.
"""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass
from typing import Any

from weirant.errors import InputError
from weirant.units import display as k
from weirant.units.display import Kind

# What is more than nought and yet no figure of this trade, SI: a field that must be more than 0 takes no less than this (common practice, no source).
SMALLEST = {k.STATION: 0.01, k.DISTANCE: 0.01, k.LEVEL: 1e-4, k.DEPTH: 1e-3, k.FINE_DEPTH: 1e-4, k.SECTION: 1e-4, k.OPENING: 1e-7, k.RAIN_DEPTH: 1e-5,
            k.CONDUCTIVITY: 1e-13, k.SLOPE: 1e-5, k.SHARE: 1e-3, k.COUNT: 1e-2, k.DURATION: 1.0, k.AREA: 1e-2,
            k.RAIN_RATE: 1e-10}  # fmt: skip
LONGEST_TEXT, MOST_ITEMS = 10_000, 2_000  # characters of a text; pieces of a list that says nothing else


@dataclass(frozen=True)
class Spec:
    """Label, kind and limits (SI) of a numeric field; ``above`` is exclusive, the others inclusive."""

    label: str
    kind: Kind
    above: float | None = None
    at_least: float | None = None
    at_most: float | None = None

    def check(self, value: float) -> None:
        """Raise InputError where the value is outside what the field may take."""
        if not math.isfinite(value):
            raise InputError(self.label, "must be a finite number", value)
        if self.above is not None and value <= self.above:
            raise InputError(self.label, f"must be more than {self.above:g}", f"{value:g}")
        if self.at_least is not None and value < self.at_least:
            raise InputError(self.label, f"must be at least {self.at_least:g} {self.kind.dimension.si_unit}".strip(), f"{value:g}")
        if self.at_most is not None and value > self.at_most:
            raise InputError(
                self.label, f"must be at most {self.at_most:g} {self.kind.dimension.si_unit}".strip(), f"{value:g}"
            )


def quantity(
    label: str,
    kind: Kind,
    *,
    above: float | None = None,
    at_least: float | None = None,
    at_most: float | None = 1e5,
    default: Any = dataclasses.MISSING,
) -> Any:
    """A dataclass field that holds a number (or None where not known) under a Spec."""
    if above == 0 and at_least is None:
        at_least = SMALLEST.get(kind)
    return dataclasses.field(default=default, metadata={"spec": Spec(label, kind, above, at_least, at_most)})


def choice(label: str, *words: str, default: Any = dataclasses.MISSING) -> Any:
    """A dataclass field that holds one of a few words."""
    return dataclasses.field(default=default, metadata={"label": label, "words": words})


def plain(label: str, default: Any = dataclasses.MISSING) -> Any:
    """A dataclass field with a label only."""
    return dataclasses.field(default=default, metadata={"label": label})


def several(label: str, default: Any = dataclasses.MISSING, *, most: int = MOST_ITEMS) -> Any:
    """A dataclass field that holds a list of at most so many pieces."""
    return dataclasses.field(default=default, metadata={"label": label, "most": most})
