"""What a job takes, row by row, each with the run, stretch or node that it comes from."""

from __future__ import annotations

from collections.abc import Iterable

from weirant.records import dataclass
from weirant.units.display import Kind

DIG, STONE, CLOTH, PIPE, PART, TOP = "dig", "stone", "cloth", "pipe", "part", "top"  # what a row is of


@dataclass(frozen=True)
class Origin:
    """Where a row comes from: a run, and the stretch or node of it by its identity."""

    run: str
    piece: str


@dataclass(frozen=True)
class BillRow:
    """So much of one thing, SI, without waste: ``what`` it is, ``key`` and ``size`` in the library (the size of a part is the pipe it fits), where it comes from,
    whether the library says that nobody makes it for that pipe, and how many times as long as usual the work on it takes.
    """

    what: str
    key: str
    size: str
    amount: float
    kind: Kind
    origin: Origin
    to_be_found: bool = False
    dig_time: float = 1.0

    @property
    def of(self) -> tuple[str, str, str]:
        """What it is, with key and size: rows of one are added up."""
        return self.what, self.key, self.size


@dataclass(frozen=True)
class Bill:
    """Every row, in the order of the runs."""

    rows: tuple[BillRow, ...]

    def totals(self) -> dict[tuple[str, str, str], float]:
        """What there is of each, in the order in which it comes up first."""
        found: dict[tuple[str, str, str], float] = {}
        for row in self.rows:
            found[row.of] = found.get(row.of, 0.0) + row.amount
        return found

    def origins(self, of: tuple[str, str, str]) -> tuple[Origin, ...]:
        """Where a thing comes from, each place once."""
        return tuple(dict.fromkeys(row.origin for row in self.rows if row.of == of))

    def at(self, runs: Iterable[str]) -> Bill:
        """The rows of some runs."""
        wanted = set(runs)
        return Bill(tuple(row for row in self.rows if row.origin.run in wanted))
