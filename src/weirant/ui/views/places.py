"""The views of the sheet: plan, trench section, across the slope, long profile."""

from __future__ import annotations

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from weirant.drawing.across import across_drawing
from weirant.drawing.grain_sizes import grain_size_drawing
from weirant.drawing.plan import plan_drawing, point_at, station_near
from weirant.drawing.primitives import Point
from weirant.drawing.profile import profile_drawing
from weirant.drawing.section import section_drawing
from weirant.ui.document import Document
from weirant.ui.theme import THEME
from weirant.ui.views.canvas import Canvas
from weirant.units.display import STATION, shown, step_si


class PlanView(Canvas):
    """The site from above; a press on it moves the station along the line."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, plan_drawing, "Plan")

    def basis(self) -> object:  # noqa: D102
        job = self.document.outcome.job
        line = (job.line.length, job.line.solid_length, job.line.bends, job.bearing)
        return line, job.protected, job.features, job.units, job.water.source, self.document.station

    def pressed(self, at: Point) -> None:  # noqa: D102
        self.document.move_to(station_near(self.document.outcome.job, at))

    def nudged(self, way: tuple[int, int], far: bool) -> None:  # noqa: D102
        step_station(self.document, way[0] or way[1], far)

    def paint_over(self, painter: QPainter) -> None:  # noqa: D102
        at = self.frame.to_paper(point_at(self.document.outcome.job, self.document.station))
        painter.setPen(QPen(QColor(THEME.palette.paper), 2))
        painter.setBrush(QColor(THEME.palette.ink))
        painter.drawEllipse(at, 6, 6)


class SectionView(Canvas):
    """The trench section at the station."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, section_drawing, "Trench section")

    def nudged(self, way: tuple[int, int], far: bool) -> None:  # noqa: D102
        step_station(self.document, way[0] or way[1], far)


class AcrossView(Canvas):
    """Across the slope at the station."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, across_drawing, "Across the slope")

    def nudged(self, way: tuple[int, int], far: bool) -> None:  # noqa: D102
        step_station(self.document, way[0] or way[1], far)


class GrainView(Canvas):
    """Grain sizes of soil and stone with the openings between them."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, grain_size_drawing, "Grain sizes")


class ProfileView(Canvas):
    """The long profile; a press on it moves the station."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, lambda outcome, station: profile_drawing(outcome), "Long profile")
        document.station_changed.connect(self._station_moved)

    def _station_moved(self, station: float) -> None:
        self.update()

    def pressed(self, at: Point) -> None:  # noqa: D102
        self.document.move_to(at[0])

    def nudged(self, way: tuple[int, int], far: bool) -> None:  # noqa: D102
        step_station(self.document, way[0] or way[1], far)

    def paint_over(self, painter: QPainter) -> None:  # noqa: D102
        if self.document.seen.grade is None:
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


def step_station(document: Document, way: int, far: bool) -> None:
    """Move the station by one step, or ten."""
    document.move_to(document.station + way * step_si(STATION, document.system) * (10 if far else 1))
