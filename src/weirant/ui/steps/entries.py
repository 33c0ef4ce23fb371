"""The widget that fits a field of the job."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QWidget

from weirant.job.paths import field_at, label_at, value_at
from weirant.job.section import MOST_FOLDS
from weirant.language import tr
from weirant.ui.document import Document, left_open
from weirant.ui.entry import GONE, QuantityEdit, TypedEdit, WordChoice
from weirant.ui.theme import THEME

YES_NO: list[tuple[Any, str]] = [(None, tr("not asked yet")), (True, tr("yes")), (False, tr("no"))]




class TextEdit(TypedEdit):
    """A field of plain words."""

    def __init__(self, document: Document, path: str) -> None:
        super().__init__(label_at(document.shown_job, path))
        self.document, self.path = document, path
        document.changed.connect(self.follow)
        self.show_value()

    def show_value(self) -> None:  # noqa: D102
        try:
            text = str(_value(self.document, self.path))
        except GONE:
            return  # the card is about to be laid anew
        if text != self.text():
            self.setText(text)
            self.setCursorPosition(0)

    def take(self, text: str) -> str:  # noqa: D102
        try:
            return "" if self.document.set_value(self.path, text) else tr("cannot be used")
        except GONE:
            return tr("is not there any more")


def _value(document: Document, path: str) -> Any:
    return value_at(document.shown_job, path)


def entry_for(document: Document, path: str) -> QWidget:
    """The widget that fits a field."""
    library, metadata = document.outcome.library, field_at(document.shown_job, path).metadata
    lists: dict[str, Mapping[str, Any]] = {"aggregate": library.aggregates, "sand": library.aggregates, "geotextile": library.geotextiles}
    last = path.rpartition(".")[2]
    if last in lists:
        return WordChoice(document, path, [(item.key, item.name) for item in lists[last].values()])
    if path.endswith(".texture"):
        return WordChoice(document, path, [(item.key, item.name) for item in library.textures.values()])
    if path.endswith((".pipes", ".pumps", ".layers")):
        most = MOST_FOLDS if path.endswith(".layers") else 4
        return WordChoice(document, path, [(n, words) for n, words in ((1, tr("one")), (2, tr("two")), (3, tr("three")), (4, tr("four"))) if n <= most])
    if path in ("exposure.iron", "exposure.lime") or path.startswith("permissions.") or path.endswith(".has_board"):
        return WordChoice(document, path, YES_NO)
    if isinstance(value_at(document.shown_job, path), bool):
        return WordChoice(document, path, [(True, tr("yes")), (False, tr("no"))])
    if "words" in metadata:
        return WordChoice(document, path, [(word, tr(word)) for word in metadata["words"]])
    if "spec" in metadata:
        edit = QuantityEdit(document, path, left_open(path))
        edit.setFixedWidth(round(7.4 * THEME.text))
        edit.setAlignment(Qt.AlignmentFlag.AlignRight)
        return edit
    edit_text = TextEdit(document, path)
    edit_text.setFixedWidth(round(11 * THEME.text))
    return edit_text
