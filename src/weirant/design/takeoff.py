"""Quantities along the real profile."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable
from functools import partial

import numpy as np
import shapely
from numpy.typing import NDArray

from weirant.design.figures import counted
from weirant.design.session import Session
from weirant.ground.grade_line import GradeLine
from weirant.ground.network import IN_TRENCH
from weirant.ground.stretches import JOINT, LaidStretch, Make, largest
from weirant.job import Job
from weirant.job.network import EXISTING, ROUND, Basin, Node
from weirant.job.section import AT_JOINTS, DRESSED_TOP, IN_SOIL
from weirant.job.soil import HARD_LAYERS
from weirant.job.work_terms import METHODS, PLOUGH
from weirant.language import tr
from weirant.library import Library
from weirant.outcome.amounts import (
    BOXES,
    DRESSING,
    FABRIC,
    HARD,
    PAVED,
    PAVING,
    PERFORATED,
    PLOUGHED,
    SOLID,
    STONE,
    Amounts,
)
from weirant.outcome.bill import Origin
from weirant.outcome.figure import Figure
from weirant.outcome.outcome import TakeOff
from weirant.outcome.site import RunOutcome, Site
from weirant.records import dataclass
from weirant.units import display as k

Array = NDArray[np.float64]
ALONG = tr("added up along the profile")
LAP = 0.3  # m of fabric that lies twice where a roll ends (cp)
SLIP = 1e-6  # m, or m² along a length: nothing


@dataclass(frozen=True, eq=False)
class Dug:
    """The trench of a run along its stations, arrays (n,), m: the ground, the lowest bottom that runs beside it ask for (infinity where none
    does), and where it has a trench of its own.
    """

    stations: Array
    ground: Array
    bottom: Array
    is_own: NDArray[np.bool_]


SLICES = 33  # in which a box is taken off the stone that it stands in
WALL, ROUND_BOX = 0.05, 0.15  # m of a box's wall and floor, and of room dug on each side of it (common practice, no source)


def with_amounts(site: Site, session: Session, method: str = METHODS[0]) -> Site:
    """The site with what each run takes to build. A trench is dug once, as deep as the deepest pipe in it; its stone makes room for every pipe."""
    runs = []
    boxes = _boxes(site)
    for found in site.runs:
        if found.grade is not None and found.run.run.status != EXISTING:  # what lies there already is neither dug nor bought
            host = site.run(found.run.run.trench_of)
            beside = site.in_trench_of(found.id)
            on = (found.grade, found.run, found.stretches, found.soils, host.grade if host is not None else None, boxes[found.id], method == PLOUGH,
                  *(x for g in beside for x in (g.grade, g.run, g.stretches)))
            made, pieces = session.once(f"amounts {found.id}", on, partial(_amounts, found, found.grade, host, beside, boxes[found.id], by_plough=method == PLOUGH))
            found = dataclasses.replace(found, amounts=made, amounts_of=pieces)
        runs.append(found)
    return dataclasses.replace(site, runs=tuple(runs))


def _boxes(site: Site) -> dict[str, tuple[tuple[Node, float], ...]]:
    """Boxes with their stations m by the run whose trench they widen; one that several runs go through is dug once."""
    found: dict[str, tuple[tuple[Node, float], ...]] = {}
    seen: set[str] = set()
    for run in site.runs:
        own = tuple((node, station) for node, station in run.run.nodes if node.basin is not None and node.basin.size and node.id not in seen)
        found[run.id] = own if run.grade is not None and run.run.run.status != EXISTING else ()
        seen |= {node.id for node, _ in found[run.id]}
    return found


def _amounts(found: RunOutcome, grade: GradeLine, host: RunOutcome | None, guests: list[RunOutcome], boxes: tuple[tuple[Node, float], ...], *,
             by_plough: bool = False) -> tuple[Amounts, tuple[Amounts, ...]]:
    """Quantities of one run, and of each of its stretches. Stone and fabric where it collects; in another's trench it brings its pipe only."""
    dug = _trench(found, grade, host, guests)
    pieces = [_of_stretch(found, grade, stretch, dug, guests) for stretch in found.stretches]
    if by_plough and host is None and not guests and found.run.run.pipes == 1:
        pieces = [_ploughed(grade, stretch, piece) if may_be_ploughed(stretch) else piece for stretch, piece in zip(found.stretches, pieces, strict=True)]
    for node, station in boxes:
        at = found.stretches.index(found.stretch(station))
        pieces[at] += _widened(grade, found.stretches[at], found.run.run.pipes, pieces[at], node, station)
    return sum(pieces, Amounts()), tuple(pieces)


def may_be_ploughed(stretch: LaidStretch) -> bool:
    """Whether a plough can lay a stretch: bare pipe or pipe in a sock, in the soil, under no pavement."""
    section = stretch.make.section
    return not section.pavement and (stretch.is_solid or section.wrap == IN_SOIL)


def _ploughed(grade: GradeLine, stretch: LaidStretch, dug: Amounts) -> Amounts:
    """A stretch laid by a plough, in a slit that closes again: nothing is dug, put back or left over."""
    goods = {good: amount for good, amount in dug.goods.items() if good[0] not in (HARD, BOXES)}
    return Amounts(0.0, 0.0, {**goods, (PLOUGHED, ""): length_in_ground(grade, stretch.low, stretch.high)})


def _widened(grade: GradeLine, stretch: LaidStretch, pipes: int, laid: Amounts, node: Node, station: float) -> Amounts:
    """What a box takes beside the trench that goes through it: a pit with room to stand round it, down to its floor, and the room that it takes of that; where it stands there is no
    stone.
    """
    box = node.basin
    assert box is not None and box.size is not None
    cut = max(grade.at(grade.cut, station), 0.0)
    deep = max(cut - stretch.make.below + (box.sump or 0.0) + WALL, cut) if cut > 0 else 0.0
    outer = box.size + 2 * WALL
    pit = outer + 2 * ROUND_BOX
    along = min(station + pit / 2, float(grade.stations[-1])) - max(station - pit / 2, 0.0)  # at the end of a run half of it is not in the trench
    trench = stretch.make.dug(cut) * along
    taken = (math.pi / 4 if box.shape == ROUND else 1.0) * outer**2 * deep
    goods = {(BOXES, ""): taken}
    if not stretch.is_solid and stretch.make.section.has_stone:
        inside = min(station + outer / 2, float(grade.stations[-1])) - max(station - outer / 2, 0.0)
        stone = inside / outer * _stone_in(box, outer, stretch.make, float(stretch.make.stone(np.array(cut))))
        stone -= pipes * inside * math.pi / 4 * stretch.make.pipe.outer_diameter**2
        key = STONE, stretch.make.aggregate.key
        goods[key] = -min(max(stone, 0.0), laid.goods.get(key, 0.0))
    return Amounts(max(pit**2 * deep - trench, 0.0), 0.0, goods)


def _stone_in(box: Basin, outer: float, make: Make, height: float) -> float:
    """Volume m³ that a box of an outer width m takes of the stone of a trench, which is a height m deep there and may be narrower than the box."""
    levels = np.linspace(0.0, height, SLICES)
    half = np.minimum(make.section.width / 2 + make.section.side_slope * levels, outer / 2)
    radius = outer / 2
    plan = 2 * (half * np.sqrt(radius**2 - half**2) + radius**2 * np.arcsin(half / radius)) if box.shape == ROUND else 2 * half * outer
    return float(np.trapezoid(plan, levels))


def _of_stretch(found: RunOutcome, grade: GradeLine, stretch: LaidStretch, dug: Dug, guests: list[RunOutcome]) -> Amounts:
    make, pipes, low, high = stretch.make, found.run.run.pipes, stretch.low, stretch.high
    bore = pipes * math.pi * make.pipe.outer_diameter**2 / 4
    laid = pipes * (high - low)
    in_ground = bore * length_in_ground(grade, low, high)
    goods = {(SOLID if stretch.is_solid else PERFORATED, make.pipe.key): laid}
    here = stretch.holds(dug.stations)
    own_bottom = np.interp(dug.stations, grade.stations, grade.invert) - make.below
    under = np.maximum(own_bottom - dug.bottom, 0.0)
    cut = np.maximum(dug.ground - own_bottom, 0.0)
    cut, under = cut + np.where(cut > 0, under, 0.0), np.where(cut > 0, under, 0.0)
    volume = sum(dug_volume(make, dug.stations[first:last], cut[first:last], under[first:last]) for first, last in _parts(here & dug.is_own))
    for kind in HARD_LAYERS:
        hard = cut - _hard_depths(found, dug.stations, kind)
        if (hard[here & dug.is_own] > 0).any():
            goods[HARD, kind] = sum(dug_volume(make, dug.stations[first:last], hard[first:last], under[first:last]) for first, last in _parts(here & dug.is_own))
    inside = here & dug.is_own
    if not stretch.is_solid and inside.sum() > 1:
        height = make.stone(cut[inside], under[inside])
        filled, core = (integrate(dug.stations[inside], height, area) for area in (make.area, make.core))
        room = in_ground + sum(_room_taken(found, guest, low, high) for guest in guests)
        if make.section.has_stone:
            goods[STONE, make.aggregate.key] = max(0.0, core - room)
        if make.section.is_in_sand:
            goods[STONE, make.sand.key] = goods.get((STONE, make.sand.key), 0.0) + filled - core
        if make.section.top == DRESSED_TOP:
            laid_on = np.minimum(make.section.turf, cut[inside])
            goods[DRESSING, ""] = integrate(dug.stations[inside], height + laid_on, make.area) - filled
        if make.section.is_lined or make.section.is_covered:
            goods[FABRIC, make.geotextile.key] = integrate(dug.stations[inside], height, make.cloth)
    if make.section.pavement and (here & dug.is_own).any():
        wide = np.where(cut > 0, make.section.width + 2 * make.section.side_slope * cut, 0.0)
        parts = [(dug.stations[a:b], cut[a:b], wide[a:b], under[a:b]) for a, b in _parts(here & dug.is_own)]
        goods[PAVING, f"{make.section.pavement:.4f}"] = sum(integrate(at, across, lambda w: w) + benches(make, at, depth, more) for at, depth, across, more in parts)
        goods[PAVED, ""] = sum(dug_volume(make, at, depth, more) - dug_volume(make, at, depth - make.section.pavement, more) for at, depth, _, more in parts)
    if not stretch.is_solid and make.section.is_socked:
        goods[FABRIC, make.geotextile.key] = math.pi * make.pipe.outer_diameter * laid
    if not stretch.is_solid and make.section.wrap == AT_JOINTS:
        goods[FABRIC, make.geotextile.key] = pipes * joints_in(high - low, make.pipe.supply_length) * (math.pi * make.pipe.outer_diameter + make.section.overlap) * JOINT
    return Amounts(volume, in_ground, goods)


def _trench(found: RunOutcome, grade: GradeLine, host: RunOutcome | None, guests: list[RunOutcome]) -> Dug:
    ends = [found.run.alignment.nearest(guest.run.alignment.point(s))[0] for guest in guests for s in (0.0, guest.run.length)]
    stations = np.union1d(grade.stations, np.round(ends, 9)) if ends else grade.stations
    own = np.ones(len(stations), dtype=bool)
    if host is not None and host.grade is not None:
        own = ~_beside(found, stations, host)[1]
    deepest = np.full(len(stations), np.inf)
    for guest in guests:
        if guest.grade is not None:
            at, is_beside = _beside(found, stations, guest)
            bottom = np.interp(at, guest.grade.stations, guest.grade.trench_bottom)
            deepest = np.where(is_beside, np.minimum(deepest, bottom), deepest)
    return Dug(stations, np.interp(stations, grade.stations, grade.ground), deepest, own)


def _beside(found: RunOutcome, stations: Array, other: RunOutcome) -> tuple[Array, NDArray[np.bool_]]:
    """Stations m of another run beside those of a run, and where it is near enough to lie in one trench; each (n,)."""
    lie, places = other.run.alignment, found.run.alignment.at(stations)
    line, points = shapely.linestrings(lie.points), shapely.points(places)
    at, away = np.asarray(shapely.line_locate_point(line, points)), np.asarray(shapely.distance(line, points))
    # what lies before or behind its ends is not beside it
    first, last = (places - lie.points[0]) @ (lie.points[1] - lie.points[0]), (lie.points[-1] - places) @ (lie.points[-1] - lie.points[-2])
    return at, (away <= IN_TRENCH) & ((at > SLIP) | (first > -SLIP)) & ((at < lie.length - SLIP) | (last > -SLIP))


def _parts(which: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """From and to index of the parts along a run where something holds."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], which.astype(int), [0]])))
    return [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True) if b - a > 1]


def _room_taken(found: RunOutcome, guest: RunOutcome, low: float, high: float) -> float:
    """Volume m³ of a guest's pipes in the stone between two stations of the run whose trench it is."""
    if guest.grade is None:
        return 0.0
    stations = np.linspace(0.0, guest.run.length, max(2, math.ceil(guest.run.length / 0.25) + 1))
    at, is_beside = _beside(guest, stations, found)
    inside = is_beside & (at >= low) & (at <= high)
    bore = largest(guest.stretches, stations, lambda make: math.pi * make.pipe.outer_diameter**2 / 4) * inside
    return guest.run.run.pipes * float(np.sum(np.diff(stations) * (bore[:-1] + bore[1:]) / 2))


def put_back(site: Site) -> dict[Origin, float]:
    """Dug soil m³ that is put back over each stretch: what stone, pipe and pavement leave. A pipe in another's trench takes its room there, where most is put back."""
    found: dict[Origin, float] = {}
    taken: dict[str, float] = {}
    for run in site.runs:
        for stretch, amounts in zip(run.stretches, run.amounts_of, strict=False):
            back = amounts.dug - amounts.all_of(STONE) - amounts.pipe_volume - amounts.all_of(BOXES) - amounts.all_of(DRESSING) - amounts.all_of(PAVED)
            if back < 0 and run.run.run.trench_of:
                taken[run.run.run.trench_of] = taken.get(run.run.run.trench_of, 0.0) - back
            else:
                found[Origin(run.id, stretch.id)] = back
    for host, volume in taken.items():
        most = max((origin for origin in found if origin.run == host), key=lambda origin: found[origin], default=None)
        if most is not None:
            found[most] -= volume
    return {origin: max(back, 0.0) for origin, back in found.items()}


def take_off(job: Job, site: Site, library: Library) -> TakeOff:
    """Dig, stone, fabric, pipe and spoil of every run."""
    total = sum((found.amounts for found in site.runs), Amounts())
    along = ALONG if len(site.runs) == 1 else tr("added up along the profiles of {runs} runs", runs=len(site.runs))
    stone = {library.aggregate(key): volume for key, volume in total.of(STONE).items()}
    volume = sum(stone.values())
    fabric = {library.geotextile(key).name: area for key, area in total.of(FABRIC).items()}
    paved = total.of(PAVING)  # by its thickness
    backfill = sum(put_back(site).values())
    dense = ", ".join(tr("{bulk_density:g} kg/m³ ({bulk_density_2:.0f} lb/ft³)", bulk_density=a.bulk_density, bulk_density_2=a.bulk_density / 16.0185) for a in stone) or tr("none")
    return TakeOff(
        counted(tr("Dig"), total.dug, k.VOLUME, tr("solid ground, {along}", along=along)),
        counted(tr("Stone in place"), volume, k.VOLUME, tr("round the pipe, {along}", along=along)),
        counted(tr("Stone by weight"), sum(v * a.bulk_density for a, v in stone.items()), k.MASS, tr("{dense} as placed, dry, by common practice", dense=dense)),
        _each(tr("Fabric"), fabric, k.AREA, _wraps(site)),
        counted(tr("Perforated pipe"), total.all_of(PERFORATED), k.DISTANCE, tr("the collecting runs")),
        counted(tr("Solid pipe"), total.all_of(SOLID), k.DISTANCE, tr("outlet runs and solid runs")),
        counted(tr("Backfill"), backfill, k.VOLUME, tr("dug soil put back, as it lay")),
        (*((counted(tr("Stone that dresses the top"), total.all_of(DRESSING), k.VOLUME, tr("over the stone, {along}", along=along)),) if total.all_of(DRESSING) else ()),
         *((counted(tr("Pavement to cut and make good"), sum(paved.values()), k.AREA, tr("over the trenches, {along}", along=along)),) if paved else ())),
        counted(tr("Spoil left over, loose"), max(0.0, total.dug - backfill) * (1 + job.limits.swell), k.VOLUME, tr("with the swell you set")),
    )  # fmt: skip


def _each(label: str, amounts: dict[str, float], kind: k.Kind, note: str) -> tuple[Figure, ...]:
    """A row for each product, named in its label where there are several."""
    if len(amounts) > 1:
        return tuple(counted(f"{label}: {name}", amount, kind, note) for name, amount in amounts.items())
    return (counted(label, sum(amounts.values()), kind, note),)


def _wraps(site: Site) -> str:
    """In words what fabric is used, and how."""
    used = dict.fromkeys(f"{tr(s.make.section.wrap)}, {s.make.geotextile.name}" for found in site.runs for s in found.stretches
                         if not s.is_solid and s.make.section.has_cloth)  # fmt: skip
    return "; ".join(used) or tr("no fabric")


def integrate(stations: Array, heights: Array, area: Callable[[Array], Array]) -> float:
    """Volume m³ of a section area over stations, where heights are straight between them (Simpson, exact here)."""
    if len(stations) < 2:
        return 0.0
    middle = (heights[:-1] + heights[1:]) / 2
    return float(np.sum(np.diff(stations) * (area(heights[:-1]) + 4 * area(middle) + area(heights[1:])) / 6))


def integrate_above(stations: Array, heights: Array, area: Callable[[Array], Array]) -> float:
    """The same of what of the heights is more than nought; where they pass it between two stations, from there on."""
    more, less = np.maximum(heights, 0.0), np.minimum(heights, 0.0)
    low, high, under = more[:-1], more[1:], np.minimum(less[:-1], less[1:])
    top = np.maximum(low, high)
    share = np.divide(top, top - under, out=np.zeros_like(top), where=top > 0)
    return float(np.sum(np.diff(stations) * share * (area(low) + 4 * area((low + high) / 2) + area(high)) / 6))


def dug_volume(make: Make, stations: Array, heights: Array, under: Array | float = 0.0) -> float:
    """Volume m³ of a trench up to heights m over its bottom, shape (n,), with its benches; nothing where they are nought or less. It may be dug ``under`` m deeper than its own pipe asks."""
    over = 2 * make.bench * integrate_above(stations, heights - make.bench_over - under, lambda height: height) if make.bench else 0.0
    return integrate_above(stations, heights, make.area) + over


def benches(make: Make, stations: Array, cut: Array, under: Array | float = 0.0) -> float:
    """Area m² at the ground that the benches of a trench add."""
    return 2 * make.bench * integrate_above(stations, cut - make.bench_over - under, np.ones_like) if make.bench else 0.0


def _hard_depths(found: RunOutcome, stations: Array, kind: str) -> Array:
    """Depth m of a hard layer of a kind under stations, (n,); endless where there is none, or it is not known. Where two soils meet, that of the one above."""
    depths = np.full(len(stations), math.inf)
    for along in found.soils:
        if along.soil.hard_layer_depth is not None:
            depths[(stations >= along.low - SLIP) & (stations <= along.high + SLIP)] = along.soil.hard_layer_depth if along.soil.hard_layer == kind else math.inf
    return depths


def joints_in(length: float, piece: float) -> int:
    """Joints within a length m of pipe that comes in pieces of a length m."""
    return max(math.ceil(length / piece - SLIP) - 1, 0)


def length_in_ground(grade: GradeLine, low: float, high: float) -> float:
    """Length in m of the stretch between two stations where there is a trench at all."""
    inside = (grade.stations[:-1] >= low - SLIP) & (grade.stations[1:] <= high + SLIP)  # stations are rounded so far
    dug = (grade.cut[:-1] + grade.cut[1:]) > 0
    return float(np.sum(np.diff(grade.stations)[inside & dug]))

