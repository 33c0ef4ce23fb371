"""A language's texts: what is said for a message, in which form, with its values filled in."""

from __future__ import annotations

import gettext
import re
from collections.abc import Mapping
from pathlib import Path
from typing import Protocol

from weirant.language.numbers import Filler
from weirant.language.tongue import Tongue


class Catalogue(Protocol):
    """What knows the texts of one language."""

    @property
    def tongue(self) -> Tongue:
        """The language."""

    def said(self, message: str, values: Mapping[str, object]) -> str:
        """A message in the language, with its values."""

    def counted(self, one: str, many: str, n: int, values: Mapping[str, object]) -> str:
        """A message in the form that a number asks for."""


class _AsWritten:
    """English: the message itself."""

    def __init__(self, tongue: Tongue) -> None:
        self.tongue = tongue

    def said(self, message: str, values: Mapping[str, object]) -> str:
        return message.format(**values) if values else message

    def counted(self, one: str, many: str, n: int, values: Mapping[str, object]) -> str:
        return (one if n == 1 else many).format(**values)


class _Translated:
    """A language with a catalogue of its own; what that lacks is said in English."""

    def __init__(self, tongue: Tongue, texts: gettext.NullTranslations) -> None:
        self.tongue, self._texts, self._filler = tongue, texts, Filler(tongue)

    def said(self, message: str, values: Mapping[str, object]) -> str:
        found = self._texts.gettext(message) if message else ""  # the empty message is the catalogue's own head
        return self._filler.vformat(found, (), values) if values else found

    def counted(self, one: str, many: str, n: int, values: Mapping[str, object]) -> str:
        return self._filler.vformat(self._texts.ngettext(one, many, n), (), values)


_ACCENTED = str.maketrans("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ", "áƀçďéƒğħíĵķłɱñóþɋřšťúʋŵẋýžÁƁÇĎÉƑĞĦÍĴĶŁⱮÑÓÞɊŘŠŤÚƲŴẊÝŽ")
_GAP = re.compile(r"(\{[^{}]*\}|\[!?\w+\?)")  # gaps, and what clauses of findings ask for


class _Mocked(gettext.NullTranslations):
    """Texts that nobody has to know a language for: in letters with marks, so that a plain one was not looked up, and a third longer, as translations are."""

    def gettext(self, message: str) -> str:
        said = "".join(part if number % 2 else part.translate(_ACCENTED) for number, part in enumerate(_GAP.split(message)))
        return f"⟦{said}{'·' * (len(message) // 3)}⟧"

    def ngettext(self, msgid1: str, msgid2: str, n: int) -> str:
        return self.gettext(msgid1 if n == 1 else msgid2)


def catalogue_of(tongue: Tongue) -> Catalogue:
    """The texts of a language."""
    if tongue.is_mock:
        return _Translated(tongue, _Mocked())
    packed = Path(__file__).with_name("catalogues") / f"{tongue.code}.mo"
    if not packed.is_file():
        return _AsWritten(tongue)
    with packed.open("rb") as file:
        return _Translated(tongue, gettext.GNUTranslations(file))
