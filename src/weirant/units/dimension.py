"""The physical dimensions Weirant knows and the units that may be typed, each with its factor to SI."""

from __future__ import annotations

from weirant.records import dataclass

Exponents = tuple[int, int, int]  # length, time, mass


@dataclass(frozen=True)
class Dimension:
    """A physical dimension with the SI unit a bare number is taken in, and an example for messages."""

    name: str
    exponents: Exponents
    si_unit: str
    example: str


LENGTH = Dimension("length", (1, 0, 0), "m", "4 in")
AREA = Dimension("area", (2, 0, 0), "m²", "200 ft2")
VOLUME = Dimension("volume", (3, 0, 0), "m³", "2 yd3")
TIME = Dimension("time", (0, 1, 0), "s", "24 h")
SPEED = Dimension("speed", (1, -1, 0), "m/s", "0.3 m/day")
DISCHARGE = Dimension("discharge", (3, -1, 0), "m³/s", "75 gpm")
DISCHARGE_PER_LENGTH = Dimension("discharge per length", (2, -1, 0), "m²/s", "0.2 gpm/ft")
PER_LENGTH = Dimension("number per length", (-1, 0, 0), "1/m", "12 /m")
PER_TIME = Dimension("rate", (0, -1, 0), "1/s", "0.5 /s")
MASS = Dimension("mass", (0, 0, 1), "kg", "3 ton")
DENSITY = Dimension("density", (-3, 0, 1), "kg/m³", "1600 kg/m3")
PRESSURE = Dimension("pressure", (-1, -2, 1), "Pa", "5 psi")
SLOPE = Dimension("slope", (0, 0, 0), "", "1 %")
NUMBER = Dimension("number", (0, 0, 0), "", "0.5")
TEMPERATURE = Dimension("temperature", (0, 0, 0), "°C", "10 °C")

_INCH, _FOOT, _GALLON, _POUND = 0.0254, 0.3048, 3.785411784e-3, 0.45359237
_L, _A, _V, _T, _M = (1, 0, 0), (2, 0, 0), (3, 0, 0), (0, 1, 0), (0, 0, 1)
_FLOW, _NONE, _P = (3, -1, 0), (0, 0, 0), (-1, -2, 1)
_GRAVITY = 9.80665


def _names(factor: float, exponents: Exponents, words: str) -> dict[str, tuple[float, Exponents]]:
    return dict.fromkeys(words.split(), (factor, exponents))


UNITS: dict[str, tuple[float, Exponents]] = {
    **_names(1.0, _L, "m metre metres meter meters"), **_names(1e-3, _L, "mm"), **_names(1e-2, _L, "cm"),
    **_names(1e3, _L, "km"), **_names(1e-6, _L, "um µm μm micron microns"),
    **_names(_INCH, _L, 'in inch inches "'), **_names(_FOOT, _L, "ft foot feet '"),
    **_names(3 * _FOOT, _L, "yd yard yards"),
    **_names(_FOOT**2, _A, "sf sqft"), **_names(1e4, _A, "ha"), **_names(4046.8564224, _A, "acre acres ac"),
    **_names(1e-3, _V, "l litre litres liter liters"), **_names(1e-6, _V, "ml"),
    **_names(_GALLON, _V, "gal gallon gallons"), **_names(27 * _FOOT**3, _V, "cy cuyd"), **_names(_FOOT**3, _V, "cf cuft"),
    **_names(1.0, _T, "s sec second seconds"), **_names(60.0, _T, "min minute minutes"),
    **_names(3600.0, _T, "h hr hrs hour hours"), **_names(86400.0, _T, "d day days"),
    **_names(_GALLON / 60, _FLOW, "gpm"), **_names(_GALLON / 3600, _FLOW, "gph"),
    **_names(_FOOT**3, _FLOW, "cfs"), **_names(_FOOT**3 / 60, _FLOW, "cfm"),
    **_names(1.0, _M, "kg"), **_names(1e-3, _M, "g"), **_names(1e3, _M, "t tonne tonnes"),
    **_names(_POUND, _M, "lb lbs pound pounds"), **_names(2000 * _POUND, _M, "ton tons"),
    **_names(1.0, _P, "Pa"), **_names(1e3, _P, "kPa"), **_names(1e6, _P, "MPa"), **_names(_POUND * _GRAVITY / _INCH**2, _P, "psi"),
    **_names(_POUND * _GRAVITY / _FOOT**2, _P, "psf"), **_names(0.01, _NONE, "% percent"),
}  # fmt: skip
