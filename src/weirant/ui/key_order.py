"""The order in which Tab goes from one thing to the next: as it is laid out. Qt's own is that in which things were made, and what is made anew comes last."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QGridLayout, QLayout, QLayoutItem, QSplitter, QWidget


def go_on(rooms: Iterable[QWidget], *, back: bool = False) -> bool:
    """Give the keys to what comes after what has them (before it where ``back``), room by room and from the last to the first; False where nothing in the rooms
    has them.
    """
    stops, here = [stop for room in rooms for stop in stops_in(room)], QApplication.focusWidget()
    while here is not None and here not in stops and not here.isWindow():
        here = here.parentWidget()  # what a mouse alone gives the keys to belongs to what it lies in
    if here not in stops:
        return False
    stops[(stops.index(here) + (-1 if back else 1)) % len(stops)].setFocus(Qt.FocusReason.BacktabFocusReason if back else Qt.FocusReason.TabFocusReason)
    return True


def stops_in(room: QWidget) -> Iterator[QWidget]:
    """What Tab stops at in a room that is in sight, the room itself first; and what has the keys now, however it got them."""
    if not room.isVisible():
        return
    if room is QApplication.focusWidget() or (room.isEnabled() and room.focusPolicy() & Qt.FocusPolicy.TabFocus and room.focusProxy() is None):
        yield room
    for part in _parts(room):
        yield from stops_in(part)


def _parts(room: QWidget) -> Iterator[QWidget]:
    """The widgets right in another: those of its layout in their order, and then those that lie on it."""
    layout = room.layout()
    laid = [] if layout is None else list(_laid(layout))
    if isinstance(room, QSplitter):
        laid = [part for number in range(room.count()) if (part := room.widget(number)) is not None]
    yield from laid
    known = set(laid)
    for child in room.children():
        if isinstance(child, QWidget) and child not in known and not child.isWindow():
            yield child


def _laid(layout: QLayout) -> Iterator[QWidget]:
    numbers: Iterable[int] = range(layout.count())
    if isinstance(layout, QGridLayout):
        numbers = sorted(numbers, key=lambda number: layout.getItemPosition(number)[:2])
    for number in numbers:
        item: QLayoutItem | None = layout.itemAt(number)
        if item is None:
            continue
        if (part := item.widget()) is not None:
            yield part
        elif (inner := item.layout()) is not None:
            yield from _laid(inner)
