"""The pipes of one run along its grade line: all that flow in them hangs on but the flow itself."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from weirant.ground.grade_line import GradeLine
from weirant.ground.inverts import least_slope, slope_at
from weirant.ground.network import LaidRun
from weirant.ground.stretches import LaidStretch
from weirant.hydraulics.losses import adaptor
from weirant.hydraulics.profile import PipeReach
from weirant.library import Pipe
from weirant.methods.intake import GRAVITY
from weirant.methods.pipe_flow import pipe_full_flow
from weirant.records import dataclass

Array = NDArray[np.float64]
STEEP = 0.01  # m/m: any slope serves to tell what a pipe carries for a unit of it


@dataclass(frozen=True, eq=False)
class PipesAlong:
    """At each station of the grade line, shape (n,): ``carries`` m³/s full in all pipes side by side at the slope there, ``diameter`` m; the n − 1
    ``reaches`` of one pipe between stations, longer by what is lost at nodes and changes of size; ``at_nodes``, the stations' indices of the nodes.

    ``capacity`` m³/s of all pipes and ``velocity`` m/s of one that runs full, where they are least.
    """

    grade: GradeLine
    run: LaidRun
    carries: Array
    diameter: Array
    reaches: tuple[PipeReach, ...]
    at_nodes: tuple[int, ...]
    capacity: float
    velocity: float

    def full_fraction(self, discharge: Array) -> Array:
        """Share of full flow that a discharge m³/s at each station is, shape (n,); infinite where water is to run level."""
        return _share(discharge, self.carries)


def pipes_along(grade: GradeLine, run: LaidRun, stretches: Sequence[LaidStretch], losses: Sequence[float] = ()) -> PipesAlong:
    """The pipes of a run in its stretches; ``losses`` are the velocity heads lost at the low end of each of its pieces."""
    full, diameter = _of_size(grade.stations, run, stretches)
    carries = _carried(grade, run, full)
    at_nodes = tuple(np.searchsorted(grade.stations, run.node_stations - 1e-6).tolist())
    least = [full_flow(run, stretch) for stretch in stretches]
    return PipesAlong(grade, run, carries, diameter, _reaches(grade, run, stretches, dict(zip(at_nodes, losses, strict=False))), at_nodes,
                      min(q for q, _ in least), min(v for _, v in least))  # fmt: skip


def full_fraction(grade: GradeLine, run: LaidRun, stretches: Sequence[LaidStretch], discharge: Array) -> Array:
    """The same for a run of which nothing else is asked."""
    return _share(discharge, _carried(grade, run, _of_size(grade.stations, run, stretches)[0]))


def _carried(grade: GradeLine, run: LaidRun, full: Array) -> Array:
    return full * np.sqrt(np.maximum(slope_at(run, grade.stations), 0.0))


def _share(discharge: Array, carries: Array) -> Array:
    flows = np.abs(discharge)
    return np.divide(flows, carries, out=np.where(flows > 0, np.inf, 0.0), where=carries > 0)


def _of_size(stations: Array, run: LaidRun, stretches: Sequence[LaidStretch]) -> tuple[Array, Array]:
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


def _reaches(grade: GradeLine, run: LaidRun, stretches: Sequence[LaidStretch], lost_at: dict[int, float]) -> tuple[PipeReach, ...]:
    """The lengths of one pipe between neighbouring stations; a loss of head is a length of full pipe more."""
    stations, inverts = grade.stations, grade.invert.tolist()
    full, diameter = _of_size((stations[1:] + stations[:-1]) / 2, run, stretches)
    found = list(map(PipeReach, np.diff(stations).tolist(), diameter.tolist(), (full / run.run.pipes).tolist(), inverts[:-1], inverts[1:]))
    if len(stretches) > 1:
        lost_at |= {k: lost_at.get(k, 0.0) + lost for k in range(1, len(found)) if (lost := adaptor(found[k].diameter, found[k - 1].diameter)) > 0}
    for at, lost in lost_at.items():
        if lost > 0 and at < len(found):
            reach = found[at]
            found[at] = reach._replace(length=reach.length + lost * reach.full**2 / (2 * GRAVITY * (math.pi * reach.diameter**2 / 4) ** 2))
    return tuple(found)
