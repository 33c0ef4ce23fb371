"""Which look is in force: a chosen one, or that of the desktop."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication

from weirant.language import tr
from weirant.paper.palette import DAYLIGHT, DIM, THEMES
from weirant.ui import memory
from weirant.ui.theme import THEME

DESKTOP = "desktop"
LOOKS = {DESKTOP: tr("as the desktop is"), DAYLIGHT.name: tr("by daylight"), DIM.name: tr("dim")}
SCALES = (1.0, 1.1, 1.25, 1.5, 1.75, 2.0)


def chosen_look() -> str:
    """The look that is chosen; the desktop's until one is."""
    look = memory.remembered("look")
    name = str(look[0]) if isinstance(look, list) and len(look) == 2 else DESKTOP
    return name if name in LOOKS else DESKTOP


def chosen_scale() -> float:
    """The size of the letters that is chosen."""
    look = memory.remembered("look")
    try:
        scale = float(look[1]) if isinstance(look, list) and len(look) == 2 else 1.0
    except (TypeError, ValueError):
        scale = 1.0
    return min(max(scale, SCALES[0]), SCALES[-1])


def choose_look(name: str, scale: float) -> None:
    """Choose a look and a size of the letters, and put them on."""
    memory.remember("look", [name, str(scale)])
    put_on(name, scale)


def put_on(name: str, scale: float) -> None:
    """Put a look on the application."""
    THEME.apply(name if name in THEMES else _of_desktop(), scale)


def _of_desktop() -> str:
    hints = QGuiApplication.styleHints()
    return DIM.name if hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark else DAYLIGHT.name
