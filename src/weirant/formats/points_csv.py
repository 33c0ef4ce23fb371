"""Points as CSV: point, x, y, z, code, in any order, with the delimiter and the decimal mark told from the file."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable

from weirant.errors import JobFileError, short
from weirant.formats.csv_text import LONGEST_LINE, cells_of, harmless, logical_lines, restored
from weirant.formats.points_read import NO_SHIFT, PointsRead, Refused, Shift, fault_in, shift_for
from weirant.job.site import SitePoint
from weirant.language import tr
from weirant.records import dataclass

ROLES = ("point", "x", "y", "z", "code")
LARGEST = 200_000_000  # bytes
_NAMES = {
    "point": ("point", "name", "id", "no", "nr", "number", "pt", "pnt"),
    "x": ("x", "e", "east", "easting", "e_m", "x_m", "x_ft"),
    "y": ("y", "n", "north", "northing", "n_m", "y_m", "y_ft"),
    "z": ("z", "elev", "elevation", "level", "height", "h", "z_m", "z_ft", "rl"),
    "code": ("code", "desc", "description", "note", "remark"),
}
_QUOTED = re.compile('"[^"]*"')
UNITS = {"m": 1.0, "ft": 0.3048, "US survey ft": 1200 / 3937}
Progress = Callable[[float], bool]


@dataclass(frozen=True)
class Layout:
    """How a file is to be read: text encoding, delimiter, decimal mark, heading line or not, column number by role."""

    encoding: str
    delimiter: str
    decimal: str
    has_heading: bool
    columns: dict[str, int]


@dataclass(frozen=True)
class Preview:
    """The layout as it was recognised, the first rows as they would be cut, and what was noticed."""

    layout: Layout
    rows: tuple[tuple[str, ...], ...]
    notes: tuple[str, ...] = ()


def recognise(data: bytes) -> Preview:
    """Tell encoding, delimiter, decimal mark, heading and columns from the bytes of a file.

    Raises JobFileError where it is empty, too large, or no text.
    """
    text, encoding, notes = decoded(data)
    lines = [line for _, line in logical_lines(text[:200_000]) if line.strip()][:40]
    if not lines:
        raise JobFileError(tr("The file of points is empty."))
    usable = [line for line in lines if len(line) <= LONGEST_LINE] or [short(lines[0], LONGEST_LINE)]
    delimiter = max(";\t,| ", key=lambda mark: (_steady(usable, mark), mark != " "))
    rows = [tuple(_cut(line, delimiter)) for line in usable]
    decimal = "," if delimiter != "," and sum("," in cell for row in rows for cell in row) > sum("." in cell for row in rows for cell in row) else "."
    heading = not any(_number(cell, decimal) is not None for cell in rows[0])
    columns = _columns(rows[0]) if heading else {}
    if not {"x", "y", "z"} <= columns.keys():
        columns = _by_place(max(len(row) for row in rows))
    return Preview(Layout(encoding, delimiter, decimal, heading, columns), tuple(rows[:12]), tuple(notes))


def decoded(data: bytes) -> tuple[str, str, list[str]]:
    """Text, encoding and notes. Text that is no UTF-8 is read as Western European, which is said."""
    if len(data) > LARGEST:
        raise JobFileError(tr("The file of points is too large ({data:.0f} MB; at most {largest:.0f} MB).", data=len(data) / 1000000.0, largest=LARGEST / 1000000.0))
    for mark, encoding in ((b"\xef\xbb\xbf", "utf-8-sig"), (b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16")):
        if data.startswith(mark):
            try:
                return data.decode(encoding), encoding, []
            except UnicodeDecodeError as fault:
                raise JobFileError(tr("The file of points is damaged at byte {start}.", start=fault.start)) from fault
    if b"\0" in data[:100_000]:
        raise JobFileError(tr("This is no text file. Save the points as CSV and read that."))
    try:
        return data.decode("utf-8"), "utf-8", []
    except UnicodeDecodeError:
        return data.decode("cp1252", "replace"), "cp1252", [tr("The text is not UTF-8; it was read as Western European. Look at names with accents.")]


def _steady(lines: list[str], mark: str) -> int:
    """How many columns a mark cuts, where nearly every line has as many; 0 where it does not cut."""
    bare = [_QUOTED.sub("", line) for line in lines]
    counts = [len(line.split()) - 1 if mark == " " else line.count(mark) for line in bare]
    common = max(set(counts), key=counts.count)
    return common if common and counts.count(common) >= 0.7 * len(counts) else 0


def _cut(line: str, delimiter: str) -> list[str]:
    if '"' in line:
        return [cell.strip() for cell in cells_of(line, delimiter)]
    return line.split() if delimiter == " " else [cell.strip() for cell in line.split(delimiter)]


def _number(cell: str, decimal: str) -> float | None:
    try:
        return float(cell.replace(",", ".") if decimal == "," else cell)
    except ValueError:
        return None


def _columns(heading: tuple[str, ...]) -> dict[str, int]:
    plain = [cell.lower().strip(" []()") for cell in heading]
    found = {role: i for role, names in _NAMES.items() for i, cell in enumerate(plain) if cell in names or cell.split("_")[0] in names}
    if "point" not in found and found and 0 not in found.values():
        found["point"] = 0  # a first column under a name of its own
    return found


def _by_place(count: int) -> dict[str, int]:
    roles = ("x", "y", "z") if count == 3 else ROLES[:count]
    return {role: i for i, role in enumerate(roles)}


def read_points(data: bytes, layout: Layout, unit: str = "m", shift: Shift = NO_SHIFT, progress: Progress | None = None) -> PointsRead:
    """Read the points of a file in a layout.

    ``unit`` is that of the file (m, ft, US survey ft); ``shift`` in m is taken off east and north. ``progress`` is told the share done now
    and then, and may answer False to stop: then what was read so far is given, with a note. Lines that cannot be used are
    refused with their number and the reason; none is lost silently.
    """
    if not {"x", "y", "z"} <= layout.columns.keys():
        raise JobFileError(tr("Say which columns are x, y and z."))
    text, _, notes = decoded(data)
    lines, factor = list(logical_lines(text)), UNITS[unit]
    points: list[SitePoint] = []
    refused: list[Refused] = []
    start = 1 if layout.has_heading else 0
    x, y, z = (layout.columns[role] for role in ("x", "y", "z"))
    name, code = layout.columns.get("point", -1), layout.columns.get("code", -1)
    simple, comma = layout.delimiter != " ", layout.decimal == ","
    for number, line in lines[start:]:
        if number % 5000 == 0 and progress is not None and not progress(number / lines[-1][0]):
            notes.append(tr("Stopped at line {number}; the lines after it were not read.", number=number))
            break
        if len(line) > LONGEST_LINE:
            refused.append(Refused(tr("line {number}", number=number), short(line), tr("the line is {line:,} characters long", line=len(line))))
            continue
        try:
            cells = line.split(layout.delimiter) if simple and '"' not in line else _cut(line, layout.delimiter)
            figures = (cells[x].replace(",", "."), cells[y].replace(",", "."), cells[z].replace(",", ".")) if comma else (cells[x], cells[y], cells[z])
            east, north, level = float(figures[0]) * factor - shift[0], float(figures[1]) * factor - shift[1], float(figures[2]) * factor
        except (ValueError, IndexError):  # a JobFileError of the cutting is a ValueError, too
            if line.strip():
                refused.append(Refused(tr("line {number}", number=number), short(line), tr("x, y and z must be numbers in their columns")))
            continue
        why = fault_in(east, north, level)
        if why:
            refused.append(Refused(tr("line {number}", number=number), short(line), why))
            continue
        label = restored(cells[name].strip()) if 0 <= name < len(cells) else ""
        points.append(SitePoint(label or tr("line {number}", number=number), east, north, level, restored(cells[code].strip()) if 0 <= code < len(cells) else "", "file"))
    return PointsRead(tuple(points), tuple(refused), tuple(notes), shift=shift)


def shift_wanted(data: bytes, layout: Layout, unit: str = "m", of_job: Shift = NO_SHIFT) -> tuple[Shift, str]:
    """What to take off the points of a file, m, by its first point, and what is to be said of it (see ``shift_for``)."""
    if not {"x", "y"} <= layout.columns.keys():
        return NO_SHIFT, ""
    text = data[:400_000].decode(layout.encoding, "replace")  # its head tells; a dialog asks at every choice, and a file may have 200 MB
    for _, line in [line for line in logical_lines(text) if line[1].strip()][1 if layout.has_heading else 0 :][:50]:
        cells = _cut(line, layout.delimiter) if len(line) <= LONGEST_LINE else []
        if len(cells) > max(layout.columns.values(), default=0):
            east, north = (_number(cells[layout.columns[role]], layout.decimal) for role in ("x", "y"))
            if east is not None and north is not None:
                return shift_for(east * UNITS[unit], north * UNITS[unit], of_job)
    return NO_SHIFT, ""


def write_points(points: tuple[SitePoint, ...], unit: str, shift: Shift = NO_SHIFT) -> str:
    """CSV with the unit in the headings, to 0.1 mm: ``point,x_m,y_m,z_m,code``; ``shift`` in m is put back on east and north."""
    factor, out = UNITS[unit], io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["point", *(f"{role}_{unit.split()[-1]}" for role in ("x", "y", "z")), "code"])
    writer.writerows([harmless(p.name), *(f"{v / factor:.4f}" for v in (p.x + shift[0], p.y + shift[1], p.level)), harmless(p.code)] for p in points)
    return out.getvalue()
