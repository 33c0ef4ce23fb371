"""An order and a quote in words: amounts in the reader's units, money in the list's own, origins by the names of the job."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal

from weirant.design.offer import Option
from weirant.design.order import LETS_NONE_IN, PipeCut, called
from weirant.design.work import WORK
from weirant.job import Job
from weirant.job.network import PLAIN
from weirant.language import digits_here, ntr, tr
from weirant.outcome.bill import CLOTH, DIG, PART, PIPE, STONE, TOP, BillRow, Origin
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import OrderLine, PricedLine, Quote
from weirant.outcome.site import RunOutcome
from weirant.outcome.where import node_at
from weirant.units import display as k
from weirant.units.display import System, shown
from weirant.words.findings import as_told

KINDS = {PIPE: tr("Pipe"), STONE: tr("Stone"), CLOTH: tr("Cloth"), TOP: tr("On top"), PART: tr("Fittings and parts"), DIG: tr("On the site"), WORK: tr("Work and machines")}
SUMS = {"cost": tr("Cost"), "overhead": tr("Overhead"), "contingency": tr("Contingency"), "margin": tr("Margin"), "tax": tr("Tax"), "price": tr("Price")}
UNITS = {"piece": (tr("piece"), tr("pieces")), "coil": (tr("coil"), tr("coils")), "stick": (tr("stick"), tr("sticks")), "roll": (tr("roll"), tr("rolls")),
         "load": (tr("load"), tr("loads")), "pallet": (tr("pallet"), tr("pallets")),
         "h": (tr("hour"), tr("hours")), "day": (tr("day"), tr("days")), "week": (tr("week"), tr("weeks")), "bag": (tr("bag"), tr("bags"))}  # fmt: skip
IMPERIAL = {"m": "ft", "m2": "ft2", "m3": "yd3", "t": "ton"}
WRITTEN = {"m2": "m²", "m3": "m³", "ft2": "ft²", "ft3": "ft³", "yd2": "yd²", "yd3": "yd³"}
MOST, MOST_WORSE = 4, 4  # places told, and findings that are worse
SI = {"": "1"}
LEAST_LEFT = 0.05  # m of pipe that is worth a word


def number_words(value: Decimal, places: int | None = None) -> str:
    """A decimal number as the reader writes it."""
    return digits_here(f"{value:,.{places}f}" if places is not None else f"{value.normalize():,f}")


def money_words(amount: Decimal) -> str:
    """Money to the cent."""
    return number_words(amount, 2)


def sold_words(line: OrderLine, system: System) -> tuple[str, str]:
    """How much is sold, and in what, in the reader's units."""
    unit, amount = line.unit, line.sold
    if system is System.IMPERIAL and unit in IMPERIAL:
        unit = IMPERIAL[unit]
        amount = line.sold_as.get(unit, amount)
    if unit in ("m3", "yd3"):
        amount = amount.quantize(Decimal("0.1")) if amount >= 1 else amount.quantize(Decimal("0.01"))
    elif unit in ("m2", "ft2"):
        amount = amount.quantize(Decimal(1))
    elif unit in ("m", "ft"):
        amount = amount.quantize(Decimal("0.1"))
    return number_words(amount), UNITS[unit][amount != 1] if unit in UNITS else WRITTEN.get(unit, unit)


def amount_words(amount: float, unit: str, system: System) -> str:
    """An amount of work in the reader's units; ``unit`` is m, m2, m3 or piece."""
    return shown(amount, {"m": k.DISTANCE, "m2": k.AREA, "m3": k.VOLUME}.get(unit, k.COUNT), system)


def origin_words(job: Job, origins: Iterable[Origin]) -> str:
    """Where a thing comes from: the runs, of many the first."""
    names = {run.id: run.name for run in job.runs}
    told = list(dict.fromkeys(names.get(origin.run, origin.run) for origin in origins))
    more = len(told) - MOST
    return ", ".join(told[:MOST]) + (tr(" and {number} more", number=more) if more > 0 else "")


def here_words(found: RunOutcome, station: float, rows: int, system: System) -> str:
    """What the marked rows of an order are in."""
    at, node = shown(station, k.STATION, system), node_at(found, station)
    what = tr("the pipe") if node is None else tr("the joint or bend") if node.kind == PLAIN and not node.name else node.name or tr(node.kind)
    return ntr("Marked, {n} row: what {what} at station {at} of {run} takes", "Marked, {n} rows: what {what} at station {at} of {run} takes", rows, what=what, at=at, run=found.run.name)


def price_words(line: PricedLine) -> str:
    """What one of it costs, or why that is not known."""
    if line.price is None or line.cost is None:
        return line.lacks
    per = " ".join(WRITTEN.get(word) or UNITS.get(word, (word, word))[0] for word in line.price.per.split())
    return tr("{amount} per {per}", amount=money_words(line.price.amount), per=per)


def sums_words(quote: Quote) -> list[tuple[str, str]]:
    """Every sum of a quote with its share where it is one, and its amount."""
    terms = quote.prices.terms
    shares = {"overhead": terms.overhead, "contingency": terms.contingency, "margin": terms.margin, "tax": terms.tax}
    told = []
    for key, amount in quote.sums:
        if key in shares and not shares[key]:
            continue
        share = f" ({number_words(100 * shares[key])} %)" if key in shares else ""
        share = tr(" ({share} %, by the soil)", share=number_words(100 * shares[key])) if key == "contingency" and terms.by_soil else share
        told.append((SUMS[key] + share, f"{money_words(amount)} {quote.prices.currency}".strip()))
    return told


def price_rows(quote: Quote) -> list[tuple[str, str]]:
    """What an owner is told: the price before tax, the tax, and the price; before tax alone where there is none."""
    sums, currency = dict(quote.sums), quote.prices.currency
    if not sums["tax"]:
        return [(SUMS["price"], f"{money_words(sums['price'])} {currency}".strip())]
    rows = [(tr("Price before tax"), sums["price"] - sums["tax"]), (tr("Tax ({share} %)", share=number_words(100 * quote.prices.terms.tax)), sums["tax"]), (SUMS["price"], sums["price"])]
    return [(label, f"{money_words(amount)} {currency}".strip()) for label, amount in rows]


def more_words(option: Option, first: Option) -> str:
    """How much more one way costs than another."""
    more = option.quote.sums[-1][1] - first.quote.sums[-1][1]
    return tr("{amount} more", amount=money_words(more)) if more > 0 else tr("{amount} less", amount=money_words(-more)) if more < 0 else tr("as much")


def worse_words(option: Option, first: Option) -> str:
    """What is worse in one way than in another."""
    told = list(dict.fromkeys(as_told(finding, option.outcome.job).title for finding in option.spoils(first)))
    return tr("worse: {spoils}", spoils=", ".join(told[:MOST_WORSE])) if told else tr("nothing is worse")


def bill_row_words(outcome: Outcome, row: BillRow) -> tuple[str, str, float, str, str, str]:
    """What a row of the bill is, how it is called, how much of it in SI, and its run and place by name."""
    found = outcome.run(row.origin.run)
    node = next((node for node, _ in found.run.nodes if node.id == row.origin.piece), None)
    place = (node.name or tr(node.kind)) if node is not None else tr("stretch {name}", name=row.origin.piece)
    return KINDS[row.what], called(outcome, row.what, row.key, row.size), row.amount, SI.get(row.kind.dimension.si_unit, row.kind.dimension.si_unit), found.run.name, place


def missing_words(quote: Quote) -> str:
    """What is in none of the sums; empty where nothing is."""
    if not quote.missing:
        return ""
    return tr("Not in this price, {count} lines: {lines}", count=len(quote.missing), lines="; ".join(f"{line.line.name} ({line.lacks})" for line in quote.missing))


def cut_words(outcome: Outcome, cut: PipeCut, system: System) -> list[str]:
    """How the pieces of one pipe are cut, length by length as it is sold, those cut alike together."""
    pipe = outcome.library.pipe(cut.key)
    told: dict[str, int] = {}
    names = {run.id: f" ({run.name})" if len(outcome.job.runs) > 1 else "" for run in outcome.job.runs}
    for pieces, left in zip(cut.plan.cuts, cut.plan.left, strict=True):
        words = " + ".join(shown(length, k.DISTANCE, system) + names[cut.origins[number].run] for number, length in pieces)
        words += tr("; {left} left over", left=shown(left, k.DISTANCE, system)) if left >= LEAST_LEFT else ""
        told[words] = told.get(words, 0) + 1
    title = tr("How {pipe} is cut, out of {supply} of {length}", pipe=pipe.called(cut.size == LETS_NONE_IN),
               supply=UNITS[pipe.supply][1], length=shown(pipe.supply_length, k.DISTANCE, system))
    return [title, *(f"  {count} × {words}" for words, count in told.items())]
