"""Generic products and soils: kinds and sizes, no brands. All SI."""

from __future__ import annotations

from weirant.job.soil import Band
from weirant.language import tr
from weirant.methods.gradation import Gradation
from weirant.methods.soil_tests import kozeny_carman
from weirant.records import dataclass

ROLL = 90.0  # m of cloth on a roll (common practice, no source)


@dataclass(frozen=True)
class Pipe:
    """A drain pipe; ``openings`` says where they sit: all round, or down; ``stiffness`` Pa is that of the pipe at 5 % deflection (None: not known), and
    ``fittings`` are those that are made for it.
    """

    key: str
    name: str
    inner_diameter: float
    outer_diameter: float
    roughness_n: float
    roughness_range: tuple[float, float]
    opening_shape: str
    opening: float
    open_area_per_length: float
    openings: str
    supply: str
    supply_length: float
    source: str
    note: str
    stiffness: float | None = None
    fittings: tuple[str, ...] = ()

    @property
    def wall(self) -> float:
        """From the invert down to the outside of the pipe, m."""
        return (self.outer_diameter - self.inner_diameter) / 2

    @property
    def kind(self) -> str:
        """Its size and what it is made of, without how it lets water in."""
        return self.name.split(",")[0]

    def called(self, is_solid: bool) -> str:
        """What it is called where it is laid: without its holes where it is to let nothing in."""
        return tr("{pipe}, solid", pipe=self.kind) if is_solid else self.name


@dataclass(frozen=True)
class Aggregate:
    """A stone by the band of its grading: the coarse side and the fine side of what the size may be."""

    key: str
    name: str
    coarse_side: Gradation
    fine_side: Gradation
    voids: float
    bulk_density: float
    washed: bool
    source: str
    note: str
    shape: str = ""

    @property
    def conductivity(self) -> tuple[float, float]:
        """Conductivity m/s of its fine and of its coarse side, by Kozeny and Carman from d10 and the share of voids at 10 °C; of coarse stone, where water
        flows faster than in their law, it is the upper end of what is found.
        """
        ratio = self.voids / (1 - self.voids)
        fine, coarse = (kozeny_carman(side.size_at(10) or side.sizes[-1], ratio, 10.0) for side in (self.fine_side, self.coarse_side))
        return fine, coarse


@dataclass(frozen=True)
class Geotextile:
    """A fabric; ``kind`` is nonwoven or woven. No roll width: it comes as a sock. ``o95`` is the most and ``o95_low`` the least that its openings are,
    ``permittivity`` the least that it lets through and ``permittivity_high`` the most; ``strength`` is its class by AASHTO M 288 (1 the strongest; None:
    weaker than any, or not known).
    """

    key: str
    name: str
    kind: str
    o95: float
    permittivity: float
    thickness: float
    open_area: float | None
    mass: float
    roll_width: float | None
    source: str
    note: str
    o95_low: float | None = None
    permittivity_high: float | None = None
    strength: int | None = None
    roll_length: float = ROLL

    @property
    def finest(self) -> float:
        """The least that its openings are, m: where no range is known, what they are said to be."""
        return self.o95 if self.o95_low is None else self.o95_low

    @property
    def conductivity(self) -> float:
        """Conductivity normal to the sheet, m/s."""
        return self.permittivity * self.thickness


@dataclass(frozen=True)
class Texture:
    """A USDA texture class with what is usual for it; ``curve`` is residual and saturated water content, alpha 1/m and n; ``dig_time`` how many times as long
    as loam it takes to dig (common practice, no source).
    """

    key: str
    name: str
    conductivity: Band
    drainable_porosity: float
    curve: tuple[float, float, float, float]
    gradation: Gradation
    plasticity_index: float
    dig_time: float
    source: str
    note: str
