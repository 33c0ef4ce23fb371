"""What was typed into cells of a table and could not be taken: it stays where it was typed, to be mended, as long as its job is open."""

from __future__ import annotations

from collections.abc import Hashable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor

from weirant.ui.document import Document
from weirant.ui.plain_text import plain_tip
from weirant.ui.theme import THEME

ANY = Qt.ItemDataRole


class Unread:
    """Texts by the cell they stand in, whatever a table calls its cells."""

    def __init__(self, document: Document) -> None:
        self._document, self._of = document, document.session
        self._texts: dict[Hashable, tuple[str, str]] = {}

    def keep(self, cell: Hashable, text: str, why: str) -> None:
        """Let a text stand in a cell, and tell why it could not be taken."""
        self._of_this_job()[cell] = (text, why)
        self._document.refused.emit(why)

    def forget(self, *cells: Hashable) -> None:
        """Something else stands there now; without a cell, everywhere."""
        texts = self._of_this_job()
        for cell in cells or tuple(texts):
            texts.pop(cell, None)

    def text(self, cell: Hashable) -> str:
        """What stands in a cell as it was typed, empty where all was understood."""
        return self._of_this_job().get(cell, ("", ""))[0]

    def told(self, cell: Hashable, role: int) -> Any:
        """What a table says of such a cell: what was typed, and a mark beside it, since colour alone tells nothing."""
        text, why = self._of_this_job()[cell]
        said = {ANY.DisplayRole: f"{text} ?", ANY.EditRole: text, ANY.ForegroundRole: QColor(THEME.palette.rust), ANY.ToolTipRole: plain_tip(why)}
        return said.get(role)  # type: ignore[call-overload]

    def _of_this_job(self) -> dict[Hashable, tuple[str, str]]:
        if self._of is not self._document.session:  # another job: what was typed into the one before went with it
            self._texts, self._of = {}, self._document.session
        return self._texts
