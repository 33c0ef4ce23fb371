"""The plan on screen: the ground worked out beside the interface, runs and things taken in hand, drawn and taken out."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPen, QPixmap, QPolygonF, QWheelEvent

from weirant.design.corners import with_corner, without_corner
from weirant.design.layout import run_near, thing_near
from weirant.design.snapping import Snap, snap
from weirant.design.terrain import Terrain, terrain_of
from weirant.drawing.plan import plan_drawing
from weirant.drawing.primitives import Drawing, Point
from weirant.errors import InputError
from weirant.ground.surface import Surface
from weirant.job.geometry import run_of
from weirant.job.identity import by_id
from weirant.job.removal import without_run, without_thing
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.paper.frame import Frame
from weirant.paper.looks import SIZE
from weirant.ui.document import Document
from weirant.ui.plugged import tell_plugged
from weirant.ui.theme import THEME
from weirant.ui.views.canvas import Canvas
from weirant.ui.views.pencil import Pencil
from weirant.ui.views.stations import step_station
from weirant.ui.work import in_background
from weirant.units.display import SLOPE, STATION, System, shown
from weirant.words.pictures import plan_words

AT_ONCE = 400  # shots whose ground is worked out on the spot; more go beside the interface
PICK = 9.0  # px within which a run or a thing is taken
SETTLE = 110  # ms of rest after which a moved picture is drawn sharp again
MARGIN = 0.25  # of the canvas, drawn round it for moving


class PlanView(Canvas):
    """The site from above; a press takes a run or a thing in hand, or moves the station along the run in hand."""

    def __init__(self, document: Document) -> None:
        self.pencil = Pencil()
        self._terrain: tuple[Surface, System, Terrain] | None = None
        self._awaited: Surface | None = None
        self._spot = -1
        self._pointer: Snap | None = None
        self._still: tuple[QPixmap, Frame] | None = None
        super().__init__(document, self._plan, tr("Plan"))
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.setInterval(SETTLE)
        self._settle.timeout.connect(self._sharpen)
        document.thing_changed.connect(self._turn_to_thing)
        self.pencil.changed.connect(self.update)

    @property
    def shown(self) -> Outcome:  # noqa: D102
        return self.document.outcome

    def _plan(self, outcome: Outcome, station: float) -> Drawing:
        document = self.document
        return plan_drawing(outcome, station, run=document.run, thing=document.thing, spot=self._spot, terrain=self._terrain_for(outcome), whole=True)

    def _turn(self) -> None:
        """Another run in hand: the plan stays where it is."""
        self._drawing, self._chosen = None, -1
        self.update()

    def _turn_to_thing(self) -> None:
        self._drawing, self._chosen = None, -1
        self.update()

    def basis(self) -> object:  # noqa: D102
        outcome, document = self.document.outcome, self.document
        job = outcome.job
        runs = tuple((run.name, run.nodes, run.stretches) for run in job.runs)
        surface = outcome.site.surface
        crossed = tuple(c.top is None for r in outcome.site.runs for c in r.crossings)
        return (job.nodes, runs, job.features, job.units, document.station, document.run, document.thing, surface,
                self._terrain, crossed, self._spot)  # fmt: skip

    # the ground

    def _terrain_for(self, outcome: Outcome) -> Terrain | None:
        """The shape of the ground, at once where it is quick; else it is worked out beside the interface and shown when done."""
        surface = outcome.site.surface
        system = System(outcome.job.units)
        if surface is None:
            return None
        if self._terrain is not None and self._terrain[:2] == (surface, system):
            return self._terrain[2]
        if len(surface.corners) <= AT_ONCE:
            self._terrain = (surface, system, terrain_of(surface, system))
            return self._terrain[2]
        if self._awaited is not surface:
            self._awaited = surface
            in_background(lambda: terrain_of(surface, system), lambda found: self._take(surface, system, found), self.document.refused.emit)
        return None

    def _take(self, surface: Surface, system: System, found: Terrain) -> None:
        if self._awaited is surface:
            self._awaited, self._terrain, self._drawing = None, (surface, system, found), None
            self.update()

    # drawing with the pencil

    def _snapped(self, at: QPointF) -> Snap:
        to = self.frame.to_world(at)
        return snap(self.document.shown_job, to, PICK / self.frame.scale_x, self.pencil.corners)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802, D102
        if event is None or self.document.is_empty:
            return
        if self.pencil.mode and event.button() == Qt.MouseButton.LeftButton:
            self.setFocus()
            self.pencil.add(self._snapped(event.position()))
            if self.pencil.is_single:
                self.finish()
            return
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802, D102
        if event is not None and self.pencil.mode and not self.document.is_empty:
            self._pointer = self._snapped(event.position())
            self.setCursor(Qt.CursorShape.CrossCursor)
            self.update()
            return
        if event is not None and self._pan is not None and not self.document.is_empty:
            self._hold_still()
        super().mouseMoveEvent(event)

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:  # noqa: N802, D102
        if self.pencil.mode and event is not None and len(self.pencil.snaps) > 1 and self._snapped(event.position()).run:
            self.pencil.add(self._snapped(event.position()))  # twice on a run is a joint with it, and the line goes on
        elif self.pencil.mode:
            self.finish()
        elif event is not None and not self.document.is_empty and self._handle_near(event.position()) < 0:
            self._put_corner(self.frame.to_world(event.position()))
        else:
            super().mouseDoubleClickEvent(event)

    def _put_corner(self, at: Point) -> None:
        """A corner where the run in hand is pressed twice, ready to be dragged."""
        document = self.document
        found = run_near(document.job, at, PICK / self.frame.scale_x)
        if found is not None and found[0] == document.run:
            document.edit(lambda job: with_corner(job, *found), tr("Corner put into {run}", run=document.in_hand.run.name), may_come=True)

    def _chosen_corner(self) -> int:
        """Number of the corner of the run in hand that is taken hold of; −1 for none."""
        chosen = self.drawing.handles[self._chosen].key if 0 <= self._chosen < len(self.drawing.handles) else ""
        return int(chosen.removeprefix("run-")) if chosen.startswith("run-") else -1

    def keyPressEvent(self, event: QKeyEvent | None) -> None:  # noqa: N802, D102
        if event is None or self.document.is_empty:
            return
        key = Qt.Key(event.key())
        if self.pencil.mode and key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.finish()
        elif self.pencil.mode and key == Qt.Key.Key_Escape:
            self.pencil.drop()
        elif self.pencil.mode and key == Qt.Key.Key_Backspace:
            self.pencil.back()
        elif key == Qt.Key.Key_Delete and not self.document.thing and self._chosen_corner() >= 0:
            self._take_corner(self._chosen_corner())
        elif key == Qt.Key.Key_Delete:
            self.take_out()
        elif key == Qt.Key.Key_Escape and self.document.thing:
            self.document.take_thing("")
        else:
            super().keyPressEvent(event)

    def _take_corner(self, index: int) -> None:
        document = self.document
        if document.edit(lambda job: without_corner(job, document.run, index), tr("Corner of {run} taken out", run=document.in_hand.run.name), may_come=True):
            self._chosen = -1

    def carry_on(self) -> None:
        """Carry the run in hand on from its top end."""
        if not self.document.is_empty:
            run = self.document.in_hand.run
            self.pencil.carry_on(run.id, run.alignment.point(run.length))
            self.setFocus()

    def finish(self) -> None:
        """End what is being drawn and put it into the job."""
        document, pencil = self.document, self.pencil
        surface = document.outcome.site.surface
        try:
            job, name = pencil.made(document.job, surface)
        except InputError as fault:
            document.refused.emit(str(fault))
            return
        things, runs = len(document.job.features), len(document.job.runs)
        pencil.take("")
        if document.change(job, name, may_come=True):
            if len(job.runs) > runs:
                document.when_shown(partial(document.take_run, job.runs[-1].id))
            elif len(job.features) > things:
                document.take_thing(job.features[-1].id)

    def take_out(self) -> None:
        """Take out the thing in hand, or else the run in hand, and say what went with it; undo brings it back."""
        document, thing = self.document, by_id(self.document.job.features, self.document.thing)
        name = thing.name if thing is not None else document.in_hand.run.name
        removal = document.made(lambda job: without_thing(job, thing.id) if thing is not None else without_run(job, run_of(job, document.run).id))
        if removal is None:
            return
        if document.change(removal.job, tr("{name} taken out", name=name), may_come=True) and removal.with_it:
            document.refused.emit(tr("{name} taken out. With it: {with_it}. Ctrl+Z brings it back.", name=name, with_it="; ".join(removal.with_it)))

    # taking in hand

    def pressed(self, at: Point) -> None:  # noqa: D102
        document, reach = self.document, PICK / self.frame.scale_x
        job = document.shown_job
        found = run_near(job, at, reach)
        if found is not None:
            document.take_thing("")
            document.take_run(found[0])
            document.move_to(found[1])
            return
        thing = thing_near(job, at, reach)
        spot = self._spot_at(at)
        if spot != self._spot:
            self._spot = spot
            self._drawing = None
            self.update()
        document.take_thing(thing)
        if thing:
            return
        document.move_to(document.in_hand.run.alignment.nearest(at)[0])

    def _spot_at(self, at: Point) -> int:
        """Number of the low spot whose water a point lies in."""
        for index, spot in enumerate(self._terrain[2].low_spots if self._terrain else ()):
            for line in spot.outline:
                if len(line) > 2 and QPolygonF([QPointF(x, y) for x, y in line.tolist()]).containsPoint(QPointF(*at), Qt.FillRule.OddEvenFill):
                    return index
        return -1

    def offered_at(self, at: QPointF) -> list[tuple[str, Callable[[], object]]]:  # noqa: D102
        def take() -> None:
            self.pressed(self.frame.to_world(at))
            self.take_out()

        world, document = self.frame.to_world(at), self.document
        on_run = run_near(document.job, world, PICK / self.frame.scale_x) is not None
        found: list[tuple[str, Callable[[], object]]] = [(tr("Take in hand") if on_run else tr("Stand here"), partial(self.pressed, world))]
        if on_run or thing_near(document.job, world, PICK / self.frame.scale_x):
            found.append((tr("Take out"), take))
        if plugged := self._exit_near(world):
            found.append((tr("If this exit were plugged …"), partial(tell_plugged, document, self, plugged)))
        return [*found, (tr("Draw the run in hand on"), self.carry_on)] if on_run else found

    def _exit_near(self, world: Point) -> str:
        """The node at a place where water gets out; empty where none does."""
        exits, reach = self.document.outcome.site.exits, PICK / self.frame.scale_x
        near = sorted((math.dist(world, (node.x, node.y)), node.id) for node in self.document.job.nodes if node.id in exits)
        return near[0][1] if near and near[0][0] <= reach else ""

    def blocked(self) -> list[QRectF]:  # noqa: D102
        at = self.frame.to_paper(self.document.in_hand.run.alignment.point(self.document.station))
        return [*super().blocked(), QRectF(at.x() - 8, at.y() - 8, 16, 16)]

    def described(self) -> str:  # noqa: D102
        return plan_words(self.document.outcome, self.document.run)

    def _paint_title(self, painter: QPainter) -> None:
        super()._paint_title(painter)
        text = THEME.text
        THEME.ink.north(painter, QPointF(self.width() - (1.2 * text if self.is_small else 0.3 * self.width() + 5.2 * text), 0.95 * text))

    def nudged(self, way: tuple[int, int], far: bool) -> None:  # noqa: D102
        step_station(self.document, way[0] or way[1], far)

    # painting

    def _paint(self) -> None:
        if self._still is None:
            super()._paint()
            return
        picture, then = self._still
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(THEME.palette.paper))
        scale = self.frame.scale_x / then.scale_x
        corner = self.frame.to_paper(then.to_world(QPointF(-MARGIN * self.width(), -MARGIN * self.height())))
        painter.drawPixmap(QRectF(corner.x(), corner.y(), picture.width() / picture.devicePixelRatio() * scale, picture.height() / picture.devicePixelRatio() * scale),
                           picture, QRectF(picture.rect()))  # fmt: skip
        self._paint_title(painter)
        painter.end()

    def wheelEvent(self, event: QWheelEvent | None) -> None:  # noqa: N802, D102
        if event is not None and not self.document.is_empty:
            self._hold_still()
        super().wheelEvent(event)

    def _hold_still(self) -> None:
        """Keep a picture of the plan to move and scale while the wheel turns or the plan is drawn along."""
        if self._still is None and not self.rect().isEmpty():
            ratio = self.devicePixelRatioF()
            picture = QPixmap(round((1 + 2 * MARGIN) * self.width() * ratio), round((1 + 2 * MARGIN) * self.height() * ratio))
            picture.setDevicePixelRatio(ratio)
            picture.fill(QColor(THEME.palette.paper))
            painter = QPainter(picture)
            painter.translate(MARGIN * self.width(), MARGIN * self.height())
            THEME.quick_ink.draw(painter, self.drawing, self.frame)
            painter.end()
            self._still = (picture, self.frame)
        self._settle.start()

    def _sharpen(self) -> None:
        if self._pan is not None:
            self._settle.start()
        self._still = None
        self.update()

    def paint_over(self, painter: QPainter) -> None:  # noqa: D102
        at = self.frame.to_paper(self.document.in_hand.run.alignment.point(self.document.station))
        painter.setPen(QPen(QColor(THEME.palette.paper), 2))
        painter.setBrush(QColor(THEME.palette.ink))
        painter.drawEllipse(at, 6, 6)
        if self.pencil.mode:
            self._paint_pencil(painter)

    def _paint_pencil(self, painter: QPainter) -> None:
        corners = [*self.pencil.corners, *([self._pointer.at] if self._pointer is not None else [])]
        places = [self.frame.to_paper(c) for c in corners]
        painter.setPen(THEME.ink.pen("pencil"))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(places))
        for place in places:
            painter.drawEllipse(place, 4, 4)
        if self._pointer is not None:
            words = "  ".join(w for w in (self._pointer.words, self._reach(corners)) if w)
            right = places[-1].x() + 16 + THEME.ink.width(words, SIZE, True) > self.width()
            THEME.ink.lettering(painter, places[-1] + QPointF(-12 if right else 12, -8), words, "ink", SIZE, True, "right" if right else "left")

    def _reach(self, corners: list[Point]) -> str:
        """Length drawn so far, and how the ground goes along the last length."""
        if len(corners) < 2:
            return ""
        system, surface = self.document.system, self.document.outcome.site.surface
        total = sum(math.dist(a, b) for a, b in zip(corners, corners[1:], strict=False))
        words = shown(total, STATION, system)
        last = math.dist(corners[-2], corners[-1])
        if surface is None or last < 0.3:
            return words
        levels, known = surface.at(np.array(corners[-2:]))
        if not known.all():
            return words
        rise = float(levels[1] - levels[0]) / last
        return f"{words}, " + (tr("ground rises {slope}", slope=shown(rise, SLOPE, system)) if rise >= 0 else tr("ground falls {slope}", slope=shown(-rise, SLOPE, system)))

