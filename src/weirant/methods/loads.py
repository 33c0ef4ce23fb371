"""What earth, wheels and water do to what is buried. Information about the practice of design, never a permission."""

from __future__ import annotations

from typing import NamedTuple

from weirant.language import tr
from weirant.methods.domain import not_negative, positive
from weirant.methods.intake import GRAVITY
from weirant.methods.registry import method
from weirant.units.dimension import AREA, DENSITY, LENGTH, MASS, NUMBER, PRESSURE

PATCH = 0.508, 0.254  # m across and along: 20 in by 10 in, the tyres of a heavy wheel
SPREAD = 1.15  # m by which the patch widens with each metre of cover
IMPACT, IMPACT_ENDS = 0.33, 8 * 0.3048  # of the load at the surface; m of cover at which nothing is left of it
BEDDING = 0.1
WATER = 1000.0  # kg/m³


class Deflection(NamedTuple):
    """By what share of its diameter a pipe gives way, and the pressure of earth and wheels on it together, Pa."""

    deflection: float
    pressure: float


class Uplift(NamedTuple):
    """Water that a pit displaces, kg, and how many times the pit weighs that."""

    displaced: float
    safety: float


@method("wheel-pressure", keys={"wheel": MASS, "cover": LENGTH}, results={"pressure": PRESSURE},
        formula="p = W g (1 + I) / ((0.508 + 1.15 H)(0.254 + 1.15 H)),  I = 0.33 (1 − H / 2.44 m), not under 0", sources="aashto_lrfd",
        valid=tr("one wheel of a road vehicle, no pavement that spreads it; wheels close together overlap"))  # fmt: skip
def wheel_pressure(wheel: float, cover: float) -> float:
    """Pressure of a wheel at a depth under it, spread evenly under its widened patch, with what comes of its moving.

    wheel kg, cover m (both more than 0). Source: AASHTO LRFD Bridge Design Specifications, 3.6.1.2.5, 3.6.1.2.6 and 3.6.2.2 (recalled).
    """
    positive(wheel=wheel, cover=cover)
    across, along = (side + SPREAD * cover for side in PATCH)
    return wheel * GRAVITY * (1 + IMPACT * max(1 - cover / IMPACT_ENDS, 0.0)) / (across * along)


@method("ring-deflection", keys={"cover": LENGTH, "soil_density": DENSITY, "live_pressure": PRESSURE, "pipe_stiffness": PRESSURE, "soil_modulus": PRESSURE, "lag": NUMBER},
        results={"deflection": NUMBER, "pressure": PRESSURE}, formula="Δ/D = 0.1 (lag · γ H + W) / (0.149 PS + 0.061 E′)", sources="watkins_spangler1958",
        valid=tr("flexible pipe, bedded and filled at its sides; E′ is that of what lies beside it"))  # fmt: skip
def ring_deflection(cover: float, soil_density: float, live_pressure: float, pipe_stiffness: float, soil_modulus: float, lag: float) -> Deflection:
    """By how much a flexible pipe flattens under its cover and what goes over it: the modified Iowa formula.

    cover m, soil_density kg/m³, pipe_stiffness Pa (at 5 % deflection, ASTM D2412) and soil_modulus E′ Pa more than 0, live_pressure Pa 0 or more; lag 1 or more,
    by which earth settles on with the years. Source: Watkins and Spangler 1958, with the prism of earth over the pipe as its load (pipe handbooks, recalled).
    """
    positive(cover=cover, soil_density=soil_density, pipe_stiffness=pipe_stiffness, soil_modulus=soil_modulus, lag=lag)
    not_negative(live_pressure=live_pressure)
    earth = soil_density * GRAVITY * cover
    return Deflection(BEDDING * (lag * earth + live_pressure) / (0.149 * pipe_stiffness + 0.061 * soil_modulus), earth + live_pressure)


@method("pit-uplift", keys={"pit_area": AREA, "water_over_floor": LENGTH, "pit_mass": MASS}, results={"displaced": MASS, "safety": NUMBER},
        formula="displaced = 1000 A h,  safety = mass / displaced", sources="geometry",
        valid=tr("empty pit in ground that is wet to so much over its floor; friction of the ground at its sides left out"))  # fmt: skip
def pit_uplift(pit_area: float, water_over_floor: float, pit_mass: float) -> Uplift:
    """Whether water in the ground lifts an empty pit out of it.

    pit_area m² outside, water_over_floor m, pit_mass kg of the pit with all that stands on it (all more than 0). Archimedes.
    """
    positive(pit_area=pit_area, water_over_floor=water_over_floor, pit_mass=pit_mass)
    displaced = WATER * pit_area * water_over_floor
    return Uplift(displaced, pit_mass / displaced)
