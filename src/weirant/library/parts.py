"""Fittings and small parts: what is asked for, by what of the layout, and how many."""

from __future__ import annotations

import dataclasses
from functools import cache

from weirant.job.part_rules import PartRule, PartRules
from weirant.language import tr
from weirant.library.tables import rows_in
from weirant.records import dataclass
from weirant.units import display as k

UNITS = {"piece": k.COUNT, "m": k.DISTANCE, "m2": k.AREA, "m3": k.VOLUME}


@dataclass(frozen=True)
class Part:
    """A part by its key: so many of it ``each`` time that the layout has what it is ``wanted`` for; sized by the pipe it fits, or not."""

    key: str
    name: str
    wanted: str
    each: float
    unit: str
    is_sized: bool
    source: str
    note: str

    @property
    def kind(self) -> k.Kind:
        """What it is counted in."""
        return UNITS[self.unit]


@cache
def parts() -> tuple[Part, ...]:
    """Every rule, in the order of the data; a part may have several."""
    return tuple(Part(row["key"], tr(row["name"]), row["for"], float(row["each"]), row["unit"], row["sized"] == "yes", row["source"], tr(row["note"]))
                 for row in rows_in("parts.csv"))  # fmt: skip


def parts_by(rules: PartRules) -> tuple[Part, ...]:
    """Every rule with the figures that a job sets in the place of the library's, and after them those of its own parts."""
    if rules == PartRules():
        return parts()
    counts = {(rule.part, rule.wanted): rule.each for rule in rules.counts}
    found = [dataclasses.replace(part, each=counts.get((part.key, part.wanted), part.each)) for part in parts()]
    return (*found, *(Part(own.key, own.name, own.wanted, own.each, own.unit, False, "user", "") for own in rules.own))


def is_counted(rule: PartRule) -> bool:
    """Whether the library counts a part for what a rule says."""
    return any((part.key, part.wanted) == (rule.part, rule.wanted) for part in parts())
