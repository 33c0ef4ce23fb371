"""A number that can answer why."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field
from typing import Any

from weirant.records import dataclass
from weirant.units.display import Kind


@dataclass(frozen=True)
class Figure:
    """A result with its provenance: the registered method, the arguments put in, and which of its results this is.

    ``band`` holds the figure for the low and high end of the soil; ``note`` says what it rests on.
    """

    label: str
    value: float
    kind: Kind
    method: str
    arguments: Mapping[str, Any] = field(default_factory=dict)
    result: str = ""
    band: tuple[float, float] | None = None
    note: str = ""
