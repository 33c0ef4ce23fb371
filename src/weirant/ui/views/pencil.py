"""What is being drawn on the plan: its kind, its corners so far, and the job with it."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from PyQt6.QtCore import QObject, pyqtSignal

from weirant.design.corners import continued
from weirant.design.layout import add_run, add_thing
from weirant.design.snapping import Snap
from weirant.errors import InputError
from weirant.ground.alignment import Point
from weirant.ground.surface import Surface
from weirant.job import Job
from weirant.job.source_edits import with_new_source
from weirant.job.water import ROOF_WATER
from weirant.language import tr

DRAIN, SOLID, ROOF = "drain", "solid pipe", "roof pipe"
RUNS = (DRAIN, SOLID, ROOF)
ONWARD = "carry on"  # the run in hand, from its top end
SINGLE = ("tree", "outlet")


class Pencil(QObject):
    """``mode`` is empty, one of the runs, a kind of thing, or that a run (``onto``) is carried on."""

    changed = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.mode = ""
        self.snaps: list[Snap] = []
        self.onto = ""

    @property
    def corners(self) -> list[Point]:
        """The corners drawn so far."""
        return [s.at for s in self.snaps]

    @property
    def is_single(self) -> bool:
        """Whether one point makes the thing."""
        return self.mode in SINGLE

    def take(self, mode: str) -> None:
        """Begin to draw something."""
        self.mode, self.snaps = mode, []
        self.changed.emit()

    def carry_on(self, run: str, top: Point) -> None:
        """Begin to carry a run on from its top end."""
        self.take(ONWARD)
        self.onto = run
        self.add(Snap(top, tr("top end")))

    def drop(self) -> None:
        """Leave off drawing; with corners drawn only these go first."""
        if len(self.snaps) > (self.mode == ONWARD):
            self.snaps = self.snaps[: self.mode == ONWARD]
        else:
            self.mode = ""
        self.changed.emit()

    def add(self, place: Snap) -> None:
        """Put down a corner."""
        self.snaps.append(place)
        self.changed.emit()

    def back(self) -> None:
        """Take the last corner up."""
        self.snaps = self.snaps[: max(len(self.snaps) - 1, self.mode == ONWARD)]
        self.changed.emit()

    def made(self, job: Job, surface: Surface | None) -> tuple[Job, str]:
        """The job with what was drawn, and the name of the step. Raises InputError where corners are wanting."""
        corners = [s.at for i, s in enumerate(self.snaps) if i == 0 or s.at != self.snaps[i - 1].at]
        if self.mode == ONWARD:
            return continued(job, self.onto, corners[1:], self.snaps[-1].run), tr("run carried on")
        if self.mode not in RUNS:
            return add_thing(job, self.mode, corners), tr("{mode} drawn", mode=tr(self.mode))
        if len(corners) < 2:
            raise InputError(self.mode, tr("needs two points: click its low end first, then up the line"))
        ground = None
        if surface is not None and not self.snaps[0].run:
            levels, known = surface.at(np.array([corners[0]]))
            ground = float(levels[0]) if known[0] else None
        twice = {s.at: s.run for s, after in pairwise(self.snaps) if s.run and s.at == after.at and s.at not in (corners[0], corners[-1])}
        job = add_run(job, corners, collects=self.mode == DRAIN, joins=self.snaps[0].run, ends_on=self.snaps[-1].run, crosses=twice, ground=ground)
        if self.mode == ROOF and not self.snaps[-1].run:  # what it brings is asked for
            job, _ = with_new_source(job, ROOF_WATER, job.runs[-1].nodes[-1])
        return job, tr("{mode} drawn", mode=tr(self.mode))
