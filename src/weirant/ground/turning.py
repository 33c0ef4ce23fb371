"""A run counted from its other end, and one in two."""

from __future__ import annotations

import dataclasses

import numpy as np

from weirant.errors import InputError
from weirant.ground.inverts import grade_nodes, invert_at, slope_at, with_inverts
from weirant.ground.joining import node_at
from weirant.ground.network import laid_run, lay_out
from weirant.job import Job
from weirant.job.geometry import APART, nodes_by_id, parts_of, run_of
from weirant.job.identity import RUN, fresh
from weirant.job.network import Run
from weirant.job.run_edits import fresh_name, runs_at, with_node, with_run
from weirant.language import tr


def turned_round(job: Job, identity: str) -> Job:
    """The job with a run counted from its other end: what was its top end leads its water on. Levels are laid so that it falls to its new low end.

    Stretches, held inverts and readings keep their places; the outlet goes to the new low end, unless another run uses it too.
    """
    run = laid_run(job, identity)
    whole = run.length
    stations, levels = grade_nodes(run)

    def back(station: float) -> float:
        return max(round(whole - station, 6), 0.0)

    turned = dataclasses.replace(
        run.run, nodes=run.run.nodes[::-1], breaks=(), slope=run.slope, invert=float(levels[0]),
        stretches=tuple(dataclasses.replace(s, to_station=None if low <= 0 else round(whole - low, 6)) for low, _, s in parts_of(run.run, whole)[::-1]),
        held=tuple(dataclasses.replace(h, station=back(h.station)) for h in run.held[::-1]),
    )  # fmt: skip
    slopes = np.diff(levels) / np.diff(stations)
    risen = float(levels[0]) + np.concatenate([[0.0], np.cumsum((slopes * np.diff(stations))[::-1])])
    graded = with_inverts(lay_out(turned, nodes_by_id(job)), whole - stations[::-1], risen)
    low, top = run.nodes[0][0], run.nodes[-1][0]
    job = with_run(job, graded)
    if low.outlet is not None and len(runs_at(job, low.id)) == 1:
        job = with_node(with_node(job, dataclasses.replace(low, outlet=None)), dataclasses.replace(top, outlet=top.outlet or low.outlet))

    built = tuple(dataclasses.replace(b, station=back(b.station)) if b.run == identity else b for b in job.as_built)
    shots = tuple(dataclasses.replace(s, station=back(s.station)) if s.run == identity and s.station is not None else s for s in job.survey.shots)
    return dataclasses.replace(job, as_built=built, survey=dataclasses.replace(job.survey, shots=shots))


def in_two(job: Job, identity: str, station: float) -> tuple[Job, str]:
    """The job with a run parted at a station m into one that keeps its name and one above it that goes on from there; and the identity of that.

    They share the node between them; levels, stretches, held inverts, readings, shots and the place served stay where they are. Raises InputError
    at an end, and where other pipes lie in its trench or it lies in another's.
    """
    run = laid_run(job, identity)
    if not 2 * APART < station < run.length - 2 * APART:
        raise InputError(run.name, tr("cannot be parted at its end; stand between its ends"))
    mates = [r.name for r in job.runs if r.trench_of == identity] + ([run_of(job, run.run.trench_of).name] if run.run.trench_of else [])
    if mates:
        raise InputError(run.name, tr("shares its trench with {mates}; take them apart first", mates=mates[0]))
    level = float(invert_at(run, np.array(station)))
    job, node = node_at(job, identity, station)
    run = laid_run(job, identity)
    at = next(s for n, s in run.nodes if n.id == node)
    index = run.run.nodes.index(node)
    low = [(a, min(b, at), s) for a, b, s in parts_of(run.run, run.length) if a < at - APART]
    high = [(max(a, at), b, s) for a, b, s in parts_of(run.run, run.length) if b > at + APART]
    breaks = [b for b in run.breaks if b.station < run.length]
    above_it = float(run.collecting_above(np.array([at]))[0])
    share = 1 - above_it / run.collecting_length if run.collecting_length else 1.0  # of what collects, below
    lower = dataclasses.replace(
        run.run, nodes=run.run.nodes[: index + 1], breaks=tuple(b for b in breaks if b.station < at - APART), held=tuple(h for h in run.held if h.station <= at),
        contributing_area=run.run.contributing_area * share,
        stretches=tuple(dataclasses.replace(s, to_station=None if i + 1 == len(low) else s.to_station) for i, (_, _, s) in enumerate(low)),
    )  # fmt: skip
    above = tuple(dataclasses.replace(b, station=round(b.station - at, 6)) for b in breaks if b.station > at + APART)
    upper = Run(
        fresh(job.runs, RUN), fresh_name(job, tr("{run}, upper", run=run.name)), run.run.nodes[index:], level, float(slope_at(run, np.array([at + 1e-6]))[0]),
        tuple(dataclasses.replace(s, to_station=None if i + 1 == len(high) else round(b - at, 6)) for i, (_, b, s) in enumerate(high)), above,
        tuple(dataclasses.replace(h, station=round(h.station - at, 6)) for h in run.held if h.station > at), run.run.pipes, run.run.least_depth,
        status=run.run.status, contributing_area=run.run.contributing_area * (1 - share), sediment=run.run.sediment,
    )  # fmt: skip
    place = len(job.runs) if run.run is job.runs[-1] else next(i for i, r in enumerate(job.runs) if r.id == identity) + 1
    job = dataclasses.replace(with_run(job, lower), runs=(*with_run(job, lower).runs[:place], upper, *with_run(job, lower).runs[place:]))
    return _booked_anew(job, identity, upper.id, at), upper.id


def _booked_anew(job: Job, lower: str, upper: str, at: float) -> Job:
    """What was booked along a run above a station, along the run that goes on from there; ways past buried lines hold for both."""
    built = tuple(dataclasses.replace(b, run=upper, station=round(b.station - at, 6)) if b.run == lower and b.station > at else b for b in job.as_built)
    shots = tuple(dataclasses.replace(s, run=upper, station=round(s.station - at, 6)) if s.run == lower and s.station is not None and s.station > at else s for s in job.survey.shots)
    ways = (*job.crossings, *(dataclasses.replace(c, run=upper) for c in job.crossings if c.run == lower))
    return dataclasses.replace(job, as_built=built, crossings=ways, survey=dataclasses.replace(job.survey, shots=shots))
