"""Rod readings as CSV: point, station, backsight, rod reading. Reader and writer."""

from __future__ import annotations

import csv
import io

from weirant.errors import InputError, JobFileError
from weirant.job.survey import Shot
from weirant.units import parse
from weirant.units.dimension import LENGTH

COLUMNS = ("point", "station", "backsight", "rod_reading")
FOOT = 0.3048


def write_survey(shots: tuple[Shot, ...], unit: str) -> str:
    """CSV with the unit in each heading, such as ``station_ft``; readings to 0.001 of the unit."""
    factor, out = parse(f"1 {unit}", LENGTH), io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([COLUMNS[0], *(f"{name}_{unit}" for name in COLUMNS[1:])])
    for shot in shots:
        numbers = (
            None if v is None else f"{v / factor:.4f}".rstrip("0").rstrip(".")
            for v in (shot.station, shot.backsight, shot.foresight)
        )
        writer.writerow([shot.point, *numbers] + ([shot.unread] if shot.unread else []))
    return out.getvalue()


def read_survey(text: str) -> tuple[Shot, ...]:
    """Read what write_survey wrote, with comma, semicolon or tab between columns.

    Headings name the unit (``_ft`` or ``_m``). Entries that are no numbers are kept as unread. Raises JobFileError
    where the headings cannot be told.
    """
    lines = [line for line in text.lstrip("\ufeff").splitlines() if line.strip()]
    if not lines:
        raise JobFileError("The CSV file is empty.")
    mark = max(",;\t", key=lines[0].count)
    rows = list(csv.reader(lines, delimiter=mark))
    heading = [name.strip().lower() for name in rows[0]]
    columns = {name: _column(heading, name) for name in COLUMNS[1:]}
    point = heading.index("point") if "point" in heading else None
    return tuple(_shot(row, number, point, columns) for number, row in enumerate(rows[1:], 2))


def _column(heading: list[str], name: str) -> tuple[int, str]:
    for index, title in enumerate(heading):
        for unit in ("ft", "m", "in", "mm", "cm"):
            if title == f"{name}_{unit}":
                return index, unit
    raise JobFileError(f"The CSV file has no column {name}_ft or {name}_m; its headings are {', '.join(heading)}.")


def _shot(row: list[str], number: int, point: int | None, columns: dict[str, tuple[int, str]]) -> Shot:
    values: dict[str, float | None] = {}
    unread = []
    for name, (index, unit) in columns.items():
        entry = row[index].strip() if index < len(row) else ""
        try:
            values[name] = parse(entry, LENGTH, name, unit) if entry else None
        except InputError:
            values[name] = None
            unread.append(entry)
    label = row[point].strip() if point is not None and point < len(row) else ""
    return Shot(
        label or f"line {number}", values["station"], values["backsight"], values["rod_reading"], " ".join(unread)
    )
