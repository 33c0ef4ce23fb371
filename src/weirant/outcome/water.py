"""What was computed of the water that comes to a run."""

from __future__ import annotations

from dataclasses import dataclass

from weirant.ground.collecting import Collecting
from weirant.job.doubt import Doubt
from weirant.job.water import Source
from weirant.outcome.figure import Figure


@dataclass(frozen=True)
class CollectedWater:
    """Groundwater that what collects in one situation takes in, m²/s (None where an input is missing, named in ``missing``), and the depth of the
    water table at the place that it keeps dry.
    """

    of: Collecting
    inflow: Figure | None
    table_depth: Figure | None = None
    missing: Doubt | None = None


@dataclass(frozen=True)
class Brought:
    """What a source brings, m³/s, or what must be known before it can be told."""

    source: Source
    figure: Figure | None
    missing: Doubt | None = None


@dataclass(frozen=True)
class RunWater:
    """Water to one run: from the ground by what collects, storm water that the ground gives off m³/s."""

    parts: tuple[CollectedWater, ...] = ()
    storm: Figure | None = None

    @property
    def storm_flow(self) -> float:
        """Storm water given off along the run, m³/s."""
        return self.storm.value if self.storm is not None else 0.0
