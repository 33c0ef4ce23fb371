"""A round pipe by the depth of the water in it, one section at a time: conveyance as in ``round_pipe``, and the water that it holds."""

from __future__ import annotations

import math

from weirant.compiling import compiled

THIN = 1e-4  # of the diameter, as in ``round_pipe``
SLOT = 2e-3  # of the diameter: how wide the column of water is thought to be that stands over a pipe that is full, so that its level tells its pressure


@compiled()
def conveyance_at(depth: float, diameter: float, full: float) -> tuple[float, float]:
    """What a pipe carries at a depth m by the root of the slope, m³/s, and its growth with the depth, m²/s; ``full`` at the most."""
    share = depth / diameter
    if share <= 0.0:
        return 0.0, 0.0
    if share >= 1.0 - 1e-9:
        return full, 0.0
    wet = max(share, THIN)
    angle = 2.0 * math.acos(1.0 - 2.0 * wet)
    sine = math.sin(angle)
    chord = angle - sine
    part = chord / angle
    carries = full * chord * math.exp(2.0 / 3.0 * math.log(part)) / (2.0 * math.pi)
    if carries >= full:
        return full, 0.0
    if share < THIN:
        film = share / THIN
        return carries * film * film, 2.0 * carries * film / (THIN * diameter)
    growth = carries * (5.0 / 3.0 * (1.0 - math.cos(angle)) / chord - 2.0 / 3.0 / angle) * 4.0 / (diameter * math.sin(0.5 * angle))
    return carries, max(growth, 0.0)


@compiled()
def holds_at(depth: float, diameter: float) -> tuple[float, float]:
    """The water in a metre of pipe at a depth m, m², and the width of its surface, m; over the crown that of the slot."""
    slot = SLOT * diameter
    if depth <= 0.0:
        return 0.0, 0.0
    if depth >= diameter:
        return 0.25 * math.pi * diameter * diameter + slot * depth, slot
    angle = 2.0 * math.acos(1.0 - 2.0 * depth / diameter)
    return 0.125 * diameter * diameter * (angle - math.sin(angle)) + slot * depth, diameter * math.sin(0.5 * angle) + slot
