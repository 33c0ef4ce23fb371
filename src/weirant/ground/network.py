"""The runs of a site as a tree: each laid out in plan, every run after the one it joins."""

from __future__ import annotations

import dataclasses
import math
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from weirant.errors import InputError
from weirant.ground.alignment import Alignment, Point, alignment_of
from weirant.job import Job
from weirant.job.line import Line
from weirant.job.network import MAIN


@dataclass(frozen=True)
class Run:
    """A run with its place: ``index`` −1 is the main line, others count the branches of the job."""

    name: str
    line: Line
    alignment: Alignment
    joins: str
    joins_at: float
    trench_of: str
    index: int

    @property
    def is_root(self) -> bool:
        """Whether the run has an outlet of its own."""
        return not self.joins


@dataclass(frozen=True)
class Meeting:
    """Two runs that cross in plan without being joined there: their names, their stations m, and the place."""

    first: str
    second: str
    first_station: float
    second_station: float
    at: Point


def runs_of(job: Job) -> tuple[Run, ...]:
    """Every run, each after the one it joins. Raises InputError on loops, unknown or doubled names."""
    names = [MAIN, *(b.name for b in job.branches)]
    twice = next((n for n in names if names.count(n) > 1), None)
    if twice is not None:
        raise InputError("run", "is named twice; give each run its own name", twice)
    main = Run(MAIN, job.line, alignment_of(job.line, (job.x, job.y), job.bearing), "", 0.0, "", -1)
    placed, waiting = {MAIN: main}, list(enumerate(job.branches))
    while waiting:
        ready = [(i, b) for i, b in waiting if not b.joins or b.joins in placed]
        if not ready:
            raise InputError(f"run {waiting[0][1].name}", _why_stuck(waiting[0][1].joins, names))
        for index, branch in ready:
            start = (branch.x, branch.y)
            if branch.joins:
                parent = placed[branch.joins]
                if branch.joins_at > parent.line.length + 1e-6:
                    raise InputError(f"run {branch.name}", f"joins {branch.joins} beyond its end; move it to station {parent.line.length:.2f} m or less",
                                     f"{branch.joins_at:.2f} m")  # fmt: skip
                start = parent.alignment.point(branch.joins_at)
            placed[branch.name] = Run(branch.name, branch.line, alignment_of(branch.line, start, branch.bearing), branch.joins, branch.joins_at,
                                      branch.trench_of, index)  # fmt: skip
        waiting = [(i, b) for i, b in waiting if b.name not in placed]
    return tuple(placed.values())


def _why_stuck(joins: str, names: list[str]) -> str:
    if joins not in names:
        return f"joins {joins}, which is not there; choose the run it joins"
    return "runs in a circle with the runs it joins; water needs one way out, so let one of them end elsewhere"


def runs_that_stand(job: Job) -> tuple[tuple[Run, ...], str]:
    """The runs of a job, and what is wrong with how they join; then the main line stands alone. For whoever only looks at them."""
    try:
        return runs_of(job), ""
    except InputError as told:
        return runs_of(dataclasses.replace(job, branches=())), str(told)


def line_named(job: Job, name: str) -> Line:
    """The line of a run, however the runs join. Raises InputError where there is none of that name."""
    if name == MAIN:
        return job.line
    found = next((b.line for b in job.branches if b.name == name), None)
    if found is None:
        raise InputError("run", "is not on this site", name)
    return found


def run_named(job: Job, name: str) -> Run:
    """The run of a name; InputError where there is none."""
    found = next((r for r in runs_of(job) if r.name == name), None)
    if found is None:
        raise InputError("run", "is not on this site", name)
    return found


def with_line(job: Job, name: str, line: Line) -> Job:
    """The job with the line of one run replaced."""
    if name == MAIN:
        return dataclasses.replace(job, line=line)
    branches = tuple(dataclasses.replace(b, line=line) if b.name == name else b for b in job.branches)
    return dataclasses.replace(job, branches=branches)


def meetings(runs: tuple[Run, ...]) -> list[Meeting]:
    """Where runs cross in plan without being joined; runs in one trench are left out."""
    lines = [shapely.linestrings(r.alignment.points) for r in runs]
    found = []
    for i, first in enumerate(runs):
        for j in range(i):
            second = runs[j]
            if first.trench_of == second.name or second.trench_of == first.name:
                continue
            cut = shapely.intersection(lines[i], lines[j])
            for x, y in shapely.get_coordinates(shapely.centroid(shapely.get_parts(cut))).tolist():
                at = (x, y)
                a, b = first.alignment.nearest(at)[0], second.alignment.nearest(at)[0]
                if not _joined(first, second, a, b):
                    found.append(Meeting(first.name, second.name, a, b, at))
    return found


def _joined(first: Run, second: Run, at_first: float, at_second: float) -> bool:
    if first.joins == second.name and at_first < 0.05 and abs(at_second - first.joins_at) < 0.05:
        return True
    if second.joins == first.name and at_second < 0.05 and abs(at_first - second.joins_at) < 0.05:
        return True
    return bool(first.joins) and first.joins == second.joins and max(at_first, at_second) < 0.05


def fittings_of(runs: tuple[Run, ...], run: Run) -> list[tuple[float, str]]:
    """Stations and names of everything set into a run: what follows from the layout, and what the user put there."""
    found = [(f.station, f.kind) for f in run.line.fittings]
    found += [(b.station, f"bend {abs(b.angle):.0f}° {'left' if b.angle > 0 else 'right'}") for b in run.line.bends if 0 < b.station < run.line.length]
    joining = [r for r in runs if r.joins == run.name]
    for station in sorted({round(r.joins_at, 3) for r in joining}):
        here = [r for r in joining if abs(r.joins_at - station) < 1e-3]
        names = ", ".join(r.name for r in here)
        if station > run.line.length - 1e-3:
            found.append((station, f"{'wye' if len(here) > 1 else 'coupler'} to {names}"))
        else:
            found.append((station, f"{_joint(run, here)} to {names}"))
    if not any(r.joins_at > run.line.length - 1e-3 for r in joining):
        found.append((run.line.length, "end cap"))
    return sorted(found)


def _joint(run: Run, here: list[Run]) -> str:
    if len(here) > 1:
        return "cross"
    between = math.degrees(here[0].alignment.bearing(0.0) - run.alignment.bearing(here[0].joins_at))
    return "tee" if abs(abs((between + 180) % 360 - 180) - 90) < 20 else "wye"


def stations_every(run: Run, step: float) -> NDArray[np.float64]:
    """Stations from 0 to the end at most ``step`` m apart, shape (n,)."""
    return np.linspace(0.0, run.line.length, max(2, int(np.ceil(run.line.length / step)) + 1))
