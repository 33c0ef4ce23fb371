"""Where water that was let out goes on over the ground."""

from __future__ import annotations

from weirant.records import dataclass

INLET, DRAIN, THING, BOUNDARY, HOLLOW, OFF, LOST = "inlet", "drain", "thing", "boundary", "hollow", "off", "lost"


@dataclass(frozen=True)
class LetOut:
    """How the way of water from an outlet over the ground ends: at an inlet, at a drain open to the top, at a thing that stands there, at the boundary (with
    the identity of that), in a hollow, off the known ground; and where, m east and north.
    """

    ends: str
    what: str
    at: tuple[float, float]
