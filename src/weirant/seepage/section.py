"""The vertical cut through the ground across a drain, as plain data.

x runs along the ground, m, 0 at the drain, positive down the slope; depths are m below the ground and at right angles to it.
"""

from __future__ import annotations

from dataclasses import field
from typing import NamedTuple

from weirant.errors import InputError
from weirant.language import tr
from weirant.records import dataclass
from weirant.seepage.medium import Medium
from weirant.units.display import in_both

HARD = "hard layer"  # name of what a trench is cut into below the layers that conduct


@dataclass(frozen=True)
class Stratum:
    """A layer from the surface down; the lowest reaches the hard layer."""

    medium: Medium
    thickness: float


@dataclass(frozen=True)
class Opening:
    """The pipe: outer diameter and depth of its underside, m; lowest and highest opening and the water that the outlet holds in
    the pipe, m above the underside; open area, m² per m, as far as it is not blocked; permittivity of a sock, 1/s, or None.
    """

    diameter: float
    depth: float
    lowest_hole: float
    highest_hole: float
    water: float
    open_area: float
    sock: float | None = None


class Faces(NamedTuple):
    """Where a wrap lies: on the floor of the stone, at its sides, and over it."""

    floor: bool = True
    sides: bool = True
    over: bool = True


@dataclass(frozen=True)
class Cut:
    """The trench: width at the bottom and depth; stone from ``stone_top`` down, ``fill`` over it; lean of the sides, horizontal
    per vertical; permittivity of a wrap, 1/s, or None, and where it lies; no pipe where there is only a trench.
    Without stone, ``stone_top`` is the depth.
    """

    width: float
    depth: float
    stone_top: float
    stone: Medium
    fill: Medium
    pipe: Opening | None
    lean: float = 0.0
    wrap: float | None = None
    wraps: Faces = Faces()


@dataclass(frozen=True)
class Cover:
    """What keeps rain off, from x to x; ``depth`` is how far it goes down as a wall that no water passes (0: a slab)."""

    start: float
    end: float
    depth: float = 0.0


@dataclass(frozen=True)
class Section:
    """Extent up and down the slope and depth to the hard layer, m; slope falling towards positive x, m/m (0 to 0.6).

    upper_table and lower_table are depths, m, at which the water table is held at the ends; None: no water passes there. Where
    ``runs_on`` the water at the lower end runs on down the slope instead. Without ``cut`` it is the ground without the drain.
    """

    upslope: float
    downslope: float
    depth: float
    slope: float
    strata: tuple[Stratum, ...]
    cut: Cut | None = None
    covers: tuple[Cover, ...] = field(default=())
    upper_table: float | None = None
    lower_table: float | None = None
    runs_on: bool = False

    def __post_init__(self) -> None:
        if not (self.upslope > 0 and self.downslope > 0 and self.depth > 0):
            raise InputError("section", tr("must reach some way up the slope, down the slope and into the ground"))
        if not 0 <= self.slope <= 0.6:
            raise InputError(tr("slope of the section"), tr("must be between 0 and 60 %"), self.slope)
        if not self.strata:
            raise InputError("layers", tr("are missing: give at least one"))
        cut = self.cut
        if cut is not None and not 0 < cut.depth <= self.depth + 1e-9:
            raise InputError("trench", tr("must end above the hard layer at {depth}", depth=in_both(self.depth)), in_both(cut.depth))
        if cut is not None and cut.pipe is not None and cut.pipe.depth > cut.depth + 1e-9:
            raise InputError("pipe", tr("must lie in the trench"), cut.pipe.depth)

    @property
    def open_width(self) -> float:
        """Width on which rain falls, m: without what is covered."""
        covered = sum(max(min(cover.end, self.downslope) - max(cover.start, -self.upslope), 0.0) for cover in self.covers)
        return max(self.upslope + self.downslope - covered, 0.0)

    def medium_at(self, depth: float) -> Medium:
        """The soil of the layers at a depth."""
        below = 0.0
        for stratum in self.strata:
            below += stratum.thickness
            if depth < below:
                return stratum.medium
        return self.strata[-1].medium
