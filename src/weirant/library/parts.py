"""Fittings and small parts: what is asked for, by what of the layout, and how many."""

from __future__ import annotations

from functools import cache

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
    kind: k.Kind
    is_sized: bool
    source: str
    note: str


@cache
def parts() -> tuple[Part, ...]:
    """Every rule, in the order of the data; a part may have several."""
    return tuple(Part(row["key"], tr(row["name"]), row["for"], float(row["each"]), UNITS[row["unit"]], row["sized"] == "yes", row["source"], tr(row["note"]))
                 for row in rows_in("parts.csv"))  # fmt: skip


@cache
def part_names() -> dict[str, str]:
    """What each part is called, by its key."""
    return {part.key: part.name for part in parts()}
