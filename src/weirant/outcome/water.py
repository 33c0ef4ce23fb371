"""What was computed of the water that comes to a run."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property

from weirant.ground.collecting import Collecting
from weirant.hydraulics.accumulate import NOTHING, Inflow, Seep
from weirant.job.doubt import Doubt
from weirant.job.water import Source
from weirant.outcome.figure import Figure
from weirant.records import dataclass


@dataclass(frozen=True)
class CollectedWater:
    """Groundwater that what collects in one situation takes in, m²/s (None where an input is missing, named in ``missing``), and the depth of the
    water table at the place that it keeps dry; ``waits`` where these are no more than a guess, and the section simulator is to be asked;
    ``ends`` the table with the hard layer right under the trench, and deep, where only its depth is missing. ``in_storm`` is the most that comes in
    the design storm, m²/s: at first what would come if the ground kept nothing of its rain back, in its place what was simulated.
    """

    of: Collecting
    inflow: Figure | None
    table_depth: Figure | None = None
    missing: Doubt | None = None
    waits: bool = False
    ends: tuple[Figure, ...] = ()
    in_storm: float = 0.0

    @property
    def known_table(self) -> Figure | None:
        """The water table at the place, where it is more than a guess."""
        return None if self.waits else self.table_depth


@dataclass(frozen=True)
class Brought:
    """What a source brings, m³/s, or what must be known before it can be told."""

    source: Source
    figure: Figure | None
    missing: Doubt | None = None


@dataclass(frozen=True)
class RunWater:
    """Water to one run: from the ground by what collects, storm water that the ground gives off m³/s, along a length m that collects."""

    parts: tuple[CollectedWater, ...] = ()
    storm: Figure | None = None
    length: float = 0.0

    @property
    def storm_flow(self) -> float:
        """Storm water given off along the run, m³/s."""
        return self.storm.value if self.storm is not None else 0.0

    @cached_property
    def inflow(self) -> Inflow:
        """What it takes in along what collects, for the best figure of the soil."""
        return self._inflow(lambda part: part.inflow.value if part.inflow is not None else 0.0)

    @cached_property
    def inflow_high(self) -> Inflow:
        """The same for the high end of the soil's band."""
        return self._inflow(_at_most)

    @cached_property
    def inflow_storm(self) -> Inflow:
        """The same for the most that comes in the design storm, of which what the ground gives off by hand is another estimate."""
        by_hand = self.storm_flow / self.length if self.length else 0.0
        return self._inflow(lambda part: max(part.in_storm, _at_most(part) + by_hand), 0.0)

    def _inflow(self, rate: Callable[[CollectedWater], float], spread: float | None = None) -> Inflow:
        if not self.length:
            return NOTHING
        seeps = tuple(Seep(part.of, rate(part)) if part.inflow is not None else Seep(part.of, 0.0, part.missing) for part in self.parts)
        return Inflow(self.storm_flow / self.length if spread is None else spread, seeps=seeps)


def _at_most(part: CollectedWater) -> float:
    figure = part.inflow
    return 0.0 if figure is None else figure.band[1] if figure.band else figure.value
