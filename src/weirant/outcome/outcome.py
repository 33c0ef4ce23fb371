"""Everything computed of one job."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import field, replace
from functools import cached_property

from weirant.errors import InputError
from weirant.ground.levels import LevelBook
from weirant.job import Job
from weirant.job.soil import Band, Soil
from weirant.language import tr
from weirant.library import Library
from weirant.methods.gradation import Gradation
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding
from weirant.outcome.site import RunOutcome, Site
from weirant.outcome.telling import told
from weirant.records import dataclass
from weirant.rules import Rules


@dataclass(frozen=True)
class SoilFigures:
    """A soil, or one ``layer`` of it, as the sums take it. ``gradation_assumed`` tells that it is the texture's typical curve."""

    id: str
    layer: int
    conductivity: Band
    conductivity_assumed: bool
    gradation: Gradation
    gradation_assumed: bool
    plasticity_index: float
    drainable_porosity: float
    texture_name: str

    def path(self, field: str) -> str:
        """Path of a field of its layer."""
        return f"soils.{self.id}.layers.{self.layer}.{field}"


@dataclass(frozen=True)
class TakeOff:
    """Quantities, SI. Volumes in place except spoil_loose, nothing with waste: that is in the order. Of fabric there may be several products."""

    dug: Figure
    stone: Figure
    stone_mass: Figure
    fabrics: tuple[Figure, ...]
    perforated_pipe: Figure
    solid_pipe: Figure
    backfill: Figure
    on_top: tuple[Figure, ...]
    spoil_loose: Figure

    def rows(self) -> tuple[Figure, ...]:
        """All of them in the order of the list."""
        return self.dug, self.stone, self.stone_mass, *self.fabrics, self.perforated_pipe, self.solid_pipe, self.backfill, *self.on_top, self.spoil_loose


@dataclass(frozen=True)
class Outcome:
    """Result of assessing a job: what holds for all of it, and in ``site`` what was found of every run."""

    job: Job
    book: LevelBook
    library: Library
    rules: Rules
    soils: Mapping[str, SoilFigures]
    layers: Mapping[str, tuple[SoilFigures, ...]]
    site: Site
    takeoff: TakeOff | None = None
    findings: tuple[Finding, ...] = field(default=())

    def soil(self, of: Soil) -> SoilFigures:
        """A soil of the job as the sums take it."""
        return self.soils[of.id]

    def layer(self, of: Soil, number: int) -> SoilFigures:
        """A layer of a soil of the job, counted from the top down."""
        return self.layers[of.id][number]

    def beside(self, found: RunOutcome, station: float) -> SoilFigures:
        """The layer of soil at the foot of the stone at a station of a run."""
        return self.layer(found.soil(station), found.layer_at(station))

    def run(self, identity: str) -> RunOutcome:
        """What was found of a run. Raises InputError where there is none of that identity."""
        found = self.site.run(identity)
        if found is None:
            raise InputError("run", tr("is not on this site"), identity)
        return found

    def chosen(self, identity: str = "") -> RunOutcome:
        """What was found of a run; where none is named, of the first that keeps a place dry, or else of the first."""
        return self.run(identity) if identity else next((found for found in self.site.runs if found.serving), self.site.runs[0])

    @cached_property
    def told(self) -> tuple[Finding, ...]:
        """The findings as they are told: equal ones of many runs once, that of the run with the least room."""
        return told(self.findings)


def with_findings(outcome: Outcome, findings: Sequence[Finding]) -> Outcome:
    """The outcome with more findings, in place of earlier ones about the same; worst first."""
    told = {f.about for f in findings}
    others = [f for f in outcome.findings if f.about not in told]
    return replace(outcome, findings=tuple(sorted([*others, *findings], key=lambda f: f.state.rank)))
