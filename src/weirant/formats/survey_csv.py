"""Rod readings as CSV: point, station, backsight, rod reading. Reader and writer."""

from __future__ import annotations

import csv
import dataclasses
import io
from collections.abc import Mapping

from weirant.errors import InputError, JobFileError
from weirant.formats.csv_text import harmless, restored, table_of
from weirant.job.survey import Place, Shot
from weirant.language import tr
from weirant.units import parse
from weirant.units.dimension import LENGTH

COLUMNS = ("point", "station", "backsight", "rod_reading")
FOOT = 0.3048


def write_survey(shots: tuple[Shot, ...], unit: str, names: Mapping[str, str] | None = None) -> str:
    """CSV with the unit in each heading, such as ``station_ft``; readings to 0.0001 of the unit.

    A place in plan is written as how it was taken and its two figures, such as ``tape 40 12``; angles in degrees. ``names`` are those of the
    runs by their identities; along which one a station counts is then written too.
    """
    names = names or {}
    factor, out = parse(f"1 {unit}", LENGTH), io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([COLUMNS[0], *(f"{name}_{unit}" for name in COLUMNS[1:]), f"place_{unit}", *(["along"] if names else [])])
    for shot in shots:
        numbers = (None if v is None else _short(v / factor) for v in (shot.station, shot.backsight, shot.foresight))
        along = [harmless(names.get(shot.run, ""))] if names else []
        writer.writerow([harmless(shot.point), *numbers, _place_text(shot.place, factor), *along] + ([harmless(shot.unread)] if shot.unread else []))
    return out.getvalue()


def _short(number: float) -> str:
    return f"{number:.4f}".rstrip("0").rstrip(".")


def _place_text(place: Place | None, factor: float) -> str:
    if place is None:
        return ""
    first = place.first if place.how == "angle" else place.first / factor
    return f"{place.how} {_short(first)} {_short(place.second / factor)}"


def _read_place(text: str, factor: float) -> Place | None:
    """A place as written; None where there is none or it cannot be told."""
    cells = text.split()
    try:
        how, first, second = cells[0], float(cells[1]), float(cells[2])
    except (IndexError, ValueError):
        return None
    if how not in ("plan", "tape", "angle") or not (abs(first) < 1e5 and abs(second) < 1e5):
        return None
    return Place(how, first if how == "angle" else first * factor, second * factor)


def read_survey(text: str, runs: Mapping[str, str] | None = None, along: str = "") -> tuple[Shot, ...]:
    """Read what write_survey wrote, with comma, semicolon or tab between columns.

    Headings name the unit (``_ft`` or ``_m``). Entries that are no numbers are kept as unread. Raises JobFileError
    where the headings cannot be told. ``runs`` are identities of runs by their names; a station that names none of them counts along the run
    of the identity ``along``.
    """
    _, rows = table_of(text, tr("The CSV file"), tr("The CSV file is empty."))
    heading = [name.strip().lower() for name in rows[0][1]]
    columns = {name: _column(heading, name) for name in COLUMNS[1:]}
    where = next(((i, unit) for i, title in enumerate(heading) for unit in ("ft", "m") if title == f"place_{unit}"), None)
    point = heading.index("point") if "point" in heading else None
    shots = [_shot(row, number, point, columns) for number, row in rows[1:]]
    if where is not None:
        factor = parse(f"1 {where[1]}", LENGTH)
        shots = [_placed(shot, row[where[0]].strip() if where[0] < len(row) else "", factor) for shot, (_, row) in zip(shots, rows[1:], strict=True)]
    said = heading.index("along") if "along" in heading else None
    called = [restored(row[said]).strip() if said is not None and said < len(row) else "" for _, row in rows[1:]]
    return tuple(dataclasses.replace(shot, run=(runs or {}).get(name, along)) if shot.station is not None else shot for shot, name in zip(shots, called, strict=True))


def _placed(shot: Shot, text: str, factor: float) -> Shot:
    """The shot at its place; a place that cannot be told is kept as it stands."""
    place = _read_place(text, factor)
    if place is None and text:
        return dataclasses.replace(shot, unread=f"{shot.unread} {text}".strip())
    return dataclasses.replace(shot, place=place)


def _column(heading: list[str], name: str) -> tuple[int, str]:
    for index, title in enumerate(heading):
        for unit in ("ft", "m", "in", "mm", "cm"):
            if title == f"{name}_{unit}":
                return index, unit
    raise JobFileError(tr("The CSV file has no column {name}_ft or {name}_m; its headings are {heading}.", name=name, heading=", ".join(heading)))


def _shot(row: list[str], number: int, point: int | None, columns: dict[str, tuple[int, str]]) -> Shot:
    values: dict[str, float | None] = {}
    unread = []
    for name, (index, unit) in columns.items():
        entry = row[index].strip() if index < len(row) else ""
        try:
            values[name] = parse(entry, LENGTH, name, unit, strict=True) if entry else None
        except InputError:
            values[name] = None
            unread.append(entry)
    label = restored(row[point]).strip() if point is not None and point < len(row) else ""
    return Shot(
        label or tr("line {number}", number=number), values["station"], values["backsight"], values["rod_reading"], " ".join(unread)
    )
