"""What a plan is asked for, as it is typed: the first working day, how many people, what rain takes of the days, lengths, and days off."""

from __future__ import annotations

import re

from weirant.errors import InputError
from weirant.job.work_terms import LONGEST, MONTH, MOST_PEOPLE, MOST_RAIN, MOST_SPANS, SPAN, WorkTerms, span_of
from weirant.language import tr
from weirant.units import parse
from weirant.units.dimension import LENGTH, NUMBER

_DATE = re.compile(r"\d{4}-\d{2}-\d{2}")


def people(words: str, field: str) -> int:
    """A whole number of people. Raises InputError."""
    if not words.strip().isdecimal() or len(words) > 9 or not 1 <= int(words) <= MOST_PEOPLE:
        raise InputError(field, tr("must be a whole number from 1 to {most}", most=MOST_PEOPLE), words)
    return int(words)


def rainy_shares(words: str, field: str, unit: str = "") -> tuple[float, ...]:
    """A share of the days, in ``unit`` where none is typed; or the days lost in each month, twelve numbers, January first. Raises InputError."""
    months = words.split()
    if len(months) == 12:
        days = [float(parse(month.rstrip(",;"), NUMBER, field)) for month in months]
        shares = tuple(day / month for day, month in zip(days, MONTH, strict=True))
    elif len(months) > 2:
        raise InputError(field, tr("is one share of the days, or the days lost in each month: twelve numbers, January first"), words)
    else:
        shares = (float(parse(words if "%" in words else f"{words} {unit}".strip(), NUMBER, field, strict=not unit)),)
    if not all(0 <= share < MOST_RAIN for share in shares):
        raise InputError(field, tr("must be a share of the days between 0 and {most} %", most=round(100 * MOST_RAIN)), words)
    return shares


def rain_typed(shares: tuple[float, ...]) -> str:
    """Such shares as they are typed."""
    if len(shares) == 12:
        return " ".join(tr("{days:g}", days=round(share * month, 1)) for share, month in zip(shares, MONTH, strict=True))
    return tr("{share:g} %", share=round(100 * shares[0], 1))


def length_or_none(words: str, field: str, unit: str = "") -> float | None:
    """A length m, in ``unit`` where none is typed; None where nothing is. Raises InputError; what it may be the field of the job says."""
    return float(parse(words, LENGTH, field, unit or None, strict=not unit)) if words.strip() else None


def days_off(words: str, field: str) -> tuple[str, ...]:
    """Days off: dates, or two with a word or a stroke between, parted by commas. Raises InputError."""
    found = []
    for part in filter(None, (part.strip() for part in re.split("[,;\n]", words))):
        dates, rest = _DATE.findall(part), _DATE.sub("", part).strip()
        if len(dates) not in (1, 2) or len(rest.split()) > 1 or (rest and len(dates) < 2):
            raise InputError(field, tr("are dates such as 2026-12-24, or 2026-12-24 to 2027-01-04, with a comma between"), part)
        span_of(SPAN.join(dates))
        found.append(SPAN.join(dates))
    if len(found) > MOST_SPANS:
        raise InputError(field, tr("must be {most} pieces at most, each of {days} days at most", most=MOST_SPANS, days=LONGEST), "")
    return tuple(sorted(dict.fromkeys(found)))


def days_off_typed(terms: WorkTerms) -> str:
    """Such days as they are typed."""
    return ", ".join(span.replace(SPAN, tr(" to ")) for span in terms.days_off)
