"""CSV as text: cells that a spreadsheet would run are made harmless on writing and restored on reading; rows are cut with bounds."""

from __future__ import annotations

import csv
import re
from collections.abc import Iterator

from weirant.errors import JobFileError
from weirant.language import tr

LARGEST = 10_000_000  # bytes of a file of readings or rain
LONGEST_LINE = 10_000  # characters; a line of readings has some dozens
MOST_JOINED = 50  # lines that one quoted cell may run over
_RUNS = re.compile("'*[=+\\-@\t\r\n＝＋－＠]")
_QUIETED = re.compile("'+[=+\\-@\t\r\n＝＋－＠]")


def harmless(text: str) -> str:
    """A text as a cell that no spreadsheet takes for a formula: an apostrophe before it. ``restored`` takes that off again."""
    return f"'{text}" if _RUNS.match(text) else text


def restored(cell: str) -> str:
    """The text that ``harmless`` was given."""
    return cell[1:] if cell[:1] == "'" and _QUIETED.match(cell) else cell


def logical_lines(text: str) -> Iterator[tuple[int, str]]:
    """Number and text of each line; lines that a quoted cell runs over are one. A quote that is never closed joins nothing."""
    lines = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    if '"' not in text:
        yield from enumerate(lines, 1)
        return
    at = 0
    while at < len(lines):
        taken = next((n for n in range(1, MOST_JOINED + 1) if sum(line.count('"') for line in lines[at : at + n]) % 2 == 0), 1) if lines[at].count('"') % 2 else 1
        yield at + 1, "\n".join(lines[at : at + taken])
        at += taken


def cells_of(line: str, delimiter: str) -> list[str]:
    """The cells of one line; JobFileError where it is longer than any line of readings."""
    if len(line) > LONGEST_LINE:
        raise JobFileError(tr("A line is {line:,} characters long; at most {longest_line:,} are taken.", line=len(line), longest_line=LONGEST_LINE))
    try:
        return next(csv.reader([line], delimiter=delimiter), [])
    except csv.Error as fault:
        raise JobFileError(tr("A line cannot be taken apart: {fault}.", fault=fault)) from fault


def table_of(text: str, name: str, empty: str) -> tuple[str, list[tuple[int, list[str]]]]:
    """Delimiter (comma, semicolon or tab) and the rows with their line numbers, blank lines and comments left out.

    Raises JobFileError with ``empty`` where there are none, and with the number of a line that is too long.
    """
    lines = [(number, line) for number, line in logical_lines(text.lstrip("\ufeff")) if line.strip() and not line.startswith("#")]
    if not lines:
        raise JobFileError(empty)
    mark = max(",;\t", key=lines[0][1].count)
    rows = []
    for number, line in lines:
        try:
            rows.append((number, cells_of(line, mark)))
        except JobFileError as fault:
            raise JobFileError(tr("{name}, line {number}: {fault}", name=name, number=number, fault=fault)) from fault
    return mark, rows
