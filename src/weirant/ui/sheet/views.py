"""The views of a job by name: each a drawing or a page that can take the stage, made when it is first turned to."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QWidget

from weirant.language import tr
from weirant.ui.dig_page import DigPage
from weirant.ui.document import Document
from weirant.ui.formulae_page import FormulaePage
from weirant.ui.holes.page import HolesPage
from weirant.ui.old_drain_page import OldDrainPage
from weirant.ui.order_page import OrderPage
from weirant.ui.plan_page import PlanOfWorkPage
from weirant.ui.sheet.readings_page import ReadingsPage
from weirant.ui.storm.loading import is_loaded
from weirant.ui.theme import THEME
from weirant.ui.views.canvas import Canvas
from weirant.ui.views.places import AcrossView, GrainView, ProfileView, SectionView, SoilClassView
from weirant.ui.views.plan_tools import PlanPage
from weirant.ui.water_page import WaterPage

WORDS = {"plan": tr("Plan"), "profile": tr("Long profile"), "section": tr("Trench section"), "across": tr("Across the slope"), "grains": tr("Grain sizes"),
         "soil class": tr("Soil class"),
         "water": tr("Which water is it?"), "old drain": tr("The old drain"),
         "formulae": tr("What formulae say"), "readings": tr("Level book"), "holes": tr("Test holes"), "storm": tr("The storm"),
         "through": tr("Storm in the pipes"),
         "order": tr("What it takes"), "plan of work": tr("The plan of the work"),
         "dig": tr("Cut sheet")}  # fmt: skip


def _storm(document: Document) -> QWidget:
    from weirant.ui.storm.page import StormPage  # wants the simulator loaded

    return StormPage(document)


def _through(document: Document) -> QWidget:
    from weirant.ui.storm.through_page import ThroughPage  # wants it too

    return ThroughPage(document)


LOADED = ("storm", "through")  # pages of the simulator, which is loaded when they are wanted
MADE: dict[str, Callable[[Document], QWidget]] = {
    "plan": PlanPage, "profile": ProfileView, "section": SectionView, "across": AcrossView, "grains": GrainView, "soil class": SoilClassView, "water": WaterPage, "old drain": OldDrainPage,
    "formulae": FormulaePage, "readings": ReadingsPage, "holes": HolesPage, "storm": _storm, "through": _through, "order": OrderPage,
    "plan of work": PlanOfWorkPage, "dig": DigPage,
}  # fmt: skip


class Views(QObject):
    """Every view there is by now; ``made`` tells of one just made."""

    made = pyqtSignal(QWidget)

    def __init__(self, document: Document, parent: QObject) -> None:
        super().__init__(parent)
        self.document = document
        self._views: dict[str, QWidget] = {}

    def __getitem__(self, key: str) -> QWidget:
        if key not in self._views:
            self._views[key] = MADE[key](self.document)
            self.made.emit(self._views[key])
        return self._views[key]

    def has(self, key: str) -> bool:
        """Whether a view was made by now, or cannot be yet, since the simulator is not loaded."""
        return key in self._views or (key in LOADED and not is_loaded())

    def make(self, key: str) -> None:
        """Have a view made that stands beside another; those of the simulator are told by their name there."""
        if key not in LOADED:
            _ = self[key]

    def is_ready(self, key: str) -> bool:
        """Whether a view can be set on the stage at once: it was made by now and wears no look of before, or is told by a word."""
        return not any(map(THEME.is_outworn, self._of(key))) if key in self._views else self.has(key)

    def undress(self, key: str) -> None:
        """Take the former look off a view, which takes as long as to put this one on."""
        for part in self._of(key):
            THEME.undress(part)

    def dress(self, key: str) -> None:
        """Put the look on a view."""
        for part in self._of(key):
            THEME.dress(part)

    def _of(self, key: str) -> list[QWidget]:
        return [part for part in (self[key], self.canvas(key)) if part is not None]

    @property
    def parts(self) -> tuple[QWidget, ...]:
        """The pages and drawings made by now."""
        return (*self._views.values(), *(view.plan for view in self._views.values() if isinstance(view, PlanPage)))

    def seen_closer(self) -> dict[str, Canvas]:
        """The drawings made by now that are not seen whole, by the key of their view."""
        drawn = {key: canvas for key in self._views if (canvas := self.canvas(key)) is not None}
        return {key: canvas for key, canvas in drawn.items() if canvas.looked_at[0] > 1}

    def canvas(self, key: str) -> Canvas | None:
        """The drawing of a view that is one; None for a page."""
        view = self[key] if key not in LOADED else None
        return view.plan if isinstance(view, PlanPage) else view if isinstance(view, Canvas) else None
