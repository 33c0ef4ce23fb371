"""A finding: one number against one limit from one source, in codes and numbers; the words for it are made where it is told."""

from __future__ import annotations

import copy
from dataclasses import KW_ONLY, field
from enum import StrEnum
from functools import cached_property
from typing import Any

from weirant.outcome.commands import Command
from weirant.outcome.facts import Facts
from weirant.outcome.figure import Figure
from weirant.records import dataclass
from weirant.units.display import Kind

WAITS = "waits"  # case of one that the section simulator still has to tell
DRY_IN_TIME = "dry-in-time"  # code of the one finding that is simulated, and so comes after the others


class State(StrEnum):
    """How a check came out, worst first."""

    FAILS = "fails"
    TIGHT = "tight"
    UNKNOWN = "unknown"
    HOLDS = "holds"

    def __init__(self, _: str) -> None:
        self.rank = len(type(self).__members__)  # 0 for the worst; no property, which is asked a thousand times with every step of a drag


@dataclass(frozen=True)
class Fix:
    """A change that would help: a command under a code, with the figures that tell what it does.

    It is carried out only when it is looked at or taken. Raises InputError where the job does not let it be.
    """

    code: str
    made: Command
    facts: Facts = field(default_factory=dict)


@dataclass(frozen=True)
class Finding:
    """State, value against limit, what it rests on, source and fixes.

    ``code`` is the check's, which gives it and its family to what it found. ``case`` tells which of the ways a check can come out this is, where the
    state alone does not; ``facts`` are the figures and identities it rests on. ``at_most`` tells which side of the limit is good. ``value`` is None
    where unknown. ``subject`` is the identity of what it is about (empty: the job as a whole), ``place`` that of the place to keep dry which it is
    about, ``piece`` that of the node or stretch of the run where it is about one, ``station`` where on that run it happens, ``elements`` the fields
    it hangs on. ``caution`` is the code of a warning that belongs to it. ``layer`` is the soil and the
    number of its layer where it is about one of several. ``also`` are the subjects of which the same is found, less badly, where
    findings are told together.
    """

    state: State
    case: str = ""
    _: KW_ONLY
    source: str = ""
    facts: Facts = field(default_factory=dict)
    value: float | None = None
    limit: float | None = None
    kind: Kind | None = None
    at_most: bool = True
    figure: Figure | None = None
    fixes: tuple[Fix, ...] = ()
    station: float | None = None
    elements: tuple[str, ...] = ()
    caution: str = ""
    code: str = ""
    family: str = ""
    subject: str = ""
    place: str = ""
    piece: str = ""
    also: tuple[str, ...] = ()
    layer: tuple[str, int] | None = None

    def of(self, **own: Any) -> Finding:
        """The same finding with some of its fields its own: ``dataclasses.replace``, ten times as quick, for every finding of every step of a drag."""
        alike = copy.copy(self)
        vars(alike).update(own)
        return alike

    @property
    def about(self) -> tuple[str, str, str]:
        """What tells it from every other finding: its code, its subject and its place."""
        return self.code, self.subject, self.place

    @property
    def band(self) -> tuple[float, float] | None:
        """The value for the low and the high end of the soil, SI."""
        return self.figure.band if self.figure is not None else None

    @cached_property
    def margin(self) -> float | None:
        """How far the value is on the good side of the limit, SI; negative where it fails."""
        if self.value is None or self.limit is None:
            return None
        return self.limit - self.value if self.at_most else self.value - self.limit
