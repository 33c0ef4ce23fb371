"""What is offered: a job by a price list, and other ways to build it beside, each with its price, its verdict and what it spoils."""

from __future__ import annotations

from collections.abc import Sequence

from weirant.design.bill import bill_of
from weirant.design.job_price import job_price
from weirant.design.order import order_of
from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.cutting_stock import FEW_JOINTS
from weirant.outcome.bill import Bill
from weirant.outcome.finding import Finding, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import PriceList, Quote
from weirant.records import dataclass


@dataclass(frozen=True)
class Option:
    """One way, by its name: its outcome, its bill and what it comes to."""

    name: str
    outcome: Outcome
    bill: Bill
    quote: Quote

    @property
    def fails(self) -> tuple[Finding, ...]:
        """What fails in it."""
        return tuple(f for f in self.outcome.told if f.state == State.FAILS)

    def spoils(self, beside: Option) -> tuple[Finding, ...]:
        """What is worse in it than in another."""
        was = {f.about: f.state.rank for f in reversed(beside.outcome.findings)}
        return tuple(f for f in self.outcome.told if f.state in (State.FAILS, State.TIGHT) and f.state.rank < was.get(f.about, 9))


def priced_option(name: str, outcome: Outcome, prices: PriceList, prefer: str = FEW_JOINTS) -> Option:
    """A way as it is offered. Raises InputError where it cannot be counted yet."""
    if outcome.takeoff is None:
        raise InputError(name, tr("cannot be counted yet: the ground is not known along every run; shoot the grades first"))
    bill = bill_of(outcome)
    return Option(name, outcome, bill, job_price(outcome, order_of(outcome, prefer, bill), bill, prices))


def options_of(first: Option, others: Sequence[tuple[str, Outcome]]) -> tuple[Option, ...]:
    """A way and others beside it, by the same prices."""
    return (first, *(priced_option(name, outcome, first.quote.prices) for name, outcome in others))
