"""Products of the user's own, which travel with the job that uses them."""

from __future__ import annotations

import re

from weirant.job.fields import choice, plain, quantity, several
from weirant.records import dataclass
from weirant.units import display as k

OWN = "own-"  # how the keys of own products begin, so that none is taken for one that is shipped
SLOT, HOLE = "slot", "hole"
ALL_ROUND, DOWN = "all round", "down"
NONWOVEN, WOVEN = "nonwoven", "woven"


def own_key(name: str) -> str:
    """The key of what is called so."""
    return OWN + re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")


@dataclass(frozen=True)
class HoleRow:
    """A row of holes drilled along a pipe: at an angle from its bottom, degrees, a hole of a diameter m every so many m; ``both`` where there is one on
    either side.
    """

    angle: float = quantity("angle from the bottom", k.ANGLE, at_least=0, at_most=180, default=0.0)
    both: bool = plain("on both sides", False)
    diameter: float = quantity("hole", k.SECTION, at_least=0.001, at_most=0.05, default=0.0127)
    spacing: float = quantity("every", k.SECTION, at_least=0.01, at_most=2, default=0.2032)

    @property
    def count(self) -> int:
        """How many rows it stands for."""
        return 2 if self.both and 0 < self.angle < 180 else 1

    @property
    def holes(self) -> float:
        """Holes in a metre."""
        return self.count / self.spacing


@dataclass(frozen=True)
class OwnPipe:
    """A drain pipe; sizes m, area of its openings m² per m, the length it is sold in m. Where it is drilled in ``rows``, its openings are theirs."""

    key: str = plain("key")
    name: str = plain("name of the pipe")
    inner_diameter: float = quantity("inside diameter", k.SECTION, above=0, at_most=2)
    outer_diameter: float = quantity("outside diameter", k.SECTION, above=0, at_most=2.5)
    roughness_n: float = quantity("roughness n", k.RATIO, at_least=0.005, at_most=0.05)
    opening: float = quantity("size of its openings", k.OPENING, above=0, at_most=0.1)
    open_area_per_length: float = quantity("open area per length", k.SECTION, at_least=0, at_most=1)
    opening_shape: str = choice("shape of its openings", SLOT, HOLE, default=SLOT)
    openings: str = choice("where its openings are", ALL_ROUND, DOWN, default=ALL_ROUND)
    supply: str = choice("sold as", "coil", "stick", default="coil")
    supply_length: float = quantity("length it is sold in", k.DISTANCE, above=0, at_most=5000, default=30.48)
    rows: tuple[HoleRow, ...] = several("rows of holes", (), most=12)


@dataclass(frozen=True)
class GradingBand:
    """What may pass a sieve of a size m, from the least to the most, percent."""

    size: float = quantity("sieve size", k.OPENING, above=0, at_most=1)
    least: float = quantity("least passing", k.COUNT, at_least=0, at_most=100)
    most: float = quantity("most passing", k.COUNT, at_least=0, at_most=100)


@dataclass(frozen=True)
class OwnStone:
    """A stone by the band of its grading, coarsest sieve first; share of voids, bulk density kg/m³."""

    key: str = plain("key")
    name: str = plain("name of the stone")
    grading: tuple[GradingBand, ...] = several("grading", most=40)
    voids: float = quantity("share of voids", k.SHARE, at_least=0.05, at_most=0.7)
    bulk_density: float = quantity("bulk density", k.COUNT, at_least=500, at_most=3000)
    washed: bool = plain("washed", True)


@dataclass(frozen=True)
class OwnFabric:
    """A geotextile: apparent opening size m, permittivity 1/s, thickness m, open share of a woven one, mass kg/m², roll width m (None: a sock), class of
    strength by AASHTO M 288 (None: not known).
    """

    key: str = plain("key")
    name: str = plain("name of the fabric")
    kind: str = choice("kind of fabric", NONWOVEN, WOVEN, default=NONWOVEN)
    o95: float = quantity("apparent opening size", k.OPENING, above=0, at_most=0.01, default=2e-4)
    permittivity: float = quantity("permittivity", k.PERMITTIVITY, at_least=0, at_most=20, default=1.0)
    thickness: float = quantity("thickness", k.OPENING, above=0, at_most=0.05, default=1e-3)
    open_area: float | None = quantity("open share", k.SHARE, at_least=0, at_most=1, default=None)
    mass: float = quantity("mass per area, kg/m²", k.RATIO, at_least=0, at_most=5, default=0.15)
    roll_width: float | None = quantity("width of the roll", k.DISTANCE, above=0, at_most=20, default=None)
    strength: int | None = quantity("class of strength", k.COUNT, at_least=1, at_most=3, default=None)


@dataclass(frozen=True)
class SoldIn:
    """The length m in which a pipe or a cloth of a key, of the library or one's own, is bought for this job, and the width m of the roll; None is the usual one."""

    key: str = plain("key")
    length: float | None = quantity("pipe in lengths of", k.DISTANCE, above=0, at_least=0.5, at_most=5000, default=None)
    width: float | None = quantity("width of the cloth roll", k.DISTANCE, above=0, at_least=0.3, at_most=20, default=None)


@dataclass(frozen=True)
class Products:
    """The own products of a job, and the lengths in which pipe is bought for it."""

    pipes: tuple[OwnPipe, ...] = several("own pipes", (), most=200)
    stones: tuple[OwnStone, ...] = several("own stones", (), most=200)
    fabrics: tuple[OwnFabric, ...] = several("own fabrics", (), most=200)
    sold_in: tuple[SoldIn, ...] = several("lengths and widths that are sold", (), most=200)
