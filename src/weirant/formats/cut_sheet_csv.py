"""The cut sheet as CSV, in the job's own units; what is read on the staff also as the staff shows it."""

from __future__ import annotations

import csv
import io

from weirant.design.sheets import OFF_STAFF
from weirant.formats.csv_text import harmless
from weirant.ground.cut_sheet import CutLine
from weirant.language import tr
from weirant.units.display import DEPTH, LEVEL, STATION, System, from_si, unit_of
from weirant.units.staff import DECIMAL_FEET, staff_for, staff_text

NOT_SURVEYED = tr("NOT SURVEYED: levels made up, do not dig to them")
COLUMNS = (("station", STATION, 2), ("ground", LEVEL, 3), ("invert", LEVEL, 3), ("trench_bottom", LEVEL, 3), ("cut", DEPTH, 2),
           ("cover", DEPTH, 2), ("rod", LEVEL, 3))  # fmt: skip


def write_cut_sheet(lines: list[CutLine], system: System, staff: str = DECIMAL_FEET, rounding: float = 0.0, *, is_shot: bool = True) -> str:
    """CSV with the unit in each heading; rod and pole mark once more as read on the crew's staff.

    Where not all levels were shot, there are no rods and marks, and the notes say why; a rod that cannot be on the staff is told as such.
    """
    staff, out = staff_for(staff, is_metric=system == System.METRIC), io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([*(f"{name}_{unit_of(kind, system)}" for name, kind, _ in COLUMNS), "rod_on_staff", "pole_mark", "note"])
    for line in lines:
        values = ((getattr(line, name), kind, decimals) for name, kind, decimals in COLUMNS)
        figures = ("" if value is None else f"{from_si(value, kind, system):.{decimals}f}" for value, kind, decimals in values)
        if is_shot:
            writer.writerow([*figures, OFF_STAFF if line.rod is None else staff_text(line.rod, staff, rounding), staff_text(line.pole, staff, rounding), harmless(line.note)])
        else:
            writer.writerow([*list(figures)[:-1], "", "", "", harmless("; ".join(filter(None, (NOT_SURVEYED, line.note))))])
    return out.getvalue()
