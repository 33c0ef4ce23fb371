"""The languages there are, and what sets each apart besides its words."""

from __future__ import annotations

from typing import NamedTuple

NARROW_SPACE = "\u202f"  # parts thousands where the comma marks decimals (ISO 80000-1, 7.3.2: a small space, never a point or comma)


class Tongue(NamedTuple):
    """A language: its code, its own name, its decimal mark and what parts thousands, which way it runs, and whether nouns keep their capital."""

    code: str
    name: str
    decimal: str = "."
    thousands: str = ","
    runs_left: bool = False
    capital_nouns: bool = False
    is_mock: bool = False


ENGLISH = Tongue("en", "English")
GERMAN = Tongue("de", "Deutsch", ",", NARROW_SPACE, capital_nouns=True)
# For translators and tests: every text that goes through the catalogue is marked and drawn out; the second also runs from right to left.
MOCK = Tongue("mock", "Mock", ",", NARROW_SPACE, is_mock=True)
MOCK_LEFT = Tongue("mock-left", "Mock, right to left", runs_left=True, is_mock=True)
TONGUES = {tongue.code: tongue for tongue in (ENGLISH, GERMAN, MOCK, MOCK_LEFT)}
