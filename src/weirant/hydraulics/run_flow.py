"""Spatially varied flow along one run: inflow grows downstream, what lies below may hold water back."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from weirant.ground.grade_line import GradeLine
from weirant.hydraulics.pipes_along import PipesAlong
from weirant.hydraulics.profile import PipeReach, surface_up
from weirant.job.doubt import Doubt
from weirant.methods.critical_flow import critical_depth
from weirant.methods.pipe_flow import central_angles
from weirant.records import dataclass

Array = NDArray[np.float64]
DROP = 1e-9  # m³/s: a drop of water in a minute, less than which is none


@dataclass(frozen=True, eq=False)
class RunFlow:
    """Flow by station, arrays of shape (n,): discharge m³/s, depth m, water surface elevation m, share of full flow.

    capacity m³/s and full_velocity m/s hold for all pipes together and one pipe, where they are least. ``standing`` is the length in m over
    which water from below stands in the pipe deeper than it would flow. ``missing`` and ``shared`` say why the flow is not known for sure.
    """

    discharge: Array
    depth: Array
    surface: Array
    full_fraction: Array
    capacity: float
    full_velocity: float
    velocity_at_outlet: float
    standing: float
    missing: Doubt | None = None
    shared: Doubt | None = None

    def at_station(self, grade: GradeLine, station: float) -> float:
        """Height of the water over the invert at a station, m."""
        return grade.at(self.surface - grade.invert, station)


@dataclass(frozen=True, eq=False)
class StormFlow:
    """Most flow of the design storm by station, arrays of shape (n,): discharge m³/s and share of full flow; and whether all of it was simulated, or is
    no more than what cannot be exceeded. ``surface`` m is that of the water in a run of which some lies level, where flow alone tells nothing.
    """

    discharge: Array
    full_fraction: Array
    surface: Array | None = None
    is_simulated: bool = False


def run_flow(lies: PipesAlong, discharge: Array, tailwater: float | None = None, doubt: tuple[Doubt | None, Doubt | None] = (None, None),
             levels: Sequence[float | None] = ()) -> RunFlow:  # fmt: skip
    """Flow in the pipes of a run for a discharge m³/s at each station of its grade line, shape (n,), over a water level m at its low end. A discharge
    below nought flows up the stations. ``levels`` m are those at its nodes where these were worked out all at once.

    Normal depth by Manning; from the low end of each piece, or from the end that its water flows to, up: backwater, pipes that run full, and level
    ones step by step. Source: Chow 1959, ch. 6, 10 and 12.
    """
    invert, diameter, share = lies.grade.invert, lies.diameter, lies.full_fraction(discharge)
    angle = central_angles(share)
    depth = diameter / 2 * (1 - np.cos(angle / 2))
    normal = np.where(angle < 2 * np.pi, invert + depth, np.inf)
    surface = _surface(lies, discharge, normal, tailwater, levels)
    standing = float(np.sum(np.diff(lies.grade.stations) * (surface - invert - depth > 1e-3)[:-1]))
    area = float(diameter[0]) ** 2 / 8 * (angle[0] - np.sin(angle[0])) * lies.run.run.pipes
    return RunFlow(discharge, depth, surface, share, lies.capacity, lies.velocity, abs(float(discharge[0] / area)) if area > 0 else 0.0, standing, *doubt)


def _surface(lies: PipesAlong, discharge: Array, normal: Array, tailwater: float | None, levels: Sequence[float | None]) -> Array:
    """Levels m of the surface at the stations of a grade line; piece by piece where the levels at the nodes are known, else from the low end up."""
    flows, surface, normals, reaches = (discharge / lies.run.run.pipes).tolist(), np.array(lies.grade.invert), normal.tolist(), lies.reaches
    known = [level for level in levels if level is not None]
    ends = lies.at_nodes if known else (0, len(surface) - 1)
    level = tailwater
    for number, (low, high) in enumerate(pairwise(ends)):
        if high <= low:  # a piece shorter than the grade line has stations for
            continue
        below, above = (levels[number], levels[number + 1]) if known else (None, None)
        parts = high if above is None else next((k for k in range(low, high) if flows[k] + flows[k + 1] < 0), high)  # over it water flows up the stations
        if parts > low:
            start = below if below is not None else level
            surface[low : parts + 1] = surface_up(_start(start, normals[low], reaches[low].low, reaches[low], flows[low]), reaches[low:parts], flows[low : parts + 1],
                                                  normals[low : parts + 1])  # fmt: skip
        if parts < high:
            backwards = [PipeReach(r.length, r.diameter, r.full, r.high, r.low) for r in reversed(reaches[parts:high])]
            down = surface_up(_start(above, normals[high], reaches[high - 1].high, reaches[high - 1], flows[high]), backwards,
                              [-q for q in reversed(flows[parts : high + 1])], [math.inf] * (high + 1 - parts))  # fmt: skip
            surface[parts : high + 1] = down[::-1]
        level = float(surface[high])
    return surface


def _start(level: float | None, normal: float, invert: float, reach: PipeReach, flow: float) -> float:
    """The level from which the surface is worked out: what stands there, or else that of uniform flow, or of a free fall where there is none."""
    free = normal if normal < math.inf else invert + critical_depth(abs(flow), reach.diameter)
    return free if level is None else max(level, free)
