"""The cut sheet as CSV, in the job's own units."""

from __future__ import annotations

import csv
import io

from weirant.ground.cut_sheet import CutLine
from weirant.units.display import DEPTH, LEVEL, STATION, System, from_si, unit_of

COLUMNS = (("station", STATION, 2), ("ground", LEVEL, 3), ("invert", LEVEL, 3), ("trench_bottom", LEVEL, 3), ("cut", DEPTH, 2),
           ("cover", DEPTH, 2), ("rod", LEVEL, 3))  # fmt: skip


def write_cut_sheet(lines: list[CutLine], system: System) -> str:
    """CSV with the unit in each heading."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([*(f"{name}_{unit_of(kind, system)}" for name, kind, _ in COLUMNS), "note"])
    for line in lines:
        writer.writerow(
            [
                *(f"{from_si(getattr(line, name), kind, system):.{decimals}f}" for name, kind, decimals in COLUMNS),
                line.note,
            ]
        )
    return out.getvalue()
