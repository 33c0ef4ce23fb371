"""Rod readings as booked."""

from __future__ import annotations

from dataclasses import dataclass

from weirant.job.fields import plain, quantity
from weirant.units import display as k


@dataclass(frozen=True)
class Shot:
    """One line of the level book. A station means a shot on the line; none, the benchmark or a turning point.

    ``unread`` keeps an entry that could not be understood, so that it stays in sight and can be mended.
    """

    point: str = plain("point")
    station: float | None = quantity("station", k.STATION, at_least=-1e4, at_most=1e4, default=None)
    backsight: float | None = quantity("backsight", k.LEVEL, at_least=-10, at_most=30, default=None)
    foresight: float | None = quantity("rod reading", k.LEVEL, at_least=-10, at_most=30, default=None)
    unread: str = plain("entry not understood", "")


@dataclass(frozen=True)
class Survey:
    """The level book: first shot on the benchmark, last shot on it again to close."""

    shots: tuple[Shot, ...] = plain("shots", ())
    benchmark_name: str = plain("benchmark", "BM")
    benchmark_elevation: float = quantity("benchmark elevation", k.LEVEL, at_least=-500, at_most=9000, default=30.48)
    staff_length: float = quantity("staff length", k.LEVEL, above=0, at_most=10, default=3.6576)
    allowed_misclosure: float = quantity("allowed misclosure", k.LEVEL, above=0, at_most=1, default=0.006096)
