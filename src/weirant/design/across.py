"""The ground across the drain at a station, as the simulator takes it."""

from __future__ import annotations

import dataclasses
import math
from functools import lru_cache

import numpy as np

from weirant.design.pedotransfer import predicted, shares_of
from weirant.design.soil import layer_conductivity
from weirant.errors import InputError
from weirant.ground.collecting import Collecting
from weirant.job import Job
from weirant.job.beside import NOUGHT
from weirant.job.section import OPEN_TOP, TOP_SHEET
from weirant.job.site import FOUNDED, Feature
from weirant.job.soil import Band, Layer
from weirant.job.water import BOTH_SIDES, HILLSIDE, ONE_SIDE, PARALLEL
from weirant.language import tr
from weirant.library import Aggregate, Library
from weirant.methods.soil_tests import kozeny_carman
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass
from weirant.seepage.medium import Medium, stone
from weirant.seepage.section import HARD, Cover, Cut, Faces, Opening, Section, Stratum
from weirant.units.display import DISTANCE, STATION, System, shown

Curve = tuple[float, float, float, float]
FASTEST_STONE = 0.1  # m/s: in clean stone flow is no longer laminar, and more would not be believed (cp)
COLD = 10.0  # °C of groundwater
DEEPEST = 3.0  # m below the drain that are looked at where no hard layer is known (cp)
DEEPEST_TRENCH = 15.0  # m; deeper ones are a slip in a level (cp)
FARTHEST, NEAREST = 60.0, 4.0  # m up and down the slope
LEAST_LAYER = 0.02  # m; a thinner layer over the hard one is none (cp)
LEAST_GROUND = 0.1  # m to which ground without a drain is cut; where it is hard from less, that follows (cp)
BEHIND = 2.0  # times as far as the place that the ground behind it may go on, and drain to it (cp)
FOOTING_WIDTH = 0.25  # m (cp)
EDGE = 0.05  # m outside what is kept dry at which its depth to water is read
WIDEST_COVER, WIDEST = 15.0, 30.0  # m of a building, and of what a drain goes through, that are looked at


@dataclass(frozen=True)
class GroundSample:
    """What is not known of the ground and may be changed for a sample: factors on the conductivity of the layers and on the pores
    that drain, the depth to the hard layer, m (None: the job's own), and a factor on how far the ground goes on behind the place where
    water comes from one side, which nobody knows.
    """

    conductivity: float = 1.0
    porosity: float = 1.0
    hard_layer: float | None = None
    behind: float = 1.0


def medium_of(layer: Layer, library: Library, ground: GroundSample | None = None, sideways: float = 1.0, curve: Curve | None = None) -> Medium:
    """A layer's curves: its own conductivity or that of its texture, the texture's curve unless one is given; ``sideways`` times faster
    along the layer.

    The conductivity is taken as the one along the layer, which is what a test hole mostly measures.
    """
    texture, ground = library.texture(layer.texture), ground or GroundSample()
    residual, saturated, alpha, shape = curve or texture.curve
    # pores that drain are changed by what the soil keeps; their whole must stay under one
    residual = min(max(saturated - (saturated - residual) * ground.porosity, 0.0), saturated - 0.02)
    # the air entry stays well within the height over which a coarse soil dries
    return Medium(texture.name, layer_conductivity(layer, library).best * ground.conductivity / sideways, residual, saturated, alpha, shape, sideways,
                  entry=-min(0.02, 0.3 / alpha))  # fmt: skip


def own_curve(layer: Layer) -> Curve | None:
    """The curve that the sieve and hydrometer result of a layer gives; None where it does not reach down to clay."""
    shares = shares_of(layer.gradation)
    found = predicted(shares) if shares is not None else None
    return found.curve if found is not None else None


@lru_cache(maxsize=64)
def stone_of(aggregate: Aggregate) -> Medium:
    """A stone by its finest tenth (Kozeny–Carman at 10 °C), at most 0.1 m/s."""
    coarse, fine = aggregate.coarse_side.size_at(10), aggregate.fine_side.size_at(10)
    sizes = [s for s in (coarse, fine) if s]
    middle = math.exp(sum(map(math.log, sizes)) / len(sizes)) if sizes else 1e-3
    ratio = aggregate.voids / (1 - aggregate.voids)
    return stone(aggregate.name, min(kozeny_carman(middle, ratio, COLD), FASTEST_STONE), aggregate.voids)


@dataclass(frozen=True, eq=False)
class Stand:
    """Where a section is cut: a run at a station m, and what collects there."""

    found: RunOutcome
    part: Collecting
    station: float

    @property
    def place(self) -> Feature:
        """The place that is judged there. Raises InputError where none is kept dry."""
        if self.part.place is None:
            raise InputError("", tr("{run} keeps no place dry here: choose the place first (Find the water), or take another run in hand", run=self.found.run.name))
        return self.part.place

    def place_across(self, section: Section) -> float:
        """Where the place is judged, m across a section cut here: at its edge (at its far one where the line goes through it), or in the middle
        between parallel lines.
        """
        near, far = edges_at(self.found, self.part, self.station) or (section.downslope, section.downslope)
        edge = section.downslope if self.part.situation.source == PARALLEL else min(near if near > NOUGHT else far, section.downslope)
        return max(edge - EDGE, 0.0)


def stand_at(outcome: Outcome, station: float | None, run: str = "") -> Stand:
    """A run at a station, or where it keeps its place dry, where none is named; of no run named, the first that keeps a place dry."""
    found = outcome.chosen(run)
    part = found.part if station is None else found.part_at(station)
    return Stand(found, part, part.station if station is None else min(max(station, 0.0), found.run.length))


def other_sides(part: Collecting) -> tuple[GroundSample, ...]:
    """Grounds with what nobody knows of the sides taken otherwise: where water comes from one side, that behind the place goes on twice as far."""
    return (GroundSample(behind=BEHIND),) if part.situation.source == ONE_SIDE else ()


def grounds_of(part: Collecting, band: Band) -> tuple[GroundSample, ...]:
    """The grounds on which an answer is asked: the best conductivity first, then the ends of its range and the sides taken otherwise."""
    return (*map(GroundSample, dict.fromkeys((1.0, band.low / band.best, band.high / band.best))), *other_sides(part))


def hard_layer_ends(stand: Stand) -> tuple[float, float]:
    """Depths m that a hard layer of unknown depth may have for all that is known: right under the trench, and far under it. Raises InputError where the
    ground is not known.
    """
    if stand.found.grade is None:
        raise InputError("", tr("the ground along {run} is not known yet: type the rod readings first", run=stand.found.run.name))
    cut = max(stand.found.grade.at(stand.found.grade.cut, stand.station), stand.part.soil.water_table_depth or 0.0)
    return cut, cut + DEEPEST


def section_at(outcome: Outcome, station: float | None = None, *, run: str = "", drained: bool = True, ground: GroundSample | None = None) -> Section:
    """The section at a station of a run (where it keeps its place dry, where None); without its drain where not ``drained``.

    Raises InputError where the ground along the run or the water table is not known.
    """
    stand = stand_at(outcome, station, run)
    found, water = stand.found, 0.0
    if found.flow_high is not None and found.grade is not None:
        water = found.flow_high.at_station(found.grade, stand.station)
    return section_of(outcome.job, outcome.library, stand, water, drained=drained, ground=ground)


def section_of(job: Job, library: Library, stand: Stand, water: float, *, drained: bool = True, ground: GroundSample | None = None) -> Section:
    """The section where a run is stood at, with water m deep in its pipe. Raises InputError as ``section_at``."""
    found, part, at = stand.found, stand.part, stand.station
    grade, given = found.grade, ground or GroundSample()
    if grade is None:
        raise InputError("", tr("the ground along {run} is not known yet: type the rod readings first", run=found.run.name))
    cut_depth = grade.at(grade.cut, at)
    if cut_depth < 0.1:
        raise InputError("", tr("at station {at} the pipe lies at the surface: choose a station where there is a trench", at=shown(at, STATION, System(job.units))))
    if cut_depth > DEEPEST_TRENCH:
        raise InputError("", tr("at station {at} the trench would be {depth} deep: look at levels and slope again", at=shown(at, STATION, System(job.units)),
                                depth=shown(cut_depth, DISTANCE, System(job.units))))
    soil, situation = part.soil, part.situation
    hard = given.hard_layer or soil.hard_layer_depth or cut_depth + DEEPEST
    deep = max(hard, cut_depth if drained else LEAST_GROUND)
    media = [medium_of(layer, library, given, soil.sideways, own_curve(layer)) for layer in soil.layers]
    strata = _strata(media, soil.boundaries, hard, deep)
    source, wet = situation.source, soil.water_table_depth
    slope = (soil.water_table_slope or 0.0) if source == HILLSIDE else 0.0
    far = min(max(situation.reach, NEAREST), FARTHEST)
    edges = edges_at(found, part, at)
    beyond = 0.0 if edges is None else edges[0] + min(edges[1] - edges[0], WIDEST_COVER if edges[0] > NOUGHT else WIDEST)
    lie = {
        HILLSIDE: (far, max(beyond, NEAREST), wet, None), ONE_SIDE: (far, max(beyond, NEAREST) * given.behind, wet, None),  # the place lies behind the drain
        BOTH_SIDES: (far, max(far, beyond), wet, wet), PARALLEL: (situation.reach / 2, situation.reach / 2, None, None),
    }[source]  # fmt: skip
    tables = [None if t is None else min(t, deep - 0.05) for t in lie[2:]]
    return Section(lie[0], lie[1], deep, slope, strata, _cut(job, found, at, cut_depth, media[0], water) if drained else None, _covers(part, edges, lie[1], found.make(at).section.width),
                   tables[0], tables[1], runs_on=source == HILLSIDE and slope > 0)  # fmt: skip


def _strata(media: list[Medium], boundaries: list[float | None], hard: float, deep: float) -> tuple[Stratum, ...]:
    """Layers from the top down to the hard layer; where the trench is cut into that, it follows, and lets next to nothing through."""
    begins = [depth for depth in boundaries if depth is not None and depth < hard - LEAST_LAYER]  # none where it is hard from the top
    ends = [*begins[1:], hard]
    strata = tuple(Stratum(medium, end - start) for medium, start, end in zip(media, begins, ends, strict=False))
    if deep <= hard + 1e-6:
        return strata
    tight = dataclasses.replace(media[max(len(begins) - 1, 0)], name=HARD, conductivity=min(m.conductivity for m in media) / 100)
    return (*strata, Stratum(tight, deep))


def _cut(job: Job, found: RunOutcome, at: float, depth: float, top_soil: Medium, water: float) -> Cut:
    make = found.make(at)
    pipe, section = make.pipe, make.section
    foot = depth - section.bedding - make.bore.height
    stone_top = depth - (float(make.stone(np.array(depth))) if section.has_stone else 0.0)
    collects = not found.run.is_solid_at(at)
    permittivity = make.geotextile.permittivity
    opening = Opening(
        pipe.outer_diameter, foot, pipe.wall, pipe.outer_diameter if pipe.openings == "all round" else pipe.outer_diameter / 4, pipe.wall + water,
        pipe.open_area_per_length * (1 - job.limits.blocked) * found.run.run.pipes, permittivity if section.is_socked else None,
    )  # fmt: skip
    sheets, between = section.sheets, permittivity / (section.layers if section.wrap == TOP_SHEET else 1)
    lies = Faces(sheets.floor, sheets.sides > 0, sheets.over)
    if section.is_in_sand:  # a layer of sand costs the water what a cloth of its conductivity over its thickness does
        between, lies = stone_of(make.sand).conductivity / section.sand_thickness, Faces(over=section.top != OPEN_TOP)
    wraps = between if any(lies) and stone_top < depth else None
    return Cut(section.width, depth, stone_top, stone_of(make.aggregate), top_soil, opening if collects else None, section.side_slope, wraps, lies)


def edges_at(found: RunOutcome, part: Collecting, station: float) -> tuple[float, float] | None:
    """Distances m of the near and the far edge of the place that a part keeps dry, square to the run at a station, or where it does not lie there,
    or the line goes through it, as it lies at all; None where it keeps none.
    """
    lie = part.lie
    if lie is None:
        return None
    run = found.run.alignment
    here = lie.across(run.point(station), run.bearing(station))
    return here if here is not None and here[0] > NOUGHT else (lie.distance, max(lie.farthest, lie.distance))


def _covers(part: Collecting, edges: tuple[float, float] | None, end: float, width: float) -> tuple[Cover, ...]:
    """What stands on the place to keep dry: a slab keeps rain off, a footing or a wall also keeps water back. What a drain lies under does not."""
    place = part.place
    if place is None or edges is None or place.kind not in FOUNDED or not width / 2 < edges[0] < end:
        return ()
    near, far = edges
    footing = Cover(near, min(near + FOOTING_WIDTH, end), place.footing_depth or 0.0)
    if place.kind == "wall":
        return (footing,)
    rest = (Cover(footing.end, min(far, end)),) if footing.end < min(far, end) else ()
    return (footing, *rest)
