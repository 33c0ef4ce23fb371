"""What was found of a pump in a pit."""

from __future__ import annotations

from weirant.job.network import Pump
from weirant.records import dataclass

PLASTIC = 140.0  # Hazen–Williams C of smooth plastic pipe in use (recalled; 150 new)
FITTINGS = 5.0  # velocity heads lost in check valve, bends and the end of a pipe up (cp)


@dataclass(frozen=True, eq=False)
class PumpOutcome:
    """A pump at a node: levels m of the pit's floor, of the lowest pipe into it, and where it lets go; the pit's area m²; the most head m that the pump
    gives; where it works, discharge m³/s and head m (None: it does not lift so high); and whether what it lifts comes back to it.
    """

    node: str
    pump: Pump
    floor: float
    invert: float
    lets_go_at: float | None
    area: float
    most_head: float
    discharge: float | None
    head: float | None
    comes_back: bool

    @property
    def lift(self) -> float | None:
        """From midway between the floats to where it lets go, m; None where that is not known."""
        return None if self.lets_go_at is None else self.lets_go_at - self.floor - (self.pump.starts + self.pump.stops) / 2

    @property
    def between_floats(self) -> float:
        """Volume between the floats, m³."""
        return self.area * (self.pump.starts - self.pump.stops)

    def starts_per_hour(self, inflow: float) -> float:
        """The most starts in an hour for an inflow m³/s or any that is less, where it works: half of what the pump lifts is the worst."""
        assert self.discharge is not None
        worst = min(inflow, self.discharge / 2)
        return 3600 * worst * (1 - worst / self.discharge) / self.between_floats
