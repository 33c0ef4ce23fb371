"""Hours that a job takes, by the amounts of its bill and what a crew does in an hour; people and machines as lines of an order."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Mapping
from decimal import ROUND_CEILING, Decimal

from weirant.job.work_terms import METHODS
from weirant.language import tr
from weirant.library.rates import Rate, rates
from weirant.outcome.bill import CLOTH, DIG, PART, PIPE, STONE, Bill, Origin
from weirant.outcome.prices import OrderLine
from weirant.records import dataclass
from weirant.units import display as k

WORK, PERSON = "work", "crew"
DAY, WEEK = 8, 40  # working hours
QUARTER = Decimal("0.25")  # h to which they are told
NAMES = {PERSON: tr("Crew, hours of one person"), "excavator": tr("Small excavator"), "trencher": tr("Trencher"), "loader": tr("Loader"), "plough": tr("Drain plough"),
         "breaker": tr("Breaker on a small excavator")}
USUAL_WAY = 30.48  # m: 100 ft, for which the rates are told
OF_WORK = {"dug": (DIG, "dug"), "hard": (DIG, "hard"), "rock": (DIG, "rock"), "backfill": (DIG, "backfill"),
           "ploughed": (DIG, "ploughed"), "spoil": (DIG, "spoil"), "pipe": (PIPE, ""), "cloth": (CLOTH, ""), "stone": (STONE, ""), "turf": (DIG, "turf"), "holes": (DIG, "holes")}


LEAST = 1e-6  # m, m², m³ that is work at all; less is what rounding leaves
APART = {"dug": ("hard", "rock"), "pipe": ("ploughed",)}


@dataclass(frozen=True)
class Task:
    """A kind of work with how much of it there is, and the hours of its crew that it takes: usual, and at the least and most; ``effort`` is how much it comes to in loam."""

    rate: Rate
    amount: float
    effort: float
    hours: float
    band: tuple[float, float]
    origins: tuple[Origin, ...]


def tasks_of(bill: Bill, method: str = METHODS[0], own: Mapping[str, float] | None = None, haul: float | None = None) -> tuple[Task, ...]:
    """Everything there is to do, in the order of the work, with the trench dug by a method; ``own`` rates of the crew, by key, stand in the place of the usual ones, without a
    band. ``haul`` is the way m from the heap to the trench, where it is known.
    """
    found = []
    for rate in rates():
        if rate.method in ("", method):
            if own and rate.key in own:
                rate = dataclasses.replace(rate, least=own[rate.key], usual=own[rate.key], most=own[rate.key])
            by = quicker(rate, haul)
            rate = dataclasses.replace(rate, least=rate.least * by, usual=rate.usual * by, most=rate.most * by)
            amount, effort, origins = _amount(bill, rate.of)
            if amount > LEAST:
                found.append(Task(rate, amount, effort, effort / rate.usual, (effort / rate.most, effort / rate.least), origins))
    return tuple(found)


def quicker(rate: Rate, haul: float | None) -> float:
    """How many times as much is done in an hour as over the usual way; 1 where the way m is not known."""
    return 1.0 if haul is None else 1 / (1 - rate.way + rate.way * haul / USUAL_WAY)


def _amount(bill: Bill, of: str) -> tuple[float, float, tuple[Origin, ...]]:
    if of == "parts":
        rows = [row for row in bill.rows if row.what == PART and row.kind is k.COUNT and row.key not in ("pins", "sock-ties", "joint-wrap-tie")]  # those go with the cloth and the pipe
    else:
        what, key = OF_WORK[of]
        rows = [row for row in bill.rows if row.what == what and row.key == (key or row.key)]
    amount, effort = sum(row.amount for row in rows), sum(row.amount * row.dig_time for row in rows)
    if of in APART and amount > 0:  # what of it is hard is dug at a rate of its own, and what is ploughed in is laid with it
        rest = max(amount - sum(_amount(bill, part)[0] for part in APART[of]), 0.0)
        amount, effort = rest, effort * rest / amount
    return amount, effort, tuple(dict.fromkeys(row.origin for row in rows))


def work_lines(tasks: tuple[Task, ...]) -> tuple[OrderLine, ...]:
    """Hours of people and machines, each with the days and weeks that they come to, so that the cheapest can be taken."""
    hours: dict[str, float] = {}
    names: dict[str, list[str]] = {}
    origins: dict[str, dict[Origin, None]] = {}
    for task in tasks:
        for item, by in ((PERSON, task.rate.crew), *(((task.rate.machine, 1),) if task.rate.machine else ())):
            hours[item] = hours.get(item, 0.0) + by * task.hours
            names.setdefault(item, []).append(tr("{task} {hours:.1f} h", task=task.rate.name, hours=by * task.hours))
            origins.setdefault(item, {}).update(dict.fromkeys(task.origins))
    return tuple(_line(item, hours[item], names[item], tuple(origins[item])) for item in hours)


def _line(item: str, hours: float, names: list[str], origins: tuple[Origin, ...]) -> OrderLine:
    told = (Decimal(repr(round(hours, 4))) / QUARTER).to_integral_value(ROUND_CEILING) * QUARTER
    sold_as = {"h": told, "day": Decimal(math.ceil(hours / DAY - 1e-9)), "week": Decimal(math.ceil(hours / WEEK - 1e-9))}
    return OrderLine(WORK, item, "", NAMES[item], hours * 3600, told, "h", "; ".join(names), origins, sold_as)
