"""Price lists, and what a job comes to by one; money is decimal throughout."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field
from decimal import ROUND_HALF_UP, Decimal

from weirant.outcome.bill import Origin
from weirant.records import dataclass

CENT = Decimal("0.01")
HIRED = "hired "  # before the key of a kind of work: what others take for it


def to_the_cent(amount: Decimal) -> Decimal:
    """Money rounded as tills and spreadsheets do, a half up."""
    return amount.quantize(CENT, ROUND_HALF_UP)


@dataclass(frozen=True)
class Price:
    """What one ``per`` of an item costs, in the money of its list; from whom, the line it stands in, and of how many at least it is sold."""

    item: str
    per: str
    amount: Decimal
    supplier: str = ""
    line: int = 0
    least: Decimal = Decimal(0)


@dataclass(frozen=True)
class Terms:
    """What is added to the cost of a job, as shares: overhead on the cost, contingency on that, margin of the price before tax, tax on it. Contingency ``by_soil`` is worked out for
    the job, and its share here is what it came to.
    """

    overhead: Decimal = Decimal(0)
    contingency: Decimal = Decimal(0)
    margin: Decimal = Decimal(0)
    tax: Decimal = Decimal(0)
    by_soil: bool = False


@dataclass(frozen=True)
class PriceList:
    """A list by its name, date as it stands there, and currency in the user's own words; prices by item, of which
    several may stand there in different units or from several suppliers. ``rates`` is how much of a kind of work the crew does in an hour (m, m², m³ or pieces, by the key of the
    library's rate), as it measured it itself. ``faults`` are lines that could not be used, as (line, why), kept as
    they are in the file.
    """

    name: str
    date: str
    currency: str
    prices: Mapping[str, tuple[Price, ...]]
    terms: Terms = field(default_factory=Terms)
    faults: tuple[tuple[int, str], ...] = ()
    rates: Mapping[str, float] = field(default_factory=dict)


NO_PRICES = PriceList("", "", "", {})


@dataclass(frozen=True)
class OrderLine:
    """One thing to order: ``what`` it is, key and size in the library, its name, how much is needed (SI) and how much is sold, in ``unit``, with why; where it comes from. What is
    sold in another way (a coil is so many metres too) stands in ``sold_as``, by unit.
    """

    what: str
    key: str
    size: str
    name: str
    needed: float
    sold: Decimal
    unit: str
    note: str
    origins: tuple[Origin, ...]
    sold_as: Mapping[str, Decimal]
    to_be_found: bool = False


@dataclass(frozen=True)
class PricedLine:
    """A line with its price and cost; ``lacks`` says why there is none."""

    line: OrderLine
    price: Price | None
    quantity: Decimal
    cost: Decimal | None
    lacks: str = ""


@dataclass(frozen=True)
class Quote:
    """Every line, and what they come to; what is not known is named and in none of the sums."""

    prices: PriceList
    lines: tuple[PricedLine, ...]

    @property
    def missing(self) -> tuple[PricedLine, ...]:
        """What has no price."""
        return tuple(line for line in self.lines if line.cost is None)

    @property
    def cost(self) -> Decimal:
        """What all that has a price costs."""
        return sum((line.cost for line in self.lines if line.cost is not None), Decimal(0))

    @property
    def sums(self) -> tuple[tuple[str, Decimal], ...]:
        """Cost, overhead, contingency, margin, tax and price, by their names, each to the cent so that they add up as they stand."""
        terms, cost = self.prices.terms, to_the_cent(self.cost)
        overhead = to_the_cent(cost * terms.overhead)
        contingency = to_the_cent((cost + overhead) * terms.contingency)
        bare = cost + overhead + contingency
        margin = to_the_cent(bare / (1 - terms.margin) - bare)
        tax = to_the_cent((bare + margin) * terms.tax)
        return (("cost", cost), ("overhead", overhead), ("contingency", contingency), ("margin", margin), ("tax", tax), ("price", bare + margin + tax))
