"""Soil curves in compiled form: van Genuchten–Mualem with a small air entry (Vogel and others 2001)."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from weirant.compiling import compiled

# columns of a row of the table of materials
RESIDUAL, SPAN, ALPHA, SHAPE, EXPONENT, ENTRY, ENTRY_SHARE, ENTRY_MUALEM, BEND, STORAGE, NEAR = range(11)


@compiled()
def storage_and_permeability(h: float, m: Any) -> tuple[float, float, float, float]:
    """Water content, its slope in h, relative conductivity, its slope, at a pressure head h m; m is a material's row.

    The content grows beyond air entry by the specific storage, so that it has no flat part.
    """
    if h >= m[ENTRY]:
        return m[RESIDUAL] + m[SPAN] * m[ENTRY_SHARE] + m[STORAGE] * (h - m[ENTRY]), m[STORAGE], 1.0, 0.0
    suction = -h
    exponent, shape = m[EXPONENT], m[SHAPE]
    log_p = shape * math.log(m[ALPHA] * suction)
    if log_p < 30.0:
        p = math.exp(log_p)
        wet, log_wet = 1.0 / (1.0 + p), math.log1p(p)  # 1/(1 + p), ln(1 + p)
    else:
        wet, log_wet = math.exp(-log_p), log_p
    share = math.exp(-exponent * log_wet)
    dry_power = -math.expm1(-exponent * (log_wet - log_p))  # 1 − (p/(1 + p))^m
    slope = exponent * shape / suction * share * (1.0 - wet)  # d share / d h
    saturation = share / m[ENTRY_SHARE]
    ratio = dry_power / m[ENTRY_MUALEM]
    root = math.sqrt(saturation)
    permeability = root * ratio * ratio
    # d ratio / d h from d/du (1 − (1 − u)^m) = m (1 − u)^(m − 1), u = 1/(1 + p), du/dh = u (1 − u) n / |h|
    rise = exponent * (1.0 - dry_power) * wet * shape / suction / m[ENTRY_MUALEM]
    steep = 0.5 * slope / m[ENTRY_SHARE] / root * ratio * ratio + 2.0 * root * ratio * rise
    return m[RESIDUAL] + m[SPAN] * share, m[SPAN] * slope, permeability, steep


@compiled()
def head_at(content: float, m: Any) -> float:
    """Pressure head, m, at a water content below the one at air entry."""
    share = (content - m[RESIDUAL]) / m[SPAN]
    if share >= m[ENTRY_SHARE]:
        return float(m[ENTRY])
    log_u = math.log(share) / m[EXPONENT]
    p = -math.expm1(log_u) * math.exp(-log_u)  # 1/u − 1
    return float(-math.exp(math.log(max(p, 1e-300)) / m[SHAPE]) / m[ALPHA])


@compiled()
def curves_of(h: Any, material: Any, table: Any, content: Any, capacity: Any, permeability: Any, steepness: Any) -> None:
    """Fill the four arrays for every cell."""
    for k in range(h.size):
        content[k], capacity[k], permeability[k], steepness[k] = storage_and_permeability(h[k], table[material[k]])


@compiled()
def not_too_dry(h: Any, material: Any, table: Any) -> None:
    """Raise heads to where a hundred-thousandth of the pores' water is left, in place."""
    for k in range(h.size):
        m = table[material[k]]
        h[k] = max(h[k], head_at(m[RESIDUAL] + 1e-5 * m[SPAN], m))


@compiled()
def contents(h: Any, material: Any, table: Any) -> Any:
    """Water content of every cell."""
    out = np.empty(h.size)
    for k in range(h.size):
        out[k] = storage_and_permeability(h[k], table[material[k]])[0]
    return out
