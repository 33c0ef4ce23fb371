"""What instruments say: NMEA 0183 GGA positions and readings of a level; everything doubtful is refused with its reason.

Source: NMEA 0183, sentence GGA and its checksum (exclusive or of the characters between $ and *); read with pynmea2.
"""

from __future__ import annotations

import math
from typing import Any

import pynmea2

from weirant.errors import InputError
from weirant.language import tr
from weirant.records import dataclass
from weirant.units.display import in_both

QUALITY = {1: tr("plain fix"), 2: tr("differential fix"), 4: tr("fixed to the centimetre"), 5: "float", 9: "corrected"}
SURVEY_GRADE = (4,)  # of the qualities the one that levels are taken with
LEVEL_SENTENCE = "PWLVL"  # own sentence of a level: reading, unit, state
LOWEST, HIGHEST = -500.0, 9000.0  # m
_UNITS = {"m": 1.0, "ft": 0.3048}


@dataclass(frozen=True)
class Position:
    """A position: degrees, height m above the ellipsoid's sea level, quality number, satellites, time of day as sent."""

    longitude: float
    latitude: float
    height: float
    quality: int
    satellites: int
    time: str


@dataclass(frozen=True)
class StaffReading:
    """A reading of a level or laser receiver, m."""

    value: float


Message = Position | StaffReading


def checksum(body: str) -> str:
    """The two hexadecimal digits that end a sentence."""
    total = 0
    for character in body:
        total ^= ord(character)
    return f"{total:02X}"


def read_message(line: str, qualities: tuple[int, ...] = SURVEY_GRADE) -> Message | None:
    """Read one line. None for a sound sentence of another kind; InputError that says why for one that cannot be used."""
    text = line.strip()
    if not text:
        return None
    if not text.startswith("$"):
        raise InputError("line", tr("does not begin with $; is the speed of the line right?"), text[:20])
    body, star, given = text[1:].partition("*")
    if not star:
        raise InputError("sentence", tr("has no checksum"), text[:20])
    if given.strip().upper() != checksum(body):
        raise InputError("checksum", tr("does not agree; the line was garbled on its way"), text[:20])
    fields = body.split(",")
    if fields[0] == LEVEL_SENTENCE:
        return _reading(fields)
    return _fix(text, qualities) if fields[0][2:] == "GGA" else None


def _reading(fields: list[str]) -> StaffReading:
    if len(fields) != 4 or fields[2] not in _UNITS:
        raise InputError("reading", tr("has not the form value, unit, state"))
    if fields[3] != "OK":
        raise InputError("reading", tr("is not steady: the level sees no staff or no beam"))
    try:
        value = float(fields[1]) * _UNITS[fields[2]]
    except ValueError as fault:
        raise InputError("reading", tr("is no number"), fields[1]) from fault
    if not math.isfinite(value) or abs(value) > 30:
        raise InputError("reading", tr("is longer than any staff"), fields[1])
    return StaffReading(value)


def _fix(text: str, qualities: tuple[int, ...]) -> Position:
    try:
        sentence = pynmea2.parse(text, check=True)
    except (pynmea2.ParseError, ValueError, TypeError, IndexError, AttributeError) as fault:
        raise InputError("sentence", tr("cannot be read"), text[:20]) from fault
    try:
        return _sound(sentence, qualities)
    except InputError:
        raise
    except (ValueError, TypeError, IndexError, AttributeError, ArithmeticError) as fault:  # what the library makes of fields that hold no numbers
        raise InputError("fix", tr("holds no numbers"), text[:20]) from fault


def _sound(sentence: Any, qualities: tuple[int, ...]) -> Position:
    if not str(sentence.gps_qual or "").strip() or int(sentence.gps_qual) == 0:
        raise InputError("fix", tr("is missing: the rover sees too few satellites"))
    quality = int(sentence.gps_qual)
    if quality not in qualities:
        raise InputError("fix", tr("is not good enough to level with ({quality}); wait for a fixed one", quality=QUALITY.get(quality, tr("quality {quality}", quality=quality))))
    if not (sentence.lat and sentence.lon and str(sentence.altitude or "").strip()):
        raise InputError("fix", tr("lacks its position or height"))
    found = Position(float(sentence.longitude), float(sentence.latitude), float(sentence.altitude), quality, int(sentence.num_sats or 0), str(sentence.data[0]))
    if not all(math.isfinite(v) for v in (found.longitude, found.latitude, found.height)):
        raise InputError("fix", tr("holds no finite numbers"))
    if not (abs(found.longitude) <= 180 and abs(found.latitude) <= 90 and float(sentence.lat) % 100 < 60 and float(sentence.lon) % 100 < 60):
        raise InputError("fix", tr("lies nowhere on the earth"), f"{sentence.lat}, {sentence.lon}")
    if sentence.lat_dir not in ("N", "S") or sentence.lon_dir not in ("E", "W"):
        raise InputError("fix", tr("does not say north or south, east or west"))
    if not LOWEST <= found.height <= HIGHEST:
        raise InputError("fix", tr("has a height that is not one on land"), in_both(found.height))
    return found
