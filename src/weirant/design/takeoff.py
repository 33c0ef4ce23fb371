"""Quantities along the real profile."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np
import shapely
from numpy.typing import NDArray

from weirant.design.figures import counted
from weirant.design.session import Session
from weirant.ground.grade_line import GradeLine
from weirant.job import Job
from weirant.job.trench import FULL_WRAP, OPEN_TOP, SOCK
from weirant.library import Aggregate, Geotextile, Pipe
from weirant.outcome.amounts import Amounts
from weirant.outcome.outcome import TakeOff
from weirant.outcome.site import RunOutcome, Site
from weirant.units import display as k

Array = NDArray[np.float64]
ALONG = "added up along the profile"
SLIP = 1e-6  # m, or m² along a length: nothing
ONE_TRENCH = 2.0  # m in plan within which two runs that share a trench lie in it together (common practice, no source)


@dataclass(frozen=True, eq=False)
class Dug:
    """The trench of a run along its stations, arrays (n,), m: cut to its lowest bottom, and how far that lies under the run's own."""

    stations: Array
    cut: Array
    under: Array
    is_own: NDArray[np.bool_]


def with_amounts(job: Job, site: Site, pipe: Pipe, session: Session) -> Site:
    """The site with what each run takes to build. A trench is dug once, as deep as the deepest pipe in it; its stone makes room for every pipe."""
    guests: dict[str, list[RunOutcome]] = {}
    for found in site.runs:
        guests.setdefault(found.run.run.trench_of, []).append(found)
    runs = []
    for found in site.runs:
        if found.grade is not None:
            host = site.run(found.run.run.trench_of)
            beside = guests.get(found.id, [])
            on = (found.grade, found.run, job.trench, pipe, host.grade if host is not None else None, *(guest.grade for guest in beside), *(guest.run for guest in beside))
            made = session.once(f"amounts {found.id}", on, partial(_amounts, job, found, found.grade, pipe, host, beside))
            found = dataclasses.replace(found, amounts=made)
        runs.append(found)
    return dataclasses.replace(site, runs=tuple(runs))


def _amounts(job: Job, found: RunOutcome, grade: GradeLine, pipe: Pipe, host: RunOutcome | None, guests: list[RunOutcome]) -> Amounts:
    """Quantities of one run. Stone and fabric where it collects; in another's trench it brings its pipe only."""
    trench, run = job.trench, found.run
    pipes = run.run.pipes
    perforated: float = run.collecting_length * pipes
    solid = run.length * pipes - perforated
    bore = math.pi * pipe.outer_diameter**2 / 4
    volume = pipes * bore * length_in_ground(grade, 0.0, run.length)
    dug = _trench(found, grade, host, guests)

    def area(height: Array) -> Array:
        return (trench.width + trench.side_slope * height) * height

    volume_dug = stone = fabric = 0.0  # m³, m³, m²
    for first, last in _own_parts(dug):
        volume_dug += integrate(dug.stations[first:last], dug.cut[first:last], area)
    for low, high, is_solid in run.spans:
        inside = (dug.stations >= low - 1e-9) & (dug.stations <= high + 1e-9) & dug.is_own
        if is_solid or inside.sum() < 2:
            continue
        cut, under = dug.cut[inside], dug.under[inside]
        height = cut if trench.top == OPEN_TOP else np.minimum(cut, stone_height(job, pipe) + under)
        filled = integrate(dug.stations[inside], height, area)
        room = pipes * bore * length_in_ground(grade, low, high) + sum(_room_taken(found, guest, pipe, low, high) for guest in guests)
        stone += max(0.0, filled - room)
        if trench.wrap == FULL_WRAP:
            fabric += _wrapped(job, dug.stations[inside], height)
    if trench.wrap == SOCK:
        fabric = math.pi * pipe.outer_diameter * perforated
    return Amounts(volume_dug, stone, fabric, perforated, solid, volume)


def _trench(found: RunOutcome, grade: GradeLine, host: RunOutcome | None, guests: list[RunOutcome]) -> Dug:
    ends = [found.run.alignment.nearest(guest.run.alignment.point(s))[0] for guest in guests for s in (0.0, guest.run.length)]
    stations = np.union1d(grade.stations, np.round(ends, 9)) if ends else grade.stations
    own_bottom, cut = np.interp(stations, grade.stations, grade.trench_bottom), np.interp(stations, grade.stations, np.maximum(grade.cut, 0.0))
    own = np.ones(len(stations), dtype=bool)
    if host is not None and host.grade is not None:
        own = ~_beside(found, stations, host)[1]
    deepest = own_bottom
    for guest in guests:
        if guest.grade is not None:
            at, is_beside = _beside(found, stations, guest)
            bottom = np.interp(at, guest.grade.stations, guest.grade.trench_bottom)
            deepest = np.where(is_beside, np.minimum(deepest, bottom), deepest)
    under = np.where(cut > 0, own_bottom - deepest, 0.0)
    return Dug(stations, cut + under, under, own)


def _beside(found: RunOutcome, stations: Array, other: RunOutcome) -> tuple[Array, NDArray[np.bool_]]:
    """Stations m of another run beside those of a run, and where it is near enough to lie in one trench; each (n,)."""
    lie, places = other.run.alignment, found.run.alignment.at(stations)
    line, points = shapely.linestrings(lie.points), shapely.points(places)
    at, away = np.asarray(shapely.line_locate_point(line, points)), np.asarray(shapely.distance(line, points))
    # what lies before or behind its ends is not beside it
    first, last = (places - lie.points[0]) @ (lie.points[1] - lie.points[0]), (lie.points[-1] - places) @ (lie.points[-1] - lie.points[-2])
    return at, (away <= ONE_TRENCH) & ((at > SLIP) | (first > -SLIP)) & ((at < lie.length - SLIP) | (last > -SLIP))


def _own_parts(dug: Dug) -> list[tuple[int, int]]:
    """From and to index of the parts of a run that have a trench of their own."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], dug.is_own.astype(int), [0]])))
    return [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True) if b - a > 1]


def _room_taken(found: RunOutcome, guest: RunOutcome, pipe: Pipe, low: float, high: float) -> float:
    """Volume m³ of a guest's pipes in the stone between two stations of the run whose trench it is."""
    if guest.grade is None:
        return 0.0
    stations = np.linspace(0.0, guest.run.length, max(2, math.ceil(guest.run.length / 0.25) + 1))
    at, is_beside = _beside(guest, stations, found)
    inside = is_beside & (at >= low) & (at <= high)
    share = float(np.mean((inside[:-1] + inside[1:].astype(int)) / 2)) if len(inside) > 1 else 0.0
    return guest.run.run.pipes * math.pi * pipe.outer_diameter**2 / 4 * share * guest.run.length


def take_off(job: Job, site: Site, pipe: Pipe, aggregate: Aggregate, geotextile: Geotextile) -> TakeOff:
    """Dig, stone, fabric, pipe and spoil of every run."""
    total = sum((found.amounts for found in site.runs), Amounts())
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


def _wrapped(job: Job, stations: Array, height: Array) -> float:
    """Fabric m² round stone of a height m at stations, both (n,)."""
    trench = job.trench
    closes = 1.0 if trench.top != OPEN_TOP else 0.0  # an open trench is lined at bottom and sides only
    across = trench.width * (1 + closes) + trench.overlap * closes
    along_sides = 2 * math.hypot(1, trench.side_slope) + 2 * trench.side_slope * closes
    return integrate(stations, height, lambda h: across + along_sides * h)
