"""The dialogs about the job in hand, by a key; each is loaded when it is first opened, if not before."""

from __future__ import annotations

import pkgutil
from functools import partial
from importlib import import_module

from PyQt6.QtWidgets import QDialog, QWidget

from weirant.ui import dialogs
from weirant.ui.asking import show_dialog
from weirant.ui.document import Document
from weirant.ui.papers import Papers

DIALOGS = {"rainfall": "RainfallDialog", "pipe_choices": "PipeChoicesDialog", "schools": "SchoolsDialog", "hydrometer": "HydrometerDialog", "suited": "SuitedDialog",
           "two_ways": "TwoWaysDialog", "stretches": "StretchesDialog", "corners": "CornersDialog", "fittings": "FittingsDialog", "sources": "SourcesDialog",
           "ways": "WaysDialog", "took": "TookDialog", "part_rules": "PartRulesDialog"}  # fmt: skip
ALIKE = {"pipes": "pipe_choices"}  # as the card asks for it


def load_dialogs() -> None:
    """Load every dialog, those that the window opens itself too: for whoever has the time, so that the first press waits for none."""
    for found in pkgutil.iter_modules(dialogs.__path__, f"{dialogs.__name__}."):
        import_module(found.name)


def open_dialog(what: str, document: Document, window: QWidget, papers: Papers, **given: object) -> None:
    """Open the dialog of a key, with what is ``given`` to it by name."""
    key = ALIKE.get(what, what)
    made = getattr(import_module(f"weirant.ui.dialogs.{key}"), DIALOGS[key])
    dialog: QDialog = made(document, window, **given)
    if key == "schools":
        wired: dict[str, object] = {"two_wanted": lambda assumed: open_dialog("two_ways", document, window, papers, assumed=assumed),
                                    "suited_wanted": partial(open_dialog, "suited", document, window, papers), "why_wanted": papers.ask_why_sheet}  # fmt: skip
        for signal, act in wired.items():
            getattr(dialog, signal).connect(act)
    if key == "ways":
        dialog.quote_wanted.connect(papers.ask_quote)  # type: ignore[attr-defined]
    show_dialog(dialog)
