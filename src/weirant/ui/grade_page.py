"""Finding the best grade: what it is to be best at, what holds it where it is and what that costs, and what could give way."""

from __future__ import annotations

import dataclasses

import numpy as np
from PyQt6.QtCore import QEvent, QObject, QTimer, pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from weirant.design.daylight import heading_words, places_for
from weirant.design.layout import hold, release
from weirant.errors import InputError
from weirant.ground.daylight_places import DaylightPlace
from weirant.ground.grade.demands import Aim
from weirant.ground.inverts import invert_at
from weirant.ground.own_exit import with_outlet_at
from weirant.job.network import BEST, OVER, UNDER, CrossingChoice
from weirant.language import capital, tr
from weirant.outcome.commands import Instead, Offer
from weirant.outcome.outcome import Outcome
from weirant.ui.column import ColumnPage, emptied
from weirant.ui.document import Document
from weirant.ui.flow_layout import FlowLayout
from weirant.ui.plain_text import PlainLabel
from weirant.ui.still_box import StillBox
from weirant.ui.try_button import TryButton
from weirant.ui.views.run_choice import RunChoice
from weirant.ui.work import in_background
from weirant.units.display import LEVEL, STATION, VOLUME, shown

EVERY = ((tr("at bends and joints"), None), (tr("also every 20 ft / 6 m"), 6.096), (tr("also every 10 ft / 3 m"), 3.048))


class GradePage(ColumnPage):
    """A column of words: choices, one main button, then what was found. ``grown`` tells that it wants another height."""

    grown = pyqtSignal()

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.runs, self.aim, self.every = RunChoice(document), StillBox(), StillBox()
        self.aim.addItems([tr(a) for a in Aim])
        self.aim.setAccessibleName(tr("Best at"))
        for choice in (self.runs, self.aim, self.every):
            _narrow(choice)
        self.every.addItems([words for words, _ in EVERY])
        self.every.setAccessibleName(tr("The grade may change"))
        self.find_button, self.places = QPushButton(tr("Find the best grade")), QPushButton(tr("Find daylight"))
        self.find_button.setProperty("main", True)
        self.find_button.clicked.connect(self.find_best)
        self.places.clicked.connect(self.find_places)
        self.live = QCheckBox(tr("Keep it best while I drag"))
        self.live.setToolTip(tr("What is dragged is held there; the rest is found anew"))
        self.live.toggled.connect(document.set_live)
        choices = QWidget()
        cells = FlowLayout(choices, 8)
        cells.setContentsMargins(0, 0, 0, 0)
        for label, widget in ((tr("run in hand"), self.runs), (tr("best at"), self.aim), (tr("the grade may change"), self.every)):
            cells.addWidget(_labelled(label, widget))
        self.column.addWidget(choices)
        self.hold = QPushButton(tr("Hold here"))
        self.hold.setToolTip(tr("Hold the invert of the run in hand at the station where it lies now"))
        self.hold.clicked.connect(self.hold_here)
        buttons = QWidget()
        flow = FlowLayout(buttons, 8)
        flow.setContentsMargins(0, 0, 0, 0)
        for button in (self.find_button, self.places, self.hold):
            flow.addWidget(button)
        self.column.addWidget(buttons)
        self.column.addWidget(self.live)
        self.head = PlainLabel()
        self.head.setProperty("strong", True)
        self.head.setWordWrap(True)
        self.column.addWidget(self.head)
        self._found, self._offers = QVBoxLayout(), list[TryButton]()
        self._found.setSpacing(4)
        self.column.addLayout(self._found)
        self._held = QVBoxLayout()
        self.column.addLayout(self._held)
        self.column.addStretch(1)
        page = self.widget()
        assert page is not None
        page.installEventFilter(self)
        page.setObjectName("cardpage")
        document.changed.connect(self.refresh)
        document.run_changed.connect(self.refresh)
        self._shown_for: object = None
        self._warmer = QTimer(self)
        self._warmer.setSingleShot(True)
        self._warmer.timeout.connect(self._warm)  # no lambda: a timer may outlive what a lambda closes over
        self._warmer.start(1500)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:  # noqa: N802, D102
        if event is not None and event.type() == QEvent.Type.LayoutRequest and self.isVisible():
            self.grown.emit()
        return super().eventFilter(watched, event)

    def _warm(self) -> None:
        """Load the solver before it is wanted; it takes a second."""
        load_solver()

    # finding

    def find_best(self) -> None:
        """Find the best grade beside the interface and put it on trial."""
        outcome = self.document.settled
        aim, every = list(Aim)[self.aim.currentIndex()], EVERY[self.every.currentIndex()][1]
        self.find_button.setEnabled(False)
        self.head.setText(tr("Working it out …"))
        asked_for = self.document.job

        def work() -> object:
            from weirant.design.best_grade import plan_grade

            return plan_grade(outcome, aim, every=every)

        def done(plan: object) -> None:
            if self.document.job is asked_for:
                self._show_plan(plan)
            else:
                self._show_fault(tr("the job was changed meanwhile; find the grade again"))

        in_background(work, done, self._show_fault)

    def _show_plan(self, plan: object) -> None:
        from weirant.design.best_grade import GradePlan
        from weirant.words.grade import bindings_words, sump_words, way_out_offer

        assert isinstance(plan, GradePlan)
        outcome = self.document.settled
        self.find_button.setEnabled(True)
        self._clear_found()
        system = self.document.system
        if plan.job is None:
            self.head.setText(tr("No grade line satisfies every demand. Any one of these would make it possible:"))
            for way in plan.ways_out:
                self._offer(way_out_offer(outcome.job, way))
            if plan.sump is not None:
                self._say(sump_words(outcome.job, plan))
            return
        proof = "" if plan.best.is_proven else tr(" Best found in the time given; not proven.")
        self.head.setText(tr("Dig {dig}; as it lies {dig_before}.{proof}", dig=shown(plan.dig, VOLUME, system), dig_before=shown(plan.dig_before, VOLUME, system), proof=proof))
        for words in bindings_words(outcome.job, plan)[:7]:
            self._say(words)
        aim = list(Aim)[self.aim.currentIndex()]
        self.document.try_fix(Offer(tr("Best grade of every run: {aim}", aim=tr(aim)), Instead(plan.job)))

    def find_places(self) -> None:
        """List the places where the run in hand could come to daylight on the owner's land."""
        outcome, name = self.document.settled, self.document.run
        self._clear_found()
        self.head.setText(tr("Looking round …"))
        in_background(lambda: places_for(outcome, name), lambda found: self._show_places(outcome, name, found), self._show_fault)

    def _show_places(self, outcome: Outcome, name: str, found: list[DaylightPlace]) -> None:
        system = self.document.system
        self.head.setText(tr("It could come to daylight here, least dig first:") if found else
                          tr("Nowhere on this land at the least slope of solid pipe: think of a curb core, a main with leave, or a sump."))  # fmt: skip
        for place in found[:6]:
            words = (tr("{length} towards {bearing}, dig {dig}, invert {level}", length=shown(place.length, STATION, system),
                        bearing=heading_words(place.bearing), dig=shown(place.dig, VOLUME, system), level=shown(place.level, LEVEL, system)))  # fmt: skip
            try:
                self._offer(Offer(words, Instead(with_outlet_at(outcome.job, name, place))))
            except InputError as fault:
                self._say(f"{words}: {fault}")

    def _show_fault(self, text: str) -> None:
        self.find_button.setEnabled(True)
        self.head.setText(capital(text))

    def _clear_found(self) -> None:
        self._offers.clear()
        emptied(self._found)

    def _offer(self, fix: Offer) -> None:
        self._offers.append(TryButton(self.document, 44, fix))
        self._found.addWidget(self._offers[-1])

    def _say(self, words: str) -> None:
        label = PlainLabel(words)
        label.setWordWrap(True)
        label.setProperty("quiet", True)
        self._found.addWidget(label)

    # what is held and how crossings are passed

    def refresh(self) -> None:
        """Follow the document: held inverts and crossings of the run in hand."""
        if self.document.is_empty or not self.isVisible():
            return
        for offer in self._offers:
            offer.follow()
        job, found = self.document.shown_job, self.document.in_hand
        crossings = tuple((c.feature.id, c.feature.name, c.station) for c in found.crossings)
        basis = (found.id, found.run.held, crossings, job.crossings, job.units)
        if basis == self._shown_for:
            return
        self._shown_for = basis
        emptied(self._held)
        for held in found.run.held:
            self._held.addWidget(self._held_row(held.station, held.level))
        for thing, name, station in crossings:
            self._held.addWidget(self._crossing_row(found.id, thing, name, station))

    def showEvent(self, event: object) -> None:  # noqa: N802, D102
        self.refresh()

    def _held_row(self, station: float, level: float) -> QWidget:
        system = self.document.system
        row = QWidget()
        box = QHBoxLayout(row)
        box.setContentsMargins(0, 0, 0, 0)
        box.addWidget(PlainLabel(tr("held: {level} at {station}", level=shown(level, LEVEL, system), station=shown(station, STATION, system))), 1)
        free = QPushButton(tr("Let go"))
        free.clicked.connect(lambda: self._release(station))
        box.addWidget(free)
        return row

    def hold_here(self) -> None:
        """Hold the invert of the run in hand at its station, as it lies now."""
        document = self.document
        station = round(document.station, 4)
        level = float(invert_at(document.in_hand.run, np.array(station)))
        document.edit(lambda job: hold(job, document.run, station, level), tr("Invert held at {station}", station=shown(station, STATION, document.system)), may_come=True)

    def _release(self, station: float) -> None:
        self.document.edit(lambda job: release(job, self.document.run, station), tr("Held invert let go"), may_come=True)

    def _crossing_row(self, run: str, thing: str, name: str, station: float) -> QWidget:
        ways = (BEST, OVER, UNDER)
        choice = StillBox()
        choice.addItems([tr("whichever digs less"), tr("over it"), tr("under it")])
        choice.setAccessibleName(tr("How to pass {name}", name=name))
        _narrow(choice)
        now = next((c.way for c in self.document.job.crossings if (c.run, c.thing) == (run, thing)), BEST)
        choice.setCurrentIndex(ways.index(now))
        choice.activated.connect(lambda index: self._pass(run, thing, name, ways[index]))
        return _labelled(tr("{name} at {station}", name=name, station=shown(station, STATION, self.document.system)), choice)

    def _pass(self, run: str, thing: str, name: str, way: str) -> None:
        job = self.document.job
        kept = tuple(c for c in job.crossings if (c.run, c.thing) != (run, thing))
        crossings = kept if way == BEST else (*kept, CrossingChoice(run, thing, way))
        self.document.change(dataclasses.replace(job, crossings=crossings), tr("Pass {name}: {way}", name=name, way=way), may_come=True)


def _labelled(label: str, widget: QWidget) -> QWidget:
    """A list with its words above it, narrow enough for large letters."""
    cell, words = QWidget(), PlainLabel(label)
    words.setProperty("quiet", True)
    words.setBuddy(widget)
    box = QVBoxLayout(cell)
    box.setContentsMargins(0, 0, 0, 0)
    box.setSpacing(0)
    box.addWidget(words)
    box.addWidget(widget)
    return cell


def _narrow(choice: StillBox) -> None:
    """Let a list be narrower than its longest words."""
    choice.setSizeAdjustPolicy(StillBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
    choice.setMinimumContentsLength(14)


def load_solver() -> None:
    """Load what finds grades beside the interface, before it is wanted."""
    in_background(_load, lambda _: None, lambda _: None)


def _load() -> None:
    import weirant.design.best_grade  # noqa: F401
