"""What the plan of the work goes by: when it begins, with whom, dug how, through which gate; remembered from one day to the next."""

from __future__ import annotations

import datetime

from weirant.design.plan_terms import narrowest_gate, people, rainy_share
from weirant.errors import InputError
from weirant.library.rates import METHODS
from weirant.records import dataclass
from weirant.ui.memory import remember, words


@dataclass(frozen=True)
class WorkTerms:
    """From when on, with how many people, what share of the days rain takes, how the trench is dug, the narrowest place m on the way in where it is known, and what the crew does in
    an hour by the price list that is taken.
    """

    start: datetime.date
    people: int = 2
    rain: float = 0.25
    method: str = METHODS[0]
    gate: float | None = None
    rates: tuple[tuple[str, float], ...] = ()


def remembered_method() -> str:
    """How the trench is dug."""
    return words("dig with") if words("dig with") in METHODS else METHODS[0]


def remembered_terms() -> WorkTerms:
    """The terms as they were left, from today on; what cannot be read any more is as usual."""
    terms = WorkTerms(datetime.date.today())
    try:
        found = people(words("people") or str(terms.people), "people"), rainy_share(words("rainy days") or str(terms.rain), "rain")
        return WorkTerms(terms.start, *found, remembered_method(), narrowest_gate(words("gate"), "gate"))
    except (InputError, ValueError):
        return terms


def keep_terms(terms: WorkTerms) -> None:
    """Remember them, but for the day."""
    for key, value in (("people", terms.people), ("rainy days", terms.rain), ("dig with", terms.method), ("gate", "" if terms.gate is None else terms.gate)):
        remember(key, str(value))
