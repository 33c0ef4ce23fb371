"""Quantities along the real profile."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from weirant.design.figures import counted
from weirant.ground.grade_line import GradeLine
from weirant.job import Job
from weirant.job.line import Line
from weirant.job.network import MAIN
from weirant.job.trench import FULL_WRAP, OPEN_TOP, SOCK
from weirant.library import Aggregate, Geotextile, Pipe
from weirant.outcome.outcome import TakeOff
from weirant.outcome.site import Site
from weirant.units import display as k

Array = NDArray[np.float64]
ALONG = "added up along the profile"


@dataclass(frozen=True)
class Amounts:
    """Bare quantities of one run or of several added up: m³, m², m."""

    dug: float = 0.0
    stone: float = 0.0
    fabric: float = 0.0
    perforated: float = 0.0
    solid: float = 0.0
    pipe_volume: float = 0.0

    def __add__(self, other: Amounts) -> Amounts:
        pairs = zip(dataclasses.astuple(self), dataclasses.astuple(other), strict=True)
        return Amounts(*(a + b for a, b in pairs))


def amounts_of(job: Job, line: Line, grade: GradeLine, pipe: Pipe, *, is_dug: bool = True, pipes: int = 1) -> Amounts:
    """Quantities of one run. Stone and fabric on the collecting run only; a run in another's trench brings its pipe only."""
    trench = job.trench
    perforated, solid = max(line.length - line.solid_length, 0.0) * pipes, min(line.solid_length, line.length) * pipes
    bore = pipes * math.pi * pipe.outer_diameter**2 / 4
    volume = bore * length_in_ground(grade, 0.0, line.length)
    if not is_dug:
        return Amounts(perforated=perforated, solid=solid, pipe_volume=volume)
    stations = grade.stations
    collecting = stations >= line.solid_length - 1e-9 if perforated > 1e-6 else np.zeros(len(stations), dtype=bool)

    def dug_at(height: Array) -> Array:
        return (trench.width + trench.side_slope * height) * height

    cut = np.maximum(grade.cut, 0.0)
    height = cut if trench.top == OPEN_TOP else np.minimum(cut, stone_height(job, pipe))
    filled = integrate(stations[collecting], height[collecting], dug_at)
    stone = max(0.0, filled - bore * length_in_ground(grade, line.solid_length, line.length)) if collecting.any() else 0.0
    fabric = _fabric(job, stations[collecting], height[collecting], pipe, perforated)
    return Amounts(integrate(stations, cut, dug_at), stone, fabric, perforated, solid, volume)


def take_off(job: Job, site: Site, pipe: Pipe, aggregate: Aggregate, geotextile: Geotextile) -> TakeOff:
    """Dig, stone, fabric, pipe and spoil of every run; the pipes side by side are those of the main line."""
    total = Amounts()
    for found in site.runs:
        if found.grade is not None:
            pipes = job.choice.pipe_count if found.run.name == MAIN else 1
            total += amounts_of(job, found.run.line, found.grade, pipe, is_dug=not found.run.trench_of, pipes=pipes)
    along = ALONG if len(site.runs) == 1 else f"{ALONG}s of {len(site.runs)} runs"
    backfill = total.dug - total.stone - total.pipe_volume
    return TakeOff(
        counted("Dig", total.dug, k.VOLUME, f"solid ground, {along}"),
        counted("Stone in place", total.stone, k.VOLUME, f"round the pipe, {along}"),
        counted("Stone by weight", total.stone * aggregate.bulk_density, k.MASS,
                f"{aggregate.bulk_density:g} kg/m³ ({aggregate.bulk_density / 16.0185:.0f} lb/ft³) as placed (cp)"),
        counted("Stone to order", total.stone * aggregate.bulk_density * (1 + job.limits.waste), k.MASS, "with the waste you set"),
        counted("Fabric", total.fabric, k.AREA, f"{job.trench.wrap}, {geotextile.name}" if total.fabric else "no fabric"),
        counted("Perforated pipe", total.perforated, k.DISTANCE, "the collecting runs"),
        counted("Solid pipe", total.solid, k.DISTANCE, "outlet runs and solid runs"),
        counted(f"Perforated pipe in {pipe.supply}s", math.ceil(total.perforated / pipe.supply_length - 1e-9), k.COUNT,
                f"{pipe.supply} of {pipe.supply_length:g} m ({pipe.supply_length / 0.3048:.0f} ft)"),
        counted("Backfill", backfill, k.VOLUME, "dug soil put back, as it lay"),
        counted("Spoil left over, loose", max(0.0, total.dug - backfill) * (1 + job.limits.swell), k.VOLUME, "with the swell you set"),
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


def _fabric(job: Job, stations: Array, height: Array, pipe: Pipe, perforated: float) -> float:
    trench = job.trench
    if trench.wrap == SOCK:
        return math.pi * pipe.outer_diameter * perforated
    if trench.wrap != FULL_WRAP or len(stations) < 2:
        return 0.0
    closes = 1.0 if trench.top != OPEN_TOP else 0.0  # an open trench is lined at bottom and sides only
    across = trench.width * (1 + closes) + trench.overlap * closes
    along_sides = 2 * math.hypot(1, trench.side_slope) + 2 * trench.side_slope * closes
    return integrate(stations, height, lambda h: across + along_sides * h)
