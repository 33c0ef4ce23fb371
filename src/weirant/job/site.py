"""Things on the site: what stands there, what lies buried, and points that came with their levels."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import pairwise

from weirant.job.fields import choice, plain, quantity, several
from weirant.language import ntr, tr
from weirant.records import dataclass
from weirant.units import display as k

BURIED = ("gas line", "water line", "power cable", "drain pipe", "irrigation", "low-voltage cable")
OUTLINED = ("building", "slab", "lawn", "woodland", "wet area", "boundary")
KINDS = ("building", "wall", "slab", "tree", "walk", "fence", "boundary", "wet area", "outlet", "lawn", "woodland", "brook", *BURIED)
SINGLE = ("tree", "outlet")  # what is one point
FOUNDED = ("building", "wall", "slab")
CAN_BE_DRY = ("building", "wall", "slab", "walk", "lawn", "woodland", "wet area")  # what a drain may be laid for


@dataclass(frozen=True)
class Spot:
    """A point in plan, m east and north of the outlet."""

    x: float
    y: float


def lacking_corners(kind: str, points: Sequence[Spot]) -> str:
    """What a thing of a kind still lacks of its corners, in words; empty where it has enough."""
    fewest = 3 if kind in OUTLINED else 1 if kind in SINGLE else 2
    count = len(set(points))
    if count >= fewest:
        return ""
    needs = ntr("a {kind} needs {n} corner", "a {kind} needs {n} corners", fewest, kind=tr(kind))
    return f"{needs}; " + (ntr("{n} is there", "{n} are there", count) if count else tr("none is there"))


@dataclass(frozen=True)
class Feature:
    """A thing in plan: an outline or a line of points, m from the outlet; a tree is one point.

    What the checks need of it: depth of the footing under a building or wall; radius of a tree's roots; depth of a
    buried line's top, its diameter, whether it is private and whether it is located, and the zone to dig by hand. A thing with a depth to be dry
    is a place that some drain is to keep so, and after rain within a time, s.
    """

    id: str = plain("identity of the thing")
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
    dry_depth: float | None = quantity("depth to be dry", k.DEPTH, above=0, at_most=10, default=None)
    dry_within: float = quantity("dry again within", k.DURATION, above=0, at_most=30 * 86400, default=86400.0)
    has_board: bool | None = plain("drain board on its wall", None)

    @property
    def is_buried(self) -> bool:
        """Whether it is a buried line that a trench may meet."""
        return self.kind in BURIED

    @property
    def is_outline(self) -> bool:
        """Whether it has an inside."""
        return self.kind in OUTLINED and len(self.points) > 2

    @property
    def edges(self) -> list[tuple[tuple[float, float], tuple[float, float]]]:
        """Its edges in plan, closed where it has an inside; of a single point one without length."""
        points = [(p.x, p.y) for p in self.points]
        if self.is_outline:
            points.append(points[0])
        return list(pairwise(points)) or [(points[0], points[0])]

    @property
    def middle(self) -> tuple[float, float]:
        """The middle of its points."""
        return math.fsum(p.x for p in self.points) / len(self.points), math.fsum(p.y for p in self.points) / len(self.points)

    @property
    def area(self) -> float:
        """Area within its outline, m²; nought where it has no inside."""
        return abs(math.fsum(a[0] * b[1] - b[0] * a[1] for a, b in self.edges)) / 2 if self.is_outline else 0.0


@dataclass(frozen=True)
class SitePoint:
    """A point with its level, m: read from a file or taken by an instrument; ``is_assumed`` marks one that nobody has shot."""

    name: str = plain("point")
    x: float = quantity("distance east", k.DISTANCE, at_least=-1e5, at_most=1e5)
    y: float = quantity("distance north", k.DISTANCE, at_least=-1e5, at_most=1e5)
    level: float = quantity("level", k.LEVEL, at_least=-500, at_most=9000)
    code: str = plain("code", "")
    source: str = plain("where it comes from", "")
    is_assumed: bool = plain("made up, not shot", False)
