"""A run of pipe: from its low end up, in lengths of even grade."""

from __future__ import annotations

from dataclasses import dataclass

from weirant.job.fields import choice, quantity, several
from weirant.units import display as k

OPEN_PIPE, POP_UP, CURB_CORE, BUBBLER = "open pipe", "pop-up emitter", "curb core", "bubbler in gravel"
GROUND, SURFACE, ROOF, PUMP = "ground", "surface", "roof", "pump"


@dataclass(frozen=True)
class Bend:
    """A bend in plan: at a station, by an angle in degrees, positive to the left looking uphill."""

    station: float = quantity("station of the bend", k.STATION, at_least=-1e4, at_most=1e4)
    angle: float = quantity("angle of the bend", k.COUNT, at_least=-170, at_most=170)


@dataclass(frozen=True)
class GradeBreak:
    """From a station on, up the run, another slope."""

    station: float = quantity("station of the grade break", k.STATION, above=0, at_most=5000)
    slope: float = quantity("slope above the break", k.SLOPE, above=0, at_most=0.5)


@dataclass(frozen=True)
class Held:
    """An invert level that the user has fixed at a station."""

    station: float = quantity("station of the held invert", k.STATION, at_least=0, at_most=5000)
    level: float = quantity("held invert", k.LEVEL, at_least=-500, at_most=9000)


@dataclass(frozen=True)
class Fitting:
    """Something set into the run at a station. Wyes, bends and end caps follow from the layout and are not listed."""

    station: float = quantity("station of the fitting", k.STATION, at_least=0, at_most=5000)
    kind: str = choice("fitting", "clean-out", "inlet", "riser", "coupler", "vent")


@dataclass(frozen=True)
class Line:
    """A run in stations from its low end (0) up; solid pipe first, then the collecting run. Levels m, slope m/m."""

    outlet_invert: float = quantity("outlet invert", k.LEVEL, at_least=-500, at_most=9000)
    slope: float = quantity("slope", k.SLOPE, above=0, at_most=0.5)
    solid_length: float = quantity("solid outlet length", k.STATION, at_least=0, at_most=5000)
    length: float = quantity("whole length", k.STATION, above=0, at_least=0.3, at_most=5000)
    outlet: str = choice("outlet", OPEN_PIPE, POP_UP, CURB_CORE, BUBBLER, default=OPEN_PIPE)
    receiving_level: float | None = quantity(
        "water level at the outlet", k.LEVEL, at_least=-500, at_most=9000, default=None)  # fmt: skip
    bends: tuple[Bend, ...] = several("bends", ())
    breaks: tuple[GradeBreak, ...] = several("grade breaks", ())
    held: tuple[Held, ...] = several("held inverts", ())
    fittings: tuple[Fitting, ...] = several("fittings", ())
    system: str = choice("carries", GROUND, SURFACE, ROOF, PUMP, default=GROUND)
    least_depth: float | None = quantity(
        "least depth of the collecting run", k.DEPTH, at_least=0, at_most=10, default=None)  # fmt: skip
