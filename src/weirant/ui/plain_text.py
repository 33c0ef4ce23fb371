"""Words on the screen as they are: what stands in a job is text, never markup, and is never looked for on the disk."""

from __future__ import annotations

import html

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QWidget


class PlainLabel(QLabel):
    """A label that shows its text letter by letter; Qt's own guesses whether it is markup, and then loads the pictures it names."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


def figure_label(text: str, *, strong: bool = False) -> PlainLabel:
    """A figure in a column: its end stands under that of the one above."""
    label = PlainLabel(text)
    label.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
    label.setProperty("strong", strong)
    return label


def named(text: str, widget: QWidget) -> PlainLabel:
    """The label before an entry."""
    label = PlainLabel(text)
    label.setBuddy(widget)
    return label


def plain_tip(text: str) -> str:
    """A hint that is shown letter by letter, whatever is in it."""
    return html.escape(text).replace("\n", "<br>") if Qt.mightBeRichText(text) else text  # type: ignore[attr-defined]


def plain_button(text: str) -> str:
    """Words of a button or a menu that are shown letter by letter: an ampersand in a name is no key."""
    return text.replace("&", "&&")
