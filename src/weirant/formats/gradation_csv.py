"""A sieve result as CSV: a sieve a line, by its size or its number, with the percent that passes."""

from __future__ import annotations

from weirant.errors import InputError, JobFileError
from weirant.formats.csv_text import table_of
from weirant.job.soil import SievePoint
from weirant.language import tr
from weirant.methods.gradation import gradation_of
from weirant.methods.sieves import sieve_opening

SIZES = {"size_mm": 1e-3, "size_um": 1e-6, "size_in": 0.0254}
SIEVE, PERCENTS = "sieve", ("percent_passing", "percent_finer")
MOST = 60
USE = tr("Head the columns size_mm (or size_um, size_in, or sieve for numbers such as No. 200) and percent_passing.")


def read_gradation_csv(text: str, name: str) -> tuple[SievePoint, ...]:
    """Read a result, coarsest first; raises JobFileError with every line that cannot be understood, or where less passes a coarser sieve than a finer one."""
    empty = tr("{name} holds no sieve result. {use}", name=name, use=USE)
    _, rows = table_of(text, name, empty)
    if len(rows) < 2:
        raise JobFileError(empty)
    heading = [cell.strip().lower() for cell in rows[0][1]]
    size, percent = (next((i for i, cell in enumerate(heading) if cell in known), None) for known in ((*SIZES, SIEVE), PERCENTS))
    if size is None or percent is None:
        raise JobFileError(tr("{name}: the headings {heading} cannot be told. {use}", name=name, heading=", ".join(rows[0][1]), use=USE))
    found, wrong = [], []
    for number, row in rows[1:]:
        try:
            opening = sieve_opening(row[size]) if heading[size] == SIEVE else float(row[size].strip().replace(",", ".")) * SIZES[heading[size]]
            passes = float(row[percent].strip().rstrip("%").replace(",", "."))
            if opening is None or not (1e-7 <= opening <= 1 and 0 <= passes <= 100):
                raise ValueError
            found.append((opening, passes))
        except (ValueError, IndexError):
            wrong.append((tr("line {number}", number=number), tr("is not a sieve and a percent from 0 to 100: {row}", row=", ".join(row))))
    if not wrong and len(found) > MOST:
        wrong.append((tr("sieves"), tr("are {count}; at most {most} are taken", count=len(found), most=MOST)))
    if wrong:
        raise JobFileError(tr("{name} cannot be read as a sieve result:", name=name), tuple(wrong[:20]))
    try:
        read = gradation_of(found)
    except InputError as fault:
        raise JobFileError(tr("{name} cannot be read as a sieve result:", name=name), ((tr("sieves"), str(fault)),)) from fault
    return tuple(SievePoint(s, p) for s, p in zip(read.sizes, read.percents, strict=True))
