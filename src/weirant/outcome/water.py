"""What was computed of the water that comes to a run."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from weirant.ground.collecting import Collecting
from weirant.hydraulics.accumulate import NOTHING, Inflow, Seep
from weirant.job.doubt import Doubt
from weirant.job.water import Source
from weirant.outcome.figure import Figure


@dataclass(frozen=True)
class CollectedWater:
    """Groundwater that what collects in one situation takes in, m²/s (None where an input is missing, named in ``missing``), and the depth of the
    water table at the place that it keeps dry; ``waits`` where these are no more than a guess, and the section simulator is to be asked;
    ``ends`` the table with the hard layer right under the trench, and deep, where only its depth is missing.
    """

    of: Collecting
    inflow: Figure | None
    table_depth: Figure | None = None
    missing: Doubt | None = None
    waits: bool = False
    ends: tuple[Figure, ...] = ()

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
        return self._inflow(is_high=False)

    @cached_property
    def inflow_high(self) -> Inflow:
        """The same for the high end of the soil's band."""
        return self._inflow(is_high=True)

    def _inflow(self, *, is_high: bool) -> Inflow:
        if not self.length:
            return NOTHING
        return Inflow(self.storm_flow / self.length, seeps=tuple(_seep(part, is_high=is_high) for part in self.parts))


def _seep(water: CollectedWater, *, is_high: bool) -> Seep:
    figure = water.inflow
    if figure is None:
        return Seep(water.of, 0.0, water.missing)
    return Seep(water.of, figure.band[1] if is_high and figure.band else figure.value)
