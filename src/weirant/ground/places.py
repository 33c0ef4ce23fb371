"""Where a shot lies in plan, from how it was taken."""

from __future__ import annotations

import math
import re

from weirant.errors import InputError
from weirant.job.survey import Place, Survey
from weirant.language import as_known, here, regrouped, tr
from weirant.units import parse
from weirant.units.dimension import LENGTH, NUMBER
from weirant.units.display import DISTANCE, System, shown_number, unit_of

Point = tuple[float, float]
WORDS = ("tape", "angle", "left", "right", "at")  # as they are typed
EXAMPLE = tr('write "30, 12" (east, north), "tape 40 left 12" or "angle 35 at 60"')


def point_of(place: Place, survey: Survey) -> Point:
    """East and north of a place, m."""
    if place.how == "plan":
        return place.first, place.second
    if place.how == "tape":
        way = math.radians(90.0 - survey.tape_bearing)
        east, north = math.cos(way), math.sin(way)
        return (survey.tape_x + place.first * east - place.second * north, survey.tape_y + place.first * north + place.second * east)
    way = math.radians(90.0 - survey.zero_bearing - place.first)
    return survey.stand_x + place.second * math.cos(way), survey.stand_y + place.second * math.sin(way)


def read_place(text: str, system: System) -> Place:
    """Read a place as typed; bare numbers are in the unit the screen shows. Raises InputError with an example."""
    unit = unit_of(DISTANCE, system)
    words = as_known(text.strip(), WORDS).lower()
    taped = re.fullmatch(r"(?:tape|t)\s+(.+?)\s+(left|right|l|r)\s+(.+)", words)
    turned = re.fullmatch(r"(?:angle|a)\s+(-?[\d.,]+)\s*°?\s+(?:at|d)\s+(.+)", words)
    if taped:
        offset = parse(taped[3], LENGTH, "offset", unit)
        return Place("tape", parse(taped[1], LENGTH, tr("distance along the tape"), unit), offset if taped[2].startswith("l") else -offset)
    if turned:
        return Place("angle", parse(turned[1], NUMBER, tr("angle")), parse(turned[2], LENGTH, "distance", unit))
    bare = "" if here().decimal == "," else r"|,(?=\s*-?\d+(?:\.\d+)?\s*$)"  # where the comma marks decimals, a blank after it parts the two
    both = re.split(rf"\s*;\s*|\s*,\s+{bare}", words)
    if len(both) != 2:
        raise InputError("place", tr("cannot be understood; {example}", example=EXAMPLE), text)
    return Place("plan", *(_signed(part, name, unit) for part, name in zip(both, ("east", "north"), strict=True)))


def _signed(text: str, name: str, unit: str) -> float:
    sign = -1.0 if text.startswith(("-", "−")) else 1.0
    return sign * parse(text.lstrip("-−"), LENGTH, name, unit)


def place_text(place: Place | None, system: System) -> str:
    """The place as it would be typed."""
    if place is None:
        return ""
    first, second = (regrouped(shown_number(v, DISTANCE, system), "").replace("−", "-") for v in (place.first, abs(place.second)))
    if place.how == "tape":
        return tr("tape {first} left {second}", first=first, second=second) if place.second >= 0 else tr("tape {first} right {second}", first=first, second=second)
    if place.how == "angle":
        return tr("angle {first:g} at {second}", first=place.first, second=second)
    return f"{first}, {'-' if place.second < 0 else ''}{second}"
