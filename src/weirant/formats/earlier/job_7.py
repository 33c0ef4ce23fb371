"""What of a job was otherwise in file version 7: one place to keep dry beside one run, one kind of groundwater for all. Only for reading such files."""

from __future__ import annotations

from dataclasses import field

from weirant.formats.earlier.job_9 import Node, TrenchSection
from weirant.job.answers import Answer
from weirant.job.fields import choice, plain, quantity, several
from weirant.job.holes import TestHole
from weirant.job.limits import Limits, Permissions
from weirant.job.network import EXISTING, PLANNED, AsBuilt, CrossingChoice, GradeBreak, Held
from weirant.job.products import Products
from weirant.job.rain import RainfallDepth, Storm
from weirant.job.site import KINDS, SitePoint, Spot
from weirant.job.soil import MOST_LAYERS, Layer, SievePoint
from weirant.job.survey import Survey
from weirant.job.water import BOTH_SIDES, GROUND, HILLSIDE, ONE_SIDE, PARALLEL, PUMP, ROOF, SURFACE
from weirant.records import dataclass
from weirant.units import display as k

NO_ROOF, ROOF_APART, ROOF_IN_DRAIN = "none", "own solid pipe", "into the drain"


@dataclass(frozen=True)
class Soil:
    """Soil at the drain: layers from the top down, depths in m below ground where wet."""

    layers: tuple[Layer, ...] = several("soil layers", most=MOST_LAYERS)
    hard_layer_depth: float | None = quantity("depth of the hard layer", k.DEPTH, above=0, at_most=50, default=None)
    water_table_depth: float | None = quantity(
        "depth to water when wet", k.DEPTH, at_least=0, at_most=50, default=None)  # fmt: skip
    water_table_slope: float | None = quantity(
        "slope of the water table", k.SLOPE, above=0, at_most=0.6, default=None)  # fmt: skip
    gradation: tuple[SievePoint, ...] = several("sieve result", ())
    liquid_limit: float | None = quantity("liquid limit", k.COUNT, at_least=0, at_most=300, default=None)
    plasticity_index: float | None = quantity("plasticity index", k.COUNT, at_least=0, at_most=250, default=None)
    sideways: float = quantity("times faster along the layers", k.RATIO, at_least=0.1, at_most=100, default=1.0)


@dataclass(frozen=True)
class Water:
    """Sources of water. Rates in m/s, areas m², depths m, times s."""

    source: str = choice("water comes from", HILLSIDE, ONE_SIDE, BOTH_SIDES, PARALLEL, default=HILLSIDE)
    reach: float = quantity("distance to undisturbed water table", k.DISTANCE, above=0, at_most=1000, default=15.24)
    drainage_rate: float = quantity("wet-season seepage", k.RAIN_RATE, at_least=0, at_most=1e-5, default=3.6749e-8)
    contributing_area: float = quantity("contributing area", k.AREA, at_least=0, at_most=1e6, default=0.0)
    storm_depth: float = quantity("storm depth", k.RAIN_DEPTH, at_least=0, at_most=1, default=0.0508)
    storm_duration: float = quantity("storm duration", k.DURATION, above=0, at_most=30 * 86400, default=21600.0)
    share_to_drain: float = quantity("share that soaks to the drain", k.SHARE, at_least=0, at_most=1, default=0.3)
    release_time: float = quantity(
        "time the ground gives it off", k.DURATION, above=0, at_most=60 * 86400, default=86400.0
    )
    roof_area: float = quantity("roof area", k.AREA, at_least=0, at_most=1e5, default=0.0)
    roof_goes: str = choice("roof water goes", NO_ROOF, ROOF_APART, ROOF_IN_DRAIN, default=NO_ROOF)


@dataclass(frozen=True)
class Protected:
    """The place to be kept dry, beside the run of an identity: stations of that run, distances m from its centre line."""

    kind: str = choice("what is protected", "slab edge", "footing", "lawn", "wall", default="slab edge")
    name: str = plain("name of the place", "the wet place")
    distance: float = quantity("distance from the drain", k.DISTANCE, above=0, at_most=500, default=3.048)
    dry_depth: float = quantity("depth to be dry", k.DEPTH, above=0, at_most=10, default=0.4572)
    footing_depth: float | None = quantity("footing depth", k.DEPTH, at_least=0, at_most=10, default=None)
    from_station: float = quantity("from station", k.STATION, at_least=-1e4, at_most=1e4, default=0.0)
    to_station: float = quantity("to station", k.STATION, at_least=-1e4, at_most=1e4, default=0.0)
    width: float = quantity("size across", k.DISTANCE, above=0, at_most=500, default=9.144)
    on_left: bool = plain("lies left of the line, looking uphill", True)
    dry_within: float = quantity("dry again within", k.DURATION, above=0, at_most=30 * 86400, default=86400.0)
    run: str = plain("served by the run", "")


@dataclass(frozen=True)
class Feature:
    """A thing in plan: an outline or a line of points, m from the outlet; a tree is one point.

    What the checks need of it: depth of the footing under a building or wall; radius of a tree's roots; depth of a
    buried line's top, its diameter, whether it is private and whether it is located, and the zone to dig by hand.
    """

    id: str = plain("identity of the thing")
    kind: str = choice("kind", *KINDS)
    name: str = plain("name")
    points: tuple[Spot, ...] = several("points", most=2_000)
    footing_depth: float | None = quantity("footing depth", k.DEPTH, at_least=0, at_most=10, default=None)
    root_radius: float | None = quantity("radius of the root zone", k.DISTANCE, above=0, at_most=50, default=None)
    depth: float | None = quantity("depth to its top", k.DEPTH, at_least=0, at_most=20, default=None)
    diameter: float = quantity("its diameter", k.SECTION, above=0, at_most=3, default=0.0508)
    is_private: bool = plain("private line", False)
    is_located: bool = plain("located and marked", False)
    tolerance: float = quantity("zone to dig by hand, each side", k.SECTION, at_least=0, at_most=5, default=0.6096)


@dataclass(frozen=True)
class Stretch:
    """A part of a run from where the one below it ends up to a station (None: to the top end): solid pipe, or pipe that collects, of a product
    of the library, in a trench section. Its identity is its own within the run.
    """

    is_solid: bool = plain("solid pipe", False)
    to_station: float | None = quantity("stretch up to station", k.STATION, above=0, at_most=5000, default=None)
    pipe: str = plain("pipe", "corrugated-100")
    section: str = plain("trench section", "s1")
    id: str = plain("identity of the stretch", "p1")


@dataclass(frozen=True)
class Run:
    """A run of pipe through nodes from its low end (station 0) up, in lengths of even grade and in stretches. Levels m, slope m/m.

    Runs that name the same node are joined there. ``trench_of`` is the run in whose trench it lies, which is then dug once; ``bore`` the place it
    takes there in the sections of that run, which sets its level (empty: it lies in that trench at its own level).
    """

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
    bore: str = plain("its place in that trench", "")
    status: str = choice("status of the run", PLANNED, EXISTING, default=PLANNED)


@dataclass(frozen=True)
class Job7:
    """One site with its drains, as it was in version 7."""

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
    sections: tuple[TrenchSection, ...] = several("trench sections", (TrenchSection(),), most=300)
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
    products: Products = field(default_factory=Products)
