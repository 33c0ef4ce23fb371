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
    check_one_of(given, "json", "csv")


def check_one_of(given: Namespace, *options: str) -> None:
    """Raise InputError where more than one of some options is given."""
    asked = [option for option in options if getattr(given, option)]
    if len(asked) > 1:
        first, other = (f"--{option.replace('_', '-')}" for option in asked[:2])
        raise InputError(other, tr("cannot stand beside {first}; ask for one of them", first=first))


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
