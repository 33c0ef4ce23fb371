"""Runs that take a place in another's trench: their levels follow from the level of that run and from the section."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
from numpy.typing import NDArray

from weirant.errors import InputError
from weirant.ground.inverts import invert_at, with_inverts
from weirant.ground.moves import aside
from weirant.ground.network import IN_TRENCH, LaidRun, lay_out
from weirant.ground.stretches import LaidStretch, at, makes_of
from weirant.job import Job
from weirant.job.geometry import nodes_by_id, parts_of
from weirant.job.network import Run
from weirant.job.run_edits import runs_at, with_node, with_run
from weirant.library import Library

Array = NDArray[np.float64]
SAME = 1e-9  # m
IN_PLAN = 1e-5  # m in plan that are no move
AT_CORNER = 0.5  # m: nearer to a corner than that a place is that corner's


def in_place(job: Job, library: Library) -> Job:
    """The job with every run that takes a place in another's trench laid there, in plan and level; one that would rise towards its low end
    stays at its level.
    """
    job = _in_plan(job)
    for guest, levelled in _levelled(job, library).items():
        if levelled is not None:
            before = lay_out(next(r for r in job.runs if r.id == guest), nodes_by_id(job))
            if _most_off(before, lay_out(levelled, nodes_by_id(job))) > SAME:
                job = with_run(job, levelled)
    return job


def _in_plan(job: Job) -> Job:
    """The job with the nodes of runs that take a place in another's trench beside that one; a node that others go through stays where it is."""
    for guest in (run for run in job.runs if run.bore):
        nodes = nodes_by_id(job)
        host = lay_out(next(r for r in job.runs if r.id == guest.trench_of), nodes)
        parts, sections = parts_of(host.run, host.length), {s.id: s for s in job.sections}
        for name in guest.nodes:
            node = nodes[name]
            station, away = host.alignment.nearest((node.x, node.y))
            if away > IN_TRENCH or len(runs_at(job, name)) > 1:
                continue
            corner = float(host.node_stations[np.argmin(np.abs(host.node_stations - station))])
            station = corner if abs(corner - station) < AT_CORNER else station
            section = sections[next(s.section for low, _, s in reversed(parts) if station >= low - 1e-6)]
            (x, y), (east, north) = host.alignment.point(station), aside(host, station, section.bore(guest.bore).across)
            if math.dist((node.x, node.y), (x + east, y + north)) > IN_PLAN:
                job = with_node(job, dataclasses.replace(node, x=round(x + east, 6), y=round(y + north, 6)))
    return job


def off_its_place(job: Job, library: Library, run: str) -> float | None:
    """The most m that a run lies off the place it takes; None where it cannot lie there."""
    levelled = _levelled(job, library).get(run)
    if levelled is None:
        return None
    nodes = nodes_by_id(job)
    return _most_off(lay_out(next(r for r in job.runs if r.id == run), nodes), lay_out(levelled, nodes))


def _most_off(before: LaidRun, after: LaidRun) -> float:
    stations = np.union1d(before.grade[0], after.grade[0])
    return float(np.max(np.abs(invert_at(before, stations) - invert_at(after, stations))))


def _levelled(job: Job, library: Library) -> dict[str, Run | None]:
    """The runs that take a place, at the levels it gives them; None where those cannot be laid."""
    if not any(run.bore for run in job.runs):
        return {}
    nodes = nodes_by_id(job)
    laid = [lay_out(run, nodes) for run in job.runs]
    makes, by_id = makes_of(laid, job.sections, library), {run.id: run for run in laid}
    found: dict[str, Run | None] = {}
    for guest in laid:
        if guest.run.bore:
            host = by_id[guest.run.trench_of]
            stations, levels = _levels(guest, host, makes.along(guest), makes.along(host))
            try:
                found[guest.id] = with_inverts(guest, stations, levels)
            except InputError:
                found[guest.id] = None
    return found


def places_on(guest: LaidRun, host: LaidRun, stations: Array) -> tuple[Array, NDArray[np.bool_]]:
    """Stations m on the run whose trench it is beside stations m of the one that lies in it, and which of these lie in it; both (n,)."""
    nearest = [host.alignment.nearest(guest.alignment.point(float(s))) for s in stations]
    return np.array([s for s, _ in nearest]), np.array([away <= IN_TRENCH for _, away in nearest])


def kept_level(guest: LaidRun, host: LaidRun) -> Array:
    """Stations m of a run at which its level follows from the run in whose trench it lies: its corners, and where that one's grade changes."""
    return np.array(sorted({*guest.node_stations.tolist(), *beside(guest, host, host.grade[0])}))


def beside(guest: LaidRun, host: LaidRun, stations: Array) -> list[float]:
    """Stations m on a run beside stations (n,) of the one in whose trench it lies, without those that its own corners and ends stand for."""
    found = (guest.alignment.nearest(host.alignment.point(float(s))) for s in stations)
    return [round(s, 6) for s, away in found if away <= IN_TRENCH and float(np.min(np.abs(guest.node_stations - s))) > AT_CORNER]


def lift_of(guest: tuple[LaidStretch, ...], host: tuple[LaidStretch, ...], station: float, on_host: float) -> float:
    """How far m the invert of a run in its place lies over that of the run whose trench it is."""
    return at(guest, station).make.below - at(host, on_host).make.below


def _levels(guest: LaidRun, host: LaidRun, own: tuple[LaidStretch, ...], hosts: tuple[LaidStretch, ...]) -> tuple[Array, Array]:
    stations = kept_level(guest, host)
    there, inside = places_on(guest, host, stations)
    levels = invert_at(host, there) + np.array([lift_of(own, hosts, float(s), float(t)) for s, t in zip(stations, there, strict=True)])
    if inside.any() and not inside.all():  # where it leaves the trench it goes on as it fell there
        first, last = int(np.flatnonzero(inside)[0]), int(np.flatnonzero(inside)[-1])
        slope = (levels[last] - levels[first]) / (stations[last] - stations[first]) if last > first else guest.slope
        low, high = np.arange(len(stations)) < first, np.arange(len(stations)) > last
        levels = np.where(low, levels[first] - slope * (stations[first] - stations), np.where(high, levels[last] + slope * (stations - stations[last]), levels))
    return stations, levels
