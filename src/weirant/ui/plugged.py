"""What becomes of the water when the exit of the run in hand is plugged: asked for in the menu, told in a box."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.ui.asking import tell
from weirant.ui.document import Document
from weirant.ui.work import in_background
from weirant.words.flow import exit_name, plugged_words


def tell_plugged(document: Document, parent: QWidget, exit_node: str = "") -> None:
    """Work it out beside the interface and tell it, of an exit or of that of the run in hand; nothing where no job is open."""
    if document.is_empty:
        return
    outcome = document.outcome
    node = exit_node or _exit_of(outcome, document.run)
    title = tr("If {exit} were plugged", exit=exit_name(outcome.job, node))

    def told(lines: list[str]) -> None:
        tell(parent, title, "\n".join([title, *lines]), is_fault=False)

    in_background(lambda: plugged_words(outcome, node), told, document.refused.emit)


def _exit_of(outcome: Outcome, run: str) -> str:
    """Where the water of a run gets out: its own low end, or that of the runs below it."""
    network, seen = outcome.site.network, {run}
    here = network.run(run)
    while here.nodes[0][0].id not in outcome.site.exits:
        after = next((other for other, _ in network.drains_to(here) if other.id not in seen), None)
        if after is None:
            break
        seen.add(after.id)
        here = after
    return here.nodes[0][0].id
