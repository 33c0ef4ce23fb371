"""The bibliography: every source is named once and cited by its key."""

from __future__ import annotations

import csv
from functools import cache
from pathlib import Path

from weirant.language import tr


@cache
def bibliography() -> dict[str, str]:
    """Citation by key."""
    with Path(__file__).with_name("bibliography.csv").open(encoding="utf-8") as lines:
        return {row["key"]: tr(row["citation"]) for row in csv.DictReader(lines)}


def citation(keys: tuple[str, ...] | str) -> str:
    """Full citation of one or more keys; a key that is not in the bibliography is a KeyError."""
    wanted = keys.split() if isinstance(keys, str) else keys
    return "; ".join(bibliography()[key] for key in wanted)
