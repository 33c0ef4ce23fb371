"""The twelve patterns: ordinary jobs of the trade, each small, with assumed figures on a made-up ground, ready to be dragged onto one's own."""

from __future__ import annotations

from collections.abc import Callable

from weirant.design.patterns import (
    court,
    curtain,
    eave,
    footing,
    grid,
    laterals,
    nearly_level,
    old_drain,
    ring,
    swale,
    three_pipes,
    uphill,
)
from weirant.errors import InputError
from weirant.job import Job
from weirant.language import tr
from weirant.records import dataclass


@dataclass(frozen=True)
class Pattern:
    """A pattern by its key, with its title, what it is in a line, and how its job is made."""

    key: str
    title: str
    hint: str
    job: Callable[[], Job]


PATTERNS = {m.KEY: Pattern(m.KEY, m.TITLE, m.HINT, m.job)
            for m in (curtain, ring, grid, court, swale, eave, footing, laterals, old_drain, uphill, three_pipes, nearly_level)}  # fmt: skip


def pattern(key: str) -> Pattern:
    """The pattern of a key. Raises InputError that lists what there is."""
    found = PATTERNS.get(key)
    if found is None:
        raise InputError("pattern", tr("is not known; there are {patterns}", patterns=", ".join(PATTERNS)), key)
    return found
