"""What was found of one place to keep dry."""

from __future__ import annotations

from weirant.job.site import Feature
from weirant.outcome.water import CollectedWater
from weirant.records import dataclass


@dataclass(frozen=True, eq=False)
class Serving:
    """What of a run, by its identity, keeps a place dry: from and to station m of each span, how far off it the place lies, m, and what was found of
    its water (None where the ground along the run is not known).
    """

    run: str
    spans: tuple[tuple[float, float], ...]
    distance: float
    water: CollectedWater | None


@dataclass(frozen=True, eq=False)
class PlaceOutcome:
    """A place with all that keeps it dry."""

    place: Feature
    served: tuple[Serving, ...]

    @property
    def table_depth(self) -> float | None:
        """The depth m to water there beside the run that holds it least low; None where that of one of them is not known, or none serves it."""
        depths = [s.water.known_table.value if s.water is not None and s.water.known_table is not None else None for s in self.served]
        return min((d for d in depths if d is not None), default=None) if None not in depths else None
