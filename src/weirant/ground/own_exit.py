"""A run, or its upper part, led to daylight by solid pipe of its own."""

from __future__ import annotations

import dataclasses

import numpy as np
import shapely

from weirant.errors import InputError
from weirant.ground.crossings import shape_of
from weirant.ground.daylight_places import DaylightPlace, Land
from weirant.ground.inverts import grade_nodes, with_inverts
from weirant.ground.joining import detach
from weirant.ground.network import LaidRun, laid_run, lay_out, network_of
from weirant.ground.turning import in_two
from weirant.job import Job
from weirant.job.geometry import nodes_by_id
from weirant.job.identity import NODE, STRETCH, fresh
from weirant.job.network import Node, Outlet, Run
from weirant.job.run_edits import with_length, with_run, without_unused
from weirant.job.survey import Place
from weirant.language import tr

EARTH = 0.6  # m left standing between two pipes, so that the one above does not leak into the trench below (common practice, no source)


def land_of(job: Job) -> Land:
    """The owner's land within its boundary, and the buildings on it."""
    boundary = next((f for f in job.features if f.kind == "boundary" and len(f.points) > 2), None)
    barred = tuple(shape_of(f, is_closed=True) for f in job.features if f.kind in ("building", "slab", "wall"))
    return Land(None if boundary is None else shapely.buffer(shape_of(boundary, is_closed=True), 0.01), barred)


def with_outlet_at(job: Job, identity: str, place: DaylightPlace) -> Job:
    """The job with the solid pipe of a run led straight to a place; what collects stays where it is and as deep.

    Shots booked along the run keep their places in plan. Raises InputError where another run joins the old solid pipe.
    """
    run, network = laid_run(job, identity), network_of(job)
    solid, shift = run.solid_length, place.length - run.solid_length
    if any(station < solid - 1e-6 for _, station in network.joined_by(network.run(identity))):
        raise InputError(run.name, tr("has another run on its solid pipe; join that one to what collects first"))
    kept = [(node, station) for node, station in run.nodes if station > solid + 1e-6]
    outlet = Node(fresh(job.nodes, NODE), *place.at, outlet=dataclasses.replace(run.outlet or Outlet(), water_level=None, storm_level=None))
    start = next((node.id for node, station in run.nodes if abs(station - solid) <= 1e-6), "")
    job = dataclasses.replace(job, nodes=(*job.nodes, outlet))
    if not start:
        bend = Node(fresh(job.nodes, NODE), *run.alignment.point(solid))
        job, start = dataclasses.replace(job, nodes=(*job.nodes, bend)), bend.id
    if run.length - solid < 1e-6:  # all solid: one straight pipe from its top end
        kept = []
    first = run.run.stretches[0]
    led = dataclasses.replace(first, is_solid=True, id=first.id if first.is_solid else fresh(run.run.stretches, STRETCH))
    stretches = (dataclasses.replace(led, to_station=round(place.length, 6)),
                 *(dataclasses.replace(s, to_station=None if s.to_station is None else s.to_station + shift)
                   for s in run.run.stretches if s.to_station is None or s.to_station > solid + 1e-6))  # fmt: skip
    moved = dataclasses.replace(run.run, nodes=(outlet.id, start, *(node.id for node, _ in kept)), breaks=(),
                                stretches=stretches if kept else (dataclasses.replace(led, to_station=None),),
                                held=tuple(dataclasses.replace(h, station=h.station + shift) for h in run.held if h.station >= solid))  # fmt: skip
    job = without_unused(_in_plan(with_run(job, moved), run), [node.id for node, _ in run.nodes])
    return with_run(job, _graded(run, lay_out(moved, nodes_by_id(job)), place, shift))


def _graded(before: LaidRun, after: LaidRun, place: DaylightPlace, shift: float) -> Run:
    stations, levels = grade_nodes(before)
    above = stations > before.solid_length + 1e-9
    start = float(np.interp(before.solid_length, stations, levels))
    tops = [] if not above.any() else [*(stations[above] + shift)[:-1].tolist(), after.length]
    return with_inverts(after, [0.0, place.length if tops else after.length, *tops], [place.level, start, *levels[above].tolist()])


def _in_plan(job: Job, run: LaidRun) -> Job:
    """Shots booked along a run at their places in plan."""
    shots = tuple(s if s.run != run.id else dataclasses.replace(s, run="", station=None, place=Place("plan", *run.alignment.point(s.station or 0.0)))
                  for s in job.survey.shots)  # fmt: skip
    return dataclasses.replace(job, survey=dataclasses.replace(job.survey, shots=shots))


def with_own_exit(job: Job, identity: str, station: float, place: DaylightPlace) -> Job:
    """The job with a run cut in two at a station, m, what lies above it led to daylight at a place by itself, and earth left before what lies below.

    Raises InputError where it cannot be cut there.
    """
    job, upper = in_two(job, identity, station)
    return with_outlet_at(with_length(detach(job, upper), identity, station - EARTH), upper, place)
