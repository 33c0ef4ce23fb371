"""The rainfall table of a place as CSV: a duration a line, a column for each return period. Reader and writer."""

from __future__ import annotations

import csv
import io
import re
from itertools import pairwise

from weirant.errors import JobFileError
from weirant.formats.csv_text import table_of
from weirant.job.rain import RainfallDepth
from weirant.language import tr

LENGTHS = {"mm": 1e-3, "in": 0.0254}
TIMES = {"min": 60.0, "h": 3600.0}
USE = tr("Head the first column duration_min or duration_h, the others with years and unit, such as 10_years_in or 10_years_mm.")


def read_rainfall(text: str, name: str) -> tuple[RainfallDepth, ...]:
    """Read a table; raises JobFileError with every cell that cannot be understood, or where it says that longer rain brings less."""
    empty = tr("{name} holds no table. {use}", name=name, use=USE)
    _, rows = table_of(text, name, empty)
    if len(rows) < 2:
        raise JobFileError(empty)
    heading = rows[0][1]
    unit = heading[0].strip().lower().removeprefix("duration_")
    heads = [re.fullmatch(r"([\d.]+)_years?_(in|mm)", cell.strip().lower()) for cell in heading[1:]]
    if unit not in TIMES or not heads or any(h is None for h in heads):
        raise JobFileError(tr("{name}: the headings {heading} cannot be told. {use}", name=name, heading=", ".join(heading), use=USE))
    found: list[RainfallDepth] = []
    wrong: list[tuple[str, str]] = []
    for number, row in rows[1:]:
        for head, cell in zip(heads, row[1:], strict=False):
            assert head is not None
            if not cell.strip():
                continue
            try:
                duration, depth = (float(c.replace(",", ".")) for c in (row[0], cell))
                if not (0 < duration < 1e9 and 0 < depth < 1e9):
                    raise ValueError
                found.append(RainfallDepth(duration * TIMES[unit], float(head[1]), depth * LENGTHS[head[2]]))
            except ValueError:
                wrong.append((tr("line {number}", number=number), tr("is not a duration and a depth: {row}, {cell}", row=row[0], cell=cell)))
    wrong += [("table", words) for words in disorder(tuple(found))]
    if wrong or not found:
        raise JobFileError(tr("{name} cannot be read as a rainfall table:", name=name), tuple(wrong[:20]))
    return tuple(found)


def disorder(table: tuple[RainfallDepth, ...]) -> list[str]:
    """Where a table says something twice, or that longer rain, or rarer rain, brings less; each entry beside the next longer and the next rarer one."""
    found = []
    for entry, other in pairwise(sorted(table, key=lambda e: (e.years, e.duration))):
        if (other.years, other.duration) == (entry.years, entry.duration):
            found.append(tr("{duration:g} min, once in {years:g} years, stands twice", duration=entry.duration / 60, years=entry.years))
        if other.years == entry.years and other.duration > entry.duration and other.depth < entry.depth:
            found.append(tr("{duration:g} min brings less than {duration_2:g} min, once in {years:g} years", duration=other.duration / 60,
                            duration_2=entry.duration / 60, years=entry.years))
    for entry, other in pairwise(sorted(table, key=lambda e: (e.duration, e.years))):
        if other.duration == entry.duration and other.years > entry.years and other.depth < entry.depth:
            found.append(tr("once in {years:g} years brings less than once in {years_2:g}, for {duration:g} min", years=other.years, years_2=entry.years, duration=entry.duration / 60))
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
