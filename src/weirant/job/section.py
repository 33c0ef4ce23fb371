"""Trench sections: what is dug, what fills it, and the places of the pipes in it."""

from __future__ import annotations

import dataclasses

from weirant.job.fields import choice, plain, quantity, several
from weirant.language import tr
from weirant.records import dataclass
from weirant.units import display as k

NO_WRAP, SOCK, FULL_WRAP, LINING, TOP_SHEET, AT_SIDES, TO_WALL, AT_JOINTS, IN_SAND, IN_SOIL = WRAPS = (
    "none", "sock", "full wrap", "lining", "sheet on top", "cloth at the sides", "wrap to a wall", "cloth at the joints", "graded sand", "sock in the soil, no stone")  # fmt: skip
SOIL_CAP, OPEN_TOP, TURF_TOP, DRESSED_TOP = "soil cap", "open stone", "turf on the stone", "dressed stone"
LAID_ON = (TURF_TOP, DRESSED_TOP)  # a layer is laid on stone that goes up to it
CAN_BE_PAVED = (SOIL_CAP, OPEN_TOP)
ON_FOOT, MOWERS, CARS, TRUCKS = TRAFFIC = ("people", "mowers", "cars", "trucks")  # what goes over it
MOST_BORES, MOST_FOLDS = 6, 3


@dataclass(frozen=True)
class Sheets:
    """Where cloth lies round the stone: on the floor of the trench, at how many of its sides, and over the stone."""

    floor: bool = False
    sides: int = 0
    over: bool = False


SHEETS = {FULL_WRAP: Sheets(floor=True, sides=2, over=True), LINING: Sheets(floor=True, sides=2), TOP_SHEET: Sheets(over=True), AT_SIDES: Sheets(sides=2),
          TO_WALL: Sheets(floor=True, sides=1, over=True)}  # fmt: skip


@dataclass(frozen=True)
class Bore:
    """The place of a pipe in a section: its middle m from the middle of the trench (right of it positive, looking uphill), and its underside
    m over the bedding.
    """

    id: str = plain("identity of the place", "b1")
    across: float = quantity("pipe from the middle of the trench", k.SECTION, at_least=-2.5, at_most=2.5, default=0.0)
    height: float = quantity("pipe over the bedding", k.SECTION, at_least=0, at_most=3, default=0.0)


@dataclass(frozen=True)
class TrenchSection:
    """A named section, dimensions in m; stone and fabric by their keys in the library.

    Depth follows from ground and grade; the soil cap is what is left above the stone, ``turf`` what lies on stone that goes up to it: sod, or finer
    stone that dresses it; ``pavement`` what is laid over soil or stone and made good after the dig. The first of the bores is taken by the run
    whose trench it is, the others by runs that lie in it. From ``bench_height`` over the bottom on, or from the stone on where that is higher, each
    side stands back by ``bench_width``; nought of that is no bench, and stone that goes up to the top leaves no room for one.
    """

    id: str = plain("identity of the section", "s1")
    name: str = plain("name of the section", tr("trench"))
    width: float = quantity("trench width", k.SECTION, above=0, at_most=5, default=0.3048)
    bedding: float = quantity("bedding", k.SECTION, at_least=0, at_most=1, default=0.0508)
    stone_cover: float = quantity("stone over the pipe", k.SECTION, at_least=0, at_most=3, default=0.1524)
    top: str = choice("top of the trench", SOIL_CAP, OPEN_TOP, TURF_TOP, DRESSED_TOP, default=SOIL_CAP)
    turf: float = quantity("layer on the stone", k.SECTION, at_least=0, at_most=0.3, default=0.0508)
    pavement: float = quantity("pavement over it", k.SECTION, at_least=0, at_most=1, default=0.0)
    side_slope: float = quantity("side slope, horizontal per vertical", k.RATIO, at_least=0, at_most=3, default=0.0)
    bench_width: float = quantity("bench in each side", k.SECTION, at_least=0, at_most=3, default=0.0)
    bench_height: float = quantity("bench over the trench bottom", k.SECTION, at_least=0, at_most=4, default=0.9144)
    overlap: float = quantity("fabric overlap", k.SECTION, at_least=0, at_most=2, default=0.1524)
    wrap: str = choice("separation", *WRAPS, default=FULL_WRAP)
    layers: int = plain("layers of the sheet on top", 1)
    sand: str = plain("filter sand", "c33-sand")
    sand_thickness: float = quantity("sand round the stone", k.SECTION, above=0, at_most=0.5, default=0.1016)
    traffic: str = choice("what goes over it", *TRAFFIC, default=MOWERS)
    aggregate: str = plain("stone", "no-57")
    geotextile: str = plain("geotextile", "nonwoven-light")
    bores: tuple[Bore, ...] = several("places of pipes", (Bore(),), most=MOST_BORES)

    @property
    def layer(self) -> float:
        """Height of what lies on stone that goes up to it, m: turf or dressing."""
        return self.turf if self.top in LAID_ON else 0.0

    @property
    def sheets(self) -> Sheets:
        """Where cloth lies round the stone; nothing lies over stone that is open to the top."""
        found = SHEETS.get(self.wrap, Sheets())
        return dataclasses.replace(found, over=False) if self.top == OPEN_TOP else found

    @property
    def is_lined(self) -> bool:
        """Whether cloth lies between soil and stone below the top of the stone."""
        return self.sheets.sides > 0

    @property
    def is_covered(self) -> bool:
        """Whether cloth lies on the stone, under what is laid over it."""
        return self.sheets.over

    @property
    def is_in_sand(self) -> bool:
        """Whether graded sand lies between soil and stone."""
        return self.wrap == IN_SAND

    @property
    def has_cloth(self) -> bool:
        """Whether any cloth is in it."""
        return self.wrap not in (NO_WRAP, IN_SAND)

    @property
    def is_socked(self) -> bool:
        """Whether the pipe is in a sock."""
        return self.wrap in (SOCK, IN_SOIL)

    @property
    def has_stone(self) -> bool:
        """Whether stone lies round a pipe that collects; without it the dug soil is put back on a pipe in a sock."""
        return self.wrap != IN_SOIL

    @property
    def as_filled(self) -> TrenchSection:
        """The section as it is filled: without stone none lies over the pipe, nor up to the ground."""
        return self if self.has_stone else dataclasses.replace(self, stone_cover=0.0, top=SOIL_CAP)

    @property
    def is_bare_at(self) -> str:
        """Where soil lies on the stone itself: "" nowhere, "round" it, only "over" it, or only "under" it."""
        if not self.has_stone:
            return ""
        if self.is_in_sand or (self.is_lined and self.sheets.floor):
            return "" if self.is_in_sand or self.is_covered or self.top == OPEN_TOP else "over"
        return "under" if self.is_lined and self.top == OPEN_TOP else "round"

    def bore(self, identity: str) -> Bore:
        """The bore of an identity; the first where it has none of it, as where none is named."""
        return next((b for b in self.bores if b.id == identity), self.bores[0])
