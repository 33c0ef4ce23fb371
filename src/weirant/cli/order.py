"""``takeoff`` and ``quote``: what a job takes with where each of it comes from, and what it comes to by a price list."""

from __future__ import annotations

import csv
import io
from argparse import Namespace
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from weirant.cli.giving import check_one_of, check_one_way, give, in_columns
from weirant.cli.job_commands import open_job, run_called
from weirant.cli.work_given import job_as_given, rates_given
from weirant.design.assess import assess
from weirant.design.bill import bill_of
from weirant.design.job_price import job_price
from weirant.design.kit import FOOT, HUNDRED_FEET, kit_of, length_of
from weirant.design.offer import options_of, priced_option
from weirant.design.order import order_of, pipe_cuts
from weirant.design.own_rates import with_rates
from weirant.design.worked_out import with_nothing_waiting
from weirant.errors import InputError
from weirant.formats.csv_text import harmless
from weirant.formats.price_list import open_price_list
from weirant.formats.quote_xlsx import write_quote_xlsx
from weirant.formats.takeoff_xlsx import write_takeoff_xlsx
from weirant.language import tr
from weirant.methods.cutting_stock import FEW_JOINTS, LITTLE_WASTE
from weirant.outcome.bill import Bill
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import OrderLine, PricedLine, PriceList, Quote
from weirant.units.display import System
from weirant.words.order import (
    KINDS,
    cut_words,
    missing_words,
    money_words,
    origin_words,
    price_words,
    sold_words,
    sums_words,
)
from weirant.words.spoil import spread_words


def takeoff(given: Namespace) -> int:
    """Print what a job takes; 0."""
    check_one_way(given)
    for option in ("per_ft", "little_waste"):
        check_one_of(given, "per_100ft", option)
    check_one_of(given, "per_ft", "little_waste")
    for option in ("json", "csv", "per_100ft", "per_ft", "run"):  # it holds the whole job
        check_one_of(given, "xlsx", option)
    if given.xlsx and not given.xlsx.lower().endswith(".xlsx"):
        raise InputError("--xlsx", tr("must end in {endings}", endings=".xlsx"), given.xlsx)
    outcome, lines = _ordered(given)
    if given.xlsx:
        write_takeoff_xlsx(outcome, lines, Path(given.xlsx))
        return 0
    per, bill = HUNDRED_FEET if given.per_100ft else FOOT if given.per_ft else 0.0, _bill(given, outcome)
    if per:
        lines = kit_of(outcome, bill, length_of(outcome, bill), per)
    give(given, lambda: [_line_as_json(outcome, line) for line in lines], lambda: _as_csv([_row(outcome, line) for line in lines], HEADS),
         lambda: _lines(outcome, lines, Bill(()) if per else bill))  # fmt: skip
    return 0


def quote(given: Namespace) -> int:
    """Print a quote; 1 where something has no price."""
    check_one_way(given)
    outcome, lines = _ordered(given)
    prices = with_rates(open_price_list(given.prices), rates_given(given))
    if given.output:
        if given.run or given.json or given.csv:
            raise InputError("-o", tr("writes the quote of the whole job, and cannot stand beside --run, --json or --csv"))
        return _written(given, outcome, prices)
    if given.option:
        raise InputError("option", tr("stands on the paper or in the workbook: give -o too"))
    told = job_price(outcome, lines, _bill(given, outcome), prices)
    give(given, lambda: _quote_as_json(outcome, told), lambda: _as_csv([_priced_row(outcome, line) for line in told.lines], (*HEADS, "per", "price", "cost", "lacks")),
         lambda: _quote_lines(outcome, told))  # fmt: skip
    return 1 if told.missing else 0


def _ordered(given: Namespace) -> tuple[Outcome, tuple[OrderLine, ...]]:
    outcome = with_nothing_waiting(assess(job_as_given(given)))
    if outcome.takeoff is None:
        raise InputError(tr("the job"), tr("cannot be counted yet: the ground is not known along every run; shoot the grades first"))
    return outcome, order_of(outcome, LITTLE_WASTE if given.little_waste else FEW_JOINTS, _bill(given, outcome))


def _bill(given: Namespace, outcome: Outcome) -> Bill:
    bill = bill_of(outcome)
    return bill.at([run_called(outcome.job, given.run).id]) if given.run else bill


def _written(given: Namespace, outcome: Outcome, prices: PriceList) -> int:
    """Write the quote as a paper or a workbook; options stand on the paper."""
    path = Path(given.output)
    first = priced_option(tr("as drawn"), outcome, prices, LITTLE_WASTE if given.little_waste else FEW_JOINTS)
    options = options_of(first, [_option(words) for words in given.option or []])
    if path.suffix.lower() == ".xlsx":
        write_quote_xlsx(options, path)
    elif path.suffix.lower() == ".pdf":
        from weirant.paper.quote_sheet import write_quote  # draws

        write_quote(options, path)
    else:
        raise InputError("-o", tr("must end in .pdf or .xlsx"), path.name)
    return 1 if first.quote.missing else 0


def _option(words: str) -> tuple[str, Outcome]:
    name, equals, job = words.partition("=")
    if not equals or not name.strip():
        raise InputError("option", tr("must read NAME=JOB, such as pop-up=club-2.weirant"), words)
    return name.strip(), with_nothing_waiting(assess(open_job(job)))


HEADS = ("what", "item", "name", "needed", "unit of it (SI)", "sold", "unit", "where", "note")


def _row(outcome: Outcome, line: OrderLine) -> tuple[str, ...]:
    return (line.what, f"{line.key} {line.size}".strip(), line.name, f"{line.needed:.6g}", _si(line), str(line.sold), line.unit, origin_words(outcome.job, line.origins), line.note)


def _si(line: OrderLine) -> str:
    return {"h": "s"}.get(line.unit, next((unit for unit in ("m3", "m2", "m") if unit in line.sold_as), "1"))


def _priced_row(outcome: Outcome, priced: PricedLine) -> tuple[str, ...]:
    price = priced.price
    return (*_row(outcome, priced.line), price.per if price else "", str(price.amount) if price else "", str(priced.cost) if priced.cost is not None else "", priced.lacks)


def _as_csv(rows: Sequence[tuple[str, ...]], heads: Sequence[str]) -> str:
    text = io.StringIO()
    writer = csv.writer(text)
    writer.writerow(heads)
    writer.writerows([harmless(cell) for cell in row] for row in rows)
    return text.getvalue()


def _line_as_json(outcome: Outcome, line: OrderLine) -> dict[str, Any]:
    return {"what": line.what, "item": line.key, "size": line.size, "name": line.name, "needed": line.needed, "sold": str(line.sold), "unit": line.unit,
            "sold_as": {unit: str(amount) for unit, amount in line.sold_as.items()}, "to_be_found": line.to_be_found, "note": line.note,
            "origins": [{"run": origin.run, "piece": origin.piece} for origin in line.origins]}  # fmt: skip


def _quote_as_json(outcome: Outcome, told: Quote) -> dict[str, Any]:
    return {"job": outcome.job.name, "prices": {"name": told.prices.name, "date": told.prices.date, "currency": told.prices.currency},
            "lines": [{**_line_as_json(outcome, line.line), "price": str(line.price.amount) if line.price else None, "per": line.price.per if line.price else None,
                       "supplier": line.price.supplier if line.price else None, "quantity": str(line.quantity), "cost": str(line.cost) if line.cost is not None else None,
                       "lacks": line.lacks} for line in told.lines],
            "sums": {key: str(amount) for key, amount in told.sums}, "faults_of_the_list": [{"line": number, "why": why} for number, why in told.prices.faults]}  # fmt: skip


def _lines(outcome: Outcome, lines: tuple[OrderLine, ...], bill: Bill) -> list[str]:
    """The lines in words; and how the pipe of a bill is cut, and where its earth is spread."""
    system, what = System(outcome.job.units), ""
    said: list[str] = []
    for line in lines:
        if line.what != what:
            what = line.what
            said += ["", KINDS[what]] if said else [KINDS[what]]
        amount, unit = sold_words(line, system)
        said.append(f"  {amount:>10} {unit:<7} {line.name}  [{origin_words(outcome.job, line.origins)}]" + (f"\n{'':21}{line.note}" if line.note else ""))
    for cut in pipe_cuts(outcome, bill).values():
        said += ["", *cut_words(outcome, cut, system)]
    spread = spread_words(outcome, {row.origin.run for row in bill.rows})
    said += ["", *spread] if spread else []
    return said


def _quote_lines(outcome: Outcome, told: Quote) -> list[str]:
    system, prices = System(outcome.job.units), told.prices
    rows = [(tr("for"), tr("amount"), tr("price"), tr("cost"))]
    for line in told.lines:
        amount, unit = sold_words(line.line, system)
        rows.append((line.line.name, f"{amount} {unit}", price_words(line) if line.cost is not None else "–", money_words(line.cost) if line.cost is not None else "–"))
    said = [tr("{job}: by the prices of {name}, {date}", job=outcome.job.name, name=prices.name, date=prices.date or tr("no date")), *in_columns(rows), ""]
    said += in_columns(sums_words(told))
    if told.missing:
        said += ["", missing_words(told)]
    return said + [tr("line {number} of the list is not used: {why}", number=number, why=why) for number, why in prices.faults]
