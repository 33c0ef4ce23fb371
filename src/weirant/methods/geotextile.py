"""What a geotextile must do against a soil: hold it back, let water through, not clog."""

from __future__ import annotations

from typing import NamedTuple

from weirant.language import tr
from weirant.methods.domain import between, not_negative, positive
from weirant.methods.registry import method, read_choice, read_percent
from weirant.units.dimension import LENGTH, NUMBER, PER_TIME, SPEED

LESS_CRITICAL, CRITICAL = "less-critical", "critical"
DYNAMIC = "dynamic"
PLASTIC, COHESIVE, LOOSE = 7.0, 0.30e-3, 0.22e-3  # plasticity index over which fine soil holds together; largest openings m over and under it


class GeotextileLimits(NamedTuple):
    """Largest opening O95 and smallest against clogging m, least permittivity 1/s, least conductivity m/s.

    o95_min_anticlogging is None where C_u is 3 or less: take the largest opening that retention allows.
    """

    o95_max: float
    o95_min_anticlogging: float | None
    permittivity_min: float
    conductivity_min: float


@method("geotextile-limits",
        keys={"percent_passing_75um": read_percent, "d85": LENGTH, "d15": LENGTH, "uniformity": NUMBER,
              "plasticity_index": NUMBER, "soil_conductivity": SPEED,
              "application": read_choice(LESS_CRITICAL, CRITICAL, DYNAMIC), "wrap_kind": read_choice("nonwoven", "woven")},
        results={"o95_max": LENGTH, "o95_min_anticlogging": LENGTH, "permittivity_min": PER_TIME, "conductivity_min": SPEED},
        formula="O95 ≤ B · d85, and ≤ 0.30 mm (0.22 mm where the plasticity index is 7 or less) over 50 % fines;  "
                "permittivity ≥ 0.5, 0.2 or 0.1 /s by fines;  k_g ≥ k_s (10 k_s critical);  O95 ≥ 3 d15 where C_u > 3",
        sources="fhwa_nhi_07_092 aashto_m288", valid=tr("stable soils; gap-graded and dispersive soils want a filtration test"))  # fmt: skip
def geotextile_limits(*, percent_passing_75um: float, d85: float, d15: float, uniformity: float, plasticity_index: float,
                      soil_conductivity: float, application: str, wrap_kind: str) -> GeotextileLimits:  # fmt: skip
    """Limits of a geotextile filter beside a soil.

    percent_passing_75um 0 to 100 (a share such as "40 %" is read as 40), sizes m (d15 not more than d85),
    uniformity 1 or more, plasticity_index, soil_conductivity m/s; application less-critical, critical or dynamic
    (waves, traffic pumping); wrap_kind nonwoven or woven. Source: FHWA NHI-07-092 (2008) §2.3 to 2.4:
    B by C_u for sands (1, C_u/2, 8/C_u), 1.8 nonwoven and 1 woven for silts and clays, 0.5 dynamic. AASHTO M 288 for soils of more than 50 % fines:
    O95 ≤ 0.30 mm where the plasticity index is over 7, else 0.22 mm (recalled).
    """
    positive(d85=d85, d15=d15, soil_conductivity=soil_conductivity)
    not_negative(plasticity_index=plasticity_index)
    between(0, 100, percent_passing_75um=percent_passing_75um)
    between(1, float("1e6"), uniformity=uniformity)
    between(0, d85, d15=d15)
    return GeotextileLimits(
        o95_max=_largest_opening(percent_passing_75um, d85, uniformity, plasticity_index, application, wrap_kind),
        o95_min_anticlogging=3 * d15 if uniformity > 3 else None,
        permittivity_min=0.5 if percent_passing_75um < 15 else 0.2 if percent_passing_75um <= 50 else 0.1,
        conductivity_min=soil_conductivity * (1 if application == LESS_CRITICAL else 10),
    )


def _largest_opening(fines: float, d85: float, uniformity: float, plasticity: float, application: str, wrap_kind: str) -> float:
    if application == DYNAMIC:
        factor = 0.5
    elif fines > 50:
        factor = 1.8 if wrap_kind == "nonwoven" else 1.0
    elif uniformity <= 2 or uniformity >= 8:
        factor = 1.0
    else:
        factor = 0.5 * uniformity if uniformity <= 4 else 8 / uniformity
    return min(factor * d85, COHESIVE if plasticity > PLASTIC else LOOSE) if fines > 50 else factor * d85
