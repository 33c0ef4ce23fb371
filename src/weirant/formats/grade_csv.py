"""Grades for a machine: station, east, north, level of the trench bottom, and how far the invert lies over it, a line every so often and at every break."""

from __future__ import annotations

import csv
import io

import numpy as np

from weirant.errors import InputError
from weirant.formats.csv_text import harmless
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome

STEP = 1.0  # m between lines of grades
HEADS = ("run", "station_m", "east_m", "north_m", "design_level_m", "invert_over_it_m")


def grade_csv(outcome: Outcome, runs: tuple[RunOutcome, ...], step: float = STEP) -> str:
    """The grades of runs in metres, with what was taken off the coordinates of files put back on. Raises InputError where the ground along one is not known."""
    east, north = outcome.job.survey.shift
    text = io.StringIO()
    writer = csv.writer(text, lineterminator="\n")
    writer.writerow(HEADS)
    for found in runs:
        grade = found.grade
        if grade is None:
            raise InputError(found.run.name, tr("has no grade yet: the ground along it is not known"))
        breaks = [0.0, found.run.length, *(b.station for b in found.run.breaks if 0 < b.station < found.run.length), *(s for _, s in found.run.nodes), *(s.low for s in found.stretches)]
        stations = np.array(sorted({round(s, 3) for s in (*np.arange(0.0, found.run.length, step).tolist(), *breaks)}))
        bottom, invert = (np.interp(stations, grade.stations, values) for values in (grade.trench_bottom, grade.invert))
        for station, level, over in zip(stations.tolist(), bottom.tolist(), (invert - bottom).tolist(), strict=True):
            x, y = found.run.alignment.point(station)
            writer.writerow([harmless(found.run.name), f"{station:.3f}", f"{x + east:.3f}", f"{y + north:.3f}", f"{level:.3f}", f"{over:.3f}"])
    return text.getvalue()


def every_grade(outcome: Outcome, step: float = STEP) -> bytes:
    """The grades of every run that has one."""
    return grade_csv(outcome, tuple(found for found in outcome.site.runs if found.grade is not None), step).encode("utf-8")


def read_grade_csv(text: str) -> dict[str, list[tuple[float, float, float, float, float]]]:
    """What was written, by run: station, east, north, level, invert over it."""
    found: dict[str, list[tuple[float, float, float, float, float]]] = {}
    for row in csv.DictReader(io.StringIO(text)):
        station, east, north, level, over = (float(row[head]) for head in HEADS[1:])
        found.setdefault(row["run"], []).append((station, east, north, level, over))
    return found
