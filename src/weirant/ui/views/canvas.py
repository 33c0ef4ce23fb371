"""A drawing that can be taken hold of: by mouse, by arrow keys, by typing into a dimension."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from itertools import count

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import (
    QAction,
    QColor,
    QContextMenuEvent,
    QFocusEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPen,
    QWheelEvent,
)
from PyQt6.QtWidgets import QMenu

from weirant.drawing.primitives import Drawing, Handle, Point
from weirant.errors import InputError
from weirant.job import Job
from weirant.job.paths import label_at
from weirant.language import capital, tr
from weirant.outcome.outcome import Outcome
from weirant.paper.looks import SIZE
from weirant.ui.document import Document
from weirant.ui.entry import GONE, QuantityEdit
from weirant.ui.next_hand import NextHand
from weirant.ui.plain_text import plain_button
from weirant.ui.theme import THEME
from weirant.ui.turn import take_turn
from weirant.ui.views.drawn_view import GRIP, DrawnView
from weirant.ui.views.grips import GripAt, Grips

REACH = 16.0  # half size of the place where a handle is taken, px
HOW = tr("Tab chooses a handle, arrow keys move it, Enter types its value, Escape lets go.")
TABS = (Qt.Key.Key_Tab, Qt.Key.Key_Backtab)
_drags = count(1)


class Canvas(DrawnView):
    """A drawing that is worked on. Small, it is a companion: a press swaps it in."""

    def __init__(self, document: Document, draw: Callable[[Outcome, float], Drawing], name: str) -> None:
        super().__init__(document, draw, name)
        self._held: tuple[Handle, Job, str] | None = None
        self._was_moved = False
        self._to: Point | None = None  # where a drag has come to while its step before is worked out
        self._chosen = -1
        self._hovered = -1
        self._pan: QPointF | None = None
        self._entry: QuantityEdit | None = None
        self.swap_in: Callable[[], None] = lambda: None
        self.setAccessibleDescription(HOW)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        document.changed.connect(self._catch_up_with_hand)
        self._lets_go = NextHand(self, self._take_last_step)  # expected where the hand did, and its last step is to be taken
        self.grips = Grips(self, self._places)

    @property
    def is_held(self) -> bool:  # noqa: D102
        return self._held is not None

    def set_small(self, small: bool) -> None:  # noqa: D102
        if small != self.is_small:
            self._close_entry()
            if self._held is not None:
                self.document.end_drag()
            self._chosen, self._hovered, self._held, self._to = -1, -1, None, None
            self._lets_go.forget()
            self.setCursor(Qt.CursorShape.PointingHandCursor if small else Qt.CursorShape.ArrowCursor)
        super().set_small(small)

    def _turn(self) -> None:
        self._chosen, self._held = -1, None
        super()._turn()

    def _paint(self) -> None:
        super()._paint()
        self.grips.painted()

    def handle_position(self, key: str) -> QPointF:
        """Where a handle stands on the canvas."""
        return self.frame.to_paper(next(h.at for h in self.drawing.handles if h.key == key))

    def paint_handles(self, painter: QPainter) -> None:  # noqa: D102
        palette = THEME.palette
        for index, handle in enumerate(self.drawing.handles):
            at = self.frame.to_paper(handle.at)
            hot = index in (self._chosen if self.hasFocus() else -1, self._hovered)
            painter.setPen(QPen(QColor(palette.ink), 1.6))
            painter.setBrush(QColor(palette.ochre if hot else palette.field))
            half = GRIP + (1.5 if hot else 0)
            painter.drawRoundedRect(QRectF(at.x() - half, at.y() - half, 2 * half, 2 * half), 2, 2)
            tick = half + 4
            for way in ((0, 1), (0, -1)) if handle.way == "y" else ((1, 0), (-1, 0)) if handle.way == "x" else ():
                painter.drawLine(at + QPointF(*way) * half, at + QPointF(*way) * tick)
            if hot:
                words = self._handle_text(handle)
                room = max(4.0, self.width() - 4 - THEME.ink.width(words, SIZE, True))
                THEME.ink.lettering(painter, QPointF(min(at.x() + 14, room), at.y() - 10), words, "ink", SIZE, True)

    def _handle_text(self, handle: Handle) -> str:
        value = self.document.words(handle.path, self._of) if handle.path else handle.value
        label, _, how = handle.label.partition(";")
        return "".join((label, value and f": {value}", how and f";{how}"))

    # as a companion

    def event(self, event: QEvent | None) -> bool:  # noqa: D102
        """A companion has no handles, is not drawn on and not taken out of: what a hand does to it is taken here, for every view alike."""
        if self.is_small and event is not None:
            if isinstance(event, QMouseEvent | QWheelEvent):
                if event.type() == QEvent.Type.MouseButtonPress and isinstance(event, QMouseEvent) and event.button() == Qt.MouseButton.LeftButton:
                    self.swap_in()
                return True
            if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() not in TABS:
                if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
                    self.swap_in()
                    return True
                return False  # whoever it lies on may know the key
        return super().event(event)

    # mouse

    def _handle_near(self, at: QPointF) -> int:
        near = [((self.frame.to_paper(h.at) - at).manhattanLength(), i) for i, h in enumerate(self.drawing.handles)]
        distance, index = min(near, default=(REACH + 1, -1))
        return index if distance <= REACH else -1

    def mousePressEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802, D102
        if event is None or self.document.is_empty:
            return
        if event.button() not in (Qt.MouseButton.LeftButton, Qt.MouseButton.MiddleButton):
            return  # the right one opens the menu, which then takes its release
        self._close_entry()
        at = event.position()
        if event.button() == Qt.MouseButton.MiddleButton:
            self._pan = at
            return
        index = self._handle_near(at)
        if index >= 0:
            self._chosen = index
            handle = self.drawing.handles[index]
            self.document.put_back()
            self._held, self._was_moved, self._to = (handle, self.document.job, f"drag {next(_drags)}"), False, None
            self.document.dragging = True
        elif (typed := self._typed_at(at)) is not None:
            self.type_into(*typed)
        else:
            self.pressed(self.frame.to_world(at))
        self.update()

    def pressed(self, at: Point) -> None:
        """A press on no handle, in the world; a view may move the station."""

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802, D102
        if event is None or self.document.is_empty:
            return
        at = event.position()
        if self._pan is not None:
            self._lens.move(self._pan, at)
            self._pan, self._frame = at, None
            self.update()
        elif self._held is not None and not self._lets_go.is_expected:
            self._drag_to(self.frame.to_world(at))
        elif event.buttons() & Qt.MouseButton.LeftButton:
            self.pressed(self.frame.to_world(at))
        else:
            self._hover(at)

    def _hover(self, at: QPointF) -> None:
        index = self._handle_near(at)
        shape = Qt.CursorShape.ArrowCursor
        if index >= 0:
            shape = {"y": Qt.CursorShape.SizeVerCursor, "x": Qt.CursorShape.SizeHorCursor}.get(
                self.drawing.handles[index].way, Qt.CursorShape.SizeAllCursor
            )
        elif self._typed_at(at) is not None:
            shape = Qt.CursorShape.IBeamCursor
        self.setCursor(shape)
        if index != self._hovered:
            self._hovered = index
            self.update()

    def _drag_to(self, to: Point) -> None:
        """Of the many steps that come while one is worked out, the last is taken when that is shown."""
        assert self._held is not None
        handle, job, token = self._held
        self._was_moved = True
        self._to = to if self.document.is_due else None
        if self._to is None:
            self._move(handle, job, to, token)

    def _catch_up_with_hand(self) -> None:
        """Take the step that the hand has made meanwhile, once the one before is painted."""
        if self._to is not None:
            QTimer.singleShot(0, self._take_step)

    def _take_step(self) -> None:
        take_turn()
        if self._held is not None and self._to is not None and not self.document.is_due:
            self._drag_to(self._to)
            if self._lets_go.is_expected:
                self._end_drag()

    def _take_last_step(self) -> None:
        """Something else is about to be done."""
        self.document.catch_up()
        self._take_step()
        self.document.catch_up()
        self._lets_go.forget()

    def _move(self, handle: Handle, job: Job, to: Point, token: str) -> None:
        try:
            changed = handle.move(job, to)
            name = handle.label + (tr(" to {path}", path=self.document.words(handle.path, changed)) if handle.path else "")
        except InputError as fault:
            self.document.refused.emit(str(fault))
            return
        except GONE:  # what is drawn was of a job that is another by now
            self.document.refused.emit(f"{handle.label} {tr('is not there any more')}")
            return
        self.moved(handle, changed, name, token)

    def moved(self, handle: Handle, job: Job, name: str, token: str) -> None:
        """A handle was moved, and the job is so now."""
        self.document.change(job, name, token, may_come=True)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802, D102
        self._pan = None
        if self._held is not None:
            self._lets_go.expect()
            if self._to is None:
                self._end_drag()

    def _end_drag(self) -> None:
        """The hand has let go, and its last step is taken."""
        assert self._held is not None
        handle = self._held[0]
        self._held, self._frame, self._to = None, None, None
        self._lets_go.forget()
        self.document.end_drag()
        if not self._was_moved:
            self._press(handle)
        self.update()

    def _press(self, handle: Handle) -> bool:
        """A handle was pressed and not moved: what it does then, if anything."""
        if handle.press is None:
            return False
        self.document.edit(handle.press, handle.label.partition(";")[0], may_come=True)
        return True

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802, D102
        if event is not None and (index := self._handle_near(event.position())) >= 0:
            self._chosen = index
            if self.drawing.handles[index].press is None:  # its first press has done that
                self._type_chosen()

    def wheelEvent(self, event: QWheelEvent | None) -> None:  # noqa: N802, D102
        if event is None or self.document.is_empty:
            return
        self._lens.turn(event.angleDelta().y() / 120, event.position())
        self._frame = None
        self.update()

    # what fits here

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:  # noqa: N802, D102
        if event is None or self.document.is_empty:
            return
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        if self.is_small:
            self._add(menu, tr("Show on the stage"), self.swap_in)
        else:
            at = QPointF(event.pos())
            typed = self._typed_at(at)
            if typed is not None:
                self._add(menu, tr("Type it …"), partial(self.type_into, *typed))
            for words, act in self.offered_at(at):
                self._add(menu, words, act)
            self._add(menu, tr("The whole drawing  (0)"), self.show_all)
        self._add(menu, tr("Copy the picture"), self.copy_picture)
        menu.popup(event.globalPos())

    def _add(self, menu: QMenu, words: str, act: Callable[[], object]) -> None:
        action = QAction(plain_button(words), menu)
        action.triggered.connect(lambda _=False: act())
        menu.addAction(action)

    def offered_at(self, at: QPointF) -> list[tuple[str, Callable[[], object]]]:
        """What else can be done at a place; a view may say."""
        return []

    # typing into a dimension

    def _typed_at(self, at: QPointF) -> tuple[str, QRectF] | None:
        """The field whose label is at a place, or as near above or below as a finger would be, and the label's rectangle."""
        found = [(abs(at.y() - rect.center().y()), path, rect) for path, rect in self.typed_rects().items() if _high(rect).contains(at)]
        return min(found, key=lambda label: label[0])[1:] if found else None

    def type_into(self, path: str, where: QRectF) -> None:
        """Open a small entry over a dimension."""
        self._close_entry()
        try:
            self._entry = QuantityEdit(self.document, path)
        except GONE:  # drawn of a fix on trial, or of what was taken out since
            return
        self._entry.setParent(self)
        self._entry.setGeometry(
            int(min(where.x() - 10, self.width() - 130)), int(max(0.0, where.y() - 6)), 124, THEME.row
        )
        self._entry.finished.connect(self._close_entry)
        self._entry.show()
        self._entry.setFocus()

    def _close_entry(self) -> None:
        if self._entry is not None:
            entry, self._entry = self._entry, None
            entry.hide()
            entry.deleteLater()
            self.setFocus()

    def _type_chosen(self) -> None:
        if 0 <= self._chosen < len(self.drawing.handles) and self._press(self.drawing.handles[self._chosen]):
            return
        if 0 <= self._chosen < len(self.drawing.handles) and self.drawing.handles[self._chosen].path:
            handle = self.drawing.handles[self._chosen]
            at = self.frame.to_paper(handle.at)
            self.type_into(handle.path, QRectF(at.x(), at.y() - 30, 100, 24))

    # named one by one

    def _places(self) -> list[GripAt]:
        """Handles, and labels that can be typed into and belong to none."""
        if self.is_small or self.document.is_empty or self._held is not None:
            return []
        with self.document.as_shown():
            return self._grips_at()

    def _grips_at(self) -> list[GripAt]:
        handles = self.drawing.handles
        around = [self.frame.to_paper(handle.at) for handle in handles]
        own, job = {handle.path for handle in handles}, self._of or self.document.shown_job
        return [*(GripAt(self._handle_text(handle), QRectF(at.x() - REACH, at.y() - REACH, 2 * REACH, 2 * REACH), partial(self._take_hold, index))
                  for index, (handle, at) in enumerate(zip(handles, around, strict=True))),
                *(GripAt(f"{capital(label_at(job, path))}: {self.document.words(path, job)}", _high(rect), partial(self.type_into, path, rect))
                  for path, rect in self.typed_rects().items() if path not in own)]  # fmt: skip

    def _take_hold(self, index: int) -> None:
        """Choose a handle by name: it is moved by the arrow keys from then on, and typed where it can be."""
        self.setFocus()
        if index < len(self.drawing.handles):
            self._chosen = index
            self._tell_chosen()
            self._type_chosen()
            self.update()

    # keys

    def focusNextPrevChild(self, next: bool) -> bool:  # noqa: A002, N802, D102
        if self._entry is not None or self.document.is_empty or not self.isVisible():  # one that is just hidden is asked too, and takes hold of nothing
            return super().focusNextPrevChild(next)
        step = self._chosen + (1 if next else -1)
        if 0 <= step < len(self.drawing.handles):
            self._chosen = step
            self._tell_chosen()
            self.update()
            return True
        self._chosen = -1
        return super().focusNextPrevChild(next)

    def described(self) -> str:
        """What the drawing shows, in words; a view may say it."""
        return ""

    def _tell_chosen(self) -> None:
        """Say which handle is chosen, with its value, to whoever does not see it."""
        if 0 <= self._chosen < len(self.drawing.handles):
            self.setAccessibleDescription(f"{self._handle_text(self.drawing.handles[self._chosen])}. {HOW}")

    def focusInEvent(self, event: QFocusEvent | None) -> None:  # noqa: N802, D102
        if not self.document.is_empty:
            with self.document.as_shown():
                self.setAccessibleDescription(f"{self.described()} {HOW}".strip())
        self.update()

    def focusOutEvent(self, event: QFocusEvent | None) -> None:  # noqa: N802, D102
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is None or self.document.is_empty:
            return
        arrows = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape:
            self._let_go()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._type_chosen()
        elif key == Qt.Key.Key_Tab:  # with Ctrl: past all the handles
            self._chosen = -1
            super().focusNextPrevChild(True)
        elif key == Qt.Key.Key_0:
            self.show_all()
        elif key in arrows:
            self._nudge(
                arrows[key], event.modifiers() & Qt.KeyboardModifier.ShiftModifier == Qt.KeyboardModifier.ShiftModifier
            )
        else:
            super().keyPressEvent(event)

    def _let_go(self) -> None:
        if self._held is not None:
            moved = self.document.job != self._held[1]
            self._held = None
            self.document.end_drag()
            if moved:
                self.document.stack.undo()
        elif self.document.trial is not None:
            self.document.put_back()
        self._chosen, self._frame = -1, None
        self.update()

    def _nudge(self, way: tuple[int, int], far: bool) -> None:
        if not 0 <= self._chosen < len(self.drawing.handles):
            self.nudged(way, far)
            return
        handle = self.drawing.handles[self._chosen]
        step = handle.step * (5 if far else 1)
        self.document.put_back()
        to = (handle.at[0] + way[0] * step, handle.at[1] + way[1] * step)
        if (handle.way == "y" and way[0]) or (handle.way == "x" and way[1]):
            return
        self._move(handle, self.document.job, to, f"nudge {id(self)} {handle.key}")
        self._tell_chosen()

    def nudged(self, way: tuple[int, int], far: bool) -> None:
        """An arrow key with no handle chosen; a view may move the station."""


def _high(rect: QRectF) -> QRectF:
    """A rectangle at least as high as a finger wants it."""
    more = max(0.0, REACH - rect.height() / 2)
    return rect.adjusted(0, -more, 0, more)
