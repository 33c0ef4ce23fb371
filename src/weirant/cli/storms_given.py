"""Storms and hours as they are given to a command, and how far a simulation is, on a terminal."""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path

from weirant.cli.streams import is_terminal
from weirant.design.simulation import HOURS
from weirant.design.storms import DESIGN, storm_named
from weirant.errors import InputError
from weirant.formats.csv_text import LARGEST
from weirant.formats.plain_files import read_plain_text
from weirant.formats.rain_csv import read_rain
from weirant.job import Job
from weirant.job.rain import Storm
from weirant.language import tr
from weirant.units import parse
from weirant.units.dimension import TIME

LONGEST = 60 * 24.0  # h


def told_on_terminal() -> Callable[[float], bool] | None:
    """What tells how far it is, where there is a terminal."""
    return _told if is_terminal() else None


def _told(share: float) -> bool:
    print(f"\r{100 * share:3.0f} %" + ("\r     \r" if share >= 1 else ""), end="", file=sys.stderr, flush=True)
    return True


def storm_given(job: Job, name: str | None) -> Storm:
    """A storm of a job by its name, the design storm where none is given, or the rain of a CSV file."""
    if name is None or not name.lower().endswith(".csv"):
        return storm_named(job, name or DESIGN)
    return read_rain(read_plain_text(Path(name), LARGEST, tr("a file of rain")), Path(name).name)


def hours_given(text: str | None, key: str = "--hours", usual: float = HOURS) -> float:
    """Hours that are given under a key; the usual number where none are."""
    if text is None:
        return usual
    hours = parse(text, TIME, key, "h", strict=True) / 3600
    if not 0.1 <= hours <= LONGEST:
        raise InputError(key, tr("must be between 0.1 and {longest:.0f}", longest=LONGEST), text)
    return hours
