"""What a job comes to by a price list: what is ordered, the work, own or hired, substitutes for what cannot be had, and what is set aside for the ground."""

from __future__ import annotations

from weirant.design.contingency import with_contingency
from weirant.design.hired import own_or_hired
from weirant.design.priced import quote_of
from weirant.design.substitutes import with_substitutes
from weirant.design.work import Task, tasks_of
from weirant.outcome.bill import Bill
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import OrderLine, PriceList, Quote


def job_price(outcome: Outcome, lines: tuple[OrderLine, ...], bill: Bill, prices: PriceList) -> Quote:
    """The quote of what is ordered of a bill; of no list that has no prices, the order alone."""
    if not prices.prices:
        return quote_of(lines, (), prices)
    quote, own = counted(outcome, lines, bill, prices)
    return with_contingency(outcome, own, with_substitutes(outcome, quote))


def counted(outcome: Outcome, lines: tuple[OrderLine, ...], bill: Bill, prices: PriceList) -> tuple[Quote, tuple[Task, ...]]:
    """What is ordered and the work on it, own or hired, without what is named or set aside beside it; and the tasks that the own crew does."""
    own, hired = own_or_hired(tasks_of(bill, outcome.job.work.method, prices.rates, outcome.job.work.haul), prices)
    return quote_of(lines, own, prices, hired), own
