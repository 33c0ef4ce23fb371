"""Moving the station along the run in hand."""

from __future__ import annotations

from weirant.ui.document import Document
from weirant.units.display import STATION, step_si


def step_station(document: Document, way: int, far: bool) -> None:
    """Move the station by one step, or ten."""
    document.move_to(document.station + way * step_si(STATION, document.system) * (10 if far else 1))
