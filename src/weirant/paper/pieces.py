"""A text with figures in its pieces: figures heavy, their units light."""

from __future__ import annotations

import re
from functools import lru_cache

A_LABEL = 24  # letters; more is a sentence
UNIT = re.compile(r"(?<=\d)[\s\u00a0]?(?:ft³|ft²|ft|in/h|in/day|in|mm/h|mm/day|mm|cm|m³|m²|m|%|h|s|gpm/100 ft|gpm|gal|L/s|L|yd³)(?!\w)")


@lru_cache(maxsize=4096)
def pieces(text: str, bold: bool) -> tuple[tuple[str, bool], ...]:
    """The pieces of a text with whether they are heavy; a text that is not bold is one, and so is a sentence."""
    if not bold or len(text) > A_LABEL:
        return ((text, bold),)
    found: list[tuple[str, bool]] = []
    end = 0
    for match in UNIT.finditer(text):
        found += [(text[end : match.start()], True), (match.group(), False)]
        end = match.end()
    return tuple(piece for piece in (*found, (text[end:], True)) if piece[0])
