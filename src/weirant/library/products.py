"""Generic products and soils: kinds and sizes, no brands. All SI."""

from __future__ import annotations

from dataclasses import dataclass

from weirant.job.soil import Band
from weirant.methods.gradation import Gradation


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


@dataclass(frozen=True)
class Geotextile:
    """A fabric; ``kind`` is nonwoven or woven. No roll width: it comes as a sock."""

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

    @property
    def conductivity(self) -> float:
        """Conductivity normal to the sheet, m/s."""
        return self.permittivity * self.thickness


@dataclass(frozen=True)
class Texture:
    """A USDA texture class with what is usual for it; ``curve`` is residual and saturated water content, alpha 1/m and n."""

    key: str
    name: str
    conductivity: Band
    drainable_porosity: float
    curve: tuple[float, float, float, float]
    gradation: Gradation
    plasticity_index: float
    source: str
    note: str
