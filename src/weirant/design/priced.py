"""An order by a price list: what each line costs, and what has no price and why."""

from __future__ import annotations

import dataclasses
from decimal import Decimal

from weirant.design.bill import SPOIL
from weirant.design.order import in_unit
from weirant.design.work import DAY, WEEK, WORK, Task, work_lines
from weirant.errors import WeirantError
from weirant.language import tr
from weirant.outcome.bill import DIG, PART
from weirant.outcome.prices import OrderLine, Price, PricedLine, PriceList, Quote, to_the_cent
from weirant.units.dimension import MASS
from weirant.units.parse import unit_factor

HOURS = {"h": 1, "hour": 1, "day": DAY, "week": WEEK}


def priced(lines: tuple[OrderLine, ...], prices: PriceList) -> Quote:
    """Every line with its price; a part by the pipe it fits first, then by its kind; of several prices the one that comes cheapest. Money is rounded to the cent, each line for itself."""
    return Quote(prices, tuple(_priced(line, prices) for line in lines))


def quote_of(lines: tuple[OrderLine, ...], tasks: tuple[Task, ...], prices: PriceList, hired: tuple[OrderLine, ...] = ()) -> Quote:
    """What is ordered and the work on it by a list, own and hired. Dug earth and soil that is put back cost the hours they take; what is left over costs what hauling it does."""
    ordered = tuple(line for line in lines if line.what != DIG or (line.key == SPOIL and prices.prices.get(SPOIL)))
    return priced((*ordered, *work_lines(tasks), *hired), prices)


def _priced(line: OrderLine, prices: PriceList) -> PricedLine:
    item = f"{line.key} {line.size}".strip()
    known = prices.prices.get(item) or prices.prices.get(line.key)
    if not known:
        return PricedLine(line, None, line.sold, None, tr("no price for {item} in the list", item=item))
    fits = [(max(wanted, price.least) * price.amount, wanted, price) for price in known if (wanted := in_unit(line, price.per)) is not None]
    if not fits:
        return PricedLine(line, known[0], line.sold, None, _does_not_fit(line, known[0]))
    cost, wanted, price = min(fits, key=lambda one: one[0])  # by the hour or by the week, from the yard or by the bag: what comes cheapest for this job
    more = price.least - wanted
    least = tr("at least {least} {per} are sold: {more} more than is needed", least=price.least, per=price.per, more=more) if more > 0 else ""
    others = "; ".join(_beside(line, price, other, dear) for dear, _, other in sorted(fits, key=lambda one: one[0]) if other is not price)
    return PricedLine(dataclasses.replace(line, note="; ".join(words for words in (line.note, least, others) if words)), price, max(wanted, price.least), to_the_cent(cost))


def _beside(line: OrderLine, price: Price, other: Price, cost: Decimal) -> str:
    """What another price of the same comes to, and, of two that are hired by other lengths of time, from how many hours on the longer pays."""
    said = tr("by the other price per {per} it would be {cost}", per=other.per, cost=to_the_cent(cost))
    short, long = sorted((price, other), key=lambda one: HOURS.get(one.per.lower(), 0))
    if line.what == WORK and 0 < HOURS.get(short.per.lower(), 0) < HOURS.get(long.per.lower(), 0) and short.amount > 0:
        pays = long.amount / short.amount * HOURS[short.per.lower()]
        said += tr(" (the {per} pays from {hours:.1f} h on)", per=long.per, hours=pays)
    return said


def _does_not_fit(line: OrderLine, price: Price) -> str:
    """Why a price cannot be taken: its unit is none that the thing is sold in."""
    try:
        by_weight = unit_factor(price.per.split()[-1])[1] == MASS.exponents
    except WeirantError:  # no unit at all is one that does not fit
        by_weight = False
    units = ", ".join(line.sold_as)
    if by_weight and line.what == PART:
        return tr("its price is per {per}, and it is counted by {unit}: its density is not known", per=price.per, unit=line.unit)
    return tr("its price is per {per}, and it can be counted by {units}", per=price.per, units=units)

