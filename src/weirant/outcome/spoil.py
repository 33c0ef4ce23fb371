"""Earth that is spread beside a trench, as the plan shows it."""

from __future__ import annotations

from weirant.records import dataclass

Ring = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class SpoilBand:
    """The spoil of a run: its rings in plan, m³ as it lies loose, depth m at the trench, by how much m/m the ground falls more away from the trench with it, and how much it fell
    before (less than nought: towards it; None where the surface is not known).
    """

    run: str
    rings: tuple[Ring, ...]
    volume: float
    depth: float
    fall: float
    fell: float | None
