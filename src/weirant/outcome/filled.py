"""What a pit that soaks came to in the design storm."""

from __future__ import annotations

from weirant.records import dataclass


@dataclass(frozen=True)
class Filled:
    """The highest level m that water came to in a pit, and the time s after the rain in which nine tenths of what it rose have soaked away (infinite: never)."""

    highest: float
    empties: float
