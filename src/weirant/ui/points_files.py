"""Reading and writing points: CSV with a preview, LandXML and GeoJSON straight away."""

from __future__ import annotations

import dataclasses
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QWidget

from weirant.design.assess import assess
from weirant.errors import WeirantError
from weirant.formats.plain_files import read_plain, write_safely
from weirant.formats.points_csv import LARGEST, write_points
from weirant.formats.points_read import NO_SHIFT, PointsRead
from weirant.ground.flat_plan import FlatPlan
from weirant.job import Job
from weirant.job.identity import THING, fresh
from weirant.job.site import Feature
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.ui.asking import ask_file, ask_name, show_dialog, tell
from weirant.ui.dialogs.points import PointsDialog, told
from weirant.ui.document import Document
from weirant.ui.work import in_background

PATTERN = tr("Points (*.csv *.txt *.xml *.landxml *.geojson *.json)")
KEPT = 500  # lines that could not be read are kept with the job, up to so many


class PointsFiles(QObject):
    """Takes points into the job and gives them out again."""

    said = pyqtSignal(str)

    def __init__(self, document: Document, window: QWidget) -> None:
        super().__init__(window)
        self.document, self.window = document, window

    def ask_read(self) -> None:
        """Ask for a file of points and read it."""
        if self.document.is_empty:
            return
        path = ask_file(self.window, tr("Read points"), PATTERN)
        if path is not None:
            self.read(path)

    def read(self, path: Path) -> PointsDialog | None:
        """Read a file of points; a CSV file shows first how it will be read."""
        try:
            data = read_plain(path, LARGEST, tr("a file of points"))
            if path.suffix.lower() in (".xml", ".landxml", ".geojson", ".json"):
                self._read_whole(data, path)
                return None
            dialog = PointsDialog(data, path.name, self.document.job, self.window)
        except WeirantError as fault:
            self._fault(tr("The points are not read"), str(fault))
            return None
        dialog.done_reading.connect(lambda found: self.take(found, path.name))
        return show_dialog(dialog)

    def _read_whole(self, data: bytes, path: Path) -> None:
        survey = self.document.job.survey
        known = survey.longitude is not None and survey.latitude is not None
        origin = FlatPlan(survey.longitude or 0.0, survey.latitude or 0.0) if known else None

        def work() -> PointsRead:
            if path.suffix.lower() in (".xml", ".landxml"):
                from weirant.formats.landxml import read_landxml

                return read_landxml(data, survey.shift)
            from weirant.formats.geojson import read_geojson

            return read_geojson(data, origin, survey.shift)

        in_background(work, lambda found: self.take(found, path.name), lambda text: self._fault(tr("The points are not read"), text))

    def take(self, found: PointsRead, name: str) -> None:
        """Put what was read into the job; the ground through it is worked out beside the interface first."""
        job = self.document.job
        kept = (*job.unread, *(f"{name}, {r.where}: {r.text} ({r.why})" for r in found.refused))[:KEPT]
        changed = _with(job, found, kept)
        self.said.emit(tr("Working out the ground through {points:,} points …", points=len(changed.points)))

        def done(known: Outcome) -> None:
            now = changed if self.document.job is job else _with(self.document.job, found, kept)
            if self.document.change(now, tr("{points:,} points from {name}", points=len(found.points), name=name), may_come=True, known=known):
                self.document.when_shown(lambda: tell(self.window, tr("Points from {name}", name=name), told(found), is_fault=bool(found.refused)))

        in_background(lambda: assess(changed), done, lambda text: self._fault(tr("The points are not read"), text))

    def ask_write(self) -> None:
        """Ask for a name and write the points, as CSV or LandXML by the ending."""
        if self.document.is_empty:
            return
        path, job = ask_name(self.window, tr("Write points"), tr("{job} – points", job=self.document.job.name), {".csv": "CSV", ".xml": "LandXML"}), self.document.job
        if path is not None:
            in_background(lambda: self.write(job, path), lambda _: self.said.emit(tr("Written: {path}", path=path.name)), lambda text: self._fault(tr("Not written"), text))

    @staticmethod
    def write(job: Job, path: Path) -> None:
        """Write the points of a job."""
        unit = "ft" if job.units == "imperial" else "m"
        if path.suffix.lower() == ".xml":
            from weirant.formats.landxml import write_landxml

            write_safely(path, write_landxml(job.points, unit, job.name, job.date or "1970-01-01", job.survey.shift))
        else:
            write_safely(path, write_points(job.points, unit, job.survey.shift).encode())

    def _fault(self, title: str, text: str) -> None:
        tell(self.window, title, text)


def _with(job: Job, found: PointsRead, unread: tuple[str, ...]) -> Job:
    """The job with what was read added to it; the first file says how its plan lies in the world, and the later ones follow."""
    survey = job.survey
    if found.shift != NO_SHIFT:
        survey = dataclasses.replace(survey, shift_east=found.shift[0], shift_north=found.shift[1])
    if found.origin is not None and (survey.longitude is None or survey.latitude is None):
        survey = dataclasses.replace(survey, longitude=found.origin.longitude, latitude=found.origin.latitude)
    return dataclasses.replace(job, survey=survey, points=(*job.points, *found.points), features=(*job.features, *_with_identities(job, found.features)), unread=unread)


def _with_identities(job: Job, things: tuple[Feature, ...]) -> list[Feature]:
    """Things as a file brought them, each with an identity that is free in the job."""
    found: list[Feature] = []
    for thing in things:
        found.append(dataclasses.replace(thing, id=fresh([*found[-1:], *job.features], THING)))
    return found
