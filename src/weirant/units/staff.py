"""Readings as they stand on a staff: decimal feet, feet with inches and fractions, or metres."""

from __future__ import annotations

import dataclasses
import math
import re
from fractions import Fraction

from weirant.language import tr
from weirant.units.dimension import LENGTH
from weirant.units.parse import parse

FOOT, INCH = 0.3048, 0.0254
DECIMAL_FEET, FEET_INCHES, METRES = "decimal feet", "feet and inches", "metres"
_READ = {staff: dataclasses.replace(LENGTH, example=example) for staff, example in ((DECIMAL_FEET, "9.40"), (FEET_INCHES, "5' 3 1/2"), (METRES, "1.365"))}
_PARTS = re.compile(r"(\d+)[\s'-]+(\d+)(?:[\s-]+(\d+/\d+))?(?:\s*(?:\"|in))?")


def staff_for(staff: str, *, is_metric: bool) -> str:
    """The staff in use: a metric job reads metres unless its staff says feet and inches."""
    return METRES if is_metric and staff == DECIMAL_FEET else staff


def read_staff(text: str, staff: str, field: str = tr("rod reading")) -> float:
    """A reading in m. On a staff of feet and inches ``5 3 1/2`` is 5 ft 3 1/2 in; a bare number is in the staff's unit.

    Raises InputError naming ``field``.
    """
    parts = _PARTS.fullmatch(text.strip())
    if staff == FEET_INCHES and parts:
        rest = f" {parts[3]}" if parts[3] else ""
        return parse(f"{parts[1]} ft {parts[2]}{rest} in", _READ[staff], field)
    plain = re.sub(r"(?<![\d,.])(\d{1,2})[.,](?=\d{3}(?![\d,.]))", r"\1.", text.strip())  # 1,234 or 1.234: no staff is a thousand long
    return parse(plain, _READ[staff], field, "m" if staff == METRES else "ft", strict=True)


def staff_text(value: float | None, staff: str, rounding: float = 0.0) -> str:
    """A length as the staff shows it, rounded to a step in m (0: as fine as the staff is read); an en dash where unknown."""
    if value is None or not math.isfinite(value):
        return "–"
    sign = "−" if value < 0 else ""
    size = abs(value)
    if staff == FEET_INCHES:
        step = Fraction(round((rounding or INCH / 16) / INCH * 64), 64) or Fraction(1, 64)
        inches = Fraction(round(Fraction(size / INCH) / step)) * step
        feet, left = divmod(inches, 12)
        whole, part = divmod(left, 1)
        return f"{sign}{feet}' {whole}{f' {part}' if part else ''}\""
    unit = 1.0 if staff == METRES else FOOT
    step_m = _round_step(rounding) if staff == METRES else 0.01 * FOOT
    return f"{sign}{round(size / step_m) * step_m / unit:.{3 if staff == METRES else 2}f}"


def _round_step(rounding: float) -> float:
    """The step of a metric staff nearest to what the crew asks for: an eighth of an inch is 5 mm there."""
    return min((0.001, 0.002, 0.005, 0.01, 0.02, 0.05), key=lambda step: abs(math.log(step / max(rounding, 0.001))))


def staff_unit(staff: str) -> str:
    """The unit to write at the head of a column of readings."""
    return {FEET_INCHES: "ft in", METRES: "m"}.get(staff, "ft")
