"""The grid that everything on screen stands on: steps of 8 px between things, halves of it within one."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QKeySequence, QShortcut, QShowEvent
from PyQt6.QtWidgets import QDialog, QFormLayout, QGridLayout, QLayout, QStackedLayout, QWidget

from weirant.ui.key_order import go_on
from weirant.ui.theme import THEME

STEP, HALF = 8, 4
FRAME = QSize(8, 40)  # px that a desktop puts round a window


def off_grid(widget: QWidget) -> list[tuple[QLayout, tuple[int, ...]]]:
    """The layouts in a widget whose spaces are no halves of a step; not that of a border one pixel wide, and not those a toolkit's own parts have."""
    found = []
    for layout in widget.findChildren(QLayout):
        edge = layout.contentsMargins()
        spaces = (edge.left(), edge.top(), edge.right(), edge.bottom(), *_between(layout))
        if any(space % HALF for space in spaces if space > 1) and not isinstance(layout, QStackedLayout) and type(layout) is not QLayout:
            found.append((layout, spaces))
    return found


def _between(layout: QLayout) -> tuple[int, ...]:
    return (layout.horizontalSpacing(), layout.verticalSpacing()) if isinstance(layout, (QGridLayout, QFormLayout)) else (layout.spacing(),)


def room_for(window: QWidget) -> QSize:
    """The size that a window can have on its screen, with its frame."""
    screen = window.screen()
    return screen.availableGeometry().size() - FRAME if screen is not None else QSize(1272, 760)


def show_whole(window: QWidget) -> None:
    """Show a window; one that does not fit its screen fills it."""
    if window.size().boundedTo(room_for(window)) == window.size():
        window.show()
    else:
        window.showMaximized()


class Dialog(QDialog):
    """A dialog in the look of the window, which takes the grid's step wherever its layouts say nothing of their own; F1 in it opens the handbook."""

    told_in: tuple[str, str] = ("", "")  # page of the handbook, and heading on it, that tell of it; of none it is the page of the step in hand

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        THEME.dress(self)
        QShortcut(QKeySequence(QKeySequence.StandardKey.HelpContents), self).activated.connect(self.help)

    def help(self) -> None:
        """Open the handbook over the dialog, by the window that it belongs to."""
        window = self.parentWidget()
        while window is not None and not hasattr(window, "help_over"):
            window = window.parentWidget()
        if window is not None:
            window.help_over(self, *self.told_in)

    def focusNextPrevChild(self, next: bool) -> bool:  # noqa: A002, N802, D102
        return go_on((self,), back=not next) or super().focusNextPrevChild(next)

    def showEvent(self, event: QShowEvent | None) -> None:  # noqa: N802, D102
        for layout, spaces in off_grid(self):
            layout.setContentsMargins(*(round(space / STEP) * STEP for space in spaces[:4]))
            layout.setSpacing(STEP)
        self.resize(self.size().boundedTo(room_for(self)))  # or with large letters its buttons are below the edge of a small screen
        super().showEvent(event)
