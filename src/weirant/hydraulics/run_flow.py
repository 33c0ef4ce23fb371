"""Spatially varied flow along one run: inflow grows downstream, what lies below may hold water back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from weirant.ground.grade_line import GradeLine
from weirant.ground.inverts import least_slope, slope_at
from weirant.ground.network import LaidRun
from weirant.ground.stretches import LaidStretch
from weirant.job.doubt import Doubt
from weirant.methods.pipe_flow import central_angles, pipe_full_flow

Array = NDArray[np.float64]
STEEP = 0.01  # m/m: any slope serves to tell what a pipe carries for a unit of it


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
    no more than what cannot be exceeded.
    """

    discharge: Array
    full_fraction: Array
    is_simulated: bool = False


def run_flow(grade: GradeLine, run: LaidRun, stretches: Sequence[LaidStretch], discharge: Array, tailwater: float | None = None,
             doubt: tuple[Doubt | None, Doubt | None] = (None, None)) -> RunFlow:  # fmt: skip
    """Flow along a run, in the pipes of its stretches, for a discharge m³/s at each station of its grade line, shape (n,), over a water level m
    at its low end.

    Normal depth by Manning; where the pipe runs full, or lies level, the energy line rises by friction; below the level at the
    low end the surface is held level. Source: Chow 1959, ch. 6 and 12 (first approximation of spatially varied flow).
    """
    carries, diameter = _pipes_along(grade.stations, run, stretches)
    friction = (discharge / carries) ** 2
    share = _of_full(discharge, carries, slope_at(run, grade.stations))
    angle = central_angles(share)
    depth = diameter / 2 * (1 - np.cos(angle / 2))
    surface = _surface(grade, diameter, depth, friction, tailwater)
    standing = float(np.sum(np.diff(grade.stations) * (surface - grade.invert - depth > 1e-3)[:-1]))
    area = float(diameter[0]) ** 2 / 8 * (angle[0] - np.sin(angle[0])) * run.run.pipes
    full = [full_flow(run, stretch) for stretch in stretches]
    return RunFlow(discharge, depth, surface, share, min(q for q, _ in full), min(v for _, v in full), float(discharge[0] / area) if area > 0 else 0.0, standing, *doubt)


def full_fraction(grade: GradeLine, run: LaidRun, stretches: Sequence[LaidStretch], discharge: Array) -> Array:
    """Share of full flow that a discharge m³/s at each station of the grade line is, shape (n,); infinite where water is to run level."""
    return _of_full(discharge, _pipes_along(grade.stations, run, stretches)[0], slope_at(run, grade.stations))


def _of_full(discharge: Array, carries: Array, slopes: Array) -> Array:
    return np.divide(discharge, carries * np.sqrt(slopes), out=np.where(discharge > 0, np.inf, 0.0), where=slopes > 0)


def _pipes_along(stations: Array, run: LaidRun, stretches: Sequence[LaidStretch]) -> tuple[Array, Array]:
    """What all pipes side by side carry full, m³/s by the root of the slope, and inner diameter m, at each station; where two stretches meet
    those of the one that carries less.
    """
    carries, diameter = np.full(len(stations), np.inf), np.zeros(len(stations))
    for stretch in stretches:
        pipe = stretch.make.pipe
        carried = pipe_full_flow(pipe.inner_diameter, pipe.roughness_n, STEEP).discharge / STEEP**0.5 * run.run.pipes
        here = stretch.holds(stations) & (carried < carries)
        carries[here], diameter[here] = carried, pipe.inner_diameter
    return carries, diameter


def full_flow(run: LaidRun, stretch: LaidStretch) -> tuple[float, float]:
    """Discharge m³/s of all pipes and velocity m/s in a stretch that runs full at its flattest; nought where it lies level."""
    slope, pipe = least_slope(run, stretch.low, stretch.high)[0], stretch.make.pipe
    if slope <= 0:
        return 0.0, 0.0
    full = pipe_full_flow(pipe.inner_diameter, pipe.roughness_n, slope)
    return full.discharge * run.run.pipes, full.velocity


def _surface(grade: GradeLine, diameter: Array, depth: Array, friction: Array, tailwater: float | None) -> Array:
    free, crown, rises = (grade.invert + depth).tolist(), (grade.invert + diameter - 1e-12).tolist(), (friction[1:] * np.diff(grade.stations)).tolist()
    level = free[0] if tailwater is None else max(free[0], tailwater)
    surface = [level]
    for low, above, rise in zip(crown, free[1:], rises, strict=False):
        level = max(above, level + rise if level >= low else level)
        surface.append(level)
    return np.array(surface)
