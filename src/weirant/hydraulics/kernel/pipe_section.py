"""A round pipe by the depth of the water in it, one section at a time: conveyance as in ``round_pipe``, and the water that it holds."""

from __future__ import annotations

import math

import numpy as np

from weirant.compiling import compiled
from weirant.hydraulics.kernel.kinds import ONE_WAY, OPENING

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
    across = 1.0 - 2.0 * wet  # the cosine of half the angle; the rest follows from it by roots, which are quicker than sines
    angle = 2.0 * math.acos(across)
    half = 2.0 * math.sqrt(wet * (1.0 - wet))
    chord = angle - 2.0 * half * across
    root = np.cbrt(chord / angle)
    carries = full * chord * root * root / (2.0 * math.pi)
    if carries >= full:
        return full, 0.0
    if share < THIN:
        film = share / THIN
        return carries * film * film, 2.0 * carries * film / (THIN * diameter)
    growth = carries * (10.0 / 3.0 * half * half / chord - 2.0 / 3.0 / angle) * 4.0 / (diameter * half)
    return carries, max(growth, 0.0)


@compiled()
def passes_at(depth: float, fall: float, diameter: float, full: float, kind: int) -> tuple[float, float]:
    """The same of a pipe or of an opening, as its ``kind`` says; nothing where it lets water through one way only, and it would ``fall`` the other."""
    if kind & ONE_WAY and fall < 0.0:
        return 0.0, 0.0
    if not kind & OPENING:
        carries, growth = conveyance_at(depth, diameter, full)
        return carries, growth
    if depth <= 0.0:
        return 0.0, 0.0
    if depth >= diameter:
        return full, 0.0
    return full * depth / diameter, full / diameter


@compiled()
def holds_at(depth: float, diameter: float) -> tuple[float, float]:
    """The water in a metre of pipe at a depth m, m², and the width of its surface, m; over the crown that of the slot."""
    slot = SLOT * diameter
    if depth <= 0.0:
        return 0.0, 0.0
    if depth >= diameter:
        return 0.25 * math.pi * diameter * diameter + slot * depth, slot
    share = depth / diameter
    across, half = 1.0 - 2.0 * share, 2.0 * math.sqrt(share * (1.0 - share))
    return 0.25 * diameter * diameter * (math.acos(across) - half * across) + slot * depth, diameter * half + slot
