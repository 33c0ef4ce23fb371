"""How a command gives what it found: in words, as JSON, or as a file of CSV."""

from __future__ import annotations

from argparse import Namespace
from collections.abc import Callable, Iterable, Sequence
from pathlib import Path
from typing import Any

from weirant.cli.parser import OUT
from weirant.cli.streams import print_json
from weirant.errors import InputError
from weirant.formats.plain_files import write_safely
from weirant.language import tr


def check_one_way(given: Namespace) -> None:
    """Raise InputError where two ways are asked for at once, before anything is worked out."""
    if given.json and given.csv:
        raise InputError("--csv", tr("cannot stand beside --json; ask for one of them"))


def in_columns(rows: Sequence[Sequence[str]]) -> list[str]:
    """Rows as lines: the first column to the left, the others to the right."""
    widths = [max(len(row[column]) for row in rows) for column in range(len(rows[0]))]
    return ["  ".join(cell.ljust(width) if column == 0 else cell.rjust(width) for column, (cell, width) in enumerate(zip(row, widths, strict=True))) for row in rows]


def give(given: Namespace, as_json: Callable[[], Any], as_csv: Callable[[], str], lines: Callable[[], Iterable[str]]) -> None:
    """Print or write it the way that is asked for."""
    if given.json:
        print_json(as_json(), indent=1)
    elif given.csv == OUT:
        print(as_csv(), end="")
    elif given.csv:
        write_safely(Path(given.csv), as_csv().encode())
    else:
        print("\n".join(lines()))
