"""Price lists as CSV: item, per, price, and if known supplier and note; items that begin with "list" tell of the list itself, those that begin with "rate" what the crew does in an hour."""

from __future__ import annotations

import datetime
import re
from decimal import Decimal
from pathlib import Path

from weirant.errors import InputError, JobFileError, WeirantError
from weirant.formats.csv_text import LARGEST, restored, table_of
from weirant.formats.plain_files import read_plain_text
from weirant.language import tr
from weirant.library.rates import rates as known_rates
from weirant.library.tables import practice_list
from weirant.outcome.prices import HIRED, Price, PriceList, Terms
from weirant.units.parse import plain_number, unit_factor

PRACTICE = ("larkmead", "moorgrundel")  # lists of made-up places
MOST, DEAREST, LEAST_RATE, MOST_RATE = 5000, Decimal(10_000_000), 1e-3, 1e4  # lines; money; of a kind of work in an hour
HEADS = ("item", "per", "price", "supplier", "note")
SHARES = ("overhead", "contingency", "margin", "tax")
USE = (tr("A price list has the columns item, per and price, and may have supplier, note and min, how many are sold at least; an item is a key of the library, or crew, excavator "
          "and the like. Items list name, list date, "
          "list currency, list overhead, list contingency, list margin and list tax tell of the list itself, their figure in the column price; "
          "rate dig-hand and the like tell how much the crew does in an hour, hired dig-hand and the like what others take for it; list contingency may be by soil."))  # fmt: skip
OF_THE_LIST, OF_THE_CREW, BY_SOIL = "list ", "rate ", "by soil"


def open_price_list(wanted: str) -> PriceList:
    """The list of a file, or one of those that come with the application for practice, by its name. Raises JobFileError."""
    if wanted in PRACTICE:
        return read_price_list(practice_list(wanted), wanted)
    path = Path(wanted)
    return read_price_list(read_plain_text(path, LARGEST, tr("a price list")), path.name)


def read_price_list(text: str, name: str) -> PriceList:
    """The list of a file of a name. Lines that cannot be used are told with their number, and the others serve; of an item that stands twice for one unit of
    one supplier the first counts.

    Raises JobFileError where there is no list in it at all.
    """
    mark, lines = table_of(text, name, tr("{name} holds no prices. {use}", name=name, use=USE))
    if len(lines) > MOST:
        raise JobFileError(tr("{name} has {lines} lines; at most {most} are taken.", name=name, lines=len(lines), most=MOST))
    heads = [cell.strip().lower() for cell in lines[0][1]]
    if not set(HEADS[:3]) <= set(heads) or len(set(heads)) < len(heads):
        raise JobFileError(tr("{name}: the headings {heads} are not those of a price list. {use}", name=name, heads=", ".join(heads[:8]), use=USE))
    found: dict[str, tuple[Price, ...]] = {}
    told: dict[str, str] = {}
    faults: list[tuple[int, str]] = []
    rates: dict[str, float] = {}
    for number, cells in lines[1:]:
        row = {head: restored(cell).strip() for head, cell in zip(heads, cells, strict=False)}
        item = row.get("item", "").lower()
        try:
            if item.startswith(OF_THE_LIST):
                key = item.removeprefix(OF_THE_LIST).strip()
                told[key] = _of_the_list(key, row)
            elif item.startswith(OF_THE_CREW):
                key, amount = _rate(item.removeprefix(OF_THE_CREW).strip(), row, comma=mark == ";")
                rates[key] = amount
            else:
                _is_work(item)
                price = _price(item, row, number, comma=mark == ";")
                twin = next((p for p in found.get(price.item, ()) if (p.per, p.supplier) == (price.per, price.supplier)), None)
                if twin is not None:
                    raise InputError(price.item, tr("stands twice; line {number} counts", number=twin.line))
                found[price.item] = (*found.get(price.item, ()), price)
        except InputError as fault:
            faults.append((number, str(fault)))
    currencies = {sign for sign in map(_sign, (cell for _, cells in lines[1:] for cell in cells)) if sign}
    if len(currencies) > 1:
        raise JobFileError(tr("{name} has several currencies ({signs}): one list is in one money.", name=name, signs=", ".join(sorted(currencies))))
    by_soil = told.get("contingency") == BY_SOIL
    terms = Terms(**{key: Decimal(told[key]) for key in SHARES if key in told and told[key] != BY_SOIL}, by_soil=by_soil)
    return PriceList(told.get("name", name), told.get("date", ""), told.get("currency", next(iter(currencies), "")), found, terms, tuple(faults), rates)


def _is_work(item: str) -> None:
    """Raise InputError where others are hired for what is no kind of work."""
    keys = [rate.key for rate in known_rates()]
    if item.startswith(HIRED) and item.removeprefix(HIRED).strip() not in keys:
        raise InputError(item, tr("is no kind of work; there are {keys}", keys=", ".join(dict.fromkeys(keys))))


def _rate(key: str, row: dict[str, str], *, comma: bool) -> tuple[str, float]:
    """How much of a kind of work the crew does in an hour, in SI: it stands in the column of the price, with its unit in that of per."""
    units = {rate.key: rate.unit for rate in known_rates()}
    if key not in units:
        raise InputError(OF_THE_CREW + key, tr("is no kind of work; there are {keys}", keys=", ".join(units)))
    per, amount = row.get("per", "").lower().removesuffix("/h").strip().replace("³", "3").replace("²", "2"), _money(row.get("price", ""), OF_THE_CREW + key, comma=comma)
    if units[key] == "piece":
        factor = 1.0 if per in ("piece", "pieces") else None
    else:
        try:
            found, dimension = unit_factor(per)
            factor = found if dimension == unit_factor(units[key])[1] else None
        except WeirantError:  # no unit at all is one that does not fit
            factor = None
    if factor is None:
        raise InputError(OF_THE_CREW + key, tr("is counted in {unit} an hour", unit=units[key]), row.get("per", ""))
    if not LEAST_RATE <= float(amount) * factor <= MOST_RATE:
        raise InputError(OF_THE_CREW + key, tr("cannot be as much"), row.get("price", ""))
    return key, float(amount) * factor


def _price(item: str, row: dict[str, str], number: int, *, comma: bool) -> Price:
    if not item:
        raise InputError(tr("item"), tr("is missing"))
    per = row.get("per", "")
    if not per:
        raise InputError(item, tr("has no unit that its price is for, such as piece, t, yd3, 100 ft or h"))
    amount = _money(row.get("price", ""), item, comma=comma)
    least = _money(row["min"], item, comma=comma) if row.get("min") else Decimal(0)
    return Price(" ".join(item.split()), " ".join(per.split()), amount, row.get("supplier", ""), number, least)


def _money(text: str, item: str, *, comma: bool) -> Decimal:
    if not text:
        raise InputError(item, tr("has no price"))
    bare = re.sub(r"^[^\d+,.-]*|[^\d]*$", "", text)
    if comma and "," in bare:  # a list with semicolons writes decimals so
        bare = bare.replace(".", "").replace(",", ".")
    if not bare:
        raise InputError(item, tr("has a price that is no number"), text)
    amount = Decimal(plain_number(bare, item, strict=True))
    if amount < 0:
        raise InputError(item, tr("has a price under nought"), text)
    if amount > DEAREST:
        raise InputError(item, tr("has a price over {dearest:,}", dearest=int(DEAREST)), text)
    return amount


def _sign(cell: str) -> str:
    """The sign of a currency in a cell, if there is one."""
    found = re.fullmatch(r"\s*([$€£¥₹])\s*[\d.,]+\s*|\s*[\d.,]+\s*([$€£¥₹])\s*", cell)
    return (found[1] or found[2]) if found else ""


def _of_the_list(key: str, row: dict[str, str]) -> str:
    value = row.get("price", "") or row.get("per", "")
    if key == "contingency" and " ".join(value.lower().split()) == BY_SOIL:
        return BY_SOIL
    if key in SHARES:
        share = Decimal(plain_number(value.replace("%", ""), key, strict=True)) / 100
        if not 0 <= share < (Decimal("0.9") if key == "margin" else 5):
            raise InputError(key, tr("cannot be as much"), value)
        return str(share)
    if key == "date":
        try:
            datetime.date.fromisoformat(value)
        except ValueError as fault:
            raise InputError(tr("date"), tr("is none; write it as 2026-03-31"), value) from fault
    elif key not in ("name", "currency"):
        raise InputError(key, tr("is not known of a list: there are {keys}", keys=", ".join(("name", "date", "currency", *SHARES))))
    return value
