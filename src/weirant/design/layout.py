"""Edits of the layout: runs and things drawn, moved and taken out; each gives a new job."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable, Mapping

import numpy as np
import shapely

from weirant.errors import InputError
from weirant.ground.alignment import Point, alignment_of
from weirant.ground.crossings import shape_of
from weirant.ground.inverts import STEEPEST, invert_at
from weirant.ground.joining import node_at
from weirant.ground.moves import followed
from weirant.ground.network import LaidRun, laid_run, network_of
from weirant.job import Job
from weirant.job.geometry import APART, nodes_by_id, run_of
from weirant.job.identity import NODE, RUN, STRETCH, THING, fresh
from weirant.job.network import PLAIN, Held, Node, Outlet, Run, Stretch
from weirant.job.paths import spec_at
from weirant.job.run_edits import fresh_name, of_node_kind, runs_at, with_node, with_run, without_unused
from weirant.job.site import FOUNDED, OUTLINED, Feature, Spot
from weirant.language import tr
from weirant.rules import shipped_rules


def add_run(job: Job, corners: list[Point], *, collects: bool, joins: str = "", ends_on: str = "", crosses: Mapping[Point, str] | None = None,
            ground: float | None = None, name: str = "") -> Job:  # fmt: skip
    """A new run through corners from its low end up; it joins the run of an identity where its low end lies, or has an outlet of its own at
    the ground level given. ``ends_on`` is a run that its top end lies on: it meets that there, as in a ring; ``crosses`` are the runs that it is joined
    to at corners on its way.

    It is laid at the least slope of its use; with no ground given, from the level of the nearest run. Raises InputError where there are too few corners.
    """
    places = [(float(x), float(y)) for x, y in alignment_of(corners).points]
    limits = job.limits
    least = max(limits.least_slope if collects else limits.least_slope_solid, 0.001)
    first, nodes = "", []
    if joins:
        parent = laid_run(job, joins)
        at = parent.alignment.nearest(places[0])[0]
        invert = float(invert_at(parent, np.array(at)))
        job, first = node_at(job, joins, at)
        meets = nodes_by_id(job)[first]
        if math.dist((meets.x, meets.y), places[1]) < APART:
            raise InputError("run", tr("needs two points that stand apart"))
        nodes, places = [first], places[1:]
    else:
        invert = _level_near(job, places[0]) if ground is None else ground
    top: float | None = None
    if ends_on:
        other = laid_run(job, ends_on)
        station = other.alignment.nearest(places[-1])[0]
        top = float(invert_at(other, np.array(station)))
        job, last = node_at(job, ends_on, station)
        places = places[:-1]
        if last in nodes:
            raise InputError("run", tr("begins and ends at one place; end it on another"))
    for index, (x, y) in enumerate(places):
        crossed = (crosses or {}).get((x, y), "")
        if crossed and index:
            job, shared = node_at(job, crossed, laid_run(job, crossed).alignment.nearest((x, y))[0])
            nodes.append(shared)
            continue
        outlet = Outlet() if index == 0 and not joins else None
        node = Node(fresh(job.nodes, NODE), x, y, outlet=outlet)
        job = dataclasses.replace(job, nodes=(*job.nodes, node))
        nodes.append(node.id)
    size = alignment_of(corners).length
    if ends_on and top is not None:
        nodes.append(last)
        least = (top - invert) / size if 0 <= top - invert <= STEEPEST * size else least  # it meets the other at its level, where it can
    like = _like(job, joins, corners[0])
    stretches: tuple[Stretch, ...] = (dataclasses.replace(like, is_solid=not collects),)
    if collects and not joins:
        solid = dataclasses.replace(like, is_solid=True, to_station=round(min(shipped_rules().solid_start, 0.4 * size), 6))
        stretches = (solid, dataclasses.replace(like, is_solid=False, id=fresh((solid,), STRETCH)))
    stem = tr("drain") if collects else tr("solid")
    called = fresh_name(job, name) if name else fresh_name(job, f"{stem} 1", stem)
    run = Run(fresh(job.runs, RUN), called, tuple(nodes), round(invert, 6), least, stretches)
    return dataclasses.replace(job, runs=(*job.runs, run))


def _like(job: Job, joins: str, point: Point) -> Stretch:
    """Pipe, section and situation that a new run begins with: those of the run that it joins, or else of the nearest; it keeps no place dry yet."""
    near = (joins, 0.0) if joins else run_near(job, point, math.inf)
    stretch = run_of(job, near[0] if near is not None else job.runs[0].id).stretches[-1]
    return Stretch(pipe=stretch.pipe, section=stretch.section, situation=dataclasses.replace(stretch.situation, place=""))


def _level_near(job: Job, point: Point) -> float:
    near = run_near(job, point, math.inf)
    return 0.0 if near is None else float(invert_at(laid_run(job, near[0]), np.array(near[1])))


def rename_run(job: Job, identity: str, new: str) -> Job:
    """The job with a run under another name. Raises InputError where the name is taken or empty."""
    new = new.strip()
    if not new or any(run.name == new for run in job.runs if run.id != identity):
        raise InputError(tr("name of the run"), tr("is empty or taken"), new or None)
    return dataclasses.replace(job, runs=tuple(dataclasses.replace(run, name=new) if run.id == identity else run for run in job.runs))


def set_at_station(job: Job, identity: str, station: float, kind: str) -> Job:
    """The job with a fitting of a kind set into a run at a station."""
    job, name = node_at(job, identity, station)
    return with_node(job, of_node_kind(nodes_by_id(job)[name], kind))


def taken_out_at(job: Job, identity: str, station: float = 0.0, reach: float = 0.3048, node: str = "") -> Job:
    """The job without the fittings of a run within reach m of a station, or without that at one node; nodes that then serve nothing go."""
    run = laid_run(job, identity)
    turns = [s for s, _ in run.bends]
    for here, at in run.nodes:
        if here.kind == PLAIN or (here.id != node if node else abs(at - station) > reach):
            continue
        job = with_node(job, dataclasses.replace(of_node_kind(here, PLAIN), name=""))
        is_needed = at < APART or at > run.length - APART or len(runs_at(job, here.id)) > 1 or any(abs(at - s) < APART for s in turns)
        if not is_needed:
            left = laid_run(job, identity).run
            job = with_run(job, dataclasses.replace(left, nodes=tuple(n for n in left.nodes if n != here.id)))
            job = without_unused(job, (here.id,))
    return job


def move_node(identity: str, index: int) -> Callable[[Job, Point], Job]:
    """A corner of a run moved in plan; stations stretch with it, levels stay. The joint of a low end slides along the run that it joins."""

    def move(job: Job, to: Point) -> Job:
        network = network_of(job)
        run = network.run(identity)
        node = run.nodes[index][0]
        host = next((other for other, at in network.others_at(run, node.id) if APART < at < other.length - APART), None)
        if index == 0 and host is not None:
            to = _on_its_way(host, node.id, to)
        if any(math.dist(to, (n.x, n.y)) < APART for r in runs_at(job, node.id) for n in _neighbours(job, r, node.id)):
            return job
        moved = with_node(job, dataclasses.replace(node, x=to[0], y=to[1]))
        for other in network.runs:
            if any(n.id == node.id for n, _ in other.nodes):
                after = laid_run(moved, other.id)
                spec_at(moved, f"runs.{other.id}.length").check(after.length)
                moved = followed(moved, other, after)
        return moved

    return move


def _neighbours(job: Job, run: Run, node: str) -> list[Node]:
    nodes, found = nodes_by_id(job), []
    for i, here in enumerate(run.nodes):
        if here == node:
            found += [nodes[n] for n in (*run.nodes[max(i - 1, 0) : i], *run.nodes[i + 1 : i + 2])]
    return found


def _on_its_way(host: LaidRun, node: str, to: Point) -> Point:
    """The place on a run nearest to a point, between the nodes next to one of its nodes."""
    stations = [at for _, at in host.nodes]
    index = next(i for i, (n, _) in enumerate(host.nodes) if n.id == node)
    low, high = stations[max(index - 1, 0)], stations[min(index + 1, len(stations) - 1)]
    room = min(0.1, 0.1 * (high - low))
    wanted = min(max(host.alignment.nearest(to)[0], low + room), high - room)
    (x0, y0), (x1, y1) = host.alignment.point(low), host.alignment.point(high)
    if abs(math.dist((x0, y0), (x1, y1)) - (high - low)) < APART:  # straight through: the joint stays on the line
        share = (wanted - low) / (high - low)
        return x0 + share * (x1 - x0), y0 + share * (y1 - y0)
    return host.alignment.point(wanted)


def hold(job: Job, identity: str, station: float, level: float) -> Job:
    """Fix the invert of a run at a station; a level held there before is replaced."""
    run = laid_run(job, identity).run
    kept = tuple(h for h in run.held if abs(h.station - station) > 0.05)
    return with_run(job, dataclasses.replace(run, held=tuple(sorted((*kept, Held(station, level)), key=lambda h: h.station))))


def release(job: Job, identity: str, station: float) -> Job:
    """Let a held invert go."""
    run = laid_run(job, identity).run
    return with_run(job, dataclasses.replace(run, held=tuple(h for h in run.held if abs(h.station - station) > 0.05)))


def add_thing(job: Job, kind: str, corners: list[Point]) -> Job:
    """A thing drawn on the plan. Raises InputError where it has too few corners for its kind."""
    needed = 1 if kind in ("tree", "outlet") else 3 if kind in OUTLINED else 2
    if len(corners) < needed:
        raise InputError(kind, tr("needs {needed} points on the plan", needed=needed), len(corners))
    count = sum(f.kind == kind for f in job.features) + 1
    name = tr(kind) if count == 1 else f"{tr(kind)} {count}"
    thing = Feature(fresh(job.features, THING), kind, name, tuple(Spot(x, y) for x, y in corners), root_radius=4.0 if kind == "tree" else None)
    return dataclasses.replace(job, features=(*job.features, thing))


def move_thing_corner(identity: str, corner: int) -> Callable[[Job, Point], Job]:
    """A corner of a feature moved."""

    def move(job: Job, to: Point) -> Job:
        def moved(feature: Feature) -> Feature:
            return dataclasses.replace(feature, points=(*feature.points[:corner], Spot(*to), *feature.points[corner + 1 :]))

        return dataclasses.replace(job, features=tuple(moved(f) if f.id == identity else f for f in job.features))

    return move


def thing_near(job: Job, point: Point, reach: float) -> str:
    """Identity of the feature at a point: the nearest line or tree within reach m, else the outline that holds it; empty for none."""
    here = shapely.points(point)
    best, found = reach, ""
    for feature in job.features:
        away = float(shapely.distance(shape_of(feature), here))
        if away < best:
            best, found = away, feature.id
    if found:
        return found
    inside = [f.id for f in job.features if f.kind in (*FOUNDED, "wet area") and len(f.points) > 2 and shapely.covers(shape_of(f, is_closed=True), here)]
    return inside[-1] if inside else ""


def run_near(job: Job, point: Point, reach: float) -> tuple[str, float] | None:
    """Identity and station of the run nearest to a point within reach m."""
    found = min(((*run.alignment.nearest(point)[::-1], run.id) for run in network_of(job).runs), default=None)
    return (found[2], found[1]) if found is not None and found[0] <= reach else None
