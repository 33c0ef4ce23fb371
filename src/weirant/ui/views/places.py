"""Views that show the run in hand at its station: trench section, across the slope, grain sizes, long profile."""

from __future__ import annotations

import dataclasses

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from weirant.design.layout import hold
from weirant.drawing.across import across_drawing
from weirant.drawing.grain_sizes import grain_size_drawing
from weirant.drawing.primitives import Handle, Point
from weirant.drawing.profile import profile_drawing
from weirant.drawing.section import section_drawing
from weirant.drawing.soil_classes import soil_class_drawing
from weirant.errors import WeirantError
from weirant.ground.inverts import invert_at
from weirant.ground.network import laid_run
from weirant.job import Job
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
        super().__init__(document, lambda outcome, station: profile_drawing(outcome, document.run), "Long profile")
        document.station_changed.connect(self._station_moved)
        document.found.connect(self.refresh)  # its mark at its place

    def moved(self, handle: Handle, job: Job, name: str, token: str) -> None:
        """With the grade kept best, an invert that is dragged is held there and the rest is found anew."""
        document = self.document
        if not document.live or (handle.key not in INVERTS and not handle.key.startswith("break-")):
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
        self.document.move_to(at[0])

    def nudged(self, way: tuple[int, int], far: bool) -> None:  # noqa: D102
        step_station(self.document, way[0] or way[1], far)

    def paint_over(self, painter: QPainter) -> None:  # noqa: D102
        if self.document.in_hand.grade is None:
            return
        text, palette = THEME.text, THEME.palette
        x = self.frame.to_paper((self.document.station, 0.0)).x()
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
