"""The tasks of a plan on the screen, each a name and a bar on its days. Rows are filled anew when the plan changes: to make one costs far more."""

from __future__ import annotations

import math
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QGridLayout, QWidget

from weirant.language import tr
from weirant.outcome.plan import COMES, WORKS, PlannedTask, WorkPlan
from weirant.ui.bit_by_bit import Unseen
from weirant.ui.name_link import NameLink
from weirant.ui.plain_text import plain_tip
from weirant.ui.theme import THEME
from weirant.words.plan import day_words, hours_words

LONGEST = 22  # heights of the letters that a name is shown long at most
SOME = 8  # rows that are filled in one turn


class TaskRows(QWidget):
    """The days over it, then a row for each task; ``pressed`` tells which by its name."""

    pressed = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(8)
        self._grid.setVerticalSpacing(0)
        self._grid.setColumnStretch(1, 1)
        self._heads = DayHeads()
        self._grid.addWidget(self._heads, 0, 1)
        self._heads.hide()
        self._rows: dict[str, _Row] = {}
        self._bits = Unseen(self)

    def show_plan(self, plan: WorkPlan | None) -> None:
        """Fill the rows anew, a few in each turn; they are seen when all are there. None: there is no plan."""
        if plan is None:
            self._bits.ask((partial(self._take_out, None),))
            self._bits.catch_up()
            return
        tasks, ends = list(enumerate(plan.tasks, 1)), max(slot.ends for slot in plan.slots.values()) or 1.0
        some = (partial(self._fill, plan, ends, tasks[at : at + SOME]) for at in range(0, len(tasks), SOME))
        self._bits.ask((partial(self._take_out, plan), *some))

    def _take_out(self, plan: WorkPlan | None) -> None:
        """What is not planned any more."""
        for gone in self._rows.keys() - {task.id for task in (plan.tasks if plan is not None else ())}:
            self._rows.pop(gone).go()
        self._heads.setVisible(plan is not None)
        if plan is not None:
            self._heads.plan = plan

    def _fill(self, plan: WorkPlan, ends: float, tasks: list[tuple[int, PlannedTask]]) -> None:
        for at, task in tasks:
            row = self._rows.get(task.id)
            if row is None:
                row = self._rows[task.id] = _Row()
                row.name.clicked.connect(partial(self._press, row))
            row.fill(task, plan, ends)
            row.place(self._grid, at)

    def _press(self, row: _Row, _: bool = False) -> None:
        if row.bar.task is not None:
            self.pressed.emit(row.bar.task)


class _Row:
    def __init__(self) -> None:
        self.name, self.bar, self._at = NameLink("", LONGEST), TaskBar(), 0

    def fill(self, task: PlannedTask, plan: WorkPlan, ends: float) -> None:
        self.name.rename(task.name)
        self.name.setEnabled(bool(task.run))
        self.bar.show_task(task, plan, ends)

    def place(self, grid: QGridLayout, at: int) -> None:
        if at != self._at:
            self._at = at
            for part in (self.name, self.bar):
                grid.removeWidget(part)
            grid.addWidget(self.name, at, 0, Qt.AlignmentFlag.AlignLeft)
            grid.addWidget(self.bar, at, 1)

    def go(self) -> None:
        for part in (self.name, self.bar):
            part.hide()
            part.deleteLater()


class TaskBar(QWidget):
    """A task as a bar on the days of the plan: filled where somebody works, hatched where something is waited for, a mark where something comes."""

    def __init__(self) -> None:
        super().__init__()
        self.task: PlannedTask | None = None
        self.plan: WorkPlan | None = None
        self._ends = 1.0

    def show_task(self, task: PlannedTask, plan: WorkPlan, ends: float) -> None:
        """Show a task of a plan that ends so many working hours from the first morning."""
        self.task, self.plan, self._ends = task, plan, ends
        first, last = plan.dates[task.id]
        self.setAccessibleName(tr("{task}: {first} to {last}", task=task.name, first=day_words(first), last=day_words(last)))
        self.setToolTip(plain_tip(f"{task.name}\n{day_words(first)} – {day_words(last)}" + (f"\n{hours_words(task)}" if task.hours else "")))
        self.update()

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(round(12 * THEME.text), round(1.3 * THEME.text))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        plan, task = self.plan, self.task
        if plan is None or task is None:
            return
        painter, slot = QPainter(self), plan.slots[task.id]
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        high, across = self.height(), (self.width() - 8) / self._ends
        painter.setPen(QPen(QColor(THEME.palette.rule), 1))
        day = 0.0
        while day <= self._ends + 1e-9:  # a line for every morning
            painter.drawLine(QPointF(4 + day * across, 0), QPointF(4 + day * across, high))
            day += plan.day
        left, wide = 4 + slot.begins * across, max((slot.ends - slot.begins) * across, 3.0)
        painter.setPen(QPen(QColor(THEME.palette.ink), 2.0 if task.id in plan.critical else 1.0))
        if task.kind == COMES:
            painter.setBrush(QColor(THEME.palette.ink))
            painter.drawPolygon(QPolygonF([QPointF(left - 4, 0.25 * high), QPointF(left + 4, 0.25 * high), QPointF(left, 0.8 * high)]))
        else:
            painter.setBrush(QColor(THEME.palette.water) if task.kind == WORKS else Qt.BrushStyle.BDiagPattern)
            painter.drawRect(QRectF(left, 0.2 * high, wide, 0.6 * high))
        painter.end()


class DayHeads(QWidget):
    """The days of the month over the bars, as many as there is room for."""

    def __init__(self) -> None:
        super().__init__()
        self.plan: WorkPlan | None = None

    def sizeHint(self) -> QSize:  # noqa: N802, D102
        return QSize(round(12 * THEME.text), round(1.4 * THEME.text))

    def paintEvent(self, event: QPaintEvent | None) -> None:  # noqa: N802, D102
        plan = self.plan
        if plan is None:
            return
        painter, end = QPainter(self), max(slot.ends for slot in plan.slots.values()) or 1.0
        across, room = (self.width() - 8) / end * plan.day, self.fontMetrics().horizontalAdvance("00") + 6
        every = max(math.ceil(room / across), 1)
        painter.setPen(QPen(QColor(THEME.palette.ink), 1))
        for number in range(0, math.ceil(end / plan.day), every):
            left, words = 5 + number * across, str(plan.working_days[min(number, len(plan.working_days) - 1)].day)
            if left + self.fontMetrics().horizontalAdvance(words) <= self.width():  # the last is whole, or not there
                painter.drawText(QPointF(left, self.height() - 4), words)
        painter.end()
