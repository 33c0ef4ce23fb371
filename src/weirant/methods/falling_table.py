"""Drains in ponded ground, between ditches or pipes, and how a water table falls in time."""

from __future__ import annotations

import math

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.domain import not_negative, positive, share
from weirant.methods.registry import method
from weirant.units.dimension import DISCHARGE_PER_LENGTH, LENGTH, NUMBER, SPEED, TIME
from weirant.units.display import in_both


@method("kirkham-ponded", keys={"conductivity": SPEED, "drain_depth": LENGTH, "depth_to_barrier": LENGTH, "drain_radius": LENGTH, "ponded_depth": LENGTH},
        results={"discharge_per_length": DISCHARGE_PER_LENGTH},
        formula="q = 2πK (t + d − r) / ln(tan(π(2d − r)/4h) cot(πr/4h))", sources="kirkham1949",
        valid=tr("one drain that runs full under wide ponded ground; barrier depth h from the surface, centre depth d"))  # fmt: skip
def kirkham_ponded(conductivity: float, drain_depth: float, depth_to_barrier: float, drain_radius: float, ponded_depth: float) -> float:
    """Flow into a drain while water stands on the ground.

    conductivity m/s, drain_depth m to its centre, depth_to_barrier m from the surface (more than drain_depth + radius),
    drain_radius m (all > 0), ponded_depth m (0 or more); gives m²/s. Source: Kirkham 1949 (recalled).
    """
    positive(conductivity=conductivity, drain_depth=drain_depth, depth_to_barrier=depth_to_barrier, drain_radius=drain_radius)
    not_negative(ponded_depth=ponded_depth)
    if drain_radius >= drain_depth:
        raise InputError("drain_depth", tr("must be more than the radius"), in_both(drain_depth))
    if depth_to_barrier < drain_depth + drain_radius:
        raise InputError("depth_to_barrier", tr("must be below the drain"), in_both(depth_to_barrier))
    upper = math.tan(math.pi * (2 * drain_depth - drain_radius) / (4 * depth_to_barrier))
    resistance = math.log(upper / math.tan(math.pi * drain_radius / (4 * depth_to_barrier)))
    return 2 * math.pi * conductivity * (ponded_depth + drain_depth - drain_radius) / resistance


@method("ellipse-spacing", keys={"conductivity": SPEED, "drain_height": LENGTH, "mid_height": LENGTH, "drainage_rate": SPEED},
        results={"spacing": LENGTH}, formula="L = √(4 K (b² − a²)/q)", sources="neh624",
        valid=tr("drains on or near the barrier (a small beside L); heights above the barrier; steady recharge"))  # fmt: skip
def ellipse_spacing(conductivity: float, drain_height: float, mid_height: float, drainage_rate: float) -> float:
    """Spacing of parallel drains by the ellipse equation.

    conductivity m/s, drain_height m (0 or more) and mid_height m (more than it) above the barrier, drainage_rate m/s (> 0);
    gives m. Source: USDA NRCS National Engineering Handbook Part 624 ch. 4 / Part 650 ch. 14.
    """
    positive(conductivity=conductivity, mid_height=mid_height, drainage_rate=drainage_rate)
    not_negative(drain_height=drain_height)
    if mid_height <= drain_height:
        raise InputError("mid_height", tr("must be more than drain_height"), in_both(mid_height))
    return math.sqrt(4 * conductivity * (mid_height**2 - drain_height**2) / drainage_rate)


@method("van-schilfgaarde-spacing",
        keys={"conductivity": SPEED, "equivalent_depth": LENGTH, "time": TIME, "drainable_porosity": NUMBER, "initial_mid_head": LENGTH, "final_mid_head": LENGTH},
        results={"spacing": LENGTH}, formula="L = √(9 K t d / (μ ln(h₀(2d + h)/(h(2d + h₀)))))", sources="vanschilfgaarde1963 neh624",
        valid=tr("falling table, also where heads are not small beside d; h₀ more than h; no rain meanwhile"))  # fmt: skip
def van_schilfgaarde_spacing(conductivity: float, equivalent_depth: float, time: float, drainable_porosity: float, initial_mid_head: float,
                             final_mid_head: float) -> float:  # fmt: skip
    """Spacing of parallel drains that lowers the table midway from one height to another in a time.

    conductivity m/s, equivalent_depth m, time s, heads m above drains (all > 0, initial more than final), drainable_porosity
    above 0 to 1; gives m. Source: van Schilfgaarde 1963 in the form of NRCS NEH 624 (recalled).
    """
    positive(conductivity=conductivity, equivalent_depth=equivalent_depth, time=time, drainable_porosity=drainable_porosity, final_mid_head=final_mid_head)
    share(drainable_porosity=drainable_porosity)
    if not (math.isfinite(initial_mid_head) and initial_mid_head > final_mid_head):
        raise InputError("initial_mid_head", tr("must be more than final_mid_head"), in_both(initial_mid_head))
    first, last, d = initial_mid_head, final_mid_head, equivalent_depth
    fall = math.log(first * (2 * d + last) / (last * (2 * d + first)))
    return math.sqrt(9 * conductivity * time * d / (drainable_porosity * fall))


@method("glover-mid-head", keys={"conductivity": SPEED, "saturated_depth": LENGTH, "spacing": LENGTH, "drainable_porosity": NUMBER, "initial_head": LENGTH, "time": TIME},
        results={"mid_head": LENGTH}, formula="h/h₀ = (4/π) Σ (±1/n) e^(−n²π²KDt/(μL²)),  n = 1, 3, 5 …", sources="dumm1960 boussinesq1904",
        valid=tr("level table before, heads small beside D, no rain meanwhile; the full series, good at early times too"))  # fmt: skip
def glover_mid_head(conductivity: float, saturated_depth: float, spacing: float, drainable_porosity: float, initial_head: float, time: float) -> float:
    """Height of a falling water table above the drains, midway, by the whole series.

    conductivity m/s, saturated_depth m (mean depth of flow), spacing m, initial_head m (all > 0), drainable_porosity above 0 to 1,
    time s (0 or more); gives m. Source: Glover's solution as given by Dumm 1960, from Boussinesq's linear equation.
    """
    positive(conductivity=conductivity, saturated_depth=saturated_depth, spacing=spacing, drainable_porosity=drainable_porosity, initial_head=initial_head)
    share(drainable_porosity=drainable_porosity)
    not_negative(time=time)
    pace = math.pi**2 * conductivity * saturated_depth * time / (drainable_porosity * spacing**2)
    total, sign = 0.0, 1.0
    for n in range(1, 4001, 2):
        term = math.exp(-n * n * pace) / n
        total += sign * term
        sign = -sign
        if term < 1e-14:
            break
    else:  # at the very start the series hardly shrinks and its sum is one
        total = math.pi / 4
    return initial_head * 4 / math.pi * total
