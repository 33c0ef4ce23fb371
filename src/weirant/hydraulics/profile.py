"""The water surface along a pipe from a level that is given at its low end: backwater, level and adverse reaches, and where it runs full."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

from weirant.methods.critical_flow import critical_depth
from weirant.methods.intake import GRAVITY

NEAR = 1e-7  # m, by which a level of the surface is found
TURNS = 60
SETTLED = 0.03  # of the diameter, over uniform flow


class PipeReach(NamedTuple):
    """A length of one pipe between two sections: length m, inner diameter m, conveyance full m³/s, inverts m at its low and its high end."""

    length: float
    diameter: float
    full: float
    low: float
    high: float


class _At(NamedTuple):
    """Water at a section: area m², friction slope, and the growth with the level of the speed and of the friction slope."""

    speed: float
    friction: float
    speed_grows: float
    friction_grows: float


def surface_up(start: float, reaches: Sequence[PipeReach], flows: Sequence[float], normal: Sequence[float]) -> list[float]:
    """Levels m of the surface at the sections from the low end up, for a level ``start`` m there.

    ``flows`` m³/s of one pipe at the sections, n; reaches n − 1; ``normal`` the level of uniform flow at the sections, infinite where there is none.
    Where the surface comes near to uniform flow it is taken to be that: what comes in along the way keeps it higher by a millimetre or two. The
    standard step method, with that water having no speed of its own. Source: Chow 1959, eq. 12-29 and §10-6. What stands still stands level.
    """
    level, found = start, [start]
    for reach, below, above, uniform_below, uniform in zip(reaches, flows, flows[1:], normal, normal[1:], strict=False):
        length, diameter, full, low, high = reach
        if level <= uniform_below + SETTLED * diameter < math.inf and uniform < math.inf:
            level = uniform
        else:
            # as if the pipe were full all along, written out here since all of a network that is pressed comes by: endlessly low where its low end is not
            lower, upper = below * below, above * above
            stepped = -math.inf if level < low + diameter else level + (lower + upper) / 2 / full**2 * length + (lower - upper) / (GRAVITY * (math.pi * diameter**2 / 4) ** 2)
            if stepped < high + diameter:
                stepped = _stepped(level, reach, abs(below), abs(above))
            level = max(stepped, uniform) if uniform < math.inf else stepped
        found.append(level)
    return found


def _stepped(level: float, reach: PipeReach, below: float, above: float) -> float:
    """The level at the high end of a reach over a level at its low end, for the flows at both; at least at critical depth."""
    if below <= 0:
        return max(level, reach.high)
    here, level = _at(level - reach.low, below, reach), max(level, reach.low)
    if _is_swift(here):
        here = _at(critical_depth(below, reach.diameter), below, reach)
    low, high, rates, is_bounded = reach.high, math.inf, GRAVITY * (above + below), False
    tried = max(level + here.friction * reach.length, low + 0.01 * reach.diameter)
    for _ in range(TURNS):
        there = _at(tried - reach.high, above, reach)
        if not is_bounded and _is_swift(there):  # there may be no level that is no quicker: then it is that of the least energy
            low, is_bounded = reach.high + critical_depth(above, reach.diameter), True
            tried, there = low, _at(low - reach.high, above, reach)
        both = (there.speed + here.speed) / rates
        gains = above * (here.speed - there.speed) + here.speed * (below - above)
        left = tried - level - both * gains - (there.friction + here.friction) / 2 * reach.length
        if is_bounded and tried == low and left >= 0:
            return low
        grows = 1 - there.speed_grows * (gains / rates - both * above) - there.friction_grows / 2 * reach.length
        low, high = (tried, high) if left < 0 else (low, tried)
        step = -left / grows if grows > 0.01 else math.inf
        if abs(step) < NEAR:
            return tried + step
        after = tried + step
        tried = after if low < after < high else (low + high) / 2 if high < math.inf else low + max(tried - level, reach.diameter)
    return tried


def _is_swift(at: _At) -> bool:
    """Whether water flows faster than a wave on it: the square of Froude's number over 1."""
    return -at.speed * at.speed_grows > GRAVITY


def _at(depth: float, flow: float, reach: PipeReach) -> _At:
    """Speed and friction at a depth; the conveyance is never taken for more than the full pipe's."""
    diameter = reach.diameter
    if depth >= diameter:
        return _At(flow / (math.pi * diameter**2 / 4), (flow / reach.full) ** 2, 0.0, 0.0)
    angle = 2 * math.acos(1 - 2 * max(depth / diameter, 1e-6))
    chord, half = angle - math.sin(angle), math.sin(angle / 2)
    area, carries = diameter**2 / 8 * chord, reach.full * chord ** (5 / 3) / (2 * math.pi * angle ** (2 / 3))
    speed = flow / area
    if carries >= reach.full:
        return _At(speed, (flow / reach.full) ** 2, -speed * diameter * half / area, 0.0)
    friction = (flow / carries) ** 2
    turn = 4 / (diameter * half)  # of the angle with the depth
    return _At(speed, friction, -speed * diameter * half / area, -2 * friction * turn * (5 / 3 * (1 - math.cos(angle)) / chord - 2 / 3 / angle))
