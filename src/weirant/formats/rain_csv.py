"""Rain as CSV: a hyetograph or the log of a rain gauge. Reader only."""

from __future__ import annotations

from datetime import datetime

import numpy as np

from weirant.errors import JobFileError
from weirant.formats.csv_text import table_of
from weirant.job.rain import OWN, Storm
from weirant.language import tr

LENGTHS = {"mm": 1e-3, "cm": 1e-2, "in": 0.0254, "inch": 0.0254, "inches": 0.0254, "m": 1.0}
TIMES = {"h": 3600.0, "hours": 3600.0, "hour": 3600.0, "min": 60.0, "minutes": 60.0, "s": 1.0, "seconds": 1.0, "days": 86400.0}
MOST, SHORTEST, LATEST = 5000, 60.0, 400 * 86400.0  # lines; s; s
USE = tr("Head the columns with their units, such as time_min,depth_mm; the time is the end of each step, or a date and time.")


def read_rain(text: str, name: str) -> Storm:
    """A storm of own readings: each line the end of a step and the depth that fell in it.

    Comma, semicolon or tab between columns, decimal comma where the columns are not parted by commas; times grow. Raises
    JobFileError with every line that cannot be understood.
    """
    empty = tr("{name} holds no rain. {use}", name=name, use=USE)
    mark, lines = table_of(text, name, empty)
    if len(lines) < 2:
        raise JobFileError(empty)
    if len(lines) > MOST:
        raise JobFileError(tr("{name} has {lines} lines; at most {most} are taken.", name=name, lines=len(lines), most=MOST))
    time_unit, depth_unit = _units(lines[0][1], name)
    found: list[tuple[float, float]] = []
    wrong: list[tuple[str, str]] = []
    start: datetime | None = None
    for number, row in lines[1:]:
        try:
            if time_unit is None:
                clock = datetime.fromisoformat(row[0].strip())
                start = start or clock
                time = (clock - start).total_seconds()
            else:
                time = float(row[0].replace(",", ".")) * time_unit
            depth = float(row[1].replace(",", ".")) * depth_unit
            if not (0 <= time <= LATEST and 0 <= depth <= 1):
                raise ValueError
            if found and time <= found[-1][0]:
                wrong.append((tr("line {number}", number=number), tr("its time is not later than the one before")))
                continue
            found.append((time, depth))
        except (ValueError, IndexError, TypeError, OverflowError):
            wrong.append((tr("line {number}", number=number), tr("is not a time and a depth of rain: {row}", row=mark.join(row)[:60])))
    if wrong:
        raise JobFileError(tr("{name} cannot be read as rain:", name=name), tuple(wrong[:20]))
    return _even(found, name)


def _units(heading: list[str], name: str) -> tuple[float | None, float]:
    cells = [cell.strip().lower().replace(" ", "_").replace("(", "").replace(")", "") for cell in heading]
    if len(cells) < 2:
        raise JobFileError(tr("{name} needs two columns. {use}", name=name, use=USE))
    time, depth = (cell.split("_")[-1] for cell in cells[:2])
    if depth not in LENGTHS or (time not in TIMES and not {"date", "time", "clock"} & set(cells[0].split("_"))):
        raise JobFileError(tr("{name}: the headings {heading} do not tell the units. {use}", name=name, heading=", ".join(heading[:2]), use=USE))
    return TIMES.get(time), LENGTHS[depth]


def _even(found: list[tuple[float, float]], name: str) -> Storm:
    """Even steps of the shortest gap, the same depth fallen at every one of their ends."""
    times, depths = np.array([t for t, _ in found]), np.array([d for _, d in found])
    gaps = np.diff(times)
    first = times[0] if times[0] > 0 else (float(gaps[0]) if len(gaps) else 900.0)
    ends = times if times[0] > 0 else times + first
    step = max(float(min(gaps.min() if len(gaps) else first, first)), SHORTEST, float(ends[-1]) / MOST)
    count = int(np.ceil(ends[-1] / step - 1e-9))
    fallen = np.interp(np.arange(count + 1) * step, np.concatenate(([0.0], ends)), np.concatenate(([0.0], np.cumsum(depths))))
    return Storm(name, OWN, float(depths.sum()), float(count * step), step, tuple(np.diff(fallen).tolist()))
