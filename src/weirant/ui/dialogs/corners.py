"""The corners of the thing or the run in hand, each typed by its place or by length and bearing from the one before."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QWidget

from weirant.design.corners import corners_of, with_corner_at, with_leg
from weirant.design.snapping import LONGEST_LEG, bearing_of, bearing_words
from weirant.errors import InputError
from weirant.ground.alignment import Point
from weirant.job import Job
from weirant.job.identity import by_id
from weirant.language import tr
from weirant.ui.dialogs.rows import RowsDialog
from weirant.ui.document import Document
from weirant.ui.entry import TypedEdit
from weirant.ui.plain_text import PlainLabel
from weirant.ui.theme import THEME
from weirant.units import parse
from weirant.units.dimension import LENGTH
from weirant.units.display import DISTANCE, shown, unit_of

EAST, NORTH = 0, 1
Corners = list[Point]


class _CornerEdit(TypedEdit):
    """One figure of a corner: how it is shown, how it is read, and the job that it makes."""

    def __init__(self, document: Document, label: str, told: Callable[[], str], made: Callable[[Job, str], Job]) -> None:
        super().__init__(label)
        self.document, self._told, self._made = document, told, made
        self.setFixedWidth(round(7.4 * THEME.text))
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        document.changed.connect(self.follow)
        self.show_value()

    def show_value(self) -> None:  # noqa: D102
        try:
            text = self._told()
        except IndexError:
            return  # the corner is gone, and the rows are about to be laid anew
        if text != self.text():
            self.setText(text)
            self.setCursorPosition(0)

    def take(self, text: str) -> str:  # noqa: D102
        try:
            job = self._made(self.document.job, text)
        except InputError as fault:
            self.document.refused.emit(str(fault))
            return str(fault)
        except IndexError:
            return tr("is not there any more")
        return "" if self.document.change(job, self.accessibleName()) else tr("does not fit")


class CornersDialog(RowsDialog):
    """A row for each corner; a length or a bearing moves the corner with all that follow, a place moves it alone."""

    told_in = ("step-map", "")

    HEADS = (tr("corner"), tr("east"), tr("north"), tr("length from the one before"), tr("bearing from north"))

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(document, parent, tr("A length or a bearing moves the corner and all that follow; a place moves it alone. What counts along a run moves with it."))
        self.owner = document.thing or document.run
        self.resize(round(50 * THEME.text), round(30 * THEME.text))
        self.follow()

    @property
    def corners(self) -> Corners:
        """Where they lie in the job shown."""
        return [] if self.document.is_empty else corners_of(self.document.shown_job, self.owner)

    def follow(self) -> None:  # noqa: D102
        corners = self.corners
        if not corners:
            self.reject()
            return
        job = self.document.shown_job
        thing = by_id(job.features, self.owner) or by_id(job.runs, self.owner)
        self.setWindowTitle(tr("Corners of {thing}", thing=thing.name) if thing is not None else tr("Corners"))
        self.lay_rows((len(corners), self.document.system), lambda: (self._row(index) for index in range(len(corners))))
        self.grid.setColumnStretch(len(self.HEADS), 1)

    def _row(self, index: int) -> list[QWidget]:
        document, name = self.document, tr("Corner {index}", index=index + 1)
        row: list[QWidget] = [PlainLabel(f"{index + 1}")]
        for axis in (EAST, NORTH):
            row.append(_CornerEdit(document, f"{name}, {self.HEADS[1 + axis]}", partial(self._place, index, axis), partial(self._placed, index, axis)))
        if index:
            row.append(_CornerEdit(document, tr("{name}, length", name=name), partial(self._length, index), partial(self._long, index)))
            row.append(_CornerEdit(document, tr("{name}, bearing", name=name), partial(self._bearing, index), partial(self._turned, index)))
        return row

    def _leg(self, index: int) -> tuple[float, float]:
        """Length m and bearing rad clockwise from north of the leg that leads to a corner."""
        (x0, y0), (x1, y1) = self.corners[index - 1], self.corners[index]
        return math.dist((x0, y0), (x1, y1)), math.atan2(x1 - x0, y1 - y0)

    def _metres(self, text: str, label: str) -> float:
        return parse(text, LENGTH, label, unit_of(DISTANCE, self.document.system))

    def _place(self, index: int, axis: int) -> str:
        return shown(self.corners[index][axis], DISTANCE, self.document.system)

    def _length(self, index: int) -> str:
        return shown(self._leg(index)[0], DISTANCE, self.document.system)

    def _bearing(self, index: int) -> str:
        return bearing_words(self._leg(index)[1])

    def _placed(self, index: int, axis: int, job: Job, text: str) -> Job:
        x, y = corners_of(job, self.owner)[index]
        at = self._metres(text, self.HEADS[1 + axis])
        if abs(at) > 1e5:
            raise InputError(self.HEADS[1 + axis], tr("must lie within 100 km of the outlet"), text)
        return with_corner_at(job, self.owner, index, (at, y) if axis == EAST else (x, at))

    def _long(self, index: int, job: Job, text: str) -> Job:
        size = self._metres(text, "length")
        if not 0.001 < size <= LONGEST_LEG:
            raise InputError("length", tr("must be more than 0 and at most {most}", most=shown(LONGEST_LEG, DISTANCE, self.document.system)), text)
        return with_leg(job, self.owner, index, size, self._leg(index)[1])

    def _turned(self, index: int, job: Job, text: str) -> Job:
        return with_leg(job, self.owner, index, self._leg(index)[0], bearing_of(text))
