"""What a drawing is made of. Coordinates are world metres, y up; what a thing is, not how it looks."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from weirant.job import Job
from weirant.records import dataclass

Point = tuple[float, float]


@dataclass(frozen=True)
class Area:
    """A filled outline of a material: soil, subsoil, hard layer, stone, water, grass, building … ``grain`` m if stones show."""

    points: tuple[Point, ...]
    material: str
    grain: float = 0.0


@dataclass(frozen=True)
class Stroke:
    """A line with a meaning: ground, pipe, fabric, water, hard layer, boundary …"""

    points: tuple[Point, ...]
    line: str


@dataclass(frozen=True)
class Ring:
    """A pipe cut across: inner and outer radius, and how high water stands in it, m. ``holes``: all round or down."""

    centre: Point
    inner: float
    outer: float
    water: float
    holes: str


@dataclass(frozen=True)
class Words:
    """A label. ``dx`` and ``dy`` move it on the paper, in tenths of the text height, right and up; ``role`` sets its look.

    ``path`` names the job's field it shows, for typing into it; its role is then "typed".
    """

    at: Point
    text: str
    role: str = "label"
    anchor: str = "left"
    dx: float = 0.0
    dy: float = 0.0
    path: str = ""


@dataclass(frozen=True)
class Measure:
    """A dimension line between two points with its text; ``path`` names the job's field it shows, for typing into it."""

    start: Point
    end: Point
    text: str
    path: str = ""


@dataclass(frozen=True)
class Flag:
    """A finding where it happens; ``pole`` is how high its sign stands over the place, in heights of the letters."""

    at: Point
    state: str
    text: str
    pole: float = 1.9


@dataclass(frozen=True)
class Handle:
    """Something to take hold of. ``move`` gives the job for a new place of the handle; ``way`` is x, y or both.

    ``step`` m is one nudge of an arrow key. ``path`` names the field for typing, empty where there is none. ``press`` gives the job after a
    press that moved nothing. ``value`` tells where it stands, in the reader's units, where no field does.
    """

    key: str
    at: Point
    way: str
    label: str
    step: float
    move: Callable[[Job, Point], Job]
    path: str = ""
    press: Callable[[Job], Job] | None = None
    value: str = ""


@dataclass(frozen=True)
class Mark:
    """A small sign of one size on the paper: held, built, built off, point, tree trunk, joint, fitting, crossing, crossing unknown."""

    at: Point
    kind: str


@dataclass(frozen=True, eq=False)
class Shade:
    """How wet the ground is: edges of columns (columns + 1,) and of rows (rows + 1,), m, both growing, and wetness (columns, rows) from
    0 to 1; what is not a number is left out.
    """

    x: NDArray[np.float64]
    y: NDArray[np.float64]
    wetness: NDArray[np.float64]


Shape = Area | Stroke | Ring | Words | Measure | Flag | Mark | Shade


@dataclass(frozen=True)
class Drawing:
    """Shapes in the order they are laid on paper, handles, and the world rectangle (left, bottom, right, top) to show.

    ``has_foot`` asks for a line of paper below the rectangle, for the words of an axis; ``stretches`` lets both scales
    fill the paper, for charts. Labels are set apart where it is painted.
    """

    shapes: tuple[Shape, ...]
    bounds: tuple[float, float, float, float]
    handles: tuple[Handle, ...] = ()
    may_exaggerate: bool = False
    title: str = ""
    has_foot: bool = False
    stretches: bool = False


def box(left: float, bottom: float, right: float, top: float) -> tuple[Point, ...]:
    """The four corners of a rectangle."""
    return ((left, bottom), (right, bottom), (right, top), (left, top))


def snapped(value: float, step: float) -> float:
    """A value rounded to a step, so that a drag lands on sensible figures."""
    return round(value / step) * step
