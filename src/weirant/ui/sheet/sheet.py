"""The sheet: rail of steps, the stage with its companions, findings."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPalette, QResizeEvent
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QVBoxLayout, QWidget

from weirant.language import tr
from weirant.ui.bit_by_bit import BitByBit
from weirant.ui.document import Document
from weirant.ui.findings.panel import FindingsPanel
from weirant.ui.key_order import go_on
from weirant.ui.next_hand import NextHand
from weirant.ui.plain_text import PlainLabel
from weirant.ui.sheet.companions import Companions
from weirant.ui.sheet.head import Head
from weirant.ui.sheet.stage import BELOW, LEFT, RIGHT, Stage
from weirant.ui.sheet.trial_bar import TrialBar
from weirant.ui.sheet.views import LOADED, Views
from weirant.ui.steps.card import Card
from weirant.ui.steps.catalogue import STEPS, Step
from weirant.ui.steps.rail import StepRail
from weirant.ui.storm.loading import is_loaded, when_loaded
from weirant.ui.theme import THEME
from weirant.ui.views.canvas import Canvas
from weirant.ui.views.places import ProfileView
from weirant.ui.views.plan_tools import PlanPage

RAIL, FINDINGS, MARKS = 11.0, 19.5, 3.4  # widths in text heights
GAP = 8
PLACES = ("profile", "plan", "section", "across")  # views that show the station
CARD = {"profile": LEFT, "readings": BELOW, "holes": BELOW, "storm": BELOW, "through": BELOW, "dig": BELOW}  # the sky of a profile is on the left; wide tables need their width


class Sheet(QWidget):
    """Lays the parts out and turns to a step; the parts talk to the document only."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setBackgroundRole(QPalette.ColorRole.Button)  # it wears no look itself: what is in it wears it part by part
        self.setAutoFillBackground(True)
        self.document = document
        self._views = Views(document, self)
        self.head, self.trial_bar, self.rail, self._card = Head(document), TrialBar(document), StepRail(document), Card(document)
        self._stage, self._companions, self.findings = Stage(self._card), Companions(), FindingsPanel(document)
        self._parts, self._hand = BitByBit(self), NextHand(self, self._put_now)
        self._waiting = PlainLabel(tr("Loading the simulator …"))
        self._waiting.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.rail.chosen.connect(self.show_step)
        self._companions.wanted.connect(self.show_view)
        self.findings.narrowed.connect(self.set_widths)
        self.findings.step_wanted.connect(self.rail.choose)
        self.findings.placed.connect(self.show_place)
        self._shown: tuple[str, str] = ("", "")  # step and view
        self._takes_keys = False
        self._lay_out()
        self.set_widths()

    def _lay_out(self) -> None:
        body, centre, whole = QHBoxLayout(), QVBoxLayout(), QVBoxLayout(self)
        whole.setSpacing(0)
        whole.setContentsMargins(0, 0, 0, 0)
        for layout in (body, centre):
            layout.setSpacing(GAP)
            layout.setContentsMargins(0, 0, 0, 0)
        body.setContentsMargins(0, 0, GAP, GAP)
        centre.addWidget(self.trial_bar)
        centre.addWidget(self._stage, 1)
        centre.addWidget(self._companions)
        body.addWidget(self.rail)
        body.addLayout(centre, 1)
        body.addWidget(self.findings)
        whole.addWidget(self.head)
        whole.addLayout(body, 1)

    def set_widths(self) -> None:
        """Fit the side columns to the size of the letters, and the findings to being wide or narrow."""
        self.rail.setFixedWidth(round(RAIL * THEME.text))
        wide = FINDINGS * THEME.text / THEME.scale**0.5  # large letters take more lines, not all of the width
        self.findings.setFixedWidth(round(MARKS * THEME.text if self.findings.is_narrow else wide))
        self._companions.set_height(round(0.24 * max(self.height(), 600)))

    @property
    def parts(self) -> tuple[QWidget, ...]:
        """What wears the look for itself, whatever view is on the stage; what holds it is painted by its palette."""
        return self.head, self.trial_bar, self.rail, self.findings, self._card, self._waiting, *self._companions.parts

    @property
    def all_parts(self) -> tuple[QWidget, ...]:
        """The same, with every view that was made by now."""
        return *self.parts, *self._views.parts

    # the views that tests, tools and the window ask for by name

    @property
    def views(self) -> Views:
        """The views, as they are when all of what is turned to is there."""
        self.catch_up()
        return self._views

    @property
    def plan_page(self) -> PlanPage:
        """The plan with its tools."""
        self.catch_up()
        return self._plan_page

    @property
    def _plan_page(self) -> PlanPage:
        page = self._views["plan"]
        assert isinstance(page, PlanPage)
        return page

    @property
    def profile(self) -> ProfileView:
        """The long profile."""
        view = self.views["profile"]
        assert isinstance(view, ProfileView)
        return view

    def part(self, name: str) -> QWidget:
        """Stage, companions or card as they are by now: what is painted over them waits for nothing."""
        return {"stage": self._stage, "companions": self._companions, "card": self._card}[name]

    def catch_up(self) -> None:
        """Show at once what is left of what was turned to."""
        self._parts.catch_up()

    @property
    def card(self) -> Card:
        """The card, about what is in hand by now."""
        self.catch_up()
        self._card.catch_up()
        return self._card

    @property
    def stage(self) -> Stage:
        """The stage, as it is when all of what is turned to is there."""
        self.catch_up()
        return self._stage

    @property
    def companions(self) -> Companions:
        """What stands beside the view that is turned to by now."""
        self.catch_up()
        return self._companions

    def go(self) -> None:
        """Go for good: every part in an event of its own, since some thousand widgets take a while."""
        self._stage.clear()
        for part in self.all_parts:
            part.deleteLater()
        self.deleteLater()

    # what is shown

    @property
    def step(self) -> Step:
        """The step that is turned to."""
        return next((b.step for b in self.rail.buttons if b.isChecked()), STEPS[0])

    @property
    def view(self) -> str:
        """The view on the stage."""
        return self._shown[1]

    def show_step(self, step: Step) -> None:
        """Turn to a step: the view it is about on the stage, and its card."""
        self.show_view(step.views[0])

    def turn_to(self, step: str, view: str) -> None:
        """Turn to a step and one of its views by name, as far as there are such."""
        found = next((s for s in STEPS if s.key == step), STEPS[0])
        self.rail.choose(found.key)
        if view in found.views and view != self.view:
            self.show_view(view)

    def show_again(self) -> None:
        """The same step and view, in another look."""
        self.show_view(self.view or self.step.views[0])

    def show_view(self, key: str) -> None:
        """Set a view of the step on the stage; its card and its neighbours come after it, each in an event of its own, and all are seen when they are there. So is a
        view that is turned to for the first time, or in another look, made, dressed and put there; the next key meets it. While the simulator is loaded, a word stands for the storm.
        """
        step, had_keys = self.step, QApplication.focusWidget()
        self._shown = (step.key, key)
        self._takes_keys = key in ("readings", "dig") or (had_keys is not None and any(part.isAncestorOf(had_keys) for part in (self._stage, self._companions)))
        beside = _beside(step, key)
        self._see(False)
        self._hand.expect()
        for other in filter(self._views.has, beside):
            if (canvas := self._views.canvas(other)) is not None:
                canvas.set_small(True)  # at once: what a hand does on it is over
        if self._views.is_ready(key):
            self._set_stage(key)
        new = (partial(self._make_for_stage, key), partial(self._views.undress, key), partial(self._views.dress, key), partial(self._set_stage, key)) if self._hand.is_expected else ()
        bits = (*new, partial(self._card.show_step, step),
                *(partial(self._views.make, other) for other in beside), partial(self._set_companions, step, key),
                *(partial(self._make_ready, other, Canvas.make_ready) for other in (key, *beside)), self._card.catch_up, partial(self._make_ready, key, Canvas.paint_ready),
                partial(self._see, True))  # fmt: skip
        self._parts.ask(partial(self._look_at_shown, bit) for bit in bits)

    def _look_at_shown(self, bit: Callable[[], None]) -> None:
        """A clock does this, which waits for nothing."""
        with self.document.as_shown():
            bit()

    def _make_for_stage(self, key: str) -> None:
        self._stage.adopt(self._views[key])

    def _make_ready(self, key: str, bit: Callable[[Canvas], None]) -> None:
        canvas = self._views.canvas(key)
        if canvas is not None:
            bit(canvas)

    def _put_now(self) -> None:
        """A hand cannot wait: what is turned to is on the stage."""
        while self._hand.is_expected and not self._parts.is_done:
            self._parts.do_next()
        self._hand.forget()

    def _see(self, on: bool) -> None:
        for part in (self._stage, self._companions):
            part.setUpdatesEnabled(on)

    def _set_companions(self, step: Step, key: str) -> None:
        beside = _beside(step, key)
        self._companions.put([(k, self._small(k)) for k in beside], [k for k in step.views if k not in (key, *beside)])
        self._plan_page.show_tools(key == "plan" and step.key in ("map", "line"), step.key == "map")

    def _set_stage(self, key: str) -> None:
        self._hand.forget()
        if key in LOADED and not is_loaded():
            when_loaded(self._storm_loaded)
            self._stage.put(self._waiting, None, BELOW)
            return
        view, canvas = self._views[key], self._views.canvas(key)
        if canvas is not None:
            canvas.set_small(False)
        if isinstance(view, PlanPage):
            view.take_back()
        self._stage.put(view, canvas, CARD.get(key, RIGHT))
        if self._takes_keys:
            self.focus_stage()  # else the keys would go to whatever comes next, which may be a choice that an arrow changes

    def _small(self, key: str) -> Canvas | None:
        """The drawing of a companion; a page is told by its name."""
        canvas = self._views.canvas(key)
        if canvas is not None and canvas is self._plan_page.plan and self._plan_page.plan.pencil.mode:
            self._plan_page.plan.pencil.take("")  # what was being drawn is left with the stage
        return canvas

    def focusNextPrevChild(self, next: bool) -> bool:  # noqa: A002, N802, D102
        rooms = self.head, self.trial_bar, self.rail, self._stage.view, self._card, self._companions, self.findings
        return go_on((room for room in rooms if room is not None), back=not next) or super().focusNextPrevChild(next)

    def focus_stage(self) -> None:
        """Give the keyboard to what is on the stage, or is about to be."""
        key, self._takes_keys = self.view, True
        if key in LOADED or self._hand.is_expected:
            return
        place: QWidget = self._views.canvas(key) or getattr(self._views[key], "table", None) or self._views[key]
        place.setFocus()

    def show_place(self) -> None:
        """Set a view on the stage that shows where the station is, if the one that is there does not."""
        shows = [view for view in self.step.views if view in PLACES]
        if self.view not in PLACES and shows:
            self.show_view(shows[0])

    def next_view(self) -> None:
        """Set the next view of the step on the stage."""
        views = self.step.views
        self.show_view(views[(views.index(self.view) + 1) % len(views) if self.view in views else 0])

    def _storm_loaded(self) -> None:
        if self.view in LOADED:
            self.show_view(self.view)

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802, D102
        super().resizeEvent(event)
        self.set_widths()


def _beside(step: Step, key: str) -> list[str]:
    """The views of a step that stand beside one of them."""
    return [other for other in step.views if other != key][:2]
