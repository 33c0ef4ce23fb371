"""Runs beside the main line: branches that join it or another run, and lines with an outlet of their own."""

from __future__ import annotations

from dataclasses import dataclass

from weirant.job.fields import choice, plain, quantity
from weirant.job.line import Line
from weirant.units import display as k

MAIN = "main"
BEST, OVER, UNDER = "best", "over", "under"


@dataclass(frozen=True)
class Branch:
    """A run with its place in plan.

    It joins the run named ``joins`` at a station of that run, or, where ``joins`` is empty, has an outlet of its own at
    ``x``, ``y``. ``bearing`` is that of its first length, degrees anticlockwise from east. ``trench_of`` names the run in
    whose trench it lies; it is then dug once.
    """

    name: str = plain("name of the run")
    line: Line = plain("line")
    joins: str = plain("joins", "")
    joins_at: float = quantity("joins at station", k.STATION, at_least=0, at_most=5000, default=0.0)
    x: float = quantity("outlet, east", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    y: float = quantity("outlet, north", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    bearing: float = quantity("bearing of the first length", k.COUNT, at_least=-720, at_most=720, default=90.0)
    trench_of: str = plain("lies in the trench of", "")


@dataclass(frozen=True)
class CrossingChoice:
    """How a run is to pass a buried line: over, under, or whichever digs less."""

    run: str = plain("run")
    feature: str = plain("buried line")
    way: str = choice("passes", BEST, OVER, UNDER, default=BEST)


@dataclass(frozen=True)
class AsBuilt:
    """An invert level measured in the trench, m, at a station of a run."""

    run: str = plain("run")
    station: float = quantity("station", k.STATION, at_least=0, at_most=5000)
    level: float = quantity("invert as built", k.LEVEL, at_least=-500, at_most=9000)
