"""Machines that dig and carry: what they pass through, how wide and deep they dig, and how steep they go."""

from __future__ import annotations

from functools import cache

from weirant.language import tr
from weirant.library.tables import rows_in
from weirant.records import dataclass


@dataclass(frozen=True)
class Machine:
    """A machine by its key: the least gate m it passes, the widths m of its buckets or chains from narrow to wide and how deep m it digs (none and 0 where it does not),
    and the steepest ground it goes along (m/m); whether it cuts upright walls alone; ``method`` is the way of digging that it stands for.
    """

    key: str
    name: str
    method: str
    gate: float
    widths: tuple[float, ...]
    deep: float
    slope: float
    is_upright: bool
    source: str
    note: str


@cache
def machines() -> dict[str, Machine]:
    """Every machine by its key."""
    return {row["key"]: Machine(row["key"], tr(row["name"]), row["method"], float(row["gate"]), tuple(map(float, row["widths"].split())), float(row["deep"] or 0), float(row["slope"]),
                                row["upright"] == "yes", row["source"], tr(row["note"])) for row in rows_in("machines.csv")}  # fmt: skip
