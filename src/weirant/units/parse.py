"""Reads typed quantities in trade notation into SI."""

from __future__ import annotations

import math
import re
from fractions import Fraction
from functools import cache

from weirant.errors import InputError
from weirant.language import here, tr, without_isolates
from weirant.units.dimension import LENGTH, NUMBER, SLOPE, TEMPERATURE, UNITS, Dimension, Exponents

LONGEST = 150  # characters of a typed value
_VULGAR = {"¼": " 1/4", "½": " 1/2", "¾": " 3/4", "⅛": " 1/8", "⅜": " 3/8", "⅝": " 5/8", "⅞": " 7/8"}
_PLAIN = r"\d+(?:\.\d*)?(?:e[+-]?\d+)?|\.\d+(?:e[+-]?\d+)?"
_TOKEN = re.compile(
    rf"\s*(?:(?P<mixed>\d+[\s-]+\d+/\d+(?![\d.]))|(?P<fraction>\d+/\d+(?![\d.]))|(?P<plain>{_PLAIN})"
    r"|(?P<over>/|\bper\b)|(?P<power>[²³]|\^[23])|(?P<unit>[a-zA-Zµμ%°]+|\"|'))"
)
_POWER_DIGIT = re.compile(r"(?<=[a-zµμ\"'])([23])(?=$|[\s/)*])")


def parse(text: str | float, dimension: Dimension, field: str = "", bare_unit: str | None = None, strict: bool = False) -> float:
    """Read a typed quantity into SI.

    Accepts trade notation: ``4 in``, ``3/4 in``, ``5' 3 1/2"``, ``1 in per 10 ft``, ``1:100``, ``0.3 m/day``.
    A number without a unit is SI, or in ``bare_unit`` where the screen shows one. A decimal comma is read as
    such, thousands may be set apart by commas or hard spaces; a comma that could be either is refused, unless the reader's language writes
    decimals so: there a point that could be either is. The text of a file or of a command line (``strict``) is read as in English by everybody.
    Raises InputError naming ``field``.
    """
    field = field or tr(dimension.name)
    if isinstance(text, bool):
        raise InputError(field, tr("must be a quantity, not true or false"), text)
    if isinstance(text, (int, float)):
        return _finite(_as_float(text), field, text)
    if len(text) > LONGEST:
        raise InputError(field, tr("is {text:,} characters long; a value with its unit has at most {longest}", text=len(text), longest=LONGEST))
    cleaned = _feet_and_inches(_normalise(text, field, strict), dimension, bare_unit)
    if dimension is TEMPERATURE:
        return _temperature(cleaned, field, text)
    ratio = re.fullmatch(rf"({_PLAIN})\s*:\s*({_PLAIN})", cleaned)
    if ratio and dimension is SLOPE:
        return _finite(float(ratio[1]) / _not_zero(float(ratio[2]), field, text), field, text)
    return _finite(_sum_of_terms(cleaned, dimension, field, text, bare_unit), field, text)


def plain_number(text: str, field: str, strict: bool = False) -> str:
    """A number without a unit in any usual notation as digits with a decimal point, for those that must not lose a digit. Raises InputError naming the field."""
    cleaned = _normalise(text, field, strict).replace(" ", "")
    if not re.fullmatch(rf"[+-]?(?:{_PLAIN})", cleaned):
        raise InputError(field, tr("must be a number"), text[:40])
    return cleaned


def _as_float(number: float) -> float:
    try:
        return float(number)
    except OverflowError:
        return math.inf


def _finite(value: float, field: str, given: object) -> float:
    if not math.isfinite(value):
        raise InputError(field, tr("must be a finite number"), str(given)[:40])
    return value


def _not_zero(value: float, field: str, given: object) -> float:
    if value == 0:
        raise InputError(field, tr("divides by nought"), given)
    return value


def _normalise(text: str, field: str, strict: bool) -> str:
    cleaned = without_isolates(text).strip().replace("″", '"').replace("”", '"').replace("′", "'").replace("’", "'").replace("−", "-")
    for glyph, words in _VULGAR.items():
        cleaned = cleaned.replace(glyph, words)
    if not cleaned.strip():
        raise InputError(field, tr("is empty; type a value with its unit"))
    if re.search(r"(?i)(?<![a-z])(nan|inf|infinity)(?![a-z])", cleaned):
        raise InputError(field, tr("must be a finite number"), text)
    cleaned = re.sub(r"(?<=\d)[\u00a0\u202f](?=\d{3}(?!\d))", "", cleaned)
    # thousands by dots before a decimal comma, and by spaces where no fraction follows
    cleaned = re.sub(r"(?<![\d,.])[1-9]\d{0,2}(?:\.\d{3})+(?=,\d)", lambda m: m[0].replace(".", ""), cleaned)
    cleaned = re.sub(r"(?<![\d,./'-])[1-9]\d{0,2}(?: \d{3})+(?![\d/])(?!\s+\d)", lambda m: m[0].replace(" ", ""), cleaned)
    if re.search(r"(?<![\d,.])[1-9]\d{0,2}((,\d{3}){2,}(?!\d)|(,\d{3})+\.\d)", cleaned):
        cleaned = cleaned.replace(",", "")
    decimal, other = (".", ",") if strict else (here().decimal, {".": ",", ",": "."}[here().decimal])
    either = re.search(rf"(?<![\d,.])([1-9]\d{{0,2}})[{other}](\d{{3}})(?![\d,.])", cleaned)
    if either:
        words = {",": tr("has a comma that could mark thousands or decimals; write {number} or {number_2}"),
                 ".": tr("has a point that could mark thousands or decimals; write {number} or {number_2}")}[other]
        raise InputError(field, words.format(number=either[1] + either[2], number_2=f"{either[1]}{decimal}{either[2]}"), text)
    if re.search(r"\d,\d", cleaned) and "." not in cleaned and cleaned.count(",") == 1:
        cleaned = cleaned.replace(",", ".")
    cleaned = re.sub(r"(?<=['t])\s*-\s*(?=\d)", " ", cleaned)  # 5'-3" and 5 ft-3 in
    cleaned = re.sub(r"(?<=\d)\s+1/(?=[a-z])", " /", cleaned)  # 2 1/s
    cleaned = re.sub(r"(?i)\b(square|sq\.?|cubic|cu\.?)\s*(ft|feet|foot|yards?|yd|m|in)\b", _spelled_power, cleaned)
    return re.sub(r"(?<=[a-z\"'])\s+in\s+(?=\d)", " per ", cleaned).replace("us gal", "gal").replace("·", " ").strip()


def _feet_and_inches(text: str, dimension: Dimension, bare_unit: str | None) -> str:
    """Lengths as they are called out on site: ``5' 3 1/2`` without the mark of the inches, and where feet are shown ``5-3 1/2``."""
    if dimension.exponents != LENGTH.exponents:
        return text
    marked = re.fullmatch(r"(-?\d+')\s*(\d{1,2}(?:\s+\d+/\d+)?|\d+/\d+|\d{1,2}\.\d+)", text)
    if marked:
        return f'{marked[1]} {marked[2]}"'
    called = re.fullmatch(r"(-?\d+)-(\d|1[01])(\s+\d+/\d+)?", text) if bare_unit == "ft" else None
    return f"{called[1]}' {called[2]}{called[3] or ''}\"" if called else text


def without_thousands(text: str) -> str:
    """Typed in feet and inches, where nobody writes a decimal comma: ``12,500 ft²`` without its comma."""
    return re.sub(r"(?<![\d,.])([1-9]\d{0,2}),(\d{3})(?![\d,])", r"\1\2", text)


def _spelled_power(match: re.Match[str]) -> str:
    return match[2] + ("²" if match[1].lower().startswith("s") else "³")


def _temperature(cleaned: str, field: str, given: object) -> float:
    match = re.fullmatch(rf"(-?(?:{_PLAIN}))\s*(?:°|deg)?\s*([CFKcfk]?)", cleaned)
    if not match:
        raise InputError(field, tr("is not a temperature such as 10 °C"), given)
    value, scale = float(match[1]), match[2].upper()
    return _finite({"F": (value - 32) / 1.8, "K": value - 273.15}.get(scale, value), field, given)


def _number(text: str, field: str, given: object) -> float:
    whole, _, rest = text.replace("-", " ").strip().rpartition(" ") if "/" in text else ("", "", text)
    if "/" in rest:
        _not_zero(float(rest.split("/")[1]), field, given)
        return float(whole or 0) + float(Fraction(rest))
    return float(rest)


def _sum_of_terms(text: str, dimension: Dimension, field: str, given: object, bare_unit: str | None) -> float:
    sign = -1.0 if text.startswith("-") else 1.0
    tokens = _tokens(text.lstrip("+-"), dimension, field, given)
    if not tokens:
        raise InputError(field, tr("is not understood; write it like {example}", example=dimension.example), given)
    total, position, last_factor = 0.0, 0, math.inf
    while position < len(tokens):
        kind, word = tokens[position]
        if kind != "number":
            raise InputError(field, tr("must start with a number, such as {example}", example=dimension.example), given)
        factor, exponents, position = _unit_expression(tokens, position + 1, field, given)
        if exponents is None:
            if last_factor != math.inf or position < len(tokens):
                raise InputError(field, tr("is not understood; write it like {example}", example=dimension.example), given)
            factor, exponents = unit_factor(bare_unit) if bare_unit else (1.0, dimension.exponents)
        if exponents != dimension.exponents:
            raise InputError(field, tr("takes a value of {dimension}, such as {example}", dimension=tr(dimension.name), example=dimension.example), given)
        if not factor < last_factor:
            raise InputError(field, tr("names its units twice or in the wrong order"), given)
        total, last_factor = total + _number(word, field, given) * factor, factor
    return sign * total


def _tokens(text: str, dimension: Dimension, field: str, given: object) -> list[tuple[str, str]]:
    tokens, position = [], 0
    text = _POWER_DIGIT.sub(lambda m: {"2": "²", "3": "³"}[m[1]], text)
    while position < len(text):
        match = _TOKEN.match(text, position)
        if not match or not match.group().strip():
            if not text[position:].strip():
                break
            raise InputError(field, tr("is not understood; write it like {example}", example=dimension.example), given)
        kind = match.lastgroup or ""
        tokens.append(("number" if kind in ("mixed", "fraction", "plain") else kind, match.group().strip()))
        position = match.end()
    return tokens


def _unit_expression(
    tokens: list[tuple[str, str]], position: int, field: str, given: object
) -> tuple[float, Exponents | None, int]:
    """Read ``in/10 ft`` or ``gal/min/ft`` from a position on.

    Gives the factor to SI, the exponents (None where no unit follows) and the next position.
    """
    factor, exponents, sign, seen = 1.0, [0, 0, 0], 1, False
    while position < len(tokens):
        kind, word = tokens[position]
        if kind == "over":
            sign, position = -1, position + 1
            if position < len(tokens) and tokens[position][0] == "number":
                factor /= _not_zero(_number(tokens[position][1], field, given), field, given)
                position += 1
            if position >= len(tokens) or tokens[position][0] != "unit":
                raise InputError(field, tr("ends in a division without a unit"), given)
            continue
        if kind != "unit" or (seen and sign == 1):
            break
        unit, dims = _unit(word, field, given)
        position, power = position + 1, 1
        if position < len(tokens) and tokens[position][0] == "power":
            power = {"²": 2, "³": 3}.get(tokens[position][1]) or int(tokens[position][1][1])
            position += 1
        factor *= unit ** (sign * power)
        exponents = [e + sign * power * d for e, d in zip(exponents, dims, strict=True)]
        seen = True
        if position < len(tokens) and tokens[position][0] == "over":
            continue
        break
    return factor, ((exponents[0], exponents[1], exponents[2]) if seen else None), position


def _unit(word: str, field: str, given: object) -> tuple[float, Exponents]:
    found = UNITS.get(word) or UNITS.get(word.lower())
    if found is None:
        raise InputError(field, tr("has a unit that is not known, '{word}'", word=word), given)
    return found


@cache
def unit_factor(unit: str) -> tuple[float, Exponents]:
    """SI factor and exponents of a unit expression such as ``gpm/ft``; raises InputError when it is not known."""
    factor, exponents, _ = _unit_expression(_tokens(unit, NUMBER, "unit", unit), 0, "unit", unit)
    if exponents is None:
        raise InputError("unit", tr("is not known"), unit)
    return factor, exponents
