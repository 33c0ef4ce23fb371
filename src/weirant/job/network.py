"""Nodes with their places in plan, and the runs of pipe that go through them."""

from __future__ import annotations

from dataclasses import field

from weirant.job.fields import choice, plain, quantity, several
from weirant.job.water import Situation
from weirant.records import dataclass
from weirant.units import display as k

OPEN_PIPE, POP_UP, CURB_CORE, BUBBLER, MAIN, DRY_WELL, PUMPED_ON = (
    "open pipe", "pop-up emitter", "curb core", "bubbler in gravel", "existing main", "dry well", "pump in a pit")  # fmt: skip
CURB_CUT, GRATE_RISER, BASIN_WALL, LAWN, DRY_CREEK = "curb cut", "grate riser", "wall of a storm basin", "spread over a lawn", "dry creek"
OUTLETS = (OPEN_PIPE, CURB_CORE, CURB_CUT, POP_UP, GRATE_RISER, BUBBLER, LAWN, DRY_CREEK, BASIN_WALL, MAIN, DRY_WELL, PUMPED_ON)
IN_THE_OPEN = (OPEN_PIPE, CURB_CORE, CURB_CUT, LAWN, DRY_CREEK)  # the pipe's end is in the open air
RISES = (POP_UP, GRATE_RISER, BUBBLER)  # water rises out of the ground; the rest lead it on within the ground
FALLS_INTO_WATER = (OPEN_PIPE, CURB_CORE, CURB_CUT, LAWN, DRY_CREEK, BASIN_WALL)  # whose water may stand higher than the pipe
PLAIN, CLEAN_OUT, INLET, RISER, COUPLER, VENT, ROOF_ENTRY, PUMP_PIT = "plain", "clean-out", "inlet", "riser", "coupler", "vent", "roof entry", "pump pit"
FITTINGS = (CLEAN_OUT, INLET, RISER, COUPLER, VENT, ROOF_ENTRY, PUMP_PIT)
BASINS = (INLET, PUMP_PIT)  # what is set as a box that pipes go through
ROUND, SQUARE = "round", "square"
STRAIGHT_IN, LEAF_BASKET, OVER_A_GRATE, AIR_GAP = ENTRIES = ("straight in", "through a leaf basket", "over a grate", "over an air gap")
BEST, OVER, UNDER = "best", "over", "under"
PLANNED, BUILT, EXISTING = "planned", "built", "existing"


@dataclass(frozen=True)
class PumpPoint:
    """A point of a pump's curve: what one pump lifts, m³/s, against a head m."""

    discharge: float = quantity("discharge of the pump", k.DISCHARGE, at_least=0, at_most=1)
    head: float = quantity("head of the pump", k.DEPTH, at_least=0, at_most=100)


@dataclass(frozen=True)
class Pump:
    """What lifts the water out of a pit: heights m over its floor at which the float starts and stops it, its curve from no flow on, how many work
    side by side, the pipe up (inside m), the level m it lets go at (None: the invert of the node it is led to, or the ground at the pit), the node it is
    led to (empty: away), and for how long a battery works it without power, s.
    """

    starts: float = quantity("pump starts, over the floor", k.SECTION, above=0, at_most=5, default=0.3048)
    stops: float = quantity("pump stops, over the floor", k.SECTION, at_least=0, at_most=5, default=0.1016)
    curve: tuple[PumpPoint, ...] = several("pump curve", (PumpPoint(0.0, 7.62), PumpPoint(1.2618e-3, 5.4864), PumpPoint(2.2082e-3, 2.4384)), most=40)
    pumps: int = plain("pumps side by side", 1)
    main_diameter: float = quantity("pipe up, inside", k.SECTION, above=0.01, at_most=1, default=0.0508)
    main_length: float = quantity("length of the pipe up", k.DISTANCE, above=0, at_most=5000, default=12.192)
    lets_go_at: float | None = quantity("lets go at level", k.LEVEL, at_least=-500, at_most=9000, default=None)
    leads: str = plain("pumped to", "")
    battery: float = quantity("battery lasts", k.DURATION, at_least=0, at_most=30 * 86400, default=0.0)
    check_valve: bool = plain("check valve", True)
    freeze_relief: bool = plain("relief for frost at its end", False)


@dataclass(frozen=True)
class Mouth:
    """What water leaves through at an outlet: m across (None: as the pipe), the share of that which is open (a grate or a guard takes some), the head m that
    opens its lid, and whether a flap keeps water from coming back.
    """

    across: float | None = quantity("opening, across", k.SECTION, above=0, at_most=2, default=None)
    clear: float = quantity("share of it that is open", k.SHARE, above=0, at_most=1, default=1.0)
    opens_at: float = quantity("head that opens the lid", k.SECTION, at_least=0, at_most=1, default=0.0)
    flap: bool = plain("flap that keeps water out", False)


@dataclass(frozen=True)
class Soakaway:
    """Ground that takes water under an outlet: the pit's area m² in plan and its depth m under the lowest pipe, the share of voids in it (1: open), the rate
    m/s at which its soil takes water (None: not tested), and the level m of the water table beside it when wet (None: not said, it lies lower).
    """

    area: float = quantity("area of the pit", k.AREA, above=0, at_most=1000, default=1.5)
    depth: float = quantity("depth under the pipe", k.SECTION, above=0, at_most=10, default=0.9144)
    voids: float = quantity("share of voids in it", k.SHARE, above=0, at_most=1, default=0.4)
    percolation: float | None = quantity("soaks away at", k.CONDUCTIVITY, above=0, at_most=1, default=None)
    water_table: float | None = quantity("water table beside it when wet", k.LEVEL, at_least=-500, at_most=9000, default=None)


@dataclass(frozen=True)
class MainPipe:
    """An old main that takes the water on: its inner diameter m and slope (None: not known), Manning's n, the share of its height that silt or roots fill, what
    it carries of its own when wet and at most in a storm, m³/s (None: not known), and its invert m (None: that of the pipe tied in).
    """

    diameter: float | None = quantity("inside diameter of the main", k.SECTION, above=0, at_most=3, default=None)
    slope: float | None = quantity("slope of the main", k.SLOPE, above=0, at_most=0.5, default=None)
    roughness: float = quantity("roughness of the main, Manning's n", k.ROUGHNESS, at_least=0.005, at_most=0.1, default=0.013)
    filled: float = quantity("share of its height filled with silt", k.SHARE, at_least=0, at_most=0.9, default=0.0)
    own_flow: float | None = quantity("its own flow when wet", k.DISCHARGE, at_least=0, at_most=100, default=None)
    own_storm: float | None = quantity("its own flow in a storm, at most", k.DISCHARGE, at_least=0, at_most=100, default=None)
    invert: float | None = quantity("invert of the main", k.LEVEL, at_least=-500, at_most=9000, default=None)


@dataclass(frozen=True)
class Outlet:
    """How water leaves a network at a node: the level m it falls into when wet and the highest in a storm, how high m over the invert it must rise to get out
    (None: to the ground; only where the outlet rises), what it leaves through, the ground or the main that takes it, and the pump where one lifts it on.
    """

    kind: str = choice("outlet", *OUTLETS, default=OPEN_PIPE)
    water_level: float | None = quantity("water level at the outlet", k.LEVEL, at_least=-500, at_most=9000, default=None)
    rise: float | None = quantity("height the water rises to get out", k.SECTION, at_least=0, at_most=10, default=None)
    pump: Pump | None = plain("pump", None)
    storm_level: float | None = quantity("highest water level there in a storm", k.LEVEL, at_least=-500, at_most=9000, default=None)
    mouth: Mouth = field(default_factory=Mouth)
    soaks: Soakaway | None = plain("soaks into", None)
    main: MainPipe | None = plain("main", None)


@dataclass(frozen=True)
class Grate:
    """What surface water gets into an inlet through: the share of the grate that is open, and the bowl round it, how deep m water may stand in it over the
    grate before it runs on, and its area m² when full.
    """

    clear: float = quantity("share of the grate that is open", k.SHARE, above=0, at_most=1, default=0.4)
    bowl_depth: float = quantity("depth of the bowl round it", k.SECTION, at_least=0, at_most=1, default=0.0508)
    bowl_area: float = quantity("area of the bowl when full", k.AREA, above=0, at_most=1e4, default=1.0)


@dataclass(frozen=True)
class Basin:
    """A box that pipes go through: its size inside m, across or from side to side, and how far m its floor lies under the lowest invert (None: not said)."""

    shape: str = choice("shape of the box", ROUND, SQUARE, default=ROUND)
    size: float | None = quantity("size inside", k.SECTION, above=0, at_most=3, default=None)
    sump: float | None = quantity("sump", k.SECTION, at_least=0, at_most=3, default=None)


@dataclass(frozen=True)
class Node:
    """A place in plan that runs go through, m east and north. Bends, joints and ends follow from the runs; ``kind`` is what is set there, ``rim`` the
    level m of its grate or lid (None: at the ground), ``basin`` what it is where it is one, ``grate`` what lets surface water into an inlet,
    ``entry`` how roof water gets into a roof entry: an air gap is a box whose foot stands open over stone, so that water gets out before it backs up.
    """

    id: str = plain("identity of the node")
    x: float = quantity("node, east", k.DISTANCE, at_least=-1e5, at_most=1e5)
    y: float = quantity("node, north", k.DISTANCE, at_least=-1e5, at_most=1e5)
    kind: str = choice("what is set there", PLAIN, *FITTINGS, default=PLAIN)
    name: str = plain("name of the node", "")
    outlet: Outlet | None = plain("outlet", None)
    rim: float | None = quantity("rim", k.LEVEL, at_least=-500, at_most=9000, default=None)
    status: str = choice("status of what is set there", PLANNED, BUILT, EXISTING, default=PLANNED)
    basin: Basin | None = plain("box", None)
    grate: Grate | None = plain("grate", None)
    entry: str = choice("how roof water gets in", *ENTRIES, default=STRAIGHT_IN)


@dataclass(frozen=True)
class GradeBreak:
    """From a station on, up the run, another slope."""

    station: float = quantity("station of the grade break", k.STATION, above=0, at_most=5000)
    slope: float = quantity("slope above the break", k.SLOPE, at_least=0, at_most=0.5)


@dataclass(frozen=True)
class Held:
    """An invert level that the user has fixed at a station."""

    station: float = quantity("station of the held invert", k.STATION, at_least=0, at_most=5000)
    level: float = quantity("held invert", k.LEVEL, at_least=-500, at_most=9000)


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
    situation: Situation = field(default_factory=Situation)


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
    least_depth: float | None = quantity("least depth of the collecting run", k.DEPTH, at_least=0, at_most=10, default=None)
    contributing_area: float = quantity("contributing area", k.AREA, at_least=0, at_most=1e6, default=0.0)
    trench_of: str = plain("lies in the trench of", "")
    bore: str = plain("its place in that trench", "")
    status: str = choice("status of the run", PLANNED, BUILT, EXISTING, default=PLANNED)
    sediment: float = quantity("sediment in the old pipe", k.SECTION, at_least=0, at_most=2, default=0.0)


@dataclass(frozen=True)
class CrossingChoice:
    """How a run is to pass a buried line: over, under, or whichever digs less."""

    run: str = plain("run")
    thing: str = plain("buried line")
    way: str = choice("passes", BEST, OVER, UNDER, default=BEST)


@dataclass(frozen=True)
class AsBuilt:
    """An invert level measured in the trench, m, at a station of a run, and the one that was planned there when it was measured."""

    run: str = plain("run")
    station: float = quantity("station", k.STATION, at_least=0, at_most=5000)
    level: float = quantity("invert as built", k.LEVEL, at_least=-500, at_most=9000)
    planned: float | None = quantity("invert as first planned", k.LEVEL, at_least=-500, at_most=9000, default=None)
