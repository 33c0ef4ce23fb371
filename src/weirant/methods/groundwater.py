"""Steady and falling water tables beside drains."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

from weirant.errors import InputError, SolverError
from weirant.language import tr
from weirant.methods.domain import between, not_negative, positive, share
from weirant.methods.registry import method
from weirant.units.dimension import DISCHARGE_PER_LENGTH, LENGTH, NUMBER, SLOPE, SPEED, TIME
from weirant.units.display import in_both


class DrainSpacing(NamedTuple):
    """Spacing between parallel drains and Hooghoudt's equivalent depth at that spacing, both m."""

    spacing: float
    equivalent_depth: float


@method("hooghoudt-equivalent-depth", keys={"spacing": LENGTH, "depth_to_barrier": LENGTH, "drain_radius": LENGTH},
        results={"equivalent_depth": LENGTH},
        formula="d = (π L/8) / (ln(L/(π r)) + F(x)),  x = 2π D/L,  F = Σ 4 e^(−2nx)/(n (1 − e^(−2nx))), n = 1, 3, 5 …",
        sources="vandermolen1991", valid=tr("parallel drains; d is never more than D"))  # fmt: skip
def hooghoudt_equivalent_depth(spacing: float, depth_to_barrier: float, drain_radius: float) -> float:
    """Equivalent depth of the flow below drain level, by the exact series.

    spacing m (> 0, more than π times the radius), depth_to_barrier m below the drains (0 or more), drain_radius m.
    Source: van der Molen and Wesseling 1991.
    """
    positive(spacing=spacing, drain_radius=drain_radius)
    not_negative(depth_to_barrier=depth_to_barrier)
    if spacing <= math.pi * drain_radius:
        raise InputError("spacing", tr("must be more than π times the drain radius"), in_both(spacing))
    x = 2 * math.pi * depth_to_barrier / spacing
    if x <= 0:
        return 0.0
    resistance = math.log(spacing / (math.pi * drain_radius)) + _radial_series(x)
    depth = math.pi * spacing / 8 / resistance if resistance > 0 else math.inf
    return min(depth, depth_to_barrier)


def _radial_series(x: float) -> float:
    """F(x) of van der Molen and Wesseling; the second form converges where the barrier is shallow."""
    if x <= 0.5:
        return math.pi**2 / (4 * x) + math.log(x / (2 * math.pi))
    total = 0.0
    for n in range(1, 200, 2):
        term = 4 * math.exp(-2 * n * x) / (n * -math.expm1(-2 * n * x))
        total += term
        if term < 1e-15:
            break
    return total


@method("hooghoudt-spacing",
        keys={"conductivity_above": SPEED, "conductivity_below": SPEED, "depth_to_barrier": LENGTH,
              "drain_radius": LENGTH, "mid_head": LENGTH, "drainage_rate": SPEED},
        results={"spacing": LENGTH, "equivalent_depth": LENGTH},
        formula="L² = (8 K_b d h + 4 K_a h²) / q,  d from the exact series at L", sources="hooghoudt1940 vandermolen1991",
        valid=tr("parallel drains on level ground, steady recharge, drain level at the boundary of two layers or in one"))  # fmt: skip
def hooghoudt_spacing(conductivity_above: float, conductivity_below: float, depth_to_barrier: float,
                      drain_radius: float, mid_head: float, drainage_rate: float) -> DrainSpacing:  # fmt: skip
    """Spacing of parallel drains that holds the water table at a height above them midway.

    conductivities m/s above and below drain level (> 0), depth_to_barrier m below the drains (0 or more),
    drain_radius m, mid_head m (> 0), drainage_rate m/s (> 0). Raises SolverError if the search does not close.
    Source: Hooghoudt 1940 with the equivalent depth of van der Molen and Wesseling 1991.
    """
    positive(conductivity_above=conductivity_above, conductivity_below=conductivity_below, drain_radius=drain_radius,
             mid_head=mid_head, drainage_rate=drainage_rate)  # fmt: skip
    not_negative(depth_to_barrier=depth_to_barrier)
    if drainage_rate >= min(conductivity_above, conductivity_below):
        raise InputError("drainage_rate", tr("must be less than the conductivity: the soil cannot take in more"),
                         f"{drainage_rate:.3g} m/s")  # fmt: skip

    def depth_at(spacing: float) -> float:
        if spacing <= math.pi * drain_radius * 1.000001:
            return 0.0
        return hooghoudt_equivalent_depth(spacing, depth_to_barrier, drain_radius)

    def excess(spacing: float) -> float:
        below = 8 * conductivity_below * depth_at(spacing) * mid_head
        return spacing**2 - (below + 4 * conductivity_above * mid_head**2) / drainage_rate

    low = 2 * mid_head * math.sqrt(conductivity_above / drainage_rate)
    high = math.sqrt(low**2 + 8 * conductivity_below * depth_to_barrier * mid_head / drainage_rate)
    spacing = bisection(excess, low, high, tr("drain spacing"))
    return DrainSpacing(spacing, depth_at(spacing))


def bisection(function: Callable[[float], float], low: float, high: float, what: str) -> float:
    """Root of a function that is not above nought at ``low`` and not below it at ``high``; raises SolverError else."""
    if function(low) > 1e-12 * (1 + abs(high)) or function(high) < -1e-9 * (1 + high * high):
        raise SolverError(what, function(low))
    for _ in range(200):
        middle = (low + high) / 2
        if middle in (low, high):
            break
        low, high = (middle, high) if function(middle) < 0 else (low, middle)
    return (low + high) / 2


@method("hooghoudt-mid-head",
        keys={"conductivity": SPEED, "depth_to_barrier": LENGTH, "drain_radius": LENGTH, "spacing": LENGTH,
              "drainage_rate": SPEED},
        results={"mid_head": LENGTH}, formula="8 K d h + 4 K h² = q L²,  solved for h",
        sources="hooghoudt1940 vandermolen1991", valid=tr("parallel drains on level ground, one soil, steady recharge"))  # fmt: skip
def hooghoudt_mid_head(conductivity: float, depth_to_barrier: float, drain_radius: float, spacing: float,
                       drainage_rate: float) -> float:  # fmt: skip
    """Height of the water table above drain level midway between parallel drains.

    conductivity m/s, drain_radius m, spacing m (all > 0), depth_to_barrier m and drainage_rate m/s (0 or more); gives m.
    Source: Hooghoudt 1940 with the equivalent depth of van der Molen and Wesseling 1991.
    """
    positive(conductivity=conductivity)
    not_negative(drainage_rate=drainage_rate)
    depth = hooghoudt_equivalent_depth(spacing, depth_to_barrier, drain_radius)
    return math.sqrt(depth**2 + drainage_rate * spacing**2 / (4 * conductivity)) - depth


@method("glover-dumm-spacing",
        keys={"conductivity": SPEED, "equivalent_depth": LENGTH, "time": TIME, "drainable_porosity": NUMBER,
              "initial_mid_head": LENGTH, "final_mid_head": LENGTH},
        results={"spacing": LENGTH}, formula="L = π √(K d t / (μ ln(1.16 h₀/h_t)))", sources="dumm1960",
        valid=tr("water table first a fourth-degree parabola; heads small beside d; h₀ more than h_t"))  # fmt: skip
def glover_dumm_spacing(conductivity: float, equivalent_depth: float, time: float, drainable_porosity: float,
                        initial_mid_head: float, final_mid_head: float) -> float:  # fmt: skip
    """Spacing of parallel drains that lowers the water table midway from one height to another in a time.

    conductivity m/s, equivalent_depth m, time s, heads m above drains (all > 0, initial more than final),
    drainable_porosity above 0 to 1; gives m. Source: Dumm 1960, as in ILRI Publication 16 (1994) §8.3.
    """
    positive(conductivity=conductivity, equivalent_depth=equivalent_depth, time=time,
             drainable_porosity=drainable_porosity, final_mid_head=final_mid_head)  # fmt: skip
    share(drainable_porosity=drainable_porosity)
    if not (math.isfinite(initial_mid_head) and initial_mid_head > final_mid_head):
        raise InputError("initial_mid_head", tr("must be more than final_mid_head"), in_both(initial_mid_head))
    fall = math.log(1.16 * initial_mid_head / final_mid_head)
    return math.pi * math.sqrt(conductivity * equivalent_depth * time / (drainable_porosity * fall))


@method("dupuit-inflow", keys={"conductivity": SPEED, "head_far": LENGTH, "head_drain": LENGTH, "distance": LENGTH},
        results={"discharge_per_length": DISCHARGE_PER_LENGTH}, formula="q = K (H² − h²) / (2 L)",
        sources="dupuit1863", valid=tr("level barrier, one side, no recharge, distance more than about 1.5 H"))  # fmt: skip
def dupuit_inflow(conductivity: float, head_far: float, head_drain: float, distance: float) -> float:
    """Inflow from one side to a drain that stands on or above a level barrier.

    conductivity m/s, head_far m above the barrier at the distance (> 0), head_drain m (0 to head_far), distance m
    (> 0); gives m²/s. Source: Dupuit 1863.
    """
    positive(conductivity=conductivity, head_far=head_far, distance=distance)
    not_negative(head_drain=head_drain)
    if head_drain > head_far:
        raise InputError("head_drain", tr("must not be more than head_far"), in_both(head_drain))
    return conductivity * (head_far**2 - head_drain**2) / (2 * distance)


@method("dupuit-table", keys={"head_far": LENGTH, "head_drain": LENGTH, "distance": LENGTH, "place": LENGTH},
        results={"head": LENGTH}, formula="h(x)² = h² + (H² − h²) x/L", sources="dupuit1863",
        valid=tr("level barrier, no recharge; place between the drain and the undisturbed water table"))  # fmt: skip
def dupuit_table(head_far: float, head_drain: float, distance: float, place: float) -> float:
    """Height of the water table above a level barrier at a place beside the drain.

    head_far, head_drain, place m (0 or more), distance m (> 0); beyond the distance the table is undisturbed.
    Source: Dupuit 1863.
    """
    positive(distance=distance)
    not_negative(head_far=head_far, head_drain=head_drain, place=place)
    return math.sqrt(head_drain**2 + (head_far**2 - head_drain**2) * min(place / distance, 1.0))


@method("interceptor-flow", keys={"conductivity": SPEED, "saturated_depth": LENGTH, "slope": SLOPE},
        results={"discharge_per_length": DISCHARGE_PER_LENGTH}, formula="q = K · D · i", sources="neh624",
        valid=tr("water moving down a slope on a hard layer, table parallel to the slope, slope up to about 30 %"))  # fmt: skip
def interceptor_flow(conductivity: float, saturated_depth: float, slope: float) -> float:
    """Water that comes down a slope in the soil, per length of a drain across it.

    conductivity m/s, saturated_depth m (> 0), slope m/m of the water table (above 0 to 1); gives m²/s.
    Source: Darcy's law as in USDA NRCS National Engineering Handbook Part 624 ch. 10/14, interceptor drains.
    """
    positive(conductivity=conductivity, saturated_depth=saturated_depth, slope=slope)
    between(0.0, 1.0, slope=slope)
    return conductivity * saturated_depth * slope


@method("downslope-table",
        keys={"conductivity": SPEED, "slope": SLOPE, "drain_depth": LENGTH, "wet_depth": LENGTH, "drainage_rate": SPEED,
              "place": LENGTH},
        results={"table_depth": LENGTH}, formula="depth(x) = drain depth − N x / (K i),  never above the undrained table",
        sources="neh624", valid=tr("downslope of an interceptor; hard layer parallel to the ground; recharge N on the strip"))  # fmt: skip
def downslope_table(conductivity: float, slope: float, drain_depth: float, wet_depth: float, drainage_rate: float,
                    place: float) -> float:  # fmt: skip
    """Depth to water downslope of an interceptor drain, where new rain fills the table up again.

    conductivity m/s, slope m/m (> 0), drain_depth m of the water level in the drain, wet_depth m to the undrained
    table, drainage_rate m/s of recharge (0 or more), place m downslope; gives m below ground.
    Source: the downslope reach L = K i (d_e − d_w)/q of NRCS NEH interceptor drains (recalled), solved for depth.
    """
    positive(conductivity=conductivity, slope=slope)
    not_negative(drain_depth=drain_depth, wet_depth=wet_depth, drainage_rate=drainage_rate, place=place)
    return max(drain_depth - drainage_rate * place / (conductivity * slope), wet_depth)
