"""Where work was left: the job, the step and the view, so that the next morning begins there."""

from __future__ import annotations

import re
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from weirant.formats.open_mark import OpenMark
from weirant.ui import memory
from weirant.ui.sheet.views import WORDS

if TYPE_CHECKING:
    from weirant.ui.window import Window

_NUMBER = r"-?\d+(?:\.\d+)?(?:e[+-]\d+)?"
_LOOKED_AT = re.compile(rf"([\w ]+):({_NUMBER}):({_NUMBER}):({_NUMBER})(?=;|$)")  # a view, how much closer it is seen, and its middle


def keep_session(window: Window) -> None:
    """Keep where the window stands; nothing of a job that has no file."""
    path, sheet = window.document.path, window.sheet
    if window.document.is_empty or path is None or sheet is None:
        memory.remember("session", [])
        return
    flags = "".join(letter for letter, on in (("n", sheet.findings.is_narrow), ("f", sheet.card.is_folded)) if on)
    closer = ";".join(":".join((key, *(f"{number:.6g}" for number in canvas.looked_at))) for key, canvas in sheet.views.seen_closer().items())
    memory.remember("session", [str(path.absolute()), sheet.step.key, sheet.view, flags, closer])


def _is_open(path: Path) -> bool:
    """Whether another window has a job open."""
    mark = OpenMark()
    try:
        return mark.move_to(path) is not None
    finally:
        mark.let_go()


def restore_session(window: Window) -> bool:
    """Open the job that was left, at its step; whether there was one. A file that is gone, cannot be read or is open elsewhere is passed over in silence."""
    left = memory.remembered("session")
    if not isinstance(left, list) or len(left) != 5 or not all(isinstance(word, str) for word in left):
        return False
    name, step, view, flags, closer = left
    return Path(name) in memory.recent() and not _is_open(Path(name)) and window.files.open_quietly(Path(name), partial(_go_on, window, step, view, flags, closer))


def _go_on(window: Window, step: str, view: str, flags: str, closer: str) -> None:
    sheet = window.sheet
    if sheet is None:
        return
    for key, times, x, y in _LOOKED_AT.findall(closer):
        canvas = sheet.views.canvas(key) if key in WORDS else None
        if canvas is not None:
            canvas.look_at(float(times), float(x), float(y))
    sheet.turn_to(step, view)
    sheet.findings.narrow("n" in flags)
    sheet.card.fold("f" in flags)
