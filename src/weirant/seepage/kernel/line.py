"""One-dimensional flow of groundwater on a hard layer (Boussinesq), implicit in time, whole courses at once."""

from __future__ import annotations

from typing import Any

import numpy as np

from weirant.compiling import compiled

TURNS = 2  # corrections of the transmissivity in a step


@compiled()
def _transmissivity(thick: float, low: float, high: float, boundary: float, mean: float) -> float:
    """Of a saturated thickness over the hard layer: conductivity ``low`` below ``boundary``, ``high`` above; a fixed ``mean`` depth where
    it is more than 0 (the linear equation).
    """
    if mean > 0.0:
        return low * mean
    return low * min(thick, boundary) + high * max(thick - boundary, 0.0)


@compiled()
def line_course(width: Any, start: Any, low: float, high: float, boundary: float, porosity: float, ground: float, slope: float, catch: Any,
                drain: int, drain_level: float, drain_conductance: float, upper: float, lower: float, runs_on: bool, mean: float,
                rates: Any, lengths: Any, watched: int) -> tuple[Any, Any, Any, float]:  # fmt: skip
    """Course of the water table.

    width (n,) of the cells, start (n,) thickness of water over the hard layer, m; conductivities m/s; porosity that drains; ground m over
    the hard layer; slope; catch (n,) share of rain that falls in; drain cell (−1: none) with its level m over the hard layer and
    conductance m²/s per m; upper and lower: thickness held at the ends, negative: none; rates (steps,) m/s of rain, lengths (steps,) s;
    watched: the cell whose thickness is kept. Gives thickness at the end (n,), watched (steps,), flow into the drain (steps,) m²/s and
    what ran off, m².
    """
    n, steps = width.size, rates.size
    h = start.copy()
    seen, flow = np.empty(steps), np.zeros(steps)
    lower_band, diagonal, upper_band, rhs, guess = np.empty(n), np.empty(n), np.empty(n), np.empty(n), np.empty(n)
    ran_off = 0.0
    for step in range(steps):
        dt = lengths[step]
        for i in range(n):
            guess[i] = h[i]
        for _ in range(TURNS):
            for i in range(n):
                diagonal[i] = porosity * width[i] / dt
                rhs[i] = porosity * width[i] / dt * h[i] + catch[i] * rates[step] * width[i]
                lower_band[i] = 0.0
                upper_band[i] = 0.0
            for i in range(n - 1):
                gap = 0.5 * (width[i] + width[i + 1])
                t = 0.5 * (_transmissivity(max(guess[i], 0.0), low, high, boundary, mean) + _transmissivity(max(guess[i + 1], 0.0), low, high, boundary, mean))
                c = t / gap
                diagonal[i] += c
                diagonal[i + 1] += c
                upper_band[i] -= c
                lower_band[i + 1] -= c
                if slope > 0.0:
                    # what slides down the slope goes by the water of both cells, more by the one it comes from where the water is thin
                    # beside the fall from cell to cell; linear in their thickness, or long steps would not settle
                    thick = 0.5 * (max(guess[i], 0.0) + max(guess[i + 1], 0.0))
                    lead = max(0.5, 1.0 - thick / (slope * gap))
                    for cell, weight in ((i, lead), (i + 1, 1.0 - lead)):
                        wet = max(guess[cell], 0.0)
                        pace = weight * slope * (0.0 if mean > 0.0 else low if wet < boundary else high)
                        fixed = weight * slope * _transmissivity(wet, low, high, boundary, mean) - pace * wet
                        rhs[i] -= fixed
                        rhs[i + 1] += fixed
                        if cell == i:
                            diagonal[i] += pace
                            lower_band[i + 1] -= pace
                        else:
                            upper_band[i] += pace
                            diagonal[i + 1] -= pace
            for end, level in ((0, upper), (n - 1, lower)):
                if level >= 0.0:
                    c = _transmissivity(0.5 * (max(guess[end], 0.0) + level), low, high, boundary, mean) / (0.5 * width[end])
                    diagonal[end] += c
                    rhs[end] += c * level
                    if slope > 0.0:
                        rhs[end] += (slope if end == 0 else -slope) * _transmissivity(level, low, high, boundary, mean)
            if runs_on:
                wet = max(guess[n - 1], 0.0)
                pace = slope * (0.0 if mean > 0.0 else low if wet < boundary else high)
                diagonal[n - 1] += pace
                rhs[n - 1] -= slope * _transmissivity(wet, low, high, boundary, mean) - pace * wet
            if drain >= 0 and guess[drain] > drain_level:
                diagonal[drain] += drain_conductance
                rhs[drain] += drain_conductance * drain_level
            for i in range(1, n):
                f = lower_band[i] / diagonal[i - 1]
                diagonal[i] -= f * upper_band[i - 1]
                rhs[i] -= f * rhs[i - 1]
            guess[n - 1] = rhs[n - 1] / diagonal[n - 1]
            for i in range(n - 2, -1, -1):
                guess[i] = (rhs[i] - upper_band[i] * guess[i + 1]) / diagonal[i]
        for i in range(n):
            if guess[i] > ground:
                ran_off += porosity * (guess[i] - ground) * width[i]
            h[i] = min(max(guess[i], 0.0), ground)
        if drain >= 0:
            flow[step] = drain_conductance * max(h[drain] - drain_level, 0.0)
        seen[step] = h[watched]
    return h, seen, flow, ran_off
