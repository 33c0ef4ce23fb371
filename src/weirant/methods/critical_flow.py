"""The depth at which water in a round pipe has the least energy: what it falls to at a free end of a level pipe."""

from __future__ import annotations

import math
from typing import NamedTuple

from weirant.language import tr
from weirant.methods.domain import not_negative, positive
from weirant.methods.intake import GRAVITY
from weirant.methods.registry import method
from weirant.units.dimension import DISCHARGE, LENGTH, SPEED

TURNS = 60


class CriticalFlow(NamedTuple):
    """Depth m, velocity m/s, and depth and velocity head together, m."""

    depth: float
    velocity: float
    energy: float


@method("pipe-critical-depth", keys={"diameter": LENGTH, "discharge": DISCHARGE}, results={"depth": LENGTH, "velocity": SPEED, "energy": LENGTH},
        formula="Q² T = g A³,  T = width of the surface,  energy = depth + v²/2g", sources="chow1959",
        valid=tr("round pipes with a free surface; as deep as the pipe where the flow fills it"))  # fmt: skip
def pipe_critical_depth(diameter: float, discharge: float) -> CriticalFlow:
    """Depth, velocity and energy of critical flow in a round pipe.

    diameter m (> 0), discharge m³/s (0 or more). Source: Chow 1959, §4-3.
    """
    positive(diameter=diameter)
    not_negative(discharge=discharge)
    depth = critical_depth(discharge, diameter)
    angle = 2 * math.acos(1 - 2 * min(depth / diameter, 1.0))
    area = diameter**2 / 8 * (angle - math.sin(angle))
    velocity = discharge / area if area > 0 else 0.0
    return CriticalFlow(depth, velocity, depth + velocity**2 / (2 * GRAVITY))


def critical_depth(flow: float, diameter: float) -> float:
    """Depth m at which a flow m³/s in a round pipe of a diameter m has the least energy; the diameter where it fills the pipe. Chow 1959, §4-3."""
    if flow <= 0:
        return 0.0
    low, high, wanted = 0.0, 2 * math.pi, GRAVITY * (diameter**2 / 8) ** 3 / (diameter * flow**2)
    angle = min(2 * math.acos(1 - 2 * min(1.01 * (flow**2 / GRAVITY) ** 0.25 / diameter**1.26, 0.97)), 5.6)  # within 2 % of it in pipes up to 0.85 full
    for _ in range(TURNS):
        chord, half = angle - math.sin(angle), math.sin(angle / 2)
        left = wanted * chord**3 - half
        low, high = (angle, high) if left < 0 else (low, angle)
        step = left / (3 * wanted * chord**2 * (1 - math.cos(angle)) - math.cos(angle / 2) / 2)
        if abs(step) < 1e-9 * angle:
            break
        angle = angle - step if low < angle - step < high else (low + high) / 2
    return diameter / 2 * (1 - math.cos(angle / 2))
