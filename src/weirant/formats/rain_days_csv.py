"""The days with rain in each month of a place as CSV: a month a line, January first or named by its number. Reader and writer."""

from __future__ import annotations

from collections.abc import Sequence

from weirant.errors import InputError, JobFileError
from weirant.formats.csv_text import table_of
from weirant.job.work_terms import MONTH, MOST_RAIN
from weirant.language import tr
from weirant.units.parse import plain_number

HEADS = ("month", "days")
USE = tr("A list of days with rain has the columns month and days: twelve lines, the months by number, with the days of each on which 0.1 in (2.5 mm) or more falls.")


def is_of_days(text: str) -> bool:
    """Whether a table is one of days with rain, by its headings."""
    try:
        return _is_heading(table_of(text, "", "")[1][0][1])
    except JobFileError:
        return False


def _is_heading(cells: Sequence[str]) -> bool:
    return tuple(cell.strip().lower() for cell in cells[:2]) == HEADS


def read_rain_days(text: str, name: str) -> tuple[float, ...]:
    """The share of the days with rain in each month, January first. Raises JobFileError with every line that cannot be used."""
    empty = tr("{name} holds no days with rain. {use}", name=name, use=USE)
    _, rows = table_of(text, name, empty)
    if not _is_heading(rows[0][1]):
        raise JobFileError(empty)
    found: dict[int, float] = {}
    wrong: list[tuple[str, str]] = []
    for number, row in rows[1:]:
        try:
            month, days = (float(plain_number(cell.strip(), head, strict=True)) for head, cell in zip(HEADS, row, strict=False))
            if month not in range(1, 13) or month in found:
                raise InputError(HEADS[0], tr("must be a number from 1 to 12, each of them once"), row[0])
            if not 0 <= days < MOST_RAIN * MONTH[int(month) - 1]:
                raise InputError(HEADS[1], tr("cannot be as many in a month"), row[1])
            found[int(month)] = days / MONTH[int(month) - 1]
        except InputError as fault:
            wrong.append((tr("line {number}", number=number), str(fault)))
        except ValueError:
            wrong.append((tr("line {number}", number=number), tr("has not both a month and its days")))
    if len(found) < 12 and not wrong:
        wrong.append((HEADS[0], tr("{months} are missing", months=", ".join(str(month) for month in range(1, 13) if month not in found))))
    if wrong:
        raise JobFileError(tr("{name} cannot be read as days with rain:", name=name), tuple(wrong[:20]))
    return tuple(found[month] for month in range(1, 13))


def write_rain_days(shares: tuple[float, ...]) -> str:
    """Twelve shares of the days as a list that is read back."""
    return "\n".join([",".join(HEADS), *(f"{month},{share * long:.6g}" for month, (share, long) in enumerate(zip(shares, MONTH, strict=True), 1))]) + "\n"
