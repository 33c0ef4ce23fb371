"""The sheet: rail of steps, plan, cross-section, entry strip, long profile, findings."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QSplitter, QStackedWidget, QVBoxLayout, QWidget

from weirant.ui.dig_page import DigPage
from weirant.ui.document import Document
from weirant.ui.findings.panel import FindingsPanel
from weirant.ui.holes.page import HolesPage
from weirant.ui.order_page import OrderPage
from weirant.ui.plain_text import PlainLabel
from weirant.ui.sheet.cuts import Cuts
from weirant.ui.sheet.head import Head
from weirant.ui.sheet.readings_page import ReadingsPage
from weirant.ui.sheet.trial_bar import TrialBar
from weirant.ui.steps.catalogue import STEPS, Step
from weirant.ui.steps.rail import StepRail
from weirant.ui.steps.strip import Strip
from weirant.ui.storm.loading import is_loaded, when_loaded
from weirant.ui.theme import THEME
from weirant.ui.views.places import ProfileView
from weirant.ui.views.plan_tools import PlanPage

if TYPE_CHECKING:
    from weirant.ui.storm.page import StormPage

RAIL, FINDINGS = 12.2, 21.5  # widths in text heights


class Sheet(QWidget):
    """Lays the parts out and turns to a step; the parts talk to the document only. ``made`` tells of a page just made."""

    made = pyqtSignal(QWidget)
    storm_wanted = pyqtSignal()
    rainfall_wanted = pyqtSignal()
    stretches_wanted = pyqtSignal()
    sources_wanted = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("sheet")
        self.document = document
        self.head, self.trial_bar, self.rail, self.strip = (
            Head(document),
            TrialBar(document),
            StepRail(document),
            Strip(document),
        )
        self.plan_page, self.cuts, self.profile = PlanPage(document), Cuts(document), ProfileView(document)
        self.plan = self.plan_page.plan
        self.findings = FindingsPanel(document)
        self.rail.chosen.connect(self.show_step)
        self.strip.laid_anew.connect(self._fit_strip)
        self.strip.stretches_wanted.connect(self.stretches_wanted)
        self.strip.sources_wanted.connect(self.sources_wanted)
        self._upper, self._middle = QStackedWidget(), QSplitter(Qt.Orientation.Vertical)
        drawings = QSplitter(Qt.Orientation.Horizontal)
        drawings.addWidget(self.plan_page)
        drawings.addWidget(self.cuts)
        drawings.setSizes([440, 400])
        self._drawings = drawings
        self._waiting = PlainLabel("Loading the simulator …")
        self._waiting.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._upper.addWidget(drawings)
        self._upper.addWidget(self._waiting)
        for part in (self._upper, self.strip, self.profile):
            self._middle.addWidget(part)
        self._middle.setChildrenCollapsible(False)
        self._lay_out()
        self.set_widths()
        self.setTabOrder(self.rail.buttons[-1], self.plan)

    # pages that take over the upper half, made when they are first turned to: the window opens a third sooner

    @cached_property
    def readings(self) -> ReadingsPage:
        """The level book."""
        page = ReadingsPage(self.document)
        self._join(page)
        return page

    @cached_property
    def order(self) -> OrderPage:
        """What the job takes."""
        page = OrderPage(self.document)
        self._join(page)
        page.refresh()
        return page

    @cached_property
    def dig(self) -> DigPage:
        """The cut sheet while digging."""
        page = DigPage(self.document)
        self._join(page)
        return page

    @cached_property
    def holes(self) -> HolesPage:
        """The test holes."""
        page = HolesPage(self.document)
        self._join(page)
        return page

    @cached_property
    def storm(self) -> StormPage:
        """A storm on the section; it wants the simulator loaded."""
        from weirant.ui.storm.page import StormPage

        page = StormPage(self.document)
        page.storm_wanted.connect(self.storm_wanted)
        page.rainfall_wanted.connect(self.rainfall_wanted)
        self._join(page)
        return page

    def _join(self, page: QWidget) -> None:
        self._upper.addWidget(page)
        self.made.emit(page)

    def _lay_out(self) -> None:
        body, centre, whole = QHBoxLayout(), QVBoxLayout(), QVBoxLayout(self)
        for layout in (body, centre, whole):
            layout.setSpacing(0)
            layout.setContentsMargins(0, 0, 0, 0)
        centre.addWidget(self.trial_bar)
        centre.addWidget(self._middle, 1)
        body.addWidget(self.rail)
        body.addLayout(centre, 1)
        body.addWidget(self.findings)
        whole.addWidget(self.head)
        whole.addLayout(body, 1)

    def set_widths(self) -> None:
        """Fit the side columns to the size of the letters."""
        self.rail.setFixedWidth(round(RAIL * THEME.text))
        self.findings.setFixedWidth(round(FINDINGS * THEME.text / THEME.scale**0.5))  # large letters take more lines, not all of the width

    @property
    def step(self) -> Step:
        """The step that is turned to."""
        return next((b.step for b in self.rail.buttons if b.isChecked()), STEPS[0])

    def show_step(self, step: Step) -> None:
        """Turn to a step: its entries, and the drawing it is about."""
        self.strip.show_step(step)
        pages: dict[str, Callable[[], QWidget]] = {"levels": lambda: self.readings, "soil": lambda: self.holes, "storm": self._storm_or_wait,
                                                   "order": lambda: self.order, "dig": lambda: self.dig}  # fmt: skip
        self._upper.setCurrentWidget(pages.get(step.key, lambda: self._drawings)())
        self.cuts.show_look(step.view)
        self.cuts.setVisible(step.key != "map")
        self.plan_page.show_tools(step.key in ("map", "line"), step.key == "map")
        self._fit_strip()
        if step.key == "levels":
            self.readings.table.setFocus()
        elif step.key == "dig":
            self.dig.table.setFocus()

    def _storm_or_wait(self) -> QWidget:
        """The page of the storm; while the simulator is loaded, a word in its place."""
        if is_loaded():
            return self.storm
        when_loaded(self._storm_loaded)
        return self._waiting

    def _storm_loaded(self) -> None:
        if self.step.key == "storm":
            self.show_step(self.step)

    def _fit_strip(self) -> None:
        """Give the entry strip the height it needs, at most a third of the sheet; the drawings share the rest."""
        total = sum(self._middle.sizes())
        strip = min(self.strip.needed_height(max(self._middle.width(), 400)), round(0.34 * total / THEME.scale))
        upper = round((total - strip) * ({"map": 0.72, "storm": 0.79, "soil": 0.72}.get(self.step.key, min(0.6 * THEME.scale, 0.7))))
        self._middle.setSizes([upper, strip, total - strip - upper])

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802, D102
        super().resizeEvent(event)
        QTimer.singleShot(0, self._fit_strip)
