"""How each kind of quantity is written for the reader: unit, rounding and typing step, imperial and metric.

Display rounding never reaches a stored value.
"""

from __future__ import annotations

import math
from enum import StrEnum
from fractions import Fraction

from weirant.language import digits_here, isolated_here, tr
from weirant.records import dataclass
from weirant.units import dimension as d
from weirant.units.dimension import Dimension
from weirant.units.parse import unit_factor


class System(StrEnum):
    """The user's choice of units."""

    IMPERIAL = "imperial"
    METRIC = "metric"


@dataclass(frozen=True)
class Style:
    """Unit, number of decimals and the step of one key press or nudge, in that unit.

    ``eighths`` writes inches as whole and eighths; ``significant`` keeps figures rather than decimals; ``whole`` rounds to
    whole steps.
    """

    unit: str
    decimals: int
    step: float
    eighths: bool = False
    significant: int = 0
    whole: bool = False


@dataclass(frozen=True)
class Kind:
    """What a number is to the reader. Two lengths may be two kinds: a station and a trench width. ``below_nought`` is what is said of a number
    below nought, which is then told without its sign.
    """

    name: str
    dimension: Dimension
    imperial: Style
    metric: Style
    below_nought: str = ""

    def style(self, system: System) -> Style:
        """The style in the chosen system of units."""
        return self.imperial if system == System.IMPERIAL else self.metric


def _same(name: str, dimension: Dimension, unit: str, decimals: int, step: float, significant: int = 0) -> Kind:
    style = Style(unit, decimals, step, significant=significant)
    return Kind(name, dimension, style, style)


STATION = Kind("station", d.LENGTH, Style("ft", 1, 1.0), Style("m", 2, 0.5))
DISTANCE = Kind("distance", d.LENGTH, Style("ft", 1, 0.5), Style("m", 2, 0.1))
LEVEL = Kind("level", d.LENGTH, Style("ft", 2, 0.02), Style("m", 3, 0.005))
DEPTH = Kind("depth", d.LENGTH, Style("in", 1, 1.0), Style("mm", 0, 25))
WATER_DEPTH = Kind("depth of water", d.LENGTH, DEPTH.imperial, DEPTH.metric, "over the ground")
COVER = Kind("cover", d.LENGTH, DEPTH.imperial, DEPTH.metric, "out of the ground")
SECTION = Kind("section dimension", d.LENGTH, Style("in", 0, 0.5, eighths=True), Style("mm", 0, 5, whole=True))
OPENING = _same("opening", d.LENGTH, "mm", 3, 0.01, significant=2)
AREA = Kind("area", d.AREA, Style("ft²", 0, 50), Style("m²", 1, 5))
VOLUME = Kind("volume", d.VOLUME, Style("yd³", 1, 0.5), Style("m³", 2, 0.5))
WATER_VOLUME = Kind("water volume", d.VOLUME, Style("gal", 0, 10), Style("m³", 2, 0.1))
MASS = Kind("mass", d.MASS, Style("ton", 1, 0.5), Style("t", 1, 0.5))
WEIGHT = Kind("weight", d.MASS, Style("lb", 0, 10), Style("kg", 0, 5))
PRESSURE = Kind("pressure", d.PRESSURE, Style("psi", 1, 1), Style("kPa", 0, 5))
DENSITY = Kind("density", d.DENSITY, Style("lb/ft³", 0, 1), Style("kg/m³", 0, 10))
DISCHARGE = Kind("discharge", d.DISCHARGE, Style("gpm", 1, 1, significant=2), Style("L/s", 2, 0.1, significant=2))
INFLOW = Kind("inflow per length", d.DISCHARGE_PER_LENGTH,
              Style("gpm/100 ft", 2, 0.1, significant=2), Style("L/min/m", 3, 0.01, significant=2))  # fmt: skip
VELOCITY = Kind("velocity", d.SPEED, Style("ft/s", 2, 0.1), Style("m/s", 2, 0.05))
CONDUCTIVITY = Kind("conductivity", d.SPEED,
                    Style("ft/day", 3, 0.1, significant=2), Style("m/day", 3, 0.05, significant=2))  # fmt: skip
RAIN_RATE = Kind("rain rate", d.SPEED, Style("in/day", 3, 0.05), Style("mm/day", 1, 1))
RAIN_DEPTH = Kind("rain depth", d.LENGTH, Style("in", 2, 0.1), Style("mm", 0, 2))
SLOPE = _same("slope", d.SLOPE, "%", 2, 0.1)
SHARE = _same("share", d.NUMBER, "%", 0, 5)
RATIO = _same("ratio", d.NUMBER, "", 2, 0.1)
ROUGHNESS = _same("roughness", d.NUMBER, "", 3, 0.001)
COUNT = _same("count", d.NUMBER, "", 0, 1)
ANGLE = _same("angle", d.NUMBER, "", 0, 5)
DEGREES = _same("degrees", d.NUMBER, "", 7, 1)
DURATION = _same("duration", d.TIME, "h", 1, 1)
SECONDS = _same("time on a stopwatch", d.TIME, "s", 0, 5)
FINE_DEPTH = Kind("depth to water", d.LENGTH, Style("in", 2, 0.05), Style("mm", 0, 1))
PERMITTIVITY = _same("permittivity", d.PER_TIME, "/s", 2, 0.1, significant=2)
OPEN_AREA = Kind("open area per length", d.LENGTH, Style("in²/ft", 2, 0.1), Style("cm²/m", 0, 1))


NAMED_UNITS = ("ft/day", "m/day", "in/day", "mm/day")  # units with a word in them, shown as the language writes it; what is shown can be typed


def unit_of(kind: Kind, system: System) -> str:
    """The unit in which the kind is shown, such as ``gpm``."""
    return kind.style(system).unit


def from_si(value: float, kind: Kind, system: System) -> float:
    """The number in the shown unit, not rounded."""
    unit = unit_of(kind, system)
    return value / unit_factor(unit)[0] if unit else value


def to_si(number: float, kind: Kind, system: System) -> float:
    """SI value of a number in the shown unit."""
    unit = unit_of(kind, system)
    return number * unit_factor(unit)[0] if unit else number


def step_si(kind: Kind, system: System) -> float:
    """The sensible step of the kind, in SI."""
    return to_si(kind.style(system).step, kind, system)


def shown_number(value: float | None, kind: Kind, system: System) -> str:
    """The number as written for the reader, without its unit; an en dash where there is none."""
    if value is None or not math.isfinite(value):
        return "–"
    style, number = kind.style(system), from_si(value, kind, system)
    if style.eighths:
        return _inches(number)
    if style.whole:
        number = round(number / style.step) * style.step
    decimals = style.decimals
    if style.significant and number:
        decimals = max(0, style.significant - 1 - math.floor(math.log10(abs(number)))) if abs(number) < 1e6 else 0
        decimals = min(decimals, 8)
    text = f"{number:,.{decimals}f}"
    return digits_here(text.lstrip("-") if float(text.replace(",", "")) == 0 else text.replace("-", "−"))


def shown(value: float | None, kind: Kind, system: System) -> str:
    """Number and unit as written for the reader, such as ``12 1/2 in``."""
    if kind.below_nought and value is not None and value < 0 and shown_number(value, kind, system) != shown_number(0.0, kind, system):
        return f"{shown(-value, kind, system)} {tr(kind.below_nought)}"
    number, unit = shown_number(value, kind, system), unit_of(kind, system)
    if kind.imperial is DEPTH.imperial and unit == "in" and value is not None and math.isfinite(value) and abs(value) >= 36 * 0.0254:
        return isolated_here(_feet_and_inches(value))
    return number if not unit or value is None or not math.isfinite(value) else isolated_here(f"{number} {tr(unit) if unit in NAMED_UNITS else unit}")


def in_both(value: float, kind: Kind = LEVEL) -> str:
    """The same for words about which nobody knows in which units they are read: ``3.00 ft (0.914 m)``."""
    return f"{shown(value, kind, System.IMPERIAL)} ({shown(value, kind, System.METRIC)})"


def shown_span(seconds: float | None) -> str:
    """A time span in words fit for a sentence."""
    if seconds is None:
        return tr("not within the time looked at")
    if seconds < 5400:
        return tr("{minutes} min", minutes=max(0, round(seconds / 60)))
    hours = seconds / 3600
    return tr("{hours:.0f} h", hours=hours) if hours < 48 else tr("{hours:.1f} days", hours=hours / 24)


def _inches(number: float) -> str:
    eighths = round(abs(number) * 8)
    whole, rest = divmod(eighths, 8)
    sign = "−" if number < 0 and eighths else ""
    if not rest:
        return f"{sign}{whole}"
    return f"{sign}{whole} {Fraction(rest, 8)}" if whole else f"{sign}{Fraction(rest, 8)}"


def _feet_and_inches(value: float) -> str:
    feet, inches = divmod(round(abs(value) / 0.0254), 12)
    return f"{'−' if value < 0 else ''}{feet} ft" + (f" {inches} in" if inches else "")


_BY_DIMENSION = {kind.dimension: kind for kind in (
    DISTANCE, AREA, VOLUME, DURATION, CONDUCTIVITY, DISCHARGE, INFLOW, SLOPE, RATIO, PERMITTIVITY, MASS, DENSITY, PRESSURE)}  # fmt: skip


def plain_shown(value: object, dimension: object, system: System) -> str:
    """An argument of a method as the reader sees it, by its dimension alone; small lengths in inches or millimetres."""
    kind = _BY_DIMENSION.get(dimension) if isinstance(dimension, Dimension) else None
    if kind is None or isinstance(value, bool) or not isinstance(value, (int, float)):
        return (
            digits_here(f"{value:g}") if isinstance(value, float) else str(value) if isinstance(value, (str, int)) else tr("as entered")
        )
    if kind is DISTANCE and abs(value) < 0.02:
        kind = OPENING
    elif kind is DISTANCE and abs(value) < 1:
        kind = DEPTH
    if kind is RATIO:
        return digits_here(f"{value:.4g}")
    return shown(value, kind, system)
