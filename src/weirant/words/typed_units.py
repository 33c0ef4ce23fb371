"""Answers in the units in which they were asked for."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from contextlib import suppress
from typing import Any

from weirant.errors import InputError
from weirant.language import digits_here, tr
from weirant.methods.catalogue import Method
from weirant.methods.gradation import read_gradation
from weirant.records import dataclass
from weirant.units import Dimension
from weirant.units.dimension import LENGTH, NUMBER, SLOPE, TEMPERATURE, TIME, UNITS
from weirant.units.display import System
from weirant.units.parse import unit_factor

_LAST_UNIT = re.compile(r".*[\d.¼½¾⅛⅜⅝⅞]\s*(?P<unit>[^\d]*?[²³23]?(?:\s*(?:/|per)\s*[^\d]+[²³23]?)?)\s*$")
_US = {"in", "inch", "inches", "ft", "foot", "feet", "yd", "yard", "yards", "sf", "sqft", "acre", "acres", "ac", "gal", "gallon", "gallons", "cy", "cuyd", "cf", "cuft",
       "gpm", "gph", "cfs", "cfm", "lb", "lbs", "pound", "pounds", "ton", "tons", "f"}  # fmt: skip
_OF_NONE = {"%", "percent", "s", "sec", "second", "seconds", "min", "minute", "minutes", "h", "hr", "hrs", "hour", "hours", "d", "day", "days", "per", ""}

# units of an answer where such a thing was not typed, from large to small: the first is taken that leaves a number of one or more, or else the last
_USUAL: Mapping[System, Mapping[str, tuple[str, ...]]] = {
    System.METRIC: {"length": ("m", "mm"), "area": ("m²",), "volume": ("m³", "L"), "speed": ("m/s", "m/day", "mm/day"), "discharge": ("L/s", "L/min"),
                    "discharge per length": ("L/s/m", "L/min/m"), "number per length": ("/m",)},
    System.IMPERIAL: {"length": ("ft", "in"), "area": ("ft²",), "volume": ("yd³", "gal"), "speed": ("ft/s", "in/h", "in/day"), "discharge": ("gpm",),
                      "discharge per length": ("gpm/ft", tr("gpm/100 ft")), "number per length": ("/ft",)},
}  # fmt: skip
_TIMES = ("day", "h", "min", "s")


@dataclass(frozen=True)
class TypedUnits:
    """The units in which things of each dimension were typed, and the systems of all that was typed; none where nothing had a unit."""

    of: Mapping[str, tuple[str, ...]]
    systems: tuple[System, ...]

    def text(self, value: float, dimension: Dimension) -> str:
        """A result: in a unit in which such a thing was typed, or else one of its system; in SI where nothing had a unit; in both where it was mixed."""
        own = self.of.get(dimension.name, ())
        if dimension in (NUMBER, SLOPE, TEMPERATURE) or not (own or self.systems):
            return digits_here(f"{value:.6g} {dimension.si_unit}".strip())
        if dimension is TIME:
            return _in_one_of(own or _TIMES, value)
        by_system = [tuple(unit for unit in own if system in _systems(unit)) or _USUAL[system].get(dimension.name, ()) for system in self.systems]
        said = [_in_one_of(units, value) for units in (by_system or [own]) if units] or [digits_here(f"{value:.6g} {dimension.si_unit}")]
        return f"{said[0]} ({', '.join(said[1:])})" if len(said) > 1 else said[0]


def _in_one_of(units: tuple[str, ...], value: float) -> str:
    by_size = sorted(((unit_factor(unit)[0], unit) for unit in units), reverse=True)
    factor, unit = next((each for each in by_size if abs(value) >= each[0]), by_size[-1])
    if not math.isfinite(value / factor):
        raise InputError("", tr("what comes out is beyond all numbers in {unit}; check the values given", unit=unit))
    return digits_here(f"{value / factor:.6g} {unit}")


def typed_units(method: Method, given: Mapping[str, object]) -> TypedUnits:
    """The units of what was typed for the keys of a method; sizes of grains are in mm, wherever they are."""
    of: dict[str, dict[str, None]] = {}
    systems: dict[System, None] = {}
    for key, value in given.items():
        dimension = method.keys.get(key)
        if dimension is read_gradation:
            of.setdefault(LENGTH.name, {})["mm"] = None
            continue
        if not isinstance(value, str):
            continue
        unit = value if value in UNITS else _unit_of(value)
        dimension = dimension if isinstance(dimension, Dimension) else LENGTH  # what is read as text is levels and their unit
        systems |= dict.fromkeys(_systems(unit))
        with suppress(InputError):  # several units in one value, or a fall of so much in so much: neither is a unit for an answer
            if unit and unit_factor(unit)[1] == dimension.exponents and dimension not in (NUMBER, SLOPE):
                of.setdefault(dimension.name, {})[unit] = None
    return TypedUnits({name: tuple(units) for name, units in of.items()}, tuple(systems))


def _unit_of(text: str) -> str:
    plain = text.strip().replace("′", "'").replace("″", '"').replace("’", "'").replace("”", '"')
    found = _LAST_UNIT.match(plain)
    return found["unit"].strip().replace("'", "ft").replace('"', "in") if found else ""


def _systems(unit: str) -> tuple[System, ...]:
    words = [word.rstrip("²³23") for word in re.split(r"[\s/·]+|\bper\b", unit.lower())]
    telling = [word for word in words if word not in _OF_NONE]
    if not telling or telling[0] not in UNITS:
        return ()
    return (System.IMPERIAL,) if telling[0] in _US else (System.METRIC,)


def result_text(units: TypedUnits, value: Any, dimension: Dimension | None) -> str:
    """A result as it is printed; a table of results one after another."""
    if value is None:
        return tr("not reached by what was given")
    if isinstance(value, dict):
        return ", ".join(f"{key} {result_text(units, item, dimension)}" for key, item in value.items())
    if isinstance(value, str) or dimension is None:
        return str(value)
    return units.text(float(value), dimension)
