"""What of a job was otherwise in file version 6: one trench, one pipe and one stone for all runs. Only for reading such files."""

from __future__ import annotations

from dataclasses import field

from weirant.formats.earlier.job_7 import Feature, Protected, Soil, Water
from weirant.formats.earlier.job_9 import Node
from weirant.job.answers import Answer
from weirant.job.fields import choice, plain, quantity, several
from weirant.job.holes import TestHole
from weirant.job.limits import Limits, Permissions
from weirant.job.network import AsBuilt, CrossingChoice, GradeBreak, Held
from weirant.job.rain import RainfallDepth, Storm
from weirant.job.section import FULL_WRAP, NO_WRAP, OPEN_TOP, SOCK, SOIL_CAP
from weirant.job.site import SitePoint
from weirant.job.survey import Survey
from weirant.job.water import GROUND, PUMP, ROOF, SURFACE
from weirant.records import dataclass
from weirant.units import display as k


@dataclass(frozen=True)
class Trench:
    """Section dimensions in m."""

    width: float = quantity("trench width", k.SECTION, above=0, at_most=5, default=0.3048)
    bedding: float = quantity("bedding", k.SECTION, at_least=0, at_most=1, default=0.0508)
    stone_cover: float = quantity("stone over the pipe", k.SECTION, at_least=0, at_most=3, default=0.1524)
    top: str = choice("top of the trench", SOIL_CAP, OPEN_TOP, default=SOIL_CAP)
    side_slope: float = quantity("side slope, horizontal per vertical", k.RATIO, at_least=0, at_most=3, default=0.0)
    overlap: float = quantity("fabric overlap", k.SECTION, at_least=0, at_most=2, default=0.1524)
    wrap: str = choice("separation", NO_WRAP, SOCK, FULL_WRAP, default=FULL_WRAP)


@dataclass(frozen=True)
class Choice:
    """Products by their keys in the library."""

    pipe: str = plain("pipe", "corrugated-100")
    aggregate: str = plain("stone", "no-57")
    geotextile: str = plain("geotextile", "nonwoven-light")


@dataclass(frozen=True)
class Stretch:
    """Solid pipe, or pipe that collects."""

    is_solid: bool = plain("solid pipe", False)
    to_station: float | None = quantity("stretch up to station", k.STATION, above=0, at_most=5000, default=None)


@dataclass(frozen=True)
class Run:
    """A run of pipe through nodes."""

    id: str = plain("identity of the run")
    name: str = plain("name of the run")
    nodes: tuple[str, ...] = several("nodes", most=500)
    invert: float = quantity("invert at the low end", k.LEVEL, at_least=-500, at_most=9000)
    slope: float = quantity("slope", k.SLOPE, at_least=0, at_most=0.5)
    stretches: tuple[Stretch, ...] = several("stretches", (Stretch(),), most=200)
    breaks: tuple[GradeBreak, ...] = several("grade breaks", ())
    held: tuple[Held, ...] = several("held inverts", ())
    pipes: int = plain("number of pipes side by side", 1)
    system: str = choice("carries", GROUND, SURFACE, ROOF, PUMP, default=GROUND)
    least_depth: float | None = quantity("least depth of the collecting run", k.DEPTH, at_least=0, at_most=10, default=None)
    trench_of: str = plain("lies in the trench of", "")


@dataclass(frozen=True)
class Job6:
    """One site with its drains, as it was in version 6."""

    name: str = plain("name of the job")
    soil: Soil = plain("soil")
    runs: tuple[Run, ...] = several("runs", most=300)
    nodes: tuple[Node, ...] = several("nodes", most=20_000)
    place: str = plain("place", "")
    date: str = plain("date", "")
    units: str = choice("units", "imperial", "metric", default="imperial")
    survey: Survey = field(default_factory=Survey)
    water: Water = field(default_factory=Water)
    protected: Protected = field(default_factory=Protected)
    trench: Trench = field(default_factory=Trench)
    choice: Choice = field(default_factory=Choice)
    limits: Limits = field(default_factory=Limits)
    permissions: Permissions = field(default_factory=Permissions)
    features: tuple[Feature, ...] = several("features", (), most=5_000)
    assumed: tuple[str, ...] = several("assumed fields", (), most=20_000)
    points: tuple[SitePoint, ...] = several("points with their levels", (), most=200_000)
    unread: tuple[str, ...] = several("lines of files that could not be read", (), most=20_000)
    crossings: tuple[CrossingChoice, ...] = several("ways past buried lines", (), most=5_000)
    as_built: tuple[AsBuilt, ...] = several("inverts as built", (), most=20_000)
    storms: tuple[Storm, ...] = several("storms", (), most=200)
    rainfall: tuple[RainfallDepth, ...] = several("rainfall table", (), most=2_000)
    holes: tuple[TestHole, ...] = several("test holes", (), most=500)
    answers: tuple[Answer, ...] = several("what was seen", ())
