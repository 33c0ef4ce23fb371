"""What a plan is asked for, as it is typed: the first working day, how many people, what share of the days rain takes."""

from __future__ import annotations

import datetime

from weirant.design.schedule import MOST_PEOPLE, MOST_RAIN
from weirant.errors import InputError
from weirant.language import tr
from weirant.units import parse
from weirant.units.dimension import LENGTH, NUMBER

YEARS, GATES = range(1990, 2201), (0.3, 100.0)  # m that a gate may be


def first_day(words: str, field: str) -> datetime.date:
    """A date as 2026-03-31, of the years 1990 to 2200. Raises InputError."""
    try:
        day = datetime.date.fromisoformat(words.strip())
    except ValueError as fault:
        raise InputError(field, tr("is no date; write it as 2026-03-31"), words) from fault
    if day.year not in YEARS:
        raise InputError(field, tr("must lie in the years {first} to {last}", first=YEARS[0], last=YEARS[-1]), words)
    return day


def people(words: str, field: str) -> int:
    """A whole number of people. Raises InputError."""
    if not words.strip().isdecimal() or len(words) > 9 or not 1 <= int(words) <= MOST_PEOPLE:
        raise InputError(field, tr("must be a whole number from 1 to {most}", most=MOST_PEOPLE), words)
    return int(words)


def rainy_share(words: str, field: str, unit: str = "") -> float:
    """A share of the days, in ``unit`` where none is typed. Raises InputError."""
    share = float(parse(words if "%" in words else f"{words} {unit}".strip(), NUMBER, field, strict=not unit))
    if not 0 <= share < MOST_RAIN:
        raise InputError(field, tr("must be a share of the days between 0 and {most} %", most=round(100 * MOST_RAIN)), words)
    return share


def narrowest_gate(words: str, field: str, unit: str = "") -> float | None:
    """The narrowest place on the way in, m, in ``unit`` where none is typed; None where nothing is. Raises InputError."""
    if not words.strip():
        return None
    gate = float(parse(words, LENGTH, field, unit or None, strict=not unit))
    if not GATES[0] <= gate <= GATES[1]:
        raise InputError(field, tr("must be from {least:g} to {most:g} m", least=GATES[0], most=GATES[1]), words)
    return gate
