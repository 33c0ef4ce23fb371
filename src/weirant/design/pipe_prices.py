"""What other sizes and numbers of pipe cost by a price list, each laid in a trench as wide as it wants, and what they carry for the money."""

from __future__ import annotations

import dataclasses
from decimal import Decimal

from weirant.design.assess import assess
from weirant.design.bill import bill_of
from weirant.design.job_price import counted
from weirant.design.order import order_of
from weirant.design.pipe_choices import PipeOption, with_choice
from weirant.design.session import Session
from weirant.errors import WeirantError
from weirant.job.section_edits import with_section
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import PriceList
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass


@dataclass(frozen=True)
class ChoiceCost:
    """What a choice costs with the work on it, before overhead and margin; and how many times what the run's own pipes carry it does for the same money."""

    cost: Decimal
    for_the_money: float


def choice_costs(outcome: Outcome, found: RunOutcome, choices: tuple[PipeOption, ...], prices: PriceList) -> tuple[ChoiceCost | None, ...]:
    """The cost of the run with each choice, its trench dug as the job has it; None where something of it has no price, or it cannot be laid."""
    if not prices.prices:
        return (None,) * len(choices)
    session = Session()
    assess(outcome.job, session=session, rules=outcome.rules)
    costs = [_cost(outcome, found, choice, prices, session) for choice in choices]
    own = costs[0]
    return tuple(None if cost is None or own is None or not cost else ChoiceCost(cost, choice.times * float(own / cost)) for choice, cost in zip(choices, costs, strict=True))


def _cost(outcome: Outcome, found: RunOutcome, choice: PipeOption, prices: PriceList, session: Session) -> Decimal | None:
    job = with_choice(outcome.job, found.id, choice.pipe.key, choice.count)
    section = next(s for s in job.sections if s.id == found.collecting.make.section.id)
    try:
        laid = assess(with_section(job, dataclasses.replace(section, width=choice.width)), session=Session(session), rules=outcome.rules)
    except WeirantError:
        return None
    bill = bill_of(laid).at([found.id])
    told, _ = counted(laid, order_of(laid, bill=bill), bill, prices)
    return None if told.missing else told.cost
