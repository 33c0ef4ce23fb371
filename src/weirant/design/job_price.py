"""What a job comes to by a price list: what is ordered, the work, own or hired, substitutes for what cannot be had, and what is set aside for the ground."""

from __future__ import annotations

from weirant.design.contingency import with_contingency
from weirant.design.hired import own_or_hired
from weirant.design.priced import quote_of
from weirant.design.substitutes import with_substitutes
from weirant.design.work import tasks_of
from weirant.outcome.bill import Bill
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import OrderLine, PriceList, Quote


def job_price(outcome: Outcome, lines: tuple[OrderLine, ...], bill: Bill, prices: PriceList) -> Quote:
    """The quote of what is ordered of a bill; of no list that has no prices, the order alone."""
    if not prices.prices:
        return quote_of(lines, (), prices)
    tasks, hired = own_or_hired(tasks_of(bill, outcome.job.work.method, prices.rates, outcome.job.work.haul), prices)
    return with_contingency(outcome, tasks, with_substitutes(outcome, quote_of(lines, tasks, prices, hired)))
