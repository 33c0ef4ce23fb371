"""The language that texts are shown in.

It is chosen once, before anything else is loaded: texts are looked up where they stand, also those of modules. Every text for a reader goes
through ``tr``, or ``ntr`` where a number decides its form. English is the text itself; any other language has a catalogue.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

from weirant.language.catalogue import Catalogue, catalogue_of
from weirant.language.numbers import digits, isolated, without_isolates
from weirant.language.tongue import ENGLISH, TONGUES, Tongue

__all__ = ["ENGLISH", "TONGUES", "Tongue", "as_known", "capital", "digits_here", "first_small", "here", "is_english", "isolated_here", "ntr", "regrouped", "tr", "use", "without_isolates"]

_now: list[Catalogue] = [catalogue_of(ENGLISH)]


def use(tongue: Tongue) -> None:
    """Show texts in a language from now on; what was looked up before stays as it is."""
    _now[0] = catalogue_of(tongue)


def here() -> Tongue:
    """The language that is shown."""
    return _now[0].tongue


def is_english() -> bool:
    """Whether texts are shown as they stand."""
    return _now[0].tongue is ENGLISH


def tr(message: str, /, **values: object) -> str:
    """A text in the reader's language, with its values: ``tr("the pipe is {depth} deep", depth=…)``.

    Numbers among the values take the decimal mark of the language. A text without values may hold braces. Raises KeyError for a gap that no
    value fills.
    """
    return _now[0].said(message, values)


def ntr(one: str, many: str, n: int, /, **values: object) -> str:
    """A text whose form hangs on a number, which fills its gap ``n``."""
    return _now[0].counted(one, many, n, {"n": n, **values})


def capital(text: str) -> str:
    """The beginning of a sentence, which may begin with a name: with a capital first."""
    return text[:1].upper() + text[1:]


def first_small(title: str) -> str:
    """A title in the midst of a sentence: with a small letter first, where the language writes nouns so."""
    return title if _now[0].tongue.capital_nouns else title[:1].lower() + title[1:]


def digits_here(text: str) -> str:
    """A number as written in English, ``1,234.5``, as the reader's language writes it."""
    return digits(text, _now[0].tongue)


def regrouped(text: str, mark: str) -> str:
    """A number as this language writes it with another mark between its thousands, or none: fit to be typed over."""
    return text.replace(_now[0].tongue.thousands, mark)


def as_known(text: str, words: Iterable[str]) -> str:
    """What was typed with the language's own words for some that the program knows: "Band 40 links 12" as "tape 40 left 12"."""
    for word in words if not is_english() else ():
        text = re.sub(rf"(?<!\w){re.escape(tr(word))}(?!\w)", word, text, flags=re.IGNORECASE)
    return text


def isolated_here(text: str) -> str:
    """A number with its unit, or a name, kept together in a text that runs from right to left."""
    return isolated(text, _now[0].tongue)
