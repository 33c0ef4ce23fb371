"""Tables that come with the application."""

from __future__ import annotations

import csv
from functools import cache
from pathlib import Path


@cache
def rows_in(name: str) -> tuple[dict[str, str], ...]:
    """The rows of a table of this room, by its headings."""
    with Path(__file__).with_name(name).open(encoding="utf-8") as lines:
        return tuple(csv.DictReader(lines))


def practice_list(name: str) -> str:
    """The text of a price list for practice, by its name."""
    return Path(__file__).with_name("price_lists").joinpath(f"{name}.csv").read_text(encoding="utf-8")
