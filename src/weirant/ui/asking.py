"""Boxes that tell or ask, and dialogs: shown in one way, in plain text, and gone for good when they are closed."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TypeVar

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QFileDialog, QMainWindow, QMessageBox, QWidget

from weirant.language import tr
from weirant.ui import memory
from weirant.ui.theme import THEME

LINES = 8  # of a message shown at once; the rest stands behind a button
LONGEST = 4000  # characters of it
LONGEST_NAME = 120  # bytes of a suggested file name
Shown = TypeVar("Shown", bound=QDialog)
ROLES = (QMessageBox.ButtonRole.AcceptRole, QMessageBox.ButtonRole.DestructiveRole, QMessageBox.ButtonRole.RejectRole)


def show_dialog(dialog: Shown, *, blocks: bool = True) -> Shown:
    """Show a dialog that does not outlive its closing; with ``blocks`` the window behind waits for it."""
    dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    THEME.dress(dialog)
    if blocks:
        dialog.open()
    else:
        dialog.show()
    return dialog


def tell(parent: QWidget | None, title: str, text: str, *, is_fault: bool = True) -> QMessageBox:
    """Tell something in a box that does not stop the program."""
    lines = text[:LONGEST].splitlines()
    box = _box(parent, QMessageBox.Icon.Warning if is_fault else QMessageBox.Icon.Information, title, "\n".join(lines[:LINES]))
    box.setStandardButtons(QMessageBox.StandardButton.Ok)
    if len(lines) > LINES or len(text) > LONGEST:
        box.setDetailedText(text[: 20 * LONGEST])
    return show_dialog(box)


def question(parent: QWidget | None, title: str, text: str, choices: Sequence[str]) -> QMessageBox:
    """A box with a button for each choice, the last of which backs out; the first is the default. ``chosen`` tells which was pressed."""
    box = _box(parent, QMessageBox.Icon.Question, title, text)
    for number, words in enumerate(choices):
        button = box.addButton(words, ROLES[2] if number == len(choices) - 1 else ROLES[min(number, 1)])
        if button is not None:
            button.setProperty("choice", number)
            if number == 0:
                box.setDefaultButton(button)
            if number == len(choices) - 1:
                box.setEscapeButton(button)
    return box


def ask(parent: QWidget | None, title: str, text: str, choices: Sequence[str]) -> int:
    """Ask, and wait for the answer: the number of the choice. Escape is the last one."""
    box = question(parent, title, text, choices)
    box.exec()
    button = box.clickedButton()
    chosen = int(button.property("choice")) if button is not None else len(choices) - 1
    box.deleteLater()
    return chosen


def in_the_look(parent: QWidget) -> QWidget:
    """What a dialog that is made elsewhere takes the look from: of a window, which wears none itself, its menus."""
    return (parent.menuBar() or parent) if isinstance(parent, QMainWindow) else parent


def ask_file(parent: QWidget, title: str, pattern: str) -> Path | None:
    """Ask for a file to read, in the folder last used; None where nothing was chosen."""
    name, _ = QFileDialog.getOpenFileName(in_the_look(parent), title, memory.folder(), pattern)
    if not name:
        return None
    memory.folder_of(Path(name))
    return Path(name)


def ask_name(parent: QWidget, title: str, suggested: str, patterns: dict[str, str]) -> Path | None:
    """Ask where to write; ``patterns`` gives the words for each suffix, the first being the usual one. None where nothing was chosen.

    A name without one of the suffixes gets that of the chosen pattern; if a file of that name stands there, it is asked once more.
    """
    first = next(iter(patterns))
    filters = {f"{words} (*{suffix})": suffix for suffix, words in patterns.items()}
    name, chosen = QFileDialog.getSaveFileName(in_the_look(parent), title, str(Path(memory.folder()) / (file_name(suggested) + first)), ";;".join(filters))
    if not name:
        return None
    path = Path(name)
    memory.folder_of(path)
    if path.suffix.lower() in patterns:
        return path
    path = path.with_name(path.name + filters.get(chosen, first))
    if path.exists() and ask(parent, title, tr("{path} exists already. Replace it?", path=path.name), (tr("Replace it"), tr("Cancel"))) != 0:
        return None
    return path


def file_name(words: str) -> str:
    """Words as a file name: without what a name cannot hold, and not too long."""
    kept = "".join(c if c.isprintable() and c not in '/\\:*?"<>|' else " " for c in words).strip(" .") or "job"
    return kept.encode("utf-8", "ignore")[:LONGEST_NAME].decode("utf-8", "ignore").strip()


def _box(parent: QWidget | None, icon: QMessageBox.Icon, title: str, text: str) -> QMessageBox:
    box = QMessageBox(parent)
    THEME.dress(box)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setIcon(icon)
    box.setWindowTitle(title)
    box.setText(text[:LONGEST])
    return box
