"""What a job was up to file version 4: one main line, branches that join by name, bends by angle. Only for reading such files."""

from __future__ import annotations

from dataclasses import field

from weirant.formats.earlier.job_6 import Trench
from weirant.formats.earlier.job_7 import Soil, Water
from weirant.formats.earlier.job_9 import FITTINGS, OPEN_PIPE, OUTLETS
from weirant.job.answers import Answer
from weirant.job.fields import choice, plain, quantity, several
from weirant.job.holes import FieldTest, Horizon
from weirant.job.limits import Limits, Permissions
from weirant.job.network import BEST, OVER, UNDER, AsBuilt, GradeBreak, Held
from weirant.job.rain import RainfallDepth, Storm
from weirant.job.site import KINDS, SitePoint, Spot
from weirant.job.survey import Place
from weirant.job.water import GROUND, PUMP, ROOF, SURFACE
from weirant.records import dataclass
from weirant.units import display as k
from weirant.units.staff import DECIMAL_FEET, FEET_INCHES, METRES


@dataclass(frozen=True)
class Bend:
    """A bend in plan: at a station, by an angle in degrees, positive to the left looking uphill."""

    station: float = quantity("station of the bend", k.STATION, at_least=-1e4, at_most=1e4)
    angle: float = quantity("angle of the bend", k.COUNT, at_least=-170, at_most=170)


@dataclass(frozen=True)
class Fitting:
    """Something set into a run at a station."""

    station: float = quantity("station of the fitting", k.STATION, at_least=0, at_most=5000)
    kind: str = choice("fitting", *FITTINGS)


@dataclass(frozen=True)
class Line:
    """A run in stations from its low end (0) up; solid pipe first, then the collecting run."""

    outlet_invert: float = quantity("outlet invert", k.LEVEL, at_least=-500, at_most=9000)
    slope: float = quantity("slope", k.SLOPE, above=0, at_most=0.5)
    solid_length: float = quantity("solid outlet length", k.STATION, at_least=0, at_most=5000)
    length: float = quantity("whole length", k.STATION, above=0, at_least=0.3, at_most=5000)
    outlet: str = choice("outlet", *OUTLETS, default=OPEN_PIPE)
    receiving_level: float | None = quantity("water level at the outlet", k.LEVEL, at_least=-500, at_most=9000, default=None)
    bends: tuple[Bend, ...] = several("bends", ())
    breaks: tuple[GradeBreak, ...] = several("grade breaks", ())
    held: tuple[Held, ...] = several("held inverts", ())
    fittings: tuple[Fitting, ...] = several("fittings", ())
    system: str = choice("carries", GROUND, SURFACE, ROOF, PUMP, default=GROUND)
    least_depth: float | None = quantity("least depth of the collecting run", k.DEPTH, at_least=0, at_most=10, default=None)


@dataclass(frozen=True)
class Branch:
    """A run that joins the run named, or has an outlet of its own."""

    name: str = plain("name of the run")
    line: Line = plain("line")
    joins: str = plain("joins", "")
    joins_at: float = quantity("joins at station", k.STATION, at_least=0, at_most=5000, default=0.0)
    x: float = quantity("outlet, east", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    y: float = quantity("outlet, north", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    bearing: float = quantity("bearing of the first length", k.COUNT, at_least=-720, at_most=720, default=90.0)
    trench_of: str = plain("lies in the trench of", "")


@dataclass(frozen=True)
class CrossingChoice:
    """How a run is to pass a buried line, both by name."""

    run: str = plain("run")
    feature: str = plain("buried line")
    way: str = choice("passes", BEST, OVER, UNDER, default=BEST)


@dataclass(frozen=True)
class Shot:
    """One line of the level book."""

    point: str = plain("point")
    station: float | None = quantity("station", k.STATION, at_least=-1e4, at_most=1e4, default=None)
    backsight: float | None = quantity("backsight", k.LEVEL, at_least=-10, at_most=30, default=None)
    foresight: float | None = quantity("rod reading", k.LEVEL, at_least=-10, at_most=30, default=None)
    unread: str = plain("entry not understood", "")
    place: Place | None = plain("place in plan", None)
    is_assumed: bool = plain("made up from the first answers, not shot", False)


@dataclass(frozen=True)
class Survey:
    """The level book."""

    shots: tuple[Shot, ...] = several("shots", (), most=5_000)
    benchmark_name: str = plain("benchmark", "BM")
    benchmark_elevation: float = quantity("benchmark elevation", k.LEVEL, at_least=-500, at_most=9000, default=30.48)
    staff_length: float = quantity("staff length", k.LEVEL, above=0, at_most=10, default=3.6576)
    allowed_misclosure: float = quantity("allowed misclosure", k.LEVEL, above=0, at_most=1, default=0.006096)
    staff: str = choice("staff reads in", DECIMAL_FEET, FEET_INCHES, METRES, default=DECIMAL_FEET)
    rounding: float = quantity("readings for the crew rounded to", k.SECTION, above=0, at_most=0.1, default=0.003175)
    instrument_elevation: float | None = quantity("height of instrument today", k.LEVEL, at_least=-500, at_most=9000, default=None)
    longitude: float | None = quantity("longitude of the plan's origin", k.DEGREES, at_least=-180, at_most=180, default=None)
    latitude: float | None = quantity("latitude of the plan's origin", k.DEGREES, at_least=-89, at_most=89, default=None)
    tape_x: float = quantity("tape starts, east", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    tape_y: float = quantity("tape starts, north", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    tape_bearing: float = quantity("tape runs at, degrees from north", k.COUNT, at_least=-360, at_most=360, default=0.0)
    stand_x: float = quantity("instrument stands, east", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    stand_y: float = quantity("instrument stands, north", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    shift_east: float = quantity("taken off the east of files", k.DISTANCE, at_least=-1e9, at_most=1e9, default=0.0)
    shift_north: float = quantity("taken off the north of files", k.DISTANCE, at_least=-1e9, at_most=1e9, default=0.0)
    zero_bearing: float = quantity("its zero looks, degrees from north", k.COUNT, at_least=-360, at_most=360, default=0.0)


@dataclass(frozen=True)
class Feature:
    """A thing in plan."""

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
class TestHole:
    """A test hole."""

    __test__ = False  # not one of pytest's

    name: str = plain("name of the hole")
    x: float = quantity("distance east", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    y: float = quantity("distance north", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    log: tuple[Horizon, ...] = several("soil log", ())
    water_depth: float | None = quantity("water stood at", k.DEPTH, at_least=0, at_most=50, default=None)
    hard_depth: float | None = quantity("the auger stopped at", k.DEPTH, above=0, at_most=50, default=None)
    tests: tuple[FieldTest, ...] = several("tests", ())


@dataclass(frozen=True)
class Protected:
    """The place to be kept dry, beside the collecting run of the main line."""

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


@dataclass(frozen=True)
class Choice:
    """Products by their keys in the library, and how many pipes lie side by side in the main line."""

    pipe: str = plain("pipe", "corrugated-100")
    aggregate: str = plain("stone", "no-57")
    geotextile: str = plain("geotextile", "nonwoven-light")
    pipe_count: int = plain("number of pipes", 1)


@dataclass(frozen=True)
class Job4:
    """One site with its drains, as it was up to version 4."""

    name: str = plain("name of the job")
    soil: Soil = plain("soil")
    line: Line = plain("line")
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
    bearing: float = quantity("bearing of the first length", k.COUNT, at_least=-1e9, at_most=1e9, default=90.0)
    assumed: tuple[str, ...] = several("assumed fields", (), most=20_000)
    x: float = quantity("outlet of the main line, east", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    y: float = quantity("outlet of the main line, north", k.DISTANCE, at_least=-1e5, at_most=1e5, default=0.0)
    points: tuple[SitePoint, ...] = several("points with their levels", (), most=200_000)
    unread: tuple[str, ...] = several("lines of files that could not be read", (), most=20_000)
    branches: tuple[Branch, ...] = several("other runs", (), most=300)
    crossings: tuple[CrossingChoice, ...] = several("ways past buried lines", (), most=5_000)
    as_built: tuple[AsBuilt, ...] = several("inverts as built", (), most=20_000)
    storms: tuple[Storm, ...] = several("storms", (), most=200)
    rainfall: tuple[RainfallDepth, ...] = several("rainfall table", (), most=2_000)
    holes: tuple[TestHole, ...] = several("test holes", (), most=500)
    answers: tuple[Answer, ...] = several("what was seen", ())
