"""How a field of a job is described: label, kind of quantity and the values it may take.

One description serves typing on screen, the file's checks, the names of undo steps and the published schema.
"""

from __future__ import annotations

import dataclasses
import math
from typing import Any

from weirant.errors import InputError
from weirant.language import tr
from weirant.records import dataclass
from weirant.units import display as k
from weirant.units.display import Kind, System

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

    def check(self, value: float, system: System | None = None, said: str = "") -> None:
        """Raise InputError where the value is outside what the field may take; of what was ``said`` by somebody, in that one's units."""
        if not math.isfinite(value):
            raise InputError(self.label, tr("must be a finite number"), said or value)
        found = said or f"{value:g}"
        if self.above is not None and value <= self.above:
            raise InputError(self.label, tr("must be more than {above:g}", above=self.above) if system is None or self.above == 0 else tr("must be more than {above}",
                                                                                                                                          above=self._limit(self.above, system)), found)
        if self.at_least is not None and value < self.at_least:
            raise InputError(self.label, tr("must be at least {at_least}", at_least=self._limit(self.at_least, system)), found)
        if self.at_most is not None and value > self.at_most:
            raise InputError(self.label, tr("must be at most {at_most}", at_most=self._limit(self.at_most, system)), found)

    def _limit(self, limit: float, system: System | None) -> str:
        """A limit in SI, or in a system's units where it can be told there."""
        told = k.shown(limit, self.kind, system) if system is not None else ""
        return told if any(c in "123456789" for c in told) or (told and limit == 0) else f"{limit:g} {self.kind.dimension.si_unit}".strip()


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
    return dataclasses.field(default=default, metadata={"spec": Spec(tr(label), kind, above, at_least, at_most)})


def choice(label: str, *words: str, default: Any = dataclasses.MISSING) -> Any:
    """A dataclass field that holds one of a few words."""
    return dataclasses.field(default=default, metadata={"label": tr(label), "words": words})


def plain(label: str, default: Any = dataclasses.MISSING) -> Any:
    """A dataclass field with a label only."""
    return dataclasses.field(default=default, metadata={"label": tr(label)})


def several(label: str, default: Any = dataclasses.MISSING, *, most: int = MOST_ITEMS) -> Any:
    """A dataclass field that holds a list of at most so many pieces."""
    return dataclasses.field(default=default, metadata={"label": tr(label), "most": most})
