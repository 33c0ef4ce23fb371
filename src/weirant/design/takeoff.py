"""Quantities along the real profile."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from weirant.design.figures import counted
from weirant.ground.grade_line import GradeLine
from weirant.job import Job
from weirant.job.trench import FULL_WRAP, OPEN_TOP, SOCK
from weirant.library import Aggregate, Geotextile, Pipe
from weirant.outcome.outcome import TakeOff
from weirant.units import display as k

Array = NDArray[np.float64]
ALONG = "added up along the profile"


def take_off(job: Job, grade: GradeLine, pipe: Pipe, aggregate: Aggregate, geotextile: Geotextile) -> TakeOff:
    """Dig, stone, fabric, pipe and spoil. Stone and fabric on the collecting run only; the solid run is backfilled."""
    trench, line, count = job.trench, job.line, job.choice.pipe_count
    stations = grade.stations
    collecting = stations >= line.solid_length - 1e-9

    def dug_at(height: Array) -> Array:
        return (trench.width + trench.side_slope * height) * height

    cut = np.maximum(grade.cut, 0.0)
    dug = integrate(stations, cut, dug_at)
    height = cut if trench.top == OPEN_TOP else np.minimum(cut, stone_height(job, pipe))
    filled = integrate(stations[collecting], height[collecting], dug_at)
    in_ground = length_in_ground(grade, line.solid_length, line.length)
    pipes = count * math.pi * pipe.outer_diameter**2 / 4
    stone = max(0.0, filled - pipes * in_ground)
    pipe_volume = pipes * length_in_ground(grade, 0.0, line.length)
    backfill = dug - stone - pipe_volume
    collecting_length = line.length - line.solid_length
    fabric = _fabric(job, stations[collecting], height[collecting], pipe, collecting_length)
    return TakeOff(
        counted("Dig", dug, k.VOLUME, f"solid ground, {ALONG}"),
        counted("Stone in place", stone, k.VOLUME, f"round the pipe, {ALONG}"),
        counted("Stone by weight", stone * aggregate.bulk_density, k.MASS, f"{aggregate.bulk_density:g} kg/m³ ({aggregate.bulk_density / 16.0185:.0f} lb/ft³) as placed (cp)"),
        counted("Stone to order", stone * aggregate.bulk_density * (1 + job.limits.waste), k.MASS, "with the waste you set"),
        counted("Fabric", fabric, k.AREA, f"{trench.wrap}, {geotextile.name}" if fabric else "no fabric"),
        counted("Perforated pipe", collecting_length * count, k.DISTANCE, f"{count} × the collecting run"),
        counted("Solid pipe", line.solid_length * count, k.DISTANCE, f"{count} × the outlet run"),
        counted(f"Perforated pipe in {pipe.supply}s", math.ceil(collecting_length * count / pipe.supply_length - 1e-9), k.COUNT,
                f"{pipe.supply} of {pipe.supply_length:g} m ({pipe.supply_length / 0.3048:.0f} ft)"),
        counted("Backfill", backfill, k.VOLUME, "dug soil put back, as it lay"),
        counted("Spoil left over, loose", max(0.0, dug - backfill) * (1 + job.limits.swell), k.VOLUME, "with the swell you set"),
    )  # fmt: skip


def stone_height(job: Job, pipe: Pipe) -> float:
    """Height of the stone over the trench bottom under a soil cap, m."""
    return job.trench.bedding + pipe.outer_diameter + job.trench.stone_cover


def integrate(stations: Array, heights: Array, area: Callable[[Array], Array]) -> float:
    """Volume m³ of a section area over stations, where heights are straight between them (Simpson, exact here)."""
    if len(stations) < 2:
        return 0.0
    middle = (heights[:-1] + heights[1:]) / 2
    return float(np.sum(np.diff(stations) * (area(heights[:-1]) + 4 * area(middle) + area(heights[1:])) / 6))


def length_in_ground(grade: GradeLine, low: float, high: float) -> float:
    """Length in m of the stretch between two stations where there is a trench at all."""
    inside = (grade.stations[:-1] >= low - 1e-9) & (grade.stations[1:] <= high + 1e-9)
    dug = (grade.cut[:-1] + grade.cut[1:]) > 0
    return float(np.sum(np.diff(grade.stations)[inside & dug]))


def _fabric(job: Job, stations: Array, height: Array, pipe: Pipe, length: float) -> float:
    trench = job.trench
    if trench.wrap == SOCK:
        return math.pi * pipe.outer_diameter * length * job.choice.pipe_count
    if trench.wrap != FULL_WRAP:
        return 0.0
    closes = 1.0 if trench.top != OPEN_TOP else 0.0  # an open trench is lined at bottom and sides only
    across = trench.width * (1 + closes) + trench.overlap * closes
    along_sides = 2 * math.hypot(1, trench.side_slope) + 2 * trench.side_slope * closes
    return integrate(stations, height, lambda h: across + along_sides * h)
