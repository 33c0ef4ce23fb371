"""Spatially varied flow along one run: inflow grows downstream, what lies below may hold water back."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from weirant.ground.grade_line import GradeLine
from weirant.ground.inverts import least_slope, slope_at
from weirant.ground.network import LaidRun
from weirant.methods.pipe_flow import central_angles, pipe_full_flow

Array = NDArray[np.float64]
STEEP = 0.01  # m/m: any slope serves to tell what a pipe carries for a unit of it


@dataclass(frozen=True, eq=False)
class RunFlow:
    """Flow by station, arrays of shape (n,): discharge m³/s, depth m, water surface elevation m, share of full flow.

    capacity m³/s and full_velocity m/s hold for all pipes together and one pipe, on the flattest length. ``standing`` is the length in m over
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
    missing: str = ""
    shared: str = ""

    def at_station(self, grade: GradeLine, station: float) -> float:
        """Height of the water over the invert at a station, m."""
        return grade.at(self.surface - grade.invert, station)


def run_flow(grade: GradeLine, run: LaidRun, diameter: float, roughness_n: float, discharge: Array, tailwater: float | None = None,
             doubt: tuple[str, str] = ("", "")) -> RunFlow:  # fmt: skip
    """Flow along a run for a discharge m³/s at each station of its grade line, shape (n,), over a water level m at its low end.

    Normal depth by Manning; where the pipe runs full, or lies level, the energy line rises by friction; below the level at the
    low end the surface is held level. Source: Chow 1959, ch. 6 and 12 (first approximation of spatially varied flow).
    """
    flattest, slopes = least_slope(run)[0], slope_at(run, grade.stations)
    carries = pipe_full_flow(diameter, roughness_n, STEEP).discharge / STEEP**0.5 * run.run.pipes  # by the root of the slope
    friction = (discharge / carries) ** 2
    share = np.divide(discharge, carries * np.sqrt(slopes), out=np.where(discharge > 0, np.inf, 0.0), where=slopes > 0)
    angle = central_angles(share)
    depth = diameter / 2 * (1 - np.cos(angle / 2))
    surface = _surface(grade, diameter, depth, friction, tailwater)
    standing = float(np.sum(np.diff(grade.stations) * (surface - grade.invert - depth > 1e-3)[:-1]))
    area = diameter**2 / 8 * (angle[0] - np.sin(angle[0])) * run.run.pipes
    full = pipe_full_flow(diameter, roughness_n, flattest) if flattest > 0 else None
    return RunFlow(discharge, depth, surface, share, full.discharge * run.run.pipes if full else 0.0, full.velocity if full else 0.0,
                   float(discharge[0] / area) if area > 0 else 0.0, standing, *doubt)  # fmt: skip


def _surface(grade: GradeLine, diameter: float, depth: Array, friction: Array, tailwater: float | None) -> Array:
    surface = grade.invert + depth
    level = float(surface[0]) if tailwater is None else max(float(surface[0]), tailwater)
    surface[0] = level
    for i in range(1, len(surface)):
        pressed = level >= grade.invert[i - 1] + diameter - 1e-12
        rise = friction[i] * (grade.stations[i] - grade.stations[i - 1]) if pressed else 0.0
        level = surface[i] = max(float(surface[i]), level + rise)
    return surface
