"""A list of words to choose from that stand for codes: shown in the reader's language, asked for and set by code."""

from __future__ import annotations

from collections.abc import Iterable

from weirant.language import tr
from weirant.ui.still_box import StillBox


class CodeBox(StillBox):
    """A combo box whose items keep their codes."""

    def add_codes(self, codes: Iterable[str]) -> None:
        """Add codes, each shown as the language says it."""
        for code in codes:
            self.addItem(tr(code), code)

    def add_names(self, names: Iterable[str]) -> None:
        """Add names that users gave, shown as they are."""
        for name in names:
            self.addItem(name, name)

    def code(self) -> str:
        """The code in hand; empty for an item without one, or none."""
        found = self.currentData()
        return found if isinstance(found, str) else ""

    def codes(self) -> list[str]:
        """The codes of all items."""
        return [str(self.itemData(index)) for index in range(self.count())]

    def take(self, code: str) -> None:
        """Put the item of a code in hand; one that is not there changes nothing."""
        index = self.findData(code)
        if index >= 0:
            self.setCurrentIndex(index)
