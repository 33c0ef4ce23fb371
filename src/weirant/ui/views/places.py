"""Views that show the run in hand at its station: trench section, across the slope, grain sizes, long profile."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from functools import partial

import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QAction, QColor, QFontMetricsF, QPainter, QPen, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QMenu, QPushButton

from weirant.design.layout import hold
from weirant.drawing.across import across_drawing
from weirant.drawing.grain_sizes import grain_size_drawing
from weirant.drawing.primitives import Drawing, Handle, Point
from weirant.drawing.profile import profile_drawing
from weirant.drawing.section import section_drawing
from weirant.drawing.soil_classes import soil_class_drawing
from weirant.drawing.way import (
    Reach,
    at_place,
    place_on,
    reaches_of,
    way_along,
    way_drawing,
    way_names,
    way_title,
    ways_of,
)
from weirant.errors import WeirantError
from weirant.ground.inverts import invert_at
from weirant.ground.network import laid_run
from weirant.ground.ways import MOST, Way
from weirant.job import Job
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import Site
from weirant.paper.looks import LARGE_SIZE
from weirant.ui.document import Document
from weirant.ui.plain_text import plain_button
from weirant.ui.theme import THEME
from weirant.ui.views.canvas import Canvas
from weirant.ui.views.live_table import LiveTable
from weirant.ui.views.stations import step_station
from weirant.units.display import STATION, shown
from weirant.words.pictures import profile_words, section_words

FEW = 3  # ways: one of them may be the run by itself
INVERTS = ("outlet", "top-end")  # handles that stand for one invert


class SectionView(Canvas):
    """The trench section at the station."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, lambda outcome, station: section_drawing(outcome, station, document.run), tr("Trench section"))

    def nudged(self, way: tuple[int, int], far: bool) -> None:  # noqa: D102
        step_station(self.document, way[0] or way[1], far)


    def described(self) -> str:  # noqa: D102
        return section_words(self.document.outcome, self.document.run, self.document.station)


class AcrossView(Canvas):
    """Across the slope at the station: the formula's table with its band, and the simulated one as soon as it is worked out."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, lambda outcome, station: across_drawing(outcome, station, self.live.line_of(outcome, station), document.run), tr("Across the slope"))
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
        super().__init__(document, lambda outcome, station: grain_size_drawing(outcome, station, document.run), tr("Grain sizes"))


class SoilClassView(Canvas):
    """The soil on the texture triangle and on the plasticity chart."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, lambda outcome, station: soil_class_drawing(outcome, station, document.run), tr("Soil class"))


def _with_held(outcome: Outcome, job: Job) -> Site:
    """The site with the held inverts of a job; ground and layout are as they were."""
    site = outcome.site
    held = {run.id: run for run in job.runs}
    runs = tuple(dataclasses.replace(r, run=dataclasses.replace(r.run, run=held[r.id])) for r in site.runs)
    return dataclasses.replace(site, runs=runs)


class ProfileView(Canvas):
    """The long profile; a press on it moves the station."""

    def __init__(self, document: Document) -> None:
        super().__init__(document, self._profile, tr("Long profile"))
        self._over: tuple[str, ...] = ()  # the runs of the way that is shown, from its top down; none: the run in hand by itself
        self.way = self._button(tr("From the top of the run in hand down through the runs that take its water, to where it leaves"))
        self.way.setCheckable(True)
        self.way.toggled.connect(self.show_way)
        self.others = self._button(tr("Other ways over the run in hand, from any top to where water leaves"))
        self._list = QMenu(self.others)
        self._list.aboutToShow.connect(self._list_ways)
        self.others.setMenu(self._list)
        document.station_changed.connect(self._station_moved)
        document.found.connect(self.refresh)  # its mark at its place
        document.changed.connect(self._place_buttons)
        document.run_changed.connect(self._place_buttons)
        self._place_buttons()

    def _button(self, tip: str) -> QPushButton:
        button = QPushButton(self)
        button.setProperty("link", True)
        button.setToolTip(tip)
        return button

    def _profile(self, outcome: Outcome, _: float) -> Drawing:
        way = self._shown_way()
        return way_drawing(outcome, way, self.document.run, self._room) if way is not None else profile_drawing(outcome, self.document.run)

    @property
    def _room(self) -> int:
        """How many letters the title has room for beside the buttons and the scale of the heights."""
        return int((self.width() / THEME.text - 25) / 0.5)

    def resizeEvent(self, event: QResizeEvent | None) -> None:  # noqa: N802, D102
        super().resizeEvent(event)
        self._drawing = None
        with self.document.as_shown():  # it may be a layout that asks for it, which waits for nothing
            self._place_buttons()

    def _shown_way(self) -> Way | None:
        """The way that is shown; None where the run in hand is shown by itself, or the way does not come by it."""
        if self.document.is_empty:
            return None
        way = way_along(self.document.outcome, self._over)
        return way if way is not None and len(way) > 1 and any(leg.run == self.document.run for leg in way) else None

    @property
    def reaches(self) -> tuple[Reach, ...]:
        """The runs on the way that is shown."""
        way = self._shown_way()
        return reaches_of(self.document.outcome, way) if way is not None else ()

    def show_way(self, shown_: bool) -> None:
        """Show the whole way from the top of the run in hand, or that run by itself."""
        ways = self._long_ways() if shown_ else []
        self.go_over(ways[0] if ways else ())

    def go_over(self, way: Way) -> None:
        """Show a way; none: the run in hand by itself."""
        self._over = tuple(leg.run for leg in way)
        self._drawing = self._frame = None
        self._place_buttons()
        self.update()

    def _list_ways(self) -> None:
        self._list.clear()
        for way in self._long_ways():
            action = QAction(plain_button(way_names(self.document.outcome, way)), self._list)
            self._list.addAction(action)
            action.setCheckable(True)
            action.setChecked(tuple(leg.run for leg in way) == self._over)
            action.triggered.connect(lambda _, way=way: self.go_over(way))

    def _long_ways(self, most: int = MOST) -> list[Way]:
        """The ways over the run in hand that go on over others."""
        return [way for way in ways_of(self.document.outcome, self.document.run, most) if len(way) > 1]

    def next_way(self) -> None:
        """Show the next of the ways over the run in hand."""
        ways = self._long_ways()
        if ways:
            shown_now = [tuple(leg.run for leg in way) for way in ways]
            self.go_over(ways[(shown_now.index(self._over) + 1) % len(ways) if self._over in shown_now else 0])

    def _place_buttons(self) -> None:
        """They stand beside the title, where the run in hand leads into another or a way is shown."""
        document = self.document
        if document.is_empty:
            return
        ways = self._long_ways(FEW)  # enough to tell whether there is one, and another; asked with every step of a drag
        if self._over and not self.reaches:  # a run beside the way was taken in hand: the way from its own top
            self._over = tuple(leg.run for leg in ways[0]) if ways else (document.run,)  # where there is none, a way is still wished for
            self._drawing = self._frame = None
        is_shown = self._shown_way() is not None
        self.way.blockSignals(True)
        self.way.setChecked(is_shown)
        self.way.blockSignals(False)
        self.way.setText(tr("this run only") if is_shown else tr("the whole way"))
        self.others.setText(tr("another way"))
        title = way_title(document.outcome, way, self._room) if (way := self._shown_way()) is not None else tr("Long profile")
        x = QFontMetricsF(THEME.ink.font(LARGE_SIZE, True)).horizontalAdvance(title) + 2 * THEME.text
        for button, is_wanted in ((self.way, is_shown or bool(ways)), (self.others, len(ways) > 1)):
            button.adjustSize()
            button.move(round(x), 0)
            x += button.width() + THEME.text
            button.setVisible(is_wanted and not (self.is_small and x - THEME.text > self.width()))  # beside a small drawing it can be asked for on the stage

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
            document.refused.emit(tr("With the invert held there no grade line satisfies every demand"))
            return
        document.change(plan.job, tr("{name}, grade kept best", name=name), token)

    def offered_at(self, at: QPointF) -> list[tuple[str, Callable[[], object]]]:  # noqa: D102
        return [(tr("Stand here"), partial(self.pressed, self.frame.to_world(at)))]

    def described(self) -> str:  # noqa: D102
        return profile_words(self.document.outcome, self.document.run)

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

    def blocked(self) -> list[QRectF]:  # noqa: D102
        along, text = self.along, THEME.text
        if self.document.in_hand.grade is None or along is None:
            return super().blocked()
        x, wide = self.frame.to_paper((along, 0.0)).x(), self._station_wide + 16
        top = self.height() - self.foot if self.is_small else 1.9 * text
        return [*super().blocked(), QRectF(x - wide if self._is_at_end(x) else x - 7, top, wide, 1.4 * text)]

    @property
    def _station_words(self) -> str:
        return shown(self.document.station, STATION, self.document.system)

    @property
    def _station_wide(self) -> float:
        return THEME.ink.width(self._station_words, 0.9, True)

    def _is_at_end(self, x: float) -> bool:
        """Whether there is no room for the station to the right of its line."""
        return x + 14 + self._station_wide > self.width()

    @property
    def head(self) -> float:
        """Small, there is room for its marks too."""
        return 3.0 * THEME.text if self.is_small else super().head

    @property
    def foot(self) -> float:
        """Small, the station stands under the drawing: over it there is no room but for its marks."""
        return 1.6 * THEME.text if self.is_small else super().foot

    def paint_over(self, painter: QPainter) -> None:  # noqa: D102
        along = self.along
        if self.document.in_hand.grade is None or along is None:
            return
        text, palette = THEME.text, THEME.palette
        x = self.frame.to_paper((along, 0.0)).x()
        painter.setPen(QPen(QColor(palette.ink), 1.2))
        tip, base = (self.height() - 1.5 * text, self.height() - 0.7 * text) if self.is_small else (3.1 * text, 2.3 * text)
        painter.drawLine(QPointF(x, 1.9 * text if self.is_small else tip), QPointF(x, tip if self.is_small else self.height()))
        painter.setBrush(QColor(palette.ink))
        painter.drawPolygon(QPolygonF([QPointF(x - 6, base), QPointF(x + 6, base), QPointF(x, tip)]))
        right = self._is_at_end(x)
        THEME.ink.lettering(
            painter,
            QPointF(x - 10 if right else x + 10, base + (0.2 if self.is_small else 0.6) * text),
            self._station_words,
            "ink",
            0.9,
            True,
            "right" if right else "left",
        )
