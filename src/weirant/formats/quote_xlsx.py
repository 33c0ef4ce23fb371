"""A quote as a workbook: every line with its formula, the sums that follow, the bill by its places. What is text stays text."""

from __future__ import annotations

import io
from pathlib import Path
from typing import TYPE_CHECKING, Any

from weirant.design.offer import Option
from weirant.formats.plain_files import write_safely
from weirant.language import tr
from weirant.outcome.bill import Bill
from weirant.outcome.outcome import Outcome
from weirant.outcome.summary import summary
from weirant.words.order import KINDS, SUMS, bill_row_words, worse_words

if TYPE_CHECKING:
    from xlsxwriter.workbook import Workbook

HEADS = (tr("what"), tr("name"), tr("amount"), tr("per"), tr("price"), tr("cost"), tr("supplier"), tr("note"))
WIDTHS = (18, 52, 12, 12, 12, 14, 24, 60)
FIRST = 4  # row of the first line, from 0


def write_quote_xlsx(options: tuple[Option, ...], path: Path) -> None:
    """Write the workbook to a file."""
    write_safely(path, quote_xlsx(options))


def quote_xlsx(options: tuple[Option, ...]) -> bytes:
    """The workbook: amounts and prices are figures, cost and sums formulas that follow them; each way to build has its sheet, and all of them stand side by side."""
    into, book = new_book()
    looks = {"strong": book.add_format({"bold": True}), "money": book.add_format({"num_format": "#,##0.00"}), "total": book.add_format({"num_format": "#,##0.00", "bold": True, "top": 1}),
             "share": book.add_format({"num_format": "0.0 %"}), "wrap": book.add_format({"text_wrap": True, "valign": "top"})}  # fmt: skip
    prices = [_quote(book, option, looks, tr("Quote") if number == 1 else tr("Way {number}", number=number)) for number, option in enumerate(options, 1)]
    if len(options) > 1:
        _ways(book, options, looks, prices)
    bill_sheet(book, options[0].outcome, options[0].bill, looks["strong"])
    book.close()
    return into.getvalue()


def new_book() -> tuple[io.BytesIO, Workbook]:
    """A workbook in which text stays text, and where it is written to."""
    import xlsxwriter  # slow to load, and needed only where a workbook is written

    into = io.BytesIO()
    return into, xlsxwriter.Workbook(into, {"in_memory": True, "strings_to_formulas": False, "strings_to_urls": False, "strings_to_numbers": False})


def _quote(book: Workbook, option: Option, looks: dict[str, Any], title: str) -> str:
    """A way with its lines and its sums; where its price stands."""
    sheet, prices = book.add_worksheet(title), option.quote.prices
    sheet.write_string(0, 0, f"{option.outcome.job.name}: {option.name}", looks["strong"])
    sheet.write_string(1, 0, tr("prices by {name}, {date}, in {currency}", name=prices.name, date=prices.date or tr("no date"), currency=prices.currency or tr("its money")))
    for column, (head, width) in enumerate(zip(HEADS, WIDTHS, strict=True)):
        sheet.set_column(column, column, width)
        sheet.write_string(FIRST - 1, column, head, looks["strong"])
    for row, priced in enumerate(option.quote.lines, FIRST):
        sheet.write_string(row, 0, KINDS[priced.line.what])
        sheet.write_string(row, 1, priced.line.name)
        sheet.write_number(row, 2, float(priced.quantity))
        if priced.price is not None and priced.cost is not None:
            sheet.write_string(row, 3, priced.price.per)
            sheet.write_number(row, 4, float(priced.price.amount), looks["money"])
            sheet.write_formula(row, 5, f"=ROUND(C{row + 1}*E{row + 1},2)", looks["money"], float(priced.cost))
            sheet.write_string(row, 6, priced.price.supplier)
        sheet.write_string(row, 7, priced.lacks or priced.line.note)
    sheet.freeze_panes(FIRST, 2)
    return f"'{title}'!{_sums(book, sheet, option, looks, FIRST + len(option.quote.lines))}"


def _ways(book: Workbook, options: tuple[Option, ...], looks: dict[str, Any], prices: list[str]) -> None:
    """What each way comes to beside the first, its verdict and what is worse in it; prices follow their sheets."""
    sheet = book.add_worksheet(tr("Side by side"))
    heads = ((tr("way"), 36), (tr("price"), 14), (tr("beside the first"), 14), (tr("without a price"), 14), (tr("verdict"), 40), (tr("what is worse"), 60))
    for column, (head, width) in enumerate(heads):
        sheet.set_column(column, column, width)
        sheet.write_string(0, column, head, looks["strong"])
    for row, (option, at) in enumerate(zip(options, prices, strict=True), 1):
        price, first = (float(one.quote.sums[-1][1]) for one in (option, options[0]))
        sheet.write_string(row, 0, option.name)
        sheet.write_formula(row, 1, f"={at}", looks["money"], price)
        sheet.write_formula(row, 2, f"=B{row + 1}-B2", looks["money"], round(price - first, 2))
        sheet.write_number(row, 3, len(option.quote.missing))
        sheet.write_string(row, 4, summary(option.outcome.told))
        sheet.write_string(row, 5, "" if row == 1 else worse_words(option, options[0]))


def _sums(book: Workbook, sheet: Any, option: Option, looks: dict[str, Any], after: int) -> str:
    """Cost, what is added to it, and the price, whose cell is told; shares may be typed over."""
    terms, row = option.quote.prices.terms, after + 1
    values = {key: float(amount) for key, amount in option.quote.sums}
    shares = {"overhead": terms.overhead, "contingency": terms.contingency, "margin": terms.margin, "tax": terms.tax}
    at = {key: row + number for number, key in enumerate(values)}
    cell = {key: f"F{line + 1}" for key, line in at.items()}
    share = {key: f"E{at[key] + 1}" for key in shares}
    bare = f"({cell['cost']}+{cell['overhead']}+{cell['contingency']})"
    formulas = {"cost": f"=SUM(F{FIRST + 1}:F{after})", "overhead": f"=ROUND({cell['cost']}*{share['overhead']},2)",
                "contingency": f"=ROUND(({cell['cost']}+{cell['overhead']})*{share['contingency']},2)", "margin": f"=ROUND({bare}/(1-{share['margin']})-{bare},2)",
                "tax": f"=ROUND(({bare}+{cell['margin']})*{share['tax']},2)", "price": f"={bare}+{cell['margin']}+{cell['tax']}"}  # fmt: skip
    for key, value in values.items():
        sheet.write_string(at[key], 1, SUMS[key], looks["strong"])
        if key in shares:
            sheet.write_number(at[key], 4, float(shares[key]), looks["share"])
        sheet.write_formula(at[key], 5, formulas[key], looks["total" if key in ("cost", "price") else "money"], value)
    return cell["price"]


def bill_sheet(book: Workbook, outcome: Outcome, bill: Bill, strong: Any) -> None:
    """Every row of a bill with where it comes from, in SI."""
    sheet = book.add_worksheet(tr("Where from"))
    for column, (head, width) in enumerate(zip((tr("what"), tr("name"), tr("amount"), tr("unit (SI)"), tr("run"), tr("place")), (18, 52, 12, 10, 28, 20), strict=True)):
        sheet.set_column(column, column, width)
        sheet.write_string(0, column, head, strong)
    for number, row in enumerate(bill.rows, 1):
        what, name, amount, unit, run, place = bill_row_words(outcome, row)
        for column, words in ((0, what), (1, name), (3, unit), (4, run), (5, place)):
            sheet.write_string(number, column, words)
        sheet.write_number(number, 2, amount)
    sheet.freeze_panes(1, 0)
