"""What comes of reading a file of points: the points, the lines that could not be used and why, things worth saying."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from weirant.job.site import Feature, SitePoint

FARTHEST = 1e5  # m from the origin of the plan
LOWEST, HIGHEST = -500.0, 9000.0  # m


@dataclass(frozen=True)
class Refused:
    """A line or thing of a file that could not be used: where, its text (shortened where very long), and why."""

    where: str
    text: str
    why: str


@dataclass(frozen=True)
class PointsRead:
    """Points and features read, what was refused, and notes such as how the encoding or the axes were taken."""

    points: tuple[SitePoint, ...]
    refused: tuple[Refused, ...] = ()
    notes: tuple[str, ...] = ()
    features: tuple[Feature, ...] = field(default=())


def fault_in(x: float, y: float, level: float) -> str:
    """Why a point cannot be used; empty where it can."""
    if not (math.isfinite(x) and math.isfinite(y) and math.isfinite(level)):
        return "coordinates and level must be finite numbers"
    if abs(x) > FARTHEST or abs(y) > FARTHEST:
        return "lies more than 100 km from the origin; shift the coordinates when reading"
    if not LOWEST <= level <= HIGHEST:
        return "its level is not one on land; check the unit"
    return ""


def short(text: str, longest: int = 80) -> str:
    """A text cut to a length fit for a message."""
    return text if len(text) <= longest else text[: longest - 1] + "…"


def whole(text: str) -> str:
    """A text without half characters, which no file could keep."""
    return text if text.isascii() else text.encode("utf-16", "surrogatepass").decode("utf-16", "replace")
