"""What of a job was otherwise in file version 9: nodes without rim, box or status, fewer kinds of fittings, outlets and tops. Only for reading such files."""

from __future__ import annotations

from weirant.formats.earlier.job_15 import Job15
from weirant.job import network as today
from weirant.job.fields import choice, plain, quantity, several
from weirant.job.network import EXISTING, PLANNED
from weirant.job.section import FULL_WRAP, NO_WRAP, OPEN_TOP, SOCK, SOIL_CAP, TURF_TOP, Bore
from weirant.records import dataclass
from weirant.units import display as k

OPEN_PIPE, PLAIN = today.OPEN_PIPE, today.PLAIN
OUTLETS = (OPEN_PIPE, today.POP_UP, today.CURB_CORE, today.BUBBLER)
FITTINGS = (today.CLEAN_OUT, today.INLET, today.RISER, today.COUPLER, today.VENT)


@dataclass(frozen=True)
class Outlet:
    """How water leaves a network at a node."""

    kind: str = choice("outlet", *OUTLETS, default=OPEN_PIPE)
    water_level: float | None = quantity("water level at the outlet", k.LEVEL, at_least=-500, at_most=9000, default=None)
    rise: float | None = quantity("height the water rises to get out", k.SECTION, at_least=0, at_most=10, default=None)


@dataclass(frozen=True)
class Node:
    """A place in plan that runs go through."""

    id: str = plain("identity of the node")
    x: float = quantity("node, east", k.DISTANCE, at_least=-1e5, at_most=1e5)
    y: float = quantity("node, north", k.DISTANCE, at_least=-1e5, at_most=1e5)
    kind: str = choice("what is set there", PLAIN, *FITTINGS, default=PLAIN)
    name: str = plain("name of the node", "")
    outlet: Outlet | None = plain("outlet", None)


@dataclass(frozen=True)
class TrenchSection:
    """A named section of a trench."""

    id: str = plain("identity of the section", "s1")
    name: str = plain("name of the section", "trench")
    width: float = quantity("trench width", k.SECTION, above=0, at_most=5, default=0.3048)
    bedding: float = quantity("bedding", k.SECTION, at_least=0, at_most=1, default=0.0508)
    stone_cover: float = quantity("stone over the pipe", k.SECTION, at_least=0, at_most=3, default=0.1524)
    top: str = choice("top of the trench", SOIL_CAP, OPEN_TOP, TURF_TOP, default=SOIL_CAP)
    turf: float = quantity("turf over the stone", k.SECTION, at_least=0, at_most=0.3, default=0.0508)
    side_slope: float = quantity("side slope, horizontal per vertical", k.RATIO, at_least=0, at_most=3, default=0.0)
    overlap: float = quantity("fabric overlap", k.SECTION, at_least=0, at_most=2, default=0.1524)
    wrap: str = choice("separation", NO_WRAP, SOCK, FULL_WRAP, default=FULL_WRAP)
    aggregate: str = plain("stone", "no-57")
    geotextile: str = plain("geotextile", "nonwoven-light")
    bores: tuple[Bore, ...] = several("places of pipes", (Bore(),), most=6)


@dataclass(frozen=True)
class Run(today.Run):
    """A run as it is today, which was planned or lay there already."""

    status: str = choice("status of the run", PLANNED, EXISTING, default=PLANNED)


@dataclass(frozen=True)
class Job9(Job15):
    """One site with its drains, as it was in version 9."""

    runs: tuple[Run, ...] = several("runs", most=300)
    nodes: tuple[Node, ...] = several("nodes", most=20_000)  # type: ignore[assignment]
    sections: tuple[TrenchSection, ...] = several("trench sections", (TrenchSection(),), most=300)  # type: ignore[assignment]
