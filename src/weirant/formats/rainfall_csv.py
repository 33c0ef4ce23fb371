"""The rainfall table of a place as CSV: a duration a line, a column for each return period. Reader and writer."""

from __future__ import annotations

import csv
import io
import re

from weirant.errors import JobFileError
from weirant.job.rain import RainfallDepth

LENGTHS = {"mm": 1e-3, "in": 0.0254}
TIMES = {"min": 60.0, "h": 3600.0}
USE = "Head the first column duration_min or duration_h, the others with years and unit, such as 10_years_in or 10_years_mm."


def read_rainfall(text: str, name: str) -> tuple[RainfallDepth, ...]:
    """Read a table; raises JobFileError with every cell that cannot be understood, or where it says that longer rain brings less."""
    lines = [line for line in text.lstrip("\ufeff").splitlines() if line.strip()]
    if len(lines) < 2:
        raise JobFileError(f"{name} holds no table. {USE}")
    mark = max(",;\t", key=lines[0].count)
    rows = list(csv.reader(lines, delimiter=mark))
    unit = rows[0][0].strip().lower().removeprefix("duration_")
    heads = [re.fullmatch(r"([\d.]+)_years?_(in|mm)", cell.strip().lower()) for cell in rows[0][1:]]
    if unit not in TIMES or not heads or any(h is None for h in heads):
        raise JobFileError(f"{name}: the headings {', '.join(rows[0])} cannot be told. {USE}")
    found: list[RainfallDepth] = []
    wrong: list[tuple[str, str]] = []
    for number, row in enumerate(rows[1:], 2):
        for head, cell in zip(heads, row[1:], strict=False):
            assert head is not None
            if not cell.strip():
                continue
            try:
                duration, depth = (float(c.replace(",", ".")) for c in (row[0], cell))
                if not (duration > 0 and depth > 0):
                    raise ValueError
                found.append(RainfallDepth(duration * TIMES[unit], float(head[1]), depth * LENGTHS[head[2]]))
            except ValueError:
                wrong.append((f"line {number}", f"is not a duration and a depth: {row[0]}, {cell}"))
    wrong += [("table", words) for words in disorder(tuple(found))]
    if wrong or not found:
        raise JobFileError(f"{name} cannot be read as a rainfall table:", tuple(wrong[:20]))
    return tuple(found)


def disorder(table: tuple[RainfallDepth, ...]) -> list[str]:
    """Where a table says that longer rain, or rarer rain, brings less."""
    found = []
    for entry in table:
        for other in table:
            if other.years == entry.years and other.duration > entry.duration and other.depth < entry.depth:
                found.append(f"{other.duration / 60:g} min brings less than {entry.duration / 60:g} min, once in {entry.years:g} years")
            if other.duration == entry.duration and other.years > entry.years and other.depth < entry.depth:
                found.append(f"once in {other.years:g} years brings less than once in {entry.years:g}, for {entry.duration / 60:g} min")
    return found


def write_rainfall(table: tuple[RainfallDepth, ...], unit: str) -> str:
    """The table as CSV with depths in ``in`` or ``mm``."""
    years = sorted({e.years for e in table})
    depths = {(e.duration, e.years): e.depth for e in table}
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["duration_min", *(f"{y:g}_years_{unit}" for y in years)])
    for duration in sorted({e.duration for e in table}):
        cells = (depths.get((duration, y)) for y in years)
        writer.writerow([f"{duration / 60:g}", *("" if d is None else f"{d / LENGTHS[unit]:.4g}" for d in cells)])
    return out.getvalue()
