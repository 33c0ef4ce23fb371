"""What a job takes as a workbook: each line follows the rows it comes from, which may be typed over. What is text stays text."""

from __future__ import annotations

from pathlib import Path

from weirant.design.bill import bill_of
from weirant.formats.plain_files import write_safely
from weirant.formats.quote_xlsx import bill_sheet, new_book
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import OrderLine
from weirant.units.display import System
from weirant.words.order import KINDS, bill_row_words, origin_words, sold_words

HEADS = ((tr("what"), 18), (tr("name"), 52), (tr("amount"), 12), (tr("unit (SI)"), 10), (tr("sold"), 12), (tr("unit"), 10), (tr("where"), 40), (tr("note"), 60))


def write_takeoff_xlsx(outcome: Outcome, lines: tuple[OrderLine, ...], path: Path) -> None:
    """Write the workbook to a file."""
    write_safely(path, takeoff_xlsx(outcome, lines))


def takeoff_xlsx(outcome: Outcome, lines: tuple[OrderLine, ...]) -> bytes:
    """The workbook: what is needed of each line is a formula over the sheet of the rows it comes from, by what it is and its name."""
    (into, book), bill, system = new_book(), bill_of(outcome), System(outcome.job.units)
    strong, figure = book.add_format({"bold": True}), book.add_format({"num_format": "#,##0.00"})
    sheet = book.add_worksheet(tr("Take-off"))
    for column, (head, width) in enumerate(HEADS):
        sheet.set_column(column, column, width)
        sheet.write_string(0, column, head, strong)
    rows = [bill_row_words(outcome, row) for row in bill.rows]
    from_rows = f"'{tr('Where from')}'!"
    for number, line in enumerate(lines, 1):
        of = [row for row in rows if row[:2] == (KINDS[line.what], line.name)]
        if of:
            last = len(rows) + 1
            what, name, amount = (f"{from_rows}${column}$2:${column}${last}" for column in "ABC")
            formula = f"=SUMPRODUCT(({what}=A{number + 1})*({name}=B{number + 1})*{amount})"  # not SUMIFS: a name may hold what it takes for a pattern
            sheet.write_formula(number, 2, formula, figure, sum(row[2] for row in of))
        else:  # what is called otherwise as it is sold, such as earth that is spread
            sheet.write_number(number, 2, line.needed, figure)
        sold, unit = sold_words(line, system)
        for column, words in ((0, KINDS[line.what]), (1, line.name), (3, of[0][3] if of else ""), (4, sold), (5, unit), (6, origin_words(outcome.job, line.origins)), (7, line.note)):
            sheet.write_string(number, column, words)
    sheet.freeze_panes(1, 2)
    bill_sheet(book, outcome, bill, strong)
    book.close()
    return into.getvalue()
