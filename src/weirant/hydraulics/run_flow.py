"""Spatially varied flow along one run: inflow grows downstream, the outlet may hold water back."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from weirant.ground.grade_line import GradeLine
from weirant.ground.inverts import least_slope, slope_at
from weirant.job.line import Line
from weirant.methods.pipe_flow import central_angle, pipe_full_flow

Array = NDArray[np.float64]


@dataclass(frozen=True)
class RunFlow:
    """Flow by station, arrays of shape (n,): discharge m³/s, depth m, water surface elevation m, share of full flow.

    capacity m³/s and full_velocity m/s hold for all pipes together and one pipe, on the flattest length. ``standing`` is the length in m over
    which the outlet's level holds water in the pipe deeper than it would flow.
    """

    discharge: Array
    depth: Array
    surface: Array
    full_fraction: Array
    capacity: float
    full_velocity: float
    velocity_at_outlet: float
    standing: float

    def at_station(self, grade: GradeLine, station: float) -> float:
        """Height of the water over the invert at a station, m."""
        return grade.at(self.surface - grade.invert, station)


def run_flow(grade: GradeLine, line: Line, diameter: float, roughness_n: float, pipes: int, inflow: float,
             at_top: float) -> RunFlow:  # fmt: skip
    """Flow along the run for an inflow (m²/s) spread over the collecting length and a flow (m³/s) let in at the top.

    Normal depth by Manning; where the pipe runs full the energy line rises by friction; below the level at the
    outlet the surface is held level. Source: Chow 1959, ch. 6 and 12 (first approximation of spatially varied flow).
    """
    flattest, slopes = least_slope(line)[0], slope_at(line, grade.stations)
    full = pipe_full_flow(diameter, roughness_n, flattest)
    capacity = full.discharge * pipes
    discharge = at_top + inflow * (line.length - np.maximum(grade.stations, line.solid_length))
    share = discharge / (capacity * np.sqrt(slopes / flattest))  # Manning: full flow grows with the root of the slope
    shares = share.tolist()
    known = {s: _angle(s) for s in set(shares)}  # one flow all along the solid run
    angle = np.array([known[s] for s in shares])
    depth = diameter / 2 * (1 - np.cos(angle / 2))
    surface = _surface(grade, line, diameter, depth, share, slopes)
    standing = float(np.sum(np.diff(grade.stations) * (surface - grade.invert - depth > 1e-3)[:-1]))
    area = diameter**2 / 8 * (angle[0] - np.sin(angle[0])) * pipes
    return RunFlow(discharge, depth, surface, share, capacity, full.velocity,
                   float(discharge[0] / area) if area > 0 else 0.0, standing)  # fmt: skip


def _angle(share: float) -> float:
    """Central angle of the water, the whole circle where the pipe runs full."""
    found = central_angle(share)
    return 2 * np.pi if found is None else found


def _surface(grade: GradeLine, line: Line, diameter: float, depth: Array, share: Array, slopes: Array) -> Array:
    surface = grade.invert + depth
    level = float(surface[0]) if line.receiving_level is None else max(float(surface[0]), line.receiving_level)
    surface[0] = level
    for i in range(1, len(surface)):
        pressed = level >= grade.invert[i - 1] + diameter - 1e-12
        rise = slopes[i] * share[i] ** 2 * (grade.stations[i] - grade.stations[i - 1]) if pressed else 0.0
        level = surface[i] = max(float(surface[i]), level + rise)
    return surface
