"""What was computed of the water that comes to a run."""

from __future__ import annotations

from dataclasses import dataclass

from weirant.outcome.figure import Figure


@dataclass(frozen=True)
class RunWater:
    """Water to one run: from the ground m²/s (None where an input is missing, named in ``missing``), storm water that the ground gives off
    m³/s, roof water m³/s; and, where it serves the place to keep dry, the depth of the water table there.
    """

    inflow: Figure | None
    table_depth: Figure | None = None
    storm: Figure | None = None
    roof: Figure | None = None
    missing: str = ""

    @property
    def storm_flow(self) -> float:
        """Storm water given off along the run, m³/s."""
        return self.storm.value if self.storm is not None else 0.0

    @property
    def roof_flow(self) -> float:
        """Roof water let in at the top, m³/s."""
        return self.roof.value if self.roof is not None else 0.0
