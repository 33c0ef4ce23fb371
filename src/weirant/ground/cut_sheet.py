"""The cut sheet: what the crew needs at each station."""

from __future__ import annotations

import math

import numpy as np

from weirant.ground.grade_line import GradeLine
from weirant.records import dataclass


@dataclass(frozen=True)
class CutLine:
    """One line of the cut sheet, m.

    rod is the reading on the trench bottom under the given instrument, None where it cannot be on the staff; pole is how far the mark for this station lies
    below the outlet's mark on a pole that stands on the trench bottom, so that every mark meets the same laser plane.
    """

    station: float
    ground: float
    invert: float
    trench_bottom: float
    cut: float
    cover: float
    rod: float | None
    note: str
    pole: float = 0.0


def cut_sheet(line: GradeLine, step: float, instrument_height: float, notes: dict[float, str], staff: float = math.inf) -> list[CutLine]:
    """Lines from the outlet up, at every step, at the noted stations and at the top end.

    step m (> 0), instrument_height m as an elevation, staff its length m; the rod reading grows as the ground falls. A reading above the
    instrument or beyond the staff is none.
    """
    top = float(line.stations[-1])
    stations = sorted(
        {round(float(s), 3) for s in (*np.arange(0.0, top, step), *(s for s in notes if 0 <= s <= top), top)}
    )
    lines = []
    for station in stations:
        bottom = line.at(line.trench_bottom, station)
        note = next((text for at, text in notes.items() if abs(at - station) < 2e-3), "")
        rod = instrument_height - bottom
        lines.append(CutLine(station, line.at(line.ground, station), line.at(line.invert, station), bottom,
                             line.at(line.cut, station), line.at(line.cover, station), rod if -1e-9 <= rod <= staff + 1e-9 else None, note,
                             bottom - float(line.trench_bottom[0])))  # fmt: skip
    return lines
