"""Things on the site that the plan shows."""

from __future__ import annotations

from dataclasses import dataclass

from weirant.job.fields import choice, plain


@dataclass(frozen=True)
class Spot:
    """A point in plan, m east and north of the outlet."""

    x: float
    y: float


@dataclass(frozen=True)
class Feature:
    """A thing in plan: an outline or a line of points, m from the outlet."""

    kind: str = choice("kind", "building", "lawn", "woodland", "brook", "boundary", "gas line", "walk")
    name: str = plain("name")
    points: tuple[Spot, ...] = plain("points")
