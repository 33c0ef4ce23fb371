"""The job as a whole."""

from __future__ import annotations

from dataclasses import field

from weirant.job.answers import Answer
from weirant.job.exposure import Exposure
from weirant.job.fields import choice, plain, several
from weirant.job.holes import TestHole
from weirant.job.limits import Limits, Permissions
from weirant.job.network import AsBuilt, CrossingChoice, Node, Run
from weirant.job.old_drains import OldDrain
from weirant.job.part_rules import PartRules
from weirant.job.products import Products
from weirant.job.rain import RainfallDepth, Storm
from weirant.job.section import TrenchSection
from weirant.job.site import Feature, SitePoint
from weirant.job.soil import Soil
from weirant.job.survey import Survey
from weirant.job.water import Source, Water
from weirant.job.work_terms import WorkTerms
from weirant.records import dataclass


@dataclass(frozen=True)
class Job:
    """One site with its drains: runs of pipe through nodes, in the ground and between the things that are there.

    What is referred to has an identity of its own. ``assumed`` names the fields nobody has measured yet, by their path.
    """

    name: str = plain("name of the job")
    soils: tuple[Soil, ...] = several("soils", most=50)
    runs: tuple[Run, ...] = several("runs", most=300)
    nodes: tuple[Node, ...] = several("nodes", most=20_000)
    place: str = plain("place", "")
    date: str = plain("date", "")
    client: str = plain("client", "")
    contractor: str = plain("contractor", "")
    units: str = choice("units", "imperial", "metric", default="imperial")
    survey: Survey = field(default_factory=Survey)
    water: Water = field(default_factory=Water)
    sections: tuple[TrenchSection, ...] = several("trench sections", (TrenchSection(),), most=300)
    limits: Limits = field(default_factory=Limits)
    permissions: Permissions = field(default_factory=Permissions)
    features: tuple[Feature, ...] = several("features", (), most=5_000)
    assumed: tuple[str, ...] = several("assumed fields", (), most=20_000)
    points: tuple[SitePoint, ...] = several("points with their levels", (), most=200_000)
    unread: tuple[str, ...] = several("lines of files that could not be read", (), most=20_000)
    crossings: tuple[CrossingChoice, ...] = several("ways past buried lines", (), most=5_000)
    as_built: tuple[AsBuilt, ...] = several("inverts as built", (), most=20_000)
    sources: tuple[Source, ...] = several("sources", (), most=2_000)
    storms: tuple[Storm, ...] = several("storms", (), most=200)
    rainfall: tuple[RainfallDepth, ...] = several("rainfall table", (), most=2_000)
    holes: tuple[TestHole, ...] = several("test holes", (), most=500)
    answers: tuple[Answer, ...] = several("what was seen", ())
    old_drains: tuple[OldDrain, ...] = several("old drains", (), most=20)
    products: Products = field(default_factory=Products)
    parts: PartRules = field(default_factory=PartRules)
    exposure: Exposure = field(default_factory=Exposure)
    work: WorkTerms = field(default_factory=WorkTerms)

    @property
    def is_surveyed(self) -> bool:
        """Whether every level was shot, and none is made up."""
        return self.survey.is_shot and not any(point.is_assumed for point in self.points)
