"""Two ways to build a drain on the same ground, held against each other: what each lets through, costs the water, takes to build, and how long it may last."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterable

import numpy as np

from weirant.checks import STRETCH
from weirant.checks.cloth import CLOGGED
from weirant.clogging.assumed import Assumed
from weirant.design.schools import School, schools
from weirant.design.variants import VARIANTS
from weirant.errors import InputError, WeirantError
from weirant.ground.stretches import Make
from weirant.language import tr
from weirant.methods.cloth import cloth_head
from weirant.outcome.finding import Finding
from weirant.outcome.outcome import Outcome
from weirant.outcome.rows import rows_of
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass


@dataclass(frozen=True, eq=False)
class WayBuilt:
    """A way to build by the metre of drain: what is found of its contacts, the worst first; ``passes`` m² of what water from the soil goes through; ``head`` m that
    its cloth costs the wet season's water, new and clogged (None without cloth); ``starts`` m over the trench bottom from which on it takes water in; ``opening`` m²
    of the pipe; ``stone``, ``sand`` and ``dug`` m³, ``cloth`` m²; ``stores`` m³ of water that its stone and pipe hold; and the years. ``outcome`` is the job's with it
    in the place of what is drawn.
    """

    key: str
    make: Make
    contacts: tuple[Finding, ...]
    passes: float
    head: tuple[float, float] | None
    starts: float
    opening: float
    dug: float
    stone: float
    sand: float
    cloth: float
    stores: float
    years: School | None
    outcome: Outcome

    @property
    def passing(self) -> float | None:
        """Share of the best guess of the soil that is finer than what it must pass: of the facts that part two ways, that which is not the ground's."""
        return None if self.years is None else float(self.years.passing)


def two_ways(outcome: Outcome, found: RunOutcome, keys: tuple[str, str], years: int = 30, assumed: Assumed | None = None) -> tuple[WayBuilt, WayBuilt]:
    """Two ways by their keys, on the ground where most of a run collects. Raises InputError for a key that is not known, and where it does not collect."""
    unknown = next((key for key in keys if key not in VARIANTS), None)
    if unknown is not None:
        raise InputError(tr("way to build"), tr("is none of {keys}", keys=", ".join(VARIANTS)), unknown)
    if found.run.collecting_length < 0.1:
        raise InputError(found.run.name, tr("does not collect: there is nothing that could clog"))
    one, other = (_way(outcome, found, key, years, assumed) for key in keys)
    return one, other


def _way(outcome: Outcome, found: RunOutcome, key: str, years: int, assumed: Assumed | None) -> WayBuilt:
    station = found.part.station
    make = VARIANTS[key].of(found.make(station), outcome.library)
    cut = found.grade.at(found.grade.cut - found.make(station).below, station) + make.below if found.grade is not None else make.natural_stone + 0.15
    height = float(make.stone(np.array(cut)))
    core = float(make.core(np.array(height)))
    sand = float(make.area(np.array(height))) - core if make.section.is_in_sand else 0.0
    pipes = found.run.run.pipes * math.pi / 4 * make.pipe.outer_diameter**2
    inside = found.run.run.pipes * math.pi / 4 * make.pipe.inner_diameter**2
    rows = rows_of(outcome.job, make.pipe)
    stone = max(core - pipes, 0.0)
    return WayBuilt(key, make, tuple(_contacts(outcome, found, make)), make.passed, _head(found, make), make.below + min((row.height for row in rows), default=0.0),
               make.pipe.open_area_per_length, make.dug(cut), stone, sand,
               float(make.cloth(np.array(height))) + make.cloth_at_pipe,
               stone * make.aggregate.voids + sand * make.sand.voids + inside, _years(outcome, found, key, years, assumed), _instead(outcome, found, make))  # fmt: skip


def _contacts(outcome: Outcome, found: RunOutcome, make: Make) -> Iterable[Finding]:
    """What is found of every contact in the soil at the foot of the stone, the worst first."""
    soil, said = outcome.beside(found, found.part.station), []
    for code, check in STRETCH["filters"].items():
        try:
            finding = check(outcome, make, soil)
        except WeirantError:
            continue
        if finding is not None:
            said.append(finding.of(code=code, family="filters", subject=found.id))
    return sorted(said, key=lambda f: f.state.rank)


def _head(found: RunOutcome, make: Make) -> tuple[float, float] | None:
    """Head m lost in its cloth when new, and clogged; None where the water passes none, or nobody knows how much comes."""
    water = found.water
    if make.geotextile.permittivity <= 0 or not (make.section.is_lined or make.section.is_socked) or water is None or any(part.inflow is None for part in water.parts):
        return None
    rate = max((seep.rate for seep in water.inflow_high.seeps), default=0.0)
    if rate <= 0:
        return None
    new, clogged = (cloth_head(rate, make.passed, make.geotextile.permittivity, 1.0, min(make.section.overlap, make.passed) if make.section.is_covered else 0.0, share).head
                    for share in (0.0, CLOGGED))  # fmt: skip
    return new, clogged


def _years(outcome: Outcome, found: RunOutcome, key: str, years: int, assumed: Assumed | None) -> School | None:
    try:
        return schools(outcome, found, years, [key], assumed)[0]
    except WeirantError:  # what comes to it is not known: the rest can be told all the same
        return None


def _instead(outcome: Outcome, found: RunOutcome, make: Make) -> Outcome:
    """The outcome with a make in the place of that where most of a run collects: for drawing it."""
    here = found.stretch(found.part.station)
    stretches = tuple(dataclasses.replace(s, make=make) if s is here else s for s in found.stretches)
    runs = tuple(dataclasses.replace(run, stretches=stretches) if run is found else run for run in outcome.site.runs)
    return dataclasses.replace(outcome, site=dataclasses.replace(outcome.site, runs=runs))
