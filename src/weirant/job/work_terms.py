"""How and when this job is built: from when on, with whom, dug how, through which gate, and which days are lost."""

from __future__ import annotations

import datetime

from weirant.errors import InputError
from weirant.job.fields import choice, plain, quantity, several
from weirant.language import tr
from weirant.records import dataclass
from weirant.units import display as k

PLOUGH = "plough"
METHODS = ("excavator", "trencher", "hand", PLOUGH)
HAULED, SPREAD_LEFT, SPREAD_RIGHT, SPREAD_BOTH = SPOIL = ("hauled away", "spread on the left", "spread on the right", "spread on both sides")  # looking up the run
MOST_PEOPLE, MOST_RAIN, MOST_SPANS, LONGEST = 40, 0.95, 60, 366  # people; share of the days; days off in one piece, and how many of them
TEN_TONS = 9071.8474  # kg on a truck (common practice, no source)
USUAL_RAIN = 0.25  # share of the days (common practice, no source)
YEARS = range(1990, 2201)
MONTH = (31, 28.25, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)  # days
SPAN = "/"  # between the first and the last of days off, as ISO 8601 writes a time from … to


@dataclass(frozen=True)
class Took:
    """The hours that a kind of work took its crew, by the key of its rate in the library."""

    work: str = plain("kind of work")
    hours: float = quantity("hours it took", k.COUNT, above=0, at_most=10_000)


@dataclass(frozen=True)
class WorkTerms:
    """``start`` is a date as 2026-03-31, empty for the day on which the plan is asked for; ``rain`` the share of the days that rain takes, one for all the year or twelve, January
    first; ``days_off`` dates, or two with a stroke between.
    """

    start: str = plain("first working day", "")
    people: int = plain("people", 2)
    rain: tuple[float, ...] = several("days lost to rain", (USUAL_RAIN,), most=12)
    method: str = choice("how the trench is dug", *METHODS, default=METHODS[0])
    gate: float | None = quantity("narrowest gate", k.DISTANCE, at_least=0.3, at_most=100, default=None)
    haul: float | None = quantity("way from the heap to the trench", k.DISTANCE, at_least=0, at_most=500, default=None)
    spoil: str = choice("what is left of the earth", *SPOIL, default=HAULED)
    spread_width: float = quantity("spread so wide beside the trench", k.DISTANCE, at_least=0.3, at_most=30, default=1.8288)
    truck: float = quantity("a truck carries", k.MASS, at_least=100, at_most=50_000, default=TEN_TONS)
    days_off: tuple[str, ...] = several("days off", (), most=MOST_SPANS)
    took: tuple[Took, ...] = several("how long it took", (), most=100)

    def rain_in(self, day: datetime.date) -> float:
        """The share of the days like one that rain takes."""
        return self.rain[day.month - 1] if len(self.rain) == 12 else self.rain[0]

    def first_day(self) -> datetime.date:
        """The day from which the work is planned."""
        return date_of(self.start, tr("first working day")) if self.start else datetime.date.today()

    def spans_off(self) -> tuple[tuple[datetime.date, datetime.date], ...]:
        """First and last of the days off."""
        return tuple(span_of(span) for span in self.days_off)


def date_of(words: str, field: str) -> datetime.date:
    """A date as 2026-03-31, of the years 1990 to 2200. Raises InputError."""
    try:
        day = datetime.date.fromisoformat(words.strip())
    except ValueError as fault:
        raise InputError(field, tr("is no date; write it as 2026-03-31"), words) from fault
    if day.year not in YEARS:
        raise InputError(field, tr("must lie in the years {first} to {last}", first=YEARS[0], last=YEARS[-1]), words)
    return day


def span_of(words: str) -> tuple[datetime.date, datetime.date]:
    """First and last of days off. Raises InputError."""
    first, _, last = words.partition(SPAN)
    field = tr("days off")
    found = date_of(first, field), date_of(last or first, field)
    if not 0 <= (found[1] - found[0]).days < LONGEST:
        raise InputError(field, tr("must go from a day to a later one, {most} days at most", most=LONGEST), words)
    return found


def is_sound(terms: WorkTerms) -> None:
    """Raise InputError where something of the terms cannot be."""
    if not 1 <= terms.people <= MOST_PEOPLE:
        raise InputError(tr("people"), tr("must be a whole number from 1 to {most}", most=MOST_PEOPLE), terms.people)
    if len(terms.rain) not in (1, 12) or not all(0 <= share < MOST_RAIN for share in terms.rain):
        raise InputError(tr("days lost to rain"), tr("must be a share of the days between 0 and {most} %, or twelve such", most=round(100 * MOST_RAIN)), "")
    if len({took.work for took in terms.took}) < len(terms.took):
        raise InputError(tr("how long it took"), tr("names a kind of work twice"), "")
    terms.first_day()
    terms.spans_off()
