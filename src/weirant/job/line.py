"""The run of pipe: from the outlet up, at one constant grade."""

from __future__ import annotations

from dataclasses import dataclass

from weirant.job.fields import choice, plain, quantity
from weirant.units import display as k


@dataclass(frozen=True)
class Bend:
    """A bend in plan: at a station, by an angle in degrees, positive to the left looking uphill."""

    station: float = quantity("station of the bend", k.STATION, at_least=-1e4, at_most=1e4)
    angle: float = quantity("angle of the bend", k.COUNT, at_least=-120, at_most=120)


@dataclass(frozen=True)
class Line:
    """The run in stations from the outlet (0) up; solid pipe first, then the collecting run. Levels m, slope m/m."""

    outlet_invert: float = quantity("outlet invert", k.LEVEL, at_least=-500, at_most=9000)
    slope: float = quantity("slope", k.SLOPE, above=0, at_most=0.5)
    solid_length: float = quantity("solid outlet length", k.STATION, at_least=0, at_most=5000)
    length: float = quantity("whole length", k.STATION, above=0, at_most=5000)
    outlet: str = choice("outlet", "open pipe", "pop-up emitter", "curb core", "bubbler in gravel", default="open pipe")
    receiving_level: float | None = quantity(
        "water level at the outlet", k.LEVEL, at_least=-500, at_most=9000, default=None)  # fmt: skip
    bends: tuple[Bend, ...] = plain("bends", ())
