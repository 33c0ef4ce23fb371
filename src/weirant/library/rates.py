"""How much a crew or a machine does in an hour."""

from __future__ import annotations

from functools import cache

from weirant.language import tr
from weirant.library.tables import rows_in
from weirant.records import dataclass


@dataclass(frozen=True)
class Rate:
    """A kind of work by its key: of what, how much in an hour at the least, usually and at the most (m, m², m³ or pieces), how many people, and the machine they have; ``method`` is how the
    trench is dug where it is for one way only, ``way`` the share of the time that goes on a way of 100 ft.
    """

    key: str
    name: str
    method: str
    of: str
    least: float
    usual: float
    most: float
    unit: str
    crew: int
    machine: str
    way: float
    source: str
    note: str


@cache
def rates() -> tuple[Rate, ...]:
    """Every rate, in the order of the work."""
    return tuple(Rate(row["key"], tr(row["name"]), row["method"], row["of"], float(row["least"]), float(row["usual"]), float(row["most"]), row["unit"], int(row["crew"]),
                      row["machine"], float(row["way"]), row["source"], tr(row["note"])) for row in rows_in("rates.csv"))  # fmt: skip
