"""The few actions over the plan: what to draw, what to take out, and how it is done, in words."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFrame, QPushButton, QVBoxLayout, QWidget

from weirant.design.snapping import on_run, typed_corner
from weirant.errors import InputError
from weirant.job.site import KINDS
from weirant.language import tr
from weirant.ui.document import Document
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.line import EntryLine
from weirant.ui.plain_text import PlainLabel, plain_tip
from weirant.ui.still_box import StillBox
from weirant.ui.theme import THEME
from weirant.ui.views.pencil import DRAIN, ONWARD, ROOF, SOLID
from weirant.ui.views.plan_view import PlanView
from weirant.units.display import System

LARGE = 1.4
HINTS = {
    "": tr("Press a run, a thing or a low spot to take it in hand; Delete takes it, or a corner held, out. Press a run twice to put a corner in."),
    DRAIN: tr("Click its low end (on a run to join it), then up the line; on a run twice to cross it with a joint, once at last to meet it. Or type the next corner. Enter ends."),
    SOLID: tr("Click its outlet (on a run to join it), then up the line. Enter ends, Esc leaves."),
    ROOF: tr("Click its outlet, then up to the downspouts. Enter ends, Esc leaves."),
    ONWARD: tr("Click on from its top end, onto a run to meet it. Or type the next corner. Enter ends, Esc leaves."),
}


class CornerEdit(EntryLine):
    """The next corner of what is drawn, typed: Enter puts it down, on an empty line ends the drawing, Escape goes back to the plan."""

    def __init__(self, plan: PlanView) -> None:
        super().__init__()
        self.plan = plan
        self.setAccessibleName(tr("Next corner: length at bearing, or place"))
        self.setPlaceholderText(tr("next: 40 ft at 90°"))
        self.setToolTip(tr('A length at a bearing, clockwise from north, such as "40 ft at 90" or "12 m at N 45 E"; or a place, such as "E 12 ft N 30 ft"'))
        self.setFixedWidth(round(11.5 * THEME.text))
        self.returnPressed.connect(self._put)

    def _put(self) -> None:
        plan, text = self.plan, self.text().strip()
        if not text:
            plan.finish()
            return
        corners = plan.pencil.corners
        try:
            at = typed_corner(text, corners[-1] if corners else None, "ft" if plan.document.system == System.IMPERIAL else "m")
        except InputError as fault:
            plan.document.refused.emit(str(fault))
            self.selectAll()
            return
        plan.pencil.add(on_run(plan.document.job, at))
        self.clear()
        if plan.pencil.is_single:
            plan.finish()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.clear()
            self.plan.setFocus()
            return
        super().keyPressEvent(event)


class PlanTools(QFrame):
    """A line of words to press, and the hint for what is being done."""

    corners_wanted = pyqtSignal()

    def __init__(self, plan: PlanView) -> None:
        super().__init__()
        self.plan = plan
        self.setObjectName("strip")
        self._buttons: dict[str, QPushButton] = {}
        row = FlowLayout(self, 4)
        row.setContentsMargins(8, 4, 8, 4)
        for mode, words in (("", tr("Take hold")), (DRAIN, tr("Draw drain")), (SOLID, tr("Solid pipe")), (ROOF, tr("Roof pipe"))):
            button = QPushButton(words)
            button.setCheckable(True)
            button.setProperty("tab", True)
            button.clicked.connect(lambda _, m=mode: self._choose(m))
            row.addWidget(button)
            self._buttons[mode] = button
        self.things = StillBox()
        self.things.setAccessibleName(tr("Draw a thing"))
        self.things.addItems([tr("Draw a thing …"), *map(tr, KINDS)])
        self.things.activated.connect(self._choose_thing)
        row.addWidget(self.things)
        self.corner = CornerEdit(plan)
        row.addWidget(self.corner)
        self.take_out = QPushButton(tr("Take out"))
        self.take_out.setToolTip(tr("Take out the thing or the run in hand"))
        self.take_out.clicked.connect(plan.take_out)
        row.addWidget(self.take_out)
        self.onward, self.corners = QPushButton(tr("Carry on")), QPushButton(tr("Corners …"))
        self.onward.setToolTip(tr("Draw the run in hand on from its top end"))
        self.onward.clicked.connect(plan.carry_on)
        self.corners.setToolTip(tr("Corners of the thing or the run in hand, typed by place or by length and bearing"))
        self.corners.clicked.connect(self.corners_wanted)
        row.addWidget(self.onward)
        row.addWidget(self.corners)
        plan.pencil.changed.connect(self.refresh)
        self.refresh()

    def _choose(self, mode: str) -> None:
        self.plan.pencil.take(mode)
        self.plan.setFocus()

    def _choose_thing(self, index: int) -> None:
        self._choose(KINDS[index - 1] if index > 0 else "")

    def refresh(self) -> None:
        """Follow the pencil."""
        mode = self.plan.pencil.mode
        for name, button in self._buttons.items():
            button.setChecked(name == mode)
        self.things.setCurrentIndex(KINDS.index(mode) + 1 if mode in KINDS else 0)
        self.corner.setVisible(bool(mode))
        for button in (self.take_out, self.onward, self.corners):
            button.setVisible(not mode)


class PlanPage(QWidget):
    """The plan under its tools; the tools are there where something is drawn."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.plan = PlanView(document)
        self.tools, self.hint = PlanTools(self.plan), PlainLabel()
        self.hint.setProperty("quiet", True)
        self.hint.setWordWrap(True)
        self.hint.setContentsMargins(8, 0, 8, 4)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        for part in (self.tools, self.hint):
            layout.addWidget(part)
        layout.addWidget(self.plan, 1)
        self.plan.pencil.changed.connect(self._show_hint)
        self._show_hint()

    def take_back(self) -> None:
        """Have the plan under its tools again, after it stood elsewhere."""
        if self.plan.parent() is not self:
            layout = self.layout()
            assert isinstance(layout, QVBoxLayout)
            layout.addWidget(self.plan, 1)
            self.plan.show()

    def show_tools(self, shown: bool, things: bool) -> None:
        """Show the tools, those for runs or those for things too."""
        self.tools.setVisible(shown)
        self.tools.things.setVisible(things)
        self.hint.setVisible(shown and THEME.scale < LARGE)  # with large letters the plan needs the room
        self.plan.setToolTip(plain_tip(self.hint.text()) if shown else "")
        if not shown and self.plan.pencil.mode:
            self.plan.pencil.take("")

    def _show_hint(self) -> None:
        mode = self.plan.pencil.mode
        self.hint.setText(HINTS.get(mode, tr("Click the corners of the {mode}. Enter ends, Esc leaves.",
                                             mode=tr(mode)) if mode not in ("tree", "outlet") else tr("Click where the {mode} is.", mode=tr(mode))))

