"""Conductivity from field tests and from grain size."""

from __future__ import annotations

import math

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.domain import between, not_negative, positive
from weirant.methods.intake import GRAVITY
from weirant.methods.registry import method, read_yes_no
from weirant.units.dimension import LENGTH, NUMBER, SPEED, TEMPERATURE, TIME
from weirant.units.display import in_both


@method("auger-hole",
        keys={"hole_radius": LENGTH, "depth_below_water_table": LENGTH, "mean_drawdown": LENGTH, "rise": LENGTH,
              "time": TIME, "barrier_at_bottom": read_yes_no},
        results={"conductivity": SPEED},
        formula="K = C Δy/Δt,  C = 4.63 (r/y) / ((20 + H/r)(2 − y/H));  on a barrier 4.17 (r/y) / ((10 + H/r)(2 − y/H))",
        sources="vanbeers1958", valid=tr("r 3 to 7 cm, H 0.2 to 2 m, y more than 0.2 H, rise less than a quarter of y"))  # fmt: skip
def auger_hole(hole_radius: float, depth_below_water_table: float, mean_drawdown: float, rise: float, time: float,
               barrier_at_bottom: bool) -> float:  # fmt: skip
    """Conductivity from the rise of water in a bailed auger hole.

    hole_radius m, depth_below_water_table m (hole below the table), mean_drawdown m of the water in the hole during
    the reading, rise m in time s; all > 0, drawdown less than the depth. barrier_at_bottom: the hole ends on the
    hard layer; otherwise it lies at least half the depth deeper. Gives m/s.
    Source: van Beers 1958, ILRI Bulletin 1 (Ernst's formulae; 4000 and 3600 in m/day, cm and s).
    """
    positive(hole_radius=hole_radius, depth_below_water_table=depth_below_water_table, mean_drawdown=mean_drawdown,
             rise=rise, time=time)  # fmt: skip
    if mean_drawdown >= depth_below_water_table:
        raise InputError("mean_drawdown", tr("must be less than depth_below_water_table"), in_both(mean_drawdown))
    depth_ratio = depth_below_water_table / hole_radius
    constant, offset = (3600, 10) if barrier_at_bottom else (4000, 20)
    shape = hole_radius / mean_drawdown / ((offset + depth_ratio) * (2 - mean_drawdown / depth_below_water_table))
    return constant * 100 / 86400 * shape * rise / time


@method("porchet", keys={"hole_radius": LENGTH, "start_depth": LENGTH, "end_depth": LENGTH, "time": TIME},
        results={"conductivity": SPEED}, formula="K = (r/2t) · ln((h₀ + r/2)/(h_t + r/2))", sources="ilri16",
        valid=tr("hole above the water table, soaked first; depths of water above the bottom of the hole"))  # fmt: skip
def porchet(hole_radius: float, start_depth: float, end_depth: float, time: float) -> float:
    """Conductivity from the fall of water in a hole above the water table (inverse auger hole).

    hole_radius m, start_depth m of water (> end_depth), end_depth m (0 or more), time s; gives m/s.
    Source: ILRI Publication 16 (1994) §12, inverse auger-hole method: K = 1.15 r Δlog(h + r/2)/Δt.
    """
    positive(hole_radius=hole_radius, start_depth=start_depth, time=time)
    not_negative(end_depth=end_depth)
    if end_depth >= start_depth:
        raise InputError("end_depth", tr("must be less than start_depth: the water falls"), in_both(end_depth))
    half = hole_radius / 2
    return half * math.log((start_depth + half) / (end_depth + half)) / time


@method("hazen", keys={"d10": LENGTH, "coefficient": NUMBER}, results={"conductivity": SPEED},
        formula="K [cm/s] = C · d10[cm]²", sources="hazen1911", valid=tr("loose clean sand, d10 0.1 to 3 mm; C 40 to 150"))  # fmt: skip
def hazen(d10: float, coefficient: float) -> float:
    """Conductivity of clean sand from its effective size.

    d10 m (> 0); coefficient is Hazen's C for d10 in cm and K in cm/s, about 100 (10 to 1000 taken); gives m/s.
    Source: Hazen 1911.
    """
    positive(d10=d10)
    between(10, 1000, **{"coefficient (Hazen's C for d10 in cm and K in cm/s, about 100)": coefficient})
    return coefficient * (d10 * 100) ** 2 / 100


@method("kozeny-carman", keys={"d_effective": LENGTH, "void_ratio": NUMBER, "temperature": TEMPERATURE},
        results={"conductivity": SPEED}, formula="K = (g / viscosity) · d²/180 · e³/(1 + e)", sources="carman1937",
        valid=tr("sand and gravel without clay, laminar flow; a bare temperature is in °C"))  # fmt: skip
def kozeny_carman(d_effective: float, void_ratio: float, temperature: float) -> float:
    """Conductivity of a granular soil from grain size and voids.

    d_effective m, void_ratio (both > 0), temperature °C (0 to 60); gives m/s. Source: Carman 1937, constant 180.
    """
    positive(d_effective=d_effective, void_ratio=void_ratio)
    viscosity = water_viscosity(temperature)
    return GRAVITY / viscosity * d_effective**2 / 180 * void_ratio**3 / (1 + void_ratio)


def water_viscosity(temperature: float) -> float:
    """Kinematic viscosity of water in m²/s at a temperature of 0 to 60 °C.

    Dynamic viscosity by Kestin, Sokolov and Wakeham 1978, density by McCutcheon et al. 1993 (both recalled);
    within 0.5 % of handbook tables over that range. Raises InputError outside.
    """
    between(0, 60, **{"temperature in °C": temperature})
    cooler = 20 - temperature
    dynamic = 1.002e-3 * 10 ** (cooler / (temperature + 96) * (1.2364 - 1.37e-3 * cooler + 5.7e-6 * cooler**2))
    thinning = (temperature + 288.9414) / (508929.2 * (temperature + 68.12963)) * (temperature - 3.9863) ** 2
    return dynamic / (1000 * (1 - thinning))
