"""Numbers as a language writes them, and kept in one piece where it runs from right to left."""

from __future__ import annotations

import string
from collections.abc import Mapping, Sequence
from typing import Any

from weirant.language.tongue import Tongue

_FIRST_STRONG, _LEFT, _END = "\u2068", "\u2066", "\u2069"  # isolates of the Unicode bidirectional algorithm (UAX 9, 2.4)


def digits(text: str, tongue: Tongue) -> str:
    """A number as written in English with the decimal mark and the thousands of a language."""
    if tongue.decimal == ".":
        return text
    return text.translate({ord("."): tongue.decimal, ord(","): tongue.thousands})


def isolated(text: str, tongue: Tongue) -> str:
    """A number with its unit, which runs from left to right in every language."""
    return f"{_LEFT}{text}{_END}" if tongue.runs_left and text else text


def without_isolates(text: str) -> str:
    """A text as it was before its numbers were kept together: what is copied from a label and typed again."""
    return text.translate(dict.fromkeys(map(ord, (_FIRST_STRONG, _LEFT, _END))))


class Filler(string.Formatter):
    """Fills gaps as ``str.format`` does, numbers with the marks of a language, and each value isolated where it runs from right to left."""

    def __init__(self, tongue: Tongue) -> None:
        self._tongue = tongue

    def get_value(self, key: int | str, args: Sequence[Any], kwargs: Mapping[str, Any]) -> Any:
        """The value of a gap. Raises KeyError where there is none: gaps have names."""
        return kwargs[str(key)]

    def format_field(self, value: Any, format_spec: str) -> Any:
        """A value as it is written."""
        text = format(value, format_spec)
        if isinstance(value, (int, float)) and not isinstance(value, bool):
            return isolated(digits(text, self._tongue), self._tongue)
        return f"{_FIRST_STRONG}{text}{_END}" if self._tongue.runs_left and text else text
