"""Own products as CSV: pipes, stones or fabrics, told by their columns. Reader only."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from typing import Any

from weirant.errors import InputError, JobFileError
from weirant.formats.csv_text import restored, table_of
from weirant.job import Job
from weirant.job.faults import faults_of
from weirant.job.products import GradingBand, OwnFabric, OwnPipe, OwnStone, Products, own_key
from weirant.language import tr
from weirant.units import parse
from weirant.units.dimension import LENGTH, NUMBER, PER_TIME, Dimension

MOST = 500  # lines; a price list of pipes has some dozens
USE = (tr("A list of pipes has the columns name, inside, outside, roughness, opening, open_area (of the openings, by length) and may have shape, holes, supply, length; "
       "stones have name, grading (such as 25 mm:95-100 12.5 mm:25-60), voids, density and may have washed; fabrics have name, o95, permittivity and may have kind, "
       "thickness, open_share, mass, roll_width, strength_class. A cell carries its unit, or the heading does, such as inside_mm."))  # fmt: skip
Row = dict[str, tuple[str, str]]  # by column the cell and the unit of the heading
_LENGTHS = ("mm", "cm", "m", "in", "ft", "um", "cm2/m")


def read_products(text: str, name: str) -> Products:
    """The products of a list. Raises JobFileError with every line that cannot be used, each with its column."""
    _, lines = table_of(text, name, tr("{name} holds no products. {use}", name=name, use=USE))
    if len(lines) > MOST:
        raise JobFileError(tr("{name} has {lines} lines; at most {most} are taken.", name=name, lines=len(lines), most=MOST))
    heads = [_head(cell) for cell in lines[0][1]]
    columns = {column for column, _ in heads}
    kind = next((kind for kind, needs in _NEEDS.items() if needs <= columns), None)
    if kind is None or len(columns) < len(heads):
        raise JobFileError(tr("{name}: the headings {lines} are not those of pipes, stones or fabrics. {use}", name=name, lines=", ".join(lines[0][1][:8]), use=USE))
    found: list[Any] = []
    wrong: list[tuple[str, str]] = []
    for number, cells in lines[1:]:
        row = {column: (restored(cell).strip(), unit) for (column, unit), cell in zip(heads, cells, strict=False) if cell.strip()}
        try:
            product = _MADE[kind](row)
            faults = faults_of(product)
            if faults or any(product.key == other.key for other in found):
                raise InputError("", faults[0][1] if faults else tr("{product} stands twice", product=product.name))
            found.append(product)
        except InputError as fault:
            wrong.append((tr("line {number}", number=number), str(fault)))
    if wrong:
        raise JobFileError(tr("{name} cannot be read as {kind}:", name=name, kind=kind), tuple(wrong[:20]))
    return Products(**{kind: tuple(found)})


def taken_in(job: Job, products: Products) -> Job:
    """The job with products; those of a key that it has already take their place."""
    joined = {}
    for field in dataclasses.fields(Products):
        new = getattr(products, field.name)
        keys = {product.key for product in new}
        joined[field.name] = (*(p for p in getattr(job.products, field.name) if p.key not in keys), *new)
    return dataclasses.replace(job, products=Products(**joined))


def _head(cell: str) -> tuple[str, str]:
    """Column and unit of a heading, such as ``inside_mm``."""
    words = cell.strip().lower().replace(" ", "_").replace("(", "").replace(")", "")
    column, _, unit = words.rpartition("_")
    return (column, unit) if column and unit in _LENGTHS else (words, "")


def _key(row: Row) -> str:
    name = row.get("name", ("", ""))[0]
    if not name:
        raise InputError("name", tr("is missing"))
    return own_key(name)


def _figure(row: Row, column: str, dimension: Dimension, default: float | None = None) -> float:
    cell, unit = row.get(column, ("", ""))
    if not cell:
        if default is None:
            raise InputError(column, tr("is missing"))
        return default
    return parse(cell, dimension, column, unit or None, strict=True)


def _word(row: Row, column: str, default: str) -> str:
    return row.get(column, (default, ""))[0].lower()


def _pipe(row: Row) -> OwnPipe:
    inside, outside = _figure(row, "inside", LENGTH), _figure(row, "outside", LENGTH)
    if outside <= inside:
        raise InputError("outside", tr("must be more than inside"), row["outside"][0])
    return OwnPipe(_key(row), row["name"][0], inside, outside, _figure(row, "roughness", NUMBER), _figure(row, "opening", LENGTH), _figure(row, "open_area", LENGTH),
                   _word(row, "shape", "slot"), _word(row, "holes", "all round"), _word(row, "supply", "coil"), _figure(row, "length", LENGTH, 30.48))  # fmt: skip


def _stone(row: Row) -> OwnStone:
    bands = []
    for part in row.get("grading", ("", ""))[0].replace(";", " ").replace(tr(" mm:"), "mm:").replace(tr(" in:"), "in:").split():
        size, _, limits = part.rpartition(":")
        least, _, most = limits.partition("-")
        bands.append(GradingBand(parse(size, LENGTH, "grading", "mm", strict=True), parse(least, NUMBER, "grading", strict=True),
                                 parse(most or least, NUMBER, "grading", strict=True)))
    bands.sort(key=lambda band: -band.size)
    if len(bands) < 2 or any(b.most < b.least for b in bands):
        raise InputError("grading", tr("needs two sieves at least, each with what passes from the least to the most"), row.get("grading", ("none", ""))[0])
    if any(lower.least > upper.least or lower.most > upper.most or lower.size >= upper.size for upper, lower in zip(bands, bands[1:], strict=False)):
        raise InputError("grading", tr("must not rise from a coarse sieve to a fine one"), row["grading"][0])
    return OwnStone(_key(row), row["name"][0], tuple(bands), _figure(row, "voids", NUMBER), _figure(row, "density", NUMBER), _word(row, "washed", "yes") in ("yes", "true", "1"))


def _fabric(row: Row) -> OwnFabric:
    share, width = (_figure(row, column, dimension, -1.0) for column, dimension in (("open_share", NUMBER), ("roll_width", LENGTH)))
    strength = _figure(row, "strength_class", NUMBER, -1.0)
    if strength >= 0 and strength not in (1, 2, 3):
        raise InputError("strength_class", tr("is 1, 2 or 3 (the strongest is 1)"), row["strength_class"][0])
    return OwnFabric(_key(row), row["name"][0], _word(row, "kind", "nonwoven"), _figure(row, "o95", LENGTH), _figure(row, "permittivity", PER_TIME),
                     _figure(row, "thickness", LENGTH, 1e-3), None if share < 0 else share, _figure(row, "mass", NUMBER, 0.15), None if width < 0 else width,
                     None if strength < 0 else int(strength))  # fmt: skip


_NEEDS = {"pipes": {"name", "inside", "outside", "roughness", "opening", "open_area"}, "stones": {"name", "grading", "voids", "density"}, "fabrics": {"name", "o95", "permittivity"}}
_MADE: dict[str, Callable[[Row], Any]] = {"pipes": _pipe, "stones": _stone, "fabrics": _fabric}
