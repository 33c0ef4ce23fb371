"""Spatially varied flow along one run: inflow grows downstream, what lies below may hold water back."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from weirant.ground.grade_line import GradeLine
from weirant.ground.inverts import least_slope, slope_at
from weirant.ground.network import LaidRun
from weirant.ground.stretches import LaidStretch
from weirant.hydraulics.losses import adaptor
from weirant.hydraulics.profile import PipeReach, surface_up
from weirant.job.doubt import Doubt
from weirant.library import Pipe
from weirant.methods.critical_flow import critical_depth
from weirant.methods.intake import GRAVITY
from weirant.methods.pipe_flow import central_angles, pipe_full_flow

Array = NDArray[np.float64]
DROP = 1e-9  # m³/s: a drop of water in a minute, less than which is none
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
    no more than what cannot be exceeded. ``surface`` m is that of the water in a run of which some lies level, where flow alone tells nothing.
    """

    discharge: Array
    full_fraction: Array
    surface: Array | None = None
    is_simulated: bool = False


def run_flow(grade: GradeLine, run: LaidRun, stretches: Sequence[LaidStretch], discharge: Array, tailwater: float | None = None,
             doubt: tuple[Doubt | None, Doubt | None] = (None, None), levels: Sequence[float | None] = (), losses: Sequence[float] = ()) -> RunFlow:  # fmt: skip
    """Flow along a run, in the pipes of its stretches, for a discharge m³/s at each station of its grade line, shape (n,), over a water level m
    at its low end. A discharge below nought flows up the stations. ``levels`` m are those at its nodes where these were worked out all at once,
    ``losses`` the velocity heads lost at the low end of each of its pieces.

    Normal depth by Manning; from the low end of each piece, or from the end that its water flows to, up: backwater, pipes that run full, and level
    ones step by step. Source: Chow 1959, ch. 6, 10 and 12.
    """
    carries, diameter = _pipes_along(grade.stations, run, stretches)
    share = _of_full(discharge, carries, slope_at(run, grade.stations))
    angle = central_angles(share)
    depth = diameter / 2 * (1 - np.cos(angle / 2))
    normal = np.where(angle < 2 * np.pi, grade.invert + depth, np.inf)
    surface = _surface(grade, run, stretches, discharge, normal, tailwater, levels, losses)
    standing = float(np.sum(np.diff(grade.stations) * (surface - grade.invert - depth > 1e-3)[:-1]))
    area = float(diameter[0]) ** 2 / 8 * (angle[0] - np.sin(angle[0])) * run.run.pipes
    full = [full_flow(run, stretch) for stretch in stretches]
    return RunFlow(discharge, depth, surface, share, min(q for q, _ in full), min(v for _, v in full), abs(float(discharge[0] / area)) if area > 0 else 0.0, standing, *doubt)


def full_fraction(grade: GradeLine, run: LaidRun, stretches: Sequence[LaidStretch], discharge: Array) -> Array:
    """Share of full flow that a discharge m³/s at each station of the grade line is, shape (n,); infinite where water is to run level."""
    return _of_full(discharge, _pipes_along(grade.stations, run, stretches)[0], slope_at(run, grade.stations))


def _of_full(discharge: Array, carries: Array, slopes: Array) -> Array:
    flows = np.abs(discharge)
    return np.divide(flows, carries * np.sqrt(slopes), out=np.where(flows > 0, np.inf, 0.0), where=slopes > 0)


def _pipes_along(stations: Array, run: LaidRun, stretches: Sequence[LaidStretch]) -> tuple[Array, Array]:
    """What all pipes side by side carry full, m³/s by the root of the slope, and inner diameter m, at each station; where two stretches meet
    those of the one that carries less.
    """
    if len(stretches) == 1:
        return np.full(len(stations), full_conveyance(stretches[0].make.pipe) * run.run.pipes), np.full(len(stations), stretches[0].make.pipe.inner_diameter)
    carries, diameter = np.full(len(stations), np.inf), np.zeros(len(stations))
    for stretch in stretches:
        pipe = stretch.make.pipe
        carried = full_conveyance(pipe) * run.run.pipes
        here = stretch.holds(stations) & (carried < carries)
        carries[here], diameter[here] = carried, pipe.inner_diameter
    return carries, diameter


@lru_cache(maxsize=256)
def full_conveyance(pipe: Pipe) -> float:
    """What a pipe carries full by the root of its slope, m³/s."""
    return float(pipe_full_flow(pipe.inner_diameter, pipe.roughness_n, STEEP).discharge / STEEP**0.5)


def full_flow(run: LaidRun, stretch: LaidStretch) -> tuple[float, float]:
    """Discharge m³/s of all pipes and velocity m/s in a stretch that runs full at its flattest; nought where it lies level."""
    slope, pipe = least_slope(run, stretch.low, stretch.high)[0], stretch.make.pipe
    if slope <= 0:
        return 0.0, 0.0
    full = pipe_full_flow(pipe.inner_diameter, pipe.roughness_n, slope)
    return full.discharge * run.run.pipes, full.velocity


def _surface(grade: GradeLine, run: LaidRun, stretches: Sequence[LaidStretch], discharge: Array, normal: Array, tailwater: float | None,
             levels: Sequence[float | None], losses: Sequence[float]) -> Array:  # fmt: skip
    """Levels m of the surface at the stations of a grade line; piece by piece where the levels at the nodes are known, else from the low end up."""
    flows, surface, normals = (discharge / run.run.pipes).tolist(), np.array(grade.invert), normal.tolist()
    reaches = _reaches(grade, run, stretches)
    at_nodes = np.searchsorted(grade.stations, run.node_stations[:-1] - 1e-6).tolist()
    lost_at = dict(zip(at_nodes, losses, strict=False))
    if len(stretches) > 1:
        lost_at |= {k: lost_at.get(k, 0.0) + lost for k in range(1, len(reaches)) if (lost := adaptor(reaches[k].diameter, reaches[k - 1].diameter)) > 0}
    for at, lost in lost_at.items():
        if lost > 0 and at < len(reaches):
            reach = reaches[at]
            reaches[at] = reach._replace(length=reach.length + lost * reach.full**2 / (2 * GRAVITY * (math.pi * reach.diameter**2 / 4) ** 2))
    known = [level for level in levels if level is not None]
    ends = [0, len(surface) - 1] if not known else np.searchsorted(grade.stations, run.node_stations - 1e-6).tolist()
    level = tailwater
    for number, (low, high) in enumerate(zip(ends, ends[1:], strict=False)):
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


def _reaches(grade: GradeLine, run: LaidRun, stretches: Sequence[LaidStretch]) -> list[PipeReach]:
    """The lengths of one pipe between neighbouring stations of a grade line."""
    stations, inverts = grade.stations, grade.invert.tolist()
    full, diameter = _pipes_along((stations[1:] + stations[:-1]) / 2, run, stretches)
    full = full / run.run.pipes
    return list(map(PipeReach, np.diff(stations).tolist(), diameter.tolist(), full.tolist(), inverts[:-1], inverts[1:]))
