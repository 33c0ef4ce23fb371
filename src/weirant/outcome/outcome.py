"""Everything computed of one job."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from weirant.ground.grade_line import GradeLine
from weirant.ground.levels import LevelBook
from weirant.hydraulics.run_flow import RunFlow
from weirant.job import Job
from weirant.job.soil import Band
from weirant.library import Aggregate, Geotextile, Pipe
from weirant.methods.gradation import Gradation
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding
from weirant.outcome.site import Site


@dataclass(frozen=True)
class SoilFigures:
    """The soil as the sums take it. ``gradation_assumed`` tells that it is the texture's typical curve."""

    conductivity: Band
    conductivity_assumed: bool
    gradation: Gradation
    gradation_assumed: bool
    plasticity_index: float
    drainable_porosity: float
    texture_name: str


@dataclass(frozen=True)
class Water:
    """Inflow and water table, each as a figure with its band; None where an input is missing, named in ``missing``."""

    inflow: Figure | None
    table_depth: Figure | None
    storm: Figure
    roof: Figure | None
    missing: str = ""


@dataclass(frozen=True)
class TakeOff:
    """Quantities, SI. Volumes in place except spoil_loose; orders include waste."""

    dug: Figure
    stone: Figure
    stone_mass: Figure
    stone_order: Figure
    fabric: Figure
    perforated_pipe: Figure
    solid_pipe: Figure
    pipe_pieces: Figure
    backfill: Figure
    spoil_loose: Figure

    def rows(self) -> tuple[Figure, ...]:
        """All of them in the order of the list."""
        return (self.dug, self.stone, self.stone_mass, self.stone_order, self.fabric, self.perforated_pipe,
                self.solid_pipe, self.pipe_pieces, self.backfill, self.spoil_loose)  # fmt: skip


@dataclass(frozen=True)
class Outcome:
    """Result of assessing a job. ``grade`` and what follows from it are None until the ground is known."""

    job: Job
    book: LevelBook
    pipe: Pipe
    aggregate: Aggregate
    geotextile: Geotextile
    soil: SoilFigures
    grade: GradeLine | None = None
    flow: RunFlow | None = None
    flow_high: RunFlow | None = None
    water: Water | None = None
    takeoff: TakeOff | None = None
    site: Site | None = None
    findings: tuple[Finding, ...] = field(default=())


def with_finding(outcome: Outcome, finding: Finding) -> Outcome:
    """The outcome with one more finding, in place of an earlier one of its key; worst first."""
    others = [f for f in outcome.findings if f.key != finding.key]
    return replace(outcome, findings=tuple(sorted([*others, finding], key=lambda f: f.state.rank)))
