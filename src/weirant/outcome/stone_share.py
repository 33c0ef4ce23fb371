"""What a run takes of the groundwater in a trench that it shares with others."""

from __future__ import annotations

from weirant.records import dataclass


@dataclass(frozen=True)
class StoneShare:
    """m³/s that come into the stone of the trench, the share of it that a run takes, and the runs that collect there beside it."""

    comes: float
    share: float
    beside: tuple[str, ...]
