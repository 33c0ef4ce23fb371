"""Schools of building a drain on the ground of one run, followed for years over many plausible soils: what fills and blinds each, with its spread."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from weirant.clogging.assumed import Assumed
from weirant.clogging.drain import Built, Cloth, IntakeRow, Soils
from weirant.clogging.years import Clogged, course
from weirant.design.debris import shed_into
from weirant.design.variants import USUAL, VARIANTS
from weirant.errors import InputError
from weirant.ground.stretches import Make
from weirant.job.section import LINING, OPEN_TOP, SOIL_CAP
from weirant.language import tr
from weirant.methods.gradation import Gradation
from weirant.methods.pipe_flow import pipe_full_flow
from weirant.outcome.outcome import Outcome, SoilFigures
from weirant.outcome.rows import rows_of
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass
from weirant.units import parse
from weirant.units.dimension import NUMBER

Array = NDArray[np.float64]
SHARES, ABOVE_NOUGHT = {"washes", "flushed", "reaches", "wet"}, {"plasticity", "packed", "cake_voids", "wet"}  # of what is assumed
PORE = 4.0  # D15 over the grain that passes: Sherard, Dunnigan and Talbot 1984 hold back d85 with D15 of four to five times (recalled)
NONWOVEN = 1.8  # B of nonwovens against silt and clay
LEAST_THROUGH = 0.03  # m of stone that water passes at the least
SOILS, SEED = 100, 20
MOVES = 25.0  # percent finer than the grains that stand for those that move: the middle of the finer half
PLASTICITY, TURBID, COARSER, TENTH = 3.0, 3.0, 1.5, 1.2816  # spread (common practice, no source): of the index; factors at the ninetieth of a hundred; standard deviations

@dataclass(frozen=True, eq=False)
class School:
    """A way to build the drain, by its key, and what became of it over the years."""

    key: str
    built: Built
    course: Clogged
    assumed: Assumed
    passing: float = 0.0  # share of the best guess of the soil that is finer than what it must pass

    @property
    def lasts(self) -> tuple[float, float, float]:
        """Years until it no longer takes what comes: of ten soils the first fails by, half, and nine; infinite where to the end."""
        return _of_ten(self.course.lasts)

    @property
    def silted(self) -> float:
        """Share of the voids of its stone that is full at the end, in the middle of the soils."""
        room = self.assumed.packed * self.built.stone * self.built.voids
        return float(np.median(self.course.in_stone[-1])) / room if room > 0 else 0.0

    @property
    def in_pipe(self) -> float:
        """Height m of what lies in the pipe at the end, in the middle of the soils; no more than the pipe is high."""
        return min(float(np.median(self.course.in_pipe[-1])) / (self.assumed.packed * self.built.diameter), self.built.diameter)

    @property
    def takes(self) -> float:
        """How many times what comes it takes at the end, in the middle of the soils."""
        return float(np.median(self.course.takes[-1]))


def _of_ten(values: Array) -> tuple[float, float, float]:
    ranked = np.sort(values)
    first, middle, ninth = (float(ranked[min(int(share * len(ranked)), len(ranked) - 1)]) for share in (0.1, 0.5, 0.9))
    return first, middle, ninth


def with_assumed(assumed: Assumed, key: str, text: str, *, strict: bool = False) -> Assumed:
    """What is assumed with another figure, as it was typed. Raises InputError where there is none of that name, or it cannot be as much or as little."""
    known = [field.name for field in dataclasses.fields(Assumed)]
    if key not in known:
        raise InputError("assume", tr("needs KEY=VALUE with one of {keys}", keys=", ".join(known)), key)
    value = float(parse(text, NUMBER, key, strict=strict))
    if not 0 <= value <= (1 if key in SHARES else 1e6) or (key in ABOVE_NOUGHT and value == 0):
        raise InputError(key, tr("cannot be as much or as little"), text)
    return dataclasses.replace(assumed, **{key: value})


def schools(outcome: Outcome, found: RunOutcome, years: int = 30, keys: Iterable[str] = USUAL, assumed: Assumed | None = None, flush_every: int = 0) -> list[School]:
    """The schools on the ground where most of a run collects. Raises InputError where it does not collect, or what comes to it is not known."""
    soils, given = plausible(outcome, found), assumed or Assumed()
    built = ways(outcome, found, found.make(found.part.station), keys)
    return [School(key, of, course(soils, of, years, given, flush_every), given, float(soils.passing(of.meets)[0])) for key, of in built.items()]


def plausible(outcome: Outcome, found: RunOutcome, count: int = SOILS) -> Soils:
    """Plausible soils beside a run: its conductivity over its band, its plasticity, grading and looseness as far as nobody knows them; the first is the best guess."""
    part = next((w for w in found.water.parts if w.of is found.part), None) if found.water is not None else None
    if found.run.collecting_length < 0.1:
        raise InputError(found.run.name, tr("does not collect: there is nothing that could clog"))
    if part is None or part.inflow is None:
        raise InputError(found.run.name, tr("cannot be followed: what water comes to it is not known"))
    if part.inflow.value <= 0:
        raise InputError(found.run.name, tr("takes in no water in the wet season: there is nothing to follow"))
    soil = outcome.beside(found, found.part.station)
    normal = _hypercube(count, 4)
    band = outcome.soil(found.soil(found.part.station)).conductivity
    spread = max(math.log(band.high / band.low) / (2 * TENTH), 1e-9)
    factor = np.exp(math.log(COARSER) / TENTH * normal[:, 1])
    inflow = part.inflow.value * np.exp(spread * normal[:, 0])
    plasticity = np.maximum(soil.plasticity_index + PLASTICITY * normal[:, 2], 0.0)
    moves = soil.gradation.size_at(MOVES) or soil.gradation.sizes[-1]
    return Soils(inflow, plasticity, d_tenth(soil.gradation) * factor, moves * factor, np.exp(math.log(TURBID) / TENTH * normal[:, 3]), _Passing(soil, factor))


@dataclass(frozen=True, eq=False)
class _Passing:
    """What of each soil is finer than a size: the curve of one made so many times coarser, (n,)."""

    soil: SoilFigures
    factor: Array

    def __call__(self, size: float) -> Array:
        curve = self.soil.gradation
        sizes, percents = np.array(curve.sizes[::-1]), np.array(curve.percents[::-1])
        left = min(percents[0], 100.0) if percents[0] > 0 else 0.0
        found: Array = np.interp(np.log(size / self.factor), np.log(sizes), percents, left=left, right=100.0) / 100
        return found


def d_tenth(curve: Gradation) -> float:
    """The size m that a tenth is finer than; where the curve ends above that, as far beyond its last sieve as its share says, on the straight line to nought at a
    thousandth of it.
    """
    d10 = curve.size_at(10)
    if d10 is not None:
        return d10
    return float(curve.sizes[-1] * (10.0 / curve.percents[-1])) if curve.percents[-1] > 10 else float(curve.sizes[-1])


def _hypercube(count: int, across: int) -> Array:
    """Standard normal samples, (count, across), one in each of as many equal parts; the first in the middle of all. Always the same."""
    chance = np.random.default_rng(SEED)
    ranks = np.stack([chance.permutation(count) for _ in range(across)], axis=1)
    found: Array = np.sqrt(2.0) * _inverse_erf(2 * (ranks + 0.5) / count - 1)
    found[0] = 0.0
    return found


def _inverse_erf(values: Array) -> Array:
    """To 0.2 %: Winitzki 2008, which spares the import of a library of statistics."""
    a = 0.147
    log = np.log(1 - values**2)
    half = 2 / (np.pi * a) + log / 2
    return np.asarray(np.sign(values) * np.sqrt(np.sqrt(half**2 - log / a) - half))


def ways(outcome: Outcome, found: RunOutcome, make: Make, keys: Iterable[str] = USUAL) -> dict[str, Built]:
    """Every way to build in the trench of a make, by its key."""
    return {key: _built(outcome, found, VARIANTS[key].of(make, outcome.library), key) for key in keys}


def _built(outcome: Outcome, found: RunOutcome, make: Make, key: str) -> Built:
    section, pipe, stone, outer = make.section, make.pipe, make.aggregate, make.against_soil
    height, on_pipe = make.natural_stone, make.section.is_socked
    d15, holds = (of.coarse_side.size_at(15) or of.coarse_side.sizes[-1] for of in (stone, outer))
    girth = 2 * (section.width + height) if section.has_stone else make.passed
    cloth = None
    if (on_pipe or (section.is_lined and section.is_bare_at in ("", "over"))) and make.geotextile.permittivity > 0:  # past a bare floor soil gets in as past none
        # the way through a needled cloth is narrower than its largest opening: by the factor that its retention is given (FHWA NHI-07-092)
        opening = make.geotextile.o95 / (NONWOVEN if make.geotextile.kind == "nonwoven" else 1.0)
        cloth = Cloth(opening, make.geotextile.permittivity, make.passed, on_pipe)
    area = max(float(make.core(np.array(height))) - math.pi / 4 * pipe.outer_diameter**2, 0.0)
    velocity = found.flow.full_velocity if found.flow is not None and found.flow.full_velocity > 0 else pipe_full_flow(pipe.inner_diameter, pipe.roughness_n, 1e-3).velocity
    through, conductivity = max((section.width - pipe.outer_diameter) / 2, LEAST_THROUGH), stone.conductivity[0]
    if section.is_in_sand:
        of_stone = max(through - section.sand_thickness, LEAST_THROUGH)
        through = of_stone + section.sand_thickness
        conductivity = through / (of_stone / conductivity + section.sand_thickness / outer.conductivity[0])
    roof, ground = (area / found.run.collecting_length for area in shed_into(outcome, found))
    return Built(VARIANTS[key].name, girth, holds / PORE, cloth, area, stone.voids if stone.washed else stone.voids / 2, d15, conductivity, through,
                 max(height - make.below, pipe.inner_diameter),
                 tuple(IntakeRow(*row) for row in rows_of(outcome.job, pipe)), pipe.inner_diameter, make.below, section.width, velocity, pipe.openings != "down",
                 section.top == OPEN_TOP or (section.wrap == LINING and section.top != SOIL_CAP), roof, ground)  # fmt: skip
