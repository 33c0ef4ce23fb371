"""A drain and the soils beside it, as its clogging takes them; all of a metre of it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from weirant.records import dataclass

Array = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Soils:
    """Plausible soils beside a drain: the water that comes of each m²/s, shape (n,), its plasticity index (n,), the size m its cake has a tenth finer than (n,), the
    size m of the grains that move (n,), and how turbid its water is against what is assumed (n,). ``passing`` gives of each the share (n,) finer than a size m.
    """

    inflow: Array
    plasticity: Array
    d10: Array
    moves: Array
    turbid: Array
    passing: Callable[[float], Array]


@dataclass(frozen=True)
class IntakeRow:
    """Openings of a pipe in a row: height m over the invert, and area m² in a metre."""

    height: float
    area: float


@dataclass(frozen=True)
class Cloth:
    """A cloth: its openings m, its permittivity 1/s, the area m² in a metre that water passes, and whether it lies round the pipe, within the stone."""

    opening: float
    permittivity: float
    area: float
    on_pipe: bool = False


@dataclass(frozen=True)
class Built:
    """A way to build a drain: the area m² in a metre over which it meets the soil, the opening m of its stone that controls what passes there, and the cloth,
    if any; of the stone its area m² in section, voids, D15 m and conductivity m/s, the way m through it, and the height m that water may stand in it; the pipe's
    rows of openings, its inner diameter m, how high m its invert lies over the trench bottom, the trench's width m, the velocity m/s full, and whether its openings
    are all round and its stone is open to the top. ``roof`` and
    ``ground`` are the areas m² of roofs and of ground, for a metre of it, whose water is led in with what it carries.
    """

    name: str
    area: float
    opening: float
    cloth: Cloth | None
    stone: float
    voids: float
    d15: float
    conductivity: float
    through: float
    head: float
    rows: tuple[IntakeRow, ...]
    diameter: float
    below: float
    width: float
    velocity: float
    all_round: bool = True
    open_top: bool = False
    roof: float = 0.0
    ground: float = 0.0

    @property
    def meets(self) -> float:
        """The opening m that controls what the soil lets go: of a cloth against the soil, or else of the stone."""
        return self.cloth.opening if self.cloth is not None and not (self.cloth.on_pipe and self.stone > 0) else self.opening
