"""What is set aside for what the ground may hold: the hours of digging, filling and hauling as far as nobody can know them before."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Sequence
from decimal import ROUND_CEILING, Decimal

from weirant.design.priced import priced
from weirant.design.work import PERSON, Task, work_lines
from weirant.job.network import PLANNED
from weirant.job.soils import soil_at
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import Quote

OF_THE_GROUND = ("dug", "hard", "rock", "backfill", "spoil")  # what rates are of that hang on the ground
ENOUGH = 0.8  # of all times
SEEN = 0.5  # by how much what is not known shrinks where a hole was dug in every soil (common practice, no source)
STEP = Decimal("0.001")


def with_contingency(outcome: Outcome, tasks: Sequence[Task], quote: Quote) -> Quote:
    """The quote, its contingency by the soil where its list wants it so: what the tasks of the ground cost more than usual, enough 8 of 10 times, as a share of cost and overhead. What
    others are hired for is theirs; what has no price counts nothing, and is named in the quote.
    """
    terms = quote.prices.terms
    if not terms.by_soil:
        return quote
    ground = [task for task in tasks if task.rate.of in OF_THE_GROUND]
    spread = SEEN if is_seen(outcome) else 1.0
    more = Decimal(0)
    for task in ground:
        lines = priced(work_lines((task,)), quote.prices).lines
        hours = Decimal(repr(round(task.hours, 6)))
        each = [(line.cost / line.line.sold, task.rate.crew if line.line.key == PERSON else 1) for line in lines if line.cost is not None and line.line.sold]
        cost = sum((hour * crew * hours for hour, crew in each), Decimal(0))  # not by whole quarters of an hour
        longer = late(*task.band, task.hours, ENOUGH) / task.hours - 1 if task.hours > 0 else 0.0
        more += cost * Decimal(repr(round(max(longer, 0.0) * spread, 6)))  # all at once: it is the same ground
    on = quote.cost * (1 + terms.overhead)
    share = (more / on).quantize(STEP, ROUND_CEILING) if on > 0 else Decimal(0)
    return dataclasses.replace(quote, prices=dataclasses.replace(quote.prices, terms=dataclasses.replace(terms, contingency=share)))


def late(least: float, most: float, usual: float, share: float) -> float:
    """The value under which so much of a triangular distribution lies; least ≤ usual ≤ most, share from 0 to 1. Source: Kotz and van Dorp 2004 (recalled)."""
    if most <= least:
        return usual
    turn = (usual - least) / (most - least)
    if share <= turn:
        return least + math.sqrt(share * (most - least) * (usual - least))
    return most - math.sqrt((1 - share) * (most - least) * (most - usual))


def is_seen(outcome: Outcome) -> bool:
    """Whether a hole was dug in every soil that a planned run lies in."""
    job = outcome.job
    holes = {soil_at(job, hole.x, hole.y).id for hole in job.holes}
    return all(along.soil.id in holes for found in outcome.site.runs if found.run.run.status == PLANNED for along in found.soils)
