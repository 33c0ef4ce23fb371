"""What a run is made of along its way: the pipe of each stretch in its trench section, with stone and fabric."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from weirant.ground.network import LaidRun
from weirant.job.geometry import parts_of
from weirant.job.network import EXISTING, Stretch
from weirant.job.section import AT_JOINTS, OPEN_TOP, SOIL_CAP, TOP_SHEET, Bore, TrenchSection
from weirant.library import Aggregate, Geotextile, Library, Pipe
from weirant.methods.pipe_flow import silted_share
from weirant.records import dataclass

Array = NDArray[np.float64]
JOINT = 0.3  # m of the pipe that cloth at a joint goes round (common practice, no source)
ROUGHEST = 0.1  # Manning's n of no pipe
SLIGHT = 1e-9  # m over a bench that is rounding
LEAST_SHARE = 1e-3  # of what it carries clean that a pipe full of sediment is taken to let through


@dataclass(frozen=True)
class Make:
    """Pipe and section of a stretch, and the bore the pipe takes. ``crown`` m is how high over the bedding the highest pipe in the section
    reaches; equal makes are judged alike.
    """

    is_solid: bool
    pipe: Pipe
    section: TrenchSection
    bore: Bore
    aggregate: Aggregate
    geotextile: Geotextile
    sand: Aggregate
    crown: float

    @property
    def pipe_name(self) -> str:
        """What its pipe is called where it is laid."""
        return self.pipe.called(self.is_solid)

    @property
    def below(self) -> float:
        """From the invert down to the trench bottom, m."""
        return self.pipe.wall + self.bore.height + self.section.bedding

    @property
    def above(self) -> float:
        """From the invert up to the outside of the crown, m."""
        return self.pipe.inner_diameter + self.pipe.wall

    @property
    def natural_stone(self) -> float:
        """Height of the stone over the trench bottom under a soil cap, m; without stone that of the pipes."""
        return self.section.bedding + self.crown + self.section.stone_cover

    def stone(self, cut: Array, under: Array | float = 0.0) -> Array:
        """Height m of the stone over the bottom of a trench of a cut m, shape (n,), which is dug ``under`` m deeper than its own pipe asks."""
        room = np.maximum(cut - self.section.pavement - self.section.layer, 0.0)
        return room if self.section.top != SOIL_CAP else np.minimum(room, self.natural_stone + under)

    def least_cap(self, of_turf: float) -> float:
        """What must lie over the stone under a soil cap, m: its pavement, or what turf needs."""
        return self.section.pavement or of_turf

    def area(self, height: Array) -> Array:
        """Area m² of the trench up to a height m over its bottom, shape (n,), as far as it has no bench."""
        return (self.section.width + self.section.side_slope * height) * height

    @property
    def bench(self) -> float:
        """How far each side stands back over its bench, m; stone that goes up to the top leaves no room for one."""
        return self.section.bench_width if self.is_solid or self.section.top == SOIL_CAP else 0.0

    @property
    def bench_over(self) -> float:
        """From the trench bottom up to the bench, m: what was given, or the top of the stone where that is higher."""
        return self.section.bench_height if self.is_solid else max(self.section.bench_height, self.natural_stone)

    def edge(self, height: Array | float) -> Array:
        """Half the width m of the trench at a height m over its bottom, such as at the ground, shape (n,); at that of the bench, under it."""
        return self.section.width / 2 + self.section.side_slope * np.asarray(height) + self.bench * (np.asarray(height) > self.bench_over + SLIGHT)

    def wall(self, low: float, high: float) -> tuple[tuple[float, float], ...]:
        """The right wall of the trench between two heights m over its bottom, from the lower up: how far from the middle m, and how high m."""
        over = self.bench_over
        foot = self.section.width / 2 + self.section.side_slope * over
        shelf = ((foot, over), (foot + self.bench, over)) if self.bench and low <= over + SLIGHT < high else ()
        return ((float(self.edge(low)), low), *shelf, (float(self.edge(high)), high))

    def dug(self, cut: float) -> float:
        """Area m² of what is dug at a cut m, with its benches."""
        return float(self.area(np.array(cut))) + 2 * self.bench * max(cut - self.bench_over, 0.0)

    def core(self, height: Array) -> Array:
        """Area m² of the stone in a filling of a height m over the bottom, shape (n,), with the pipes in it: what the sand round it leaves, or all."""
        if not self.section.has_stone:
            return np.zeros_like(height)
        if not self.section.is_in_sand:
            return self.area(height)
        thick, lean = self.section.sand_thickness, self.section.side_slope
        across = max(self.section.width + 2 * lean * thick - 2 * thick * math.hypot(1, lean), 0.0)
        inside = np.maximum(height - thick * (1 if self.section.top == OPEN_TOP else 2), 0.0) if across else np.zeros_like(height)
        return (across + lean * inside) * inside

    def cloth(self, height: Array) -> Array:
        """Cloth m² by the metre round stone of a height m over the bottom, (n,): at its floor and sides, and over it with what overlaps or is tucked in there."""
        section, sheets = self.section, self.section.sheets
        closes = sheets.over * (section.layers if section.wrap == TOP_SHEET else 1)
        across = section.width * (sheets.floor + closes) + section.overlap * sheets.over
        return across + (sheets.sides * math.hypot(1, section.side_slope) + 2 * section.side_slope * closes) * height

    @property
    def cloth_at_pipe(self) -> float:
        """Cloth m² by the metre on the pipe itself: a sock, or strips at its joints."""
        girth = math.pi * self.pipe.outer_diameter
        if self.section.wrap == AT_JOINTS:
            return (girth + self.section.overlap) * JOINT / self.pipe.supply_length
        return girth if self.section.is_socked else 0.0

    def voids(self, height: float) -> float:
        """Share of voids in what fills the trench up to a height m over its bottom: of stone, and of sand round it."""
        if not self.section.has_stone:
            return 0.0
        whole, core = (float(area(np.array(height))) for area in (self.area, self.core))
        return self.aggregate.voids if core >= whole else (core * self.aggregate.voids + (whole - core) * self.sand.voids) / whole

    @property
    def against_soil(self) -> Aggregate:
        """What of stone or sand lies against the soil, or behind its cloth."""
        return self.sand if self.section.is_in_sand else self.aggregate

    @property
    def passed(self) -> float:
        """Length m, across the section, of what the water from the soil passes into the stone: cloth where there is some between, or else all round the stone."""
        width, up, sheets = self.section.width, self.natural_stone * math.hypot(1, self.section.side_slope), self.section.sheets
        if self.section.is_socked:
            return math.pi * self.pipe.outer_diameter
        if not self.section.is_lined:
            return 2 * (width + up)
        return width * (sheets.floor + sheets.over) + sheets.sides * up


@dataclass(frozen=True)
class LaidStretch:
    """A stretch of a run from and to a station m, of a make; ``id`` is its identity within the run."""

    id: str
    low: float
    high: float
    make: Make

    @property
    def is_solid(self) -> bool:
        """Whether it is solid pipe."""
        return self.make.is_solid

    def holds(self, stations: Array) -> NDArray[np.bool_]:
        """Which of the stations m, shape (n,), lie on it, its ends with it."""
        return np.asarray((stations >= self.low - 1e-6) & (stations <= self.high + 1e-6))  # stations are rounded so far


def levels_key(stretches: Sequence[LaidStretch]) -> str:
    """All of the stretches that levels hang on, as a text: equal where a grade line in them is the same."""
    return "|".join(f"{s.low!r} {s.high!r} {s.make.below!r} {s.make.above!r} {s.make.natural_stone!r}" for s in stretches)


def pipes_key(stretches: Sequence[LaidStretch]) -> str:
    """All of the stretches that the flow in their pipes hangs on, as a text."""
    return "|".join(f"{s.low!r} {s.high!r} {p.inner_diameter!r} {p.outer_diameter!r} {p.roughness_n!r}" for s in stretches for p in (s.make.pipe,))


def at(stretches: Sequence[LaidStretch], station: float) -> LaidStretch:
    """The stretch at a station m; where two meet the one above."""
    return next((s for s in reversed(stretches) if station >= s.low - 1e-6), stretches[0])


def largest(stretches: Sequence[LaidStretch], stations: Array, of: Callable[[Make], float]) -> Array:
    """A figure of the make at stations m, both (n,); where two stretches meet the larger of theirs."""
    if len(stretches) == 1:
        return np.full(len(stations), of(stretches[0].make))
    found = np.full(len(stations), -np.inf)
    for stretch in stretches:
        here = stretch.holds(stations)
        found[here] = np.maximum(found[here], of(stretch.make))
    return found


def silted(pipe: Pipe, sediment: float) -> Pipe:
    """A pipe that carries what sediment m deep leaves of it: as a rougher one of its size, so that its levels stay its own; rougher than any pipe is, it is made narrower too."""
    share = max(silted_share(sediment / pipe.inner_diameter), LEAST_SHARE)
    rough = min(pipe.roughness_n / share, ROUGHEST)
    narrower = pipe.inner_diameter * (1 - (share * rough / pipe.roughness_n) ** (3 / 8))  # by Manning's formula
    return dataclasses.replace(pipe, roughness_n=rough, inner_diameter=pipe.inner_diameter - narrower, outer_diameter=pipe.outer_diameter - narrower)


@dataclass(frozen=True, eq=False)
class Makes:
    """The sections of a job by their identity, the runs that lie in others' trenches, and the library its products come from."""

    sections: dict[str, TrenchSection]
    guests: dict[str, tuple[LaidRun, ...]]
    hosts: dict[str, LaidRun]
    library: Library

    def along(self, run: LaidRun) -> tuple[LaidStretch, ...]:
        """The stretches of a run from its low end up. Raises InputError where a product is not in the library."""
        beside = [(guest.run.bore, max(self.library.pipe(s.pipe).outer_diameter for s in guest.run.stretches)) for guest in self.guests.get(run.id, ()) if guest.run.bore]
        return tuple(LaidStretch(stretch.id, low, high, self._make(run, stretch, (low + high) / 2, beside)) for low, high, stretch in parts_of(run.run, run.length))

    def _make(self, run: LaidRun, stretch: Stretch, middle: float, beside: list[tuple[str, float]]) -> Make:
        library, host = self.library, self.hosts.get(run.run.trench_of) if run.run.bore else None
        named = stretch.section
        if host is not None:  # in its place in another's trench that one's section holds
            there = host.alignment.nearest(run.alignment.point(middle))[0]
            named = next(s.section for low, _, s in reversed(parts_of(host.run, host.length)) if there >= low - 1e-6)
        section, pipe = self.sections[named].as_filled, library.pipe(stretch.pipe)
        bore = section.bore(run.run.bore if host is not None else "")
        crown = max(bore.height + pipe.outer_diameter, *(section.bore(place).height + size for place, size in beside), 0.0)
        if run.run.status == EXISTING and run.run.sediment > 0:
            pipe = silted(pipe, run.run.sediment)
        return Make(stretch.is_solid, pipe, section, bore, library.aggregate(section.aggregate), library.geotextile(section.geotextile), library.aggregate(section.sand), crown)


def makes_of(runs: Sequence[LaidRun], sections: Sequence[TrenchSection], library: Library) -> Makes:
    """Ready to tell what the runs of a job are made of."""
    guests: dict[str, tuple[LaidRun, ...]] = {}
    for run in runs:
        if run.run.trench_of:
            guests[run.run.trench_of] = (*guests.get(run.run.trench_of, ()), run)
    return Makes({s.id: s for s in sections}, guests, {run.id: run for run in runs}, library)
