"""Own work against hired: for each kind of work that the price list has a price for when others do it, which of the two comes cheaper on this job."""

from __future__ import annotations

import dataclasses
from collections.abc import Sequence
from decimal import Decimal

from weirant.design.bill import bill_of
from weirant.design.order import sold_by
from weirant.design.priced import priced
from weirant.design.work import WORK, Task, tasks_of, work_lines
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import HIRED, OrderLine, PriceList, to_the_cent


def own_cost(tasks: Sequence[Task], prices: PriceList) -> Decimal | None:
    """What people and machines of the own crew cost for some tasks; None where one of them has no price."""
    lines = priced(work_lines(tuple(tasks)), prices).lines
    return None if any(line.cost is None for line in lines) else sum((line.cost for line in lines if line.cost is not None), Decimal(0))


def own_or_hired(tasks: tuple[Task, ...], prices: PriceList) -> tuple[tuple[Task, ...], tuple[OrderLine, ...]]:
    """The tasks that the own crew does, and a line for each that is hired, with what the other would cost in its note. What hiring saves is what the crew's bill falls by: a machine
    that stays for other work all the same is paid for all the same.
    """
    own, hired = list(tasks), []
    for task in tasks:
        line = _line(task)
        told = priced((line,), prices).lines[0]
        if told.cost is None:  # nobody is to be hired for it
            continue
        whole, rest = own_cost(own, prices), own_cost([other for other in own if other is not task], prices)
        saved = None if whole is None or rest is None else whole - rest
        if saved is None or told.cost < saved:
            own.remove(task)
            note = tr("your own crew would take {hours:.1f} h", hours=task.hours * task.rate.crew) + (tr(", for {cost}", cost=to_the_cent(saved)) if saved is not None else "")
            hired.append(dataclasses.replace(line, note=note))
    return tuple(own), tuple(hired)


def hired_for(outcome: Outcome, prices: PriceList) -> frozenset[str]:
    """Keys of the rates of what is hired for a job by a price list."""
    terms = outcome.job.work
    _, hired = own_or_hired(tasks_of(bill_of(outcome), terms.method, prices.rates, terms.haul), prices)
    return frozenset(line.key.removeprefix(HIRED) for line in hired)


def _line(task: Task) -> OrderLine:
    amount = Decimal(repr(round(task.amount, 4)))
    sold_as = sold_by(task.rate.unit, task.amount)
    return OrderLine(WORK, HIRED + task.rate.key, "", tr("{work}, hired", work=task.rate.name), task.amount, to_the_cent(amount), task.rate.unit, "", task.origins, sold_as)
