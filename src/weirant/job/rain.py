"""Storms to try the drain with, and the place's rainfall table."""

from __future__ import annotations

from weirant.job.fields import choice, plain, quantity, several
from weirant.records import dataclass
from weirant.units import display as k

EVEN, PEAKED, OWN = "even", "peak in the middle", "own readings"
TYPES = ("type I", "type IA", "type II", "type III")


@dataclass(frozen=True)
class Storm:
    """A storm by depth m, duration s and shape; with own readings, depths m in steps of so many seconds."""

    name: str = plain("name of the storm")
    shape: str = choice("shape", EVEN, PEAKED, *TYPES, OWN, default=EVEN)
    depth: float = quantity("storm depth", k.RAIN_DEPTH, at_least=0, at_most=1, default=0.0508)
    duration: float = quantity("storm duration", k.DURATION, above=0, at_most=30 * 86400, default=21600.0)
    step: float = quantity("time between readings", k.DURATION, above=0, at_most=86400, default=900.0)
    readings: tuple[float, ...] = several("depth in each step, m", (), most=5_000)


@dataclass(frozen=True)
class RainfallDepth:
    """One entry of the place's table: depth m that falls in a duration s once in so many years."""

    duration: float = quantity("duration", k.DURATION, above=0, at_most=30 * 86400)
    years: float = quantity("once in so many years", k.COUNT, above=0, at_most=1000)
    depth: float = quantity("rain depth", k.RAIN_DEPTH, above=0, at_most=2)
