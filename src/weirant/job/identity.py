"""Identities: short, stable, never shown; a name may change, an identity does not."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

RUN, NODE, THING, HOLE, SECTION, STRETCH, BORE, SOIL, SOURCE, OLD = "r", "n", "t", "h", "s", "p", "b", "g", "w", "d"  # how the identities of each kind begin


def fresh(things: Iterable[Any], kind: str) -> str:
    """An identity that none of the things has: one more than the largest number in use."""
    numbers = [int(t.id[1:]) for t in things if t.id[:1] == kind and t.id[1:].isdecimal()]
    return f"{kind}{max(numbers, default=0) + 1}"


def index_of(things: Iterable[Any], identity: str) -> int:
    """Where the thing of an identity stands, −1 for none."""
    return next((i for i, t in enumerate(things) if t.id == identity), -1)


def by_id(things: Iterable[Any], identity: str) -> Any | None:
    """The thing of an identity, None where there is none."""
    return next((t for t in things if t.id == identity), None)
