"""Views that show the run in hand at its station: trench section, across the slope, grain sizes, long profile."""

from __future__ import annotations

import dataclasses

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QPushButton

from weirant.design.layout import hold
from weirant.drawing.across import across_drawing
from weirant.drawing.grain_sizes import grain_size_drawing
from weirant.drawing.primitives import Drawing, Handle, Point
from weirant.drawing.profile import profile_drawing
from weirant.drawing.section import section_drawing
from weirant.drawing.soil_classes import soil_class_drawing
from weirant.drawing.way import Reach, at_place, place_on, way_drawing, way_of
from weirant.errors import WeirantError
from weirant.ground.inverts import invert_at
from weirant.ground.network import laid_run
from weirant.job import Job
from weirant.job.geometry import has_run
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import Site
from weirant.ui.document import Document
from weirant.ui.theme import THEME
from weirant.ui.views.canvas import Canvas
from weirant.ui.views.live_table import LiveTable
from weirant.ui.views.stations import step_station
from weirant.units.display import STATION, shown

INVERTS = ("outlet", "top-end")  # handles that stand for one invert


class SectionView(Canvas):
    """The trench section at the station."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, lambda outcome, station: section_drawing(outcome, station, document.run), "Trench section")

    def nudged(self, way: tuple[int, int], far: bool) -> None:  # noqa: D102
        step_station(self.document, way[0] or way[1], far)


class AcrossView(Canvas):
    """Across the slope at the station: the formula's table with its band, and the simulated one as soon as it is worked out."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, lambda outcome, station: across_drawing(outcome, station, self.live.line_of(outcome, station), document.run), "Across the slope")
        self.live = LiveTable(document, self)
        self.live.changed.connect(self.refresh)
        document.changed.connect(self._ask)
        document.found.connect(self._ask)
        document.station_changed.connect(self._ask)

    def _ask(self) -> None:
        if self.isVisible():
            self.live.ask()

    def showEvent(self, event: object) -> None:  # noqa: N802, D102
        self.live.ask()

    def nudged(self, way: tuple[int, int], far: bool) -> None:  # noqa: D102
        step_station(self.document, way[0] or way[1], far)


class GrainView(Canvas):
    """Grain sizes of soil and stone with the openings between them."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, lambda outcome, station: grain_size_drawing(outcome, station, document.run), "Grain sizes")


class SoilClassView(Canvas):
    """The soil on the texture triangle and on the plasticity chart."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, lambda outcome, station: soil_class_drawing(outcome, station, document.run), "Soil class")


def _with_held(outcome: Outcome, job: Job) -> Site:
    """The site with the held inverts of a job; ground and layout are as they were."""
    site = outcome.site
    held = {run.id: run for run in job.runs}
    runs = tuple(dataclasses.replace(r, run=dataclasses.replace(r.run, run=held[r.id])) for r in site.runs)
    return dataclasses.replace(site, runs=runs)


class ProfileView(Canvas):
    """The long profile; a press on it moves the station."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, self._profile, "Long profile")
        self._top = ""  # the run from whose top the whole way is shown; empty: the run in hand by itself
        self.way = QPushButton("the whole way", self)
        self.way.setCheckable(True)
        self.way.setProperty("link", True)
        self.way.setToolTip("From the top of the run in hand down through the runs that take its water, to where it leaves")
        self.way.toggled.connect(self.show_way)
        document.station_changed.connect(self._station_moved)
        document.found.connect(self.refresh)  # its mark at its place
        document.changed.connect(self._place_button)
        document.run_changed.connect(self._place_button)
        self._place_button()

    def _profile(self, outcome: Outcome, _: float) -> Drawing:
        return way_drawing(outcome, self._top, self.document.run) if self.reaches else profile_drawing(outcome, self.document.run)

    @property
    def reaches(self) -> tuple[Reach, ...]:
        """The runs on the way that is shown; none where the run in hand is shown by itself, or the way does not come by it."""
        if not self._top or self.document.is_empty or not has_run(self.document.outcome.job, self._top):
            return ()
        found = way_of(self.document.outcome, self._top)
        return found if len(found) > 1 and any(reach.found.id == self.document.run for reach in found) else ()

    def show_way(self, shown_: bool) -> None:
        """Show the whole way from the top of the run in hand, or that run by itself."""
        self._top = self.document.run if shown_ else ""
        self._drawing = self._frame = None
        self._place_button()
        self.update()

    def _place_button(self) -> None:
        """It stands beside the title, where the run in hand leads into another or a way is shown."""
        document = self.document
        if document.is_empty:
            return
        if self._top and not self.reaches:  # a run beside the way was taken in hand: the way from its own top
            self._top = document.run
            self._drawing = self._frame = None
        leads_on = document.in_hand.grade is not None and bool(document.outcome.site.network.drains_to(document.in_hand.run))
        self.way.setVisible(leads_on or bool(self.reaches))
        self.way.setText("this run only" if self.reaches else "the whole way")
        self.way.adjustSize()
        self.way.move(round((15 if self.reaches else 8) * THEME.text), 0)

    @property
    def along(self) -> float | None:
        """Where the station stands on the sheet, m; None where it is above the place at which the way comes into the run in hand."""
        return place_on(self.reaches, self.document.run, self.document.station) if self.reaches else self.document.station

    def moved(self, handle: Handle, job: Job, name: str, token: str) -> None:
        """With the grade kept best, an invert that is dragged is held there and the rest is found anew."""
        document = self.document
        if self.reaches or not document.live or (handle.key not in INVERTS and not handle.key.startswith("break-")):
            super().moved(handle, job, name, token)
            return
        from weirant.design.best_grade import plan_grade

        station = handle.at[0]
        held = hold(job, document.run, station, float(invert_at(laid_run(job, document.run), np.array(station))))
        outcome = dataclasses.replace(document.settled, job=held, site=_with_held(document.settled, held))
        try:
            plan = plan_grade(outcome, quick=True)
        except WeirantError as fault:
            document.refused.emit(str(fault))
            return
        if plan.job is None:
            document.refused.emit("With the invert held there no grade line satisfies every demand")
            return
        document.change(plan.job, f"{name}, grade kept best", token)

    def _station_moved(self, station: float) -> None:
        self.update()

    def pressed(self, at: Point) -> None:  # noqa: D102
        if self.reaches:
            run, station = at_place(self.reaches, at[0])
            self.document.take_run(run)
            self.document.move_to(station)
        else:
            self.document.move_to(at[0])

    def nudged(self, way: tuple[int, int], far: bool) -> None:  # noqa: D102
        step_station(self.document, way[0] or way[1], far)

    def paint_over(self, painter: QPainter) -> None:  # noqa: D102
        along = self.along
        if self.document.in_hand.grade is None or along is None:
            return
        text, palette = THEME.text, THEME.palette
        x = self.frame.to_paper((along, 0.0)).x()
        painter.setPen(QPen(QColor(palette.ink), 1.2))
        painter.drawLine(QPointF(x, 2.9 * text), QPointF(x, self.height()))
        painter.setBrush(QColor(palette.ink))
        painter.drawPolygon(QPolygonF([QPointF(x - 6, 2.3 * text), QPointF(x + 6, 2.3 * text), QPointF(x, 3.1 * text)]))
        words = shown(self.document.station, STATION, self.document.system)
        right = x > self.width() * 0.85
        THEME.ink.lettering(
            painter,
            QPointF(x - 10 if right else x + 10, 2.9 * text),
            words,
            "ink",
            0.9,
            True,
            "right" if right else "left",
        )
