"""From a job to the demands on its grade: what slopes, levels, cover and depth every run of it asks for."""

from __future__ import annotations

import dataclasses
import math
from bisect import bisect_left
from collections.abc import Iterator
from itertools import permutations

import numpy as np
from numpy.typing import NDArray

from weirant.errors import InputError
from weirant.ground.collecting import Collecting
from weirant.ground.crossings import stretches_within
from weirant.ground.grade.demands import CrossingDemand, JointDemand, MeetingDemand, NetworkDemand, RunDemand
from weirant.ground.grade_line import GradeLine
from weirant.ground.in_place import beside, lift_of, places_on
from weirant.ground.inverts import STEEPEST
from weirant.ground.network import AT_END, LaidRun, Network
from weirant.ground.stretches import largest
from weirant.job import Job
from weirant.job.network import BEST, IN_THE_OPEN, INLET, OPEN_PIPE, PLANNED, PUMPED_ON, RISES
from weirant.job.section import SOIL_CAP
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome

Array = NDArray[np.float64]
NEAREST = 0.05  # m: of two places nearer than that one is enough
ANY_DEPTH = 1e3  # m: asks nothing


def demand_of(outcome: Outcome, every: float | None = None) -> NetworkDemand:
    """The demands of a job's runs. Raises InputError where the ground under a run is not known."""
    site, runs = outcome.site, []
    for found in site.runs:
        if found.grade is None:
            raise InputError(found.run.name, tr("has no ground under it; shoot levels along it"))
        runs.append(_run_demand(outcome, found, found.grade, every))
    runs = [_covered_as_host(outcome, demand, {r.name: r for r in runs}) for demand in runs]
    met = tuple(MeetingDemand(m.first, m.second, m.first_station, m.second_station) for m in site.meetings)
    joints = (*_joints(site.network, outcome.job.limits.drop_at_joints), *_in_their_places(outcome, runs))
    return NetworkDemand(tuple(runs), outcome.job.limits.clearance, joints, met)


def _joints(network: Network, drop: float) -> Iterator[JointDemand]:
    """Where runs meet: one that ends there drops into those that go on; those that both go on, or both begin there, lie at one level."""
    for joints in network.at_node.values():
        for upper, lower in permutations(joints, 2):
            if upper.station < AT_END < lower.station:
                yield JointDemand(upper.run, upper.station, lower.run, lower.station, drop)
            elif min(upper.station, lower.station) > AT_END and upper.run < lower.run:
                yield JointDemand(upper.run, upper.station, lower.run, lower.station, 0.0)


def _covered_as_host(outcome: Outcome, demand: RunDemand, runs: dict[str, RunDemand]) -> RunDemand:
    """A run that takes a place in another's trench is covered where that one is to be."""
    run = outcome.site.network.run(demand.name)
    host = outcome.site.run(run.run.trench_of)
    if host is None or not run.run.bore:
        return demand
    there, inside = places_on(run, host.run, demand.stations)
    covered = np.interp(there, runs[host.id].stations, runs[host.id].covered.astype(float)) > 0.5
    return dataclasses.replace(demand, covered=demand.covered & (covered | ~inside))


def _in_their_places(outcome: Outcome, demands: list[RunDemand]) -> Iterator[JointDemand]:
    """Runs that take a place in another's trench lie as far over it as the section says, at every node of theirs that lies in it."""
    for found, demand in zip(outcome.site.runs, demands, strict=True):
        host = outcome.site.run(found.run.run.trench_of)
        if host is None or not found.run.run.bore:
            continue
        there, inside = places_on(found.run, host.run, demand.nodes)
        for station, at in zip(demand.nodes[inside].tolist(), there[inside].tolist(), strict=True):
            yield JointDemand(found.id, station, host.id, at, 0.0, lift_of(found.stretches, host.stretches, station, at))


def _run_demand(outcome: Outcome, found: RunOutcome, grade: GradeLine, every: float | None) -> RunDemand:
    run, limits = found.run, outcome.job.limits
    nodes = _nodes(outcome, run, every)
    # what is asked where must not hang on how fine the net of nodes is: then a finer net can only gain
    basis = np.array(sorted({*grade.stations.tolist(), *_nodes(outcome, run, None).tolist(), *_place_ends(found), *(c.station for c in found.crossings)}))
    stations = np.unique(np.concatenate([basis, nodes]))
    ground = np.interp(stations, grade.stations, grade.ground)
    above, below, wall, width, diameter = (largest(found.stretches, stations, of) for of in (
        lambda m: m.above, lambda m: m.below, lambda m: m.pipe.wall, lambda m: m.section.width, lambda m: m.pipe.inner_diameter))  # fmt: skip
    outlet = outlet_least(outcome, run, float(ground[0]), float(above[0]) + limits.least_cover)
    middle = (nodes[:-1] + nodes[1:]) / 2
    least = np.where(run.collects(middle), limits.least_slope, limits.least_slope_solid)
    for low, high in wooded(outcome.job, run):
        least = np.where((nodes[1:] > low + 1e-6) & (nodes[:-1] < high - 1e-6), np.maximum(least, limits.least_slope_trees), least)
    collecting = run.collects(stations)
    demand = RunDemand(
        run.id, stations, ground, nodes, least, limits.most_slope, above, below, wall, width, limits.least_cover,
        stations >= _cover_starts(run, basis, np.interp(basis, grade.stations, grade.ground), outlet, float(above[0]) + limits.least_cover, float(least.min())), limits.most_depth,
        _collect_levels(found, stations, diameter, outcome.rules.room_in_pipe, ground, collecting), collecting,
        outlet, tuple((h.station, h.level) for h in run.held if h.station <= run.length),
        _crossing_demands(outcome, found), not run.run.trench_of, _cap_levels(found, stations, ground, outcome.rules.least_cap),
    )  # fmt: skip
    return _as_it_lies(demand, run) if run.run.status != PLANNED else demand


def _as_it_lies(demand: RunDemand, run: LaidRun) -> RunDemand:
    """What is asked of a run that lies there already: to stay as it is."""
    held = tuple((float(s), float(z)) for s, z in zip(demand.nodes, np.interp(demand.nodes, *run.grade), strict=True))
    return dataclasses.replace(demand, held=held, least_slopes=np.zeros(len(demand.nodes) - 1), most_slope=STEEPEST, covered=np.zeros(len(demand.stations), dtype=bool),
                               most_depth=ANY_DEPTH, collect_levels=np.full(len(demand.stations), np.inf), outlet_least=None, crossings=(), dug=False, cap_levels=None)  # fmt: skip


def _nodes(outcome: Outcome, run: LaidRun, every: float | None) -> Array:
    """Where the grade may change: bends, boxes, joints, the ends of stretches, held inverts, where it enters and leaves roots, and in between."""
    network = outcome.site.network
    met = (s for node, s in run.nodes if node.kind == INLET or network.others_at(run, node.id))
    wanted = {*met, *(s for s, _ in run.bends), *(high for _, high, _ in run.spans), *(h.station for h in run.held), *(s for ends in wooded(outcome.job, run) for s in ends)}
    host = outcome.site.run(run.run.trench_of) if run.run.bore else None
    if host is not None:  # in its place in another's trench its grade changes where that one's may
        wanted |= {*beside(run, host.run, _nodes(outcome, host.run, every))}
    if run.run.status != PLANNED:
        wanted |= {*run.grade[0].tolist()}
    found = _apart(sorted(round(s, 6) for s in wanted if 0.0 <= s <= run.length), [0.0, run.length])
    if every is not None:
        found = _apart(np.round(np.arange(0.0, run.length, every), 6).tolist(), found)
    return np.array(found)


def wooded(job: Job, run: LaidRun) -> list[tuple[float, float]]:
    """From and to station of each stretch of a run that lies among roots."""
    trees = [(f, f.root_radius) for f in job.features if f.kind == "tree" and f.root_radius is not None]
    return [ends for tree, radius in trees for ends in stretches_within(run.alignment, tree, radius, is_closed=False)]


def _apart(more: list[float], kept: list[float]) -> list[float]:
    """Stations kept, and of further ones those that lie clear of them and of one another, in order."""
    found = sorted(kept)
    for station in more:
        at = bisect_left(found, station)
        if station - found[max(at - 1, 0)] > NEAREST and (at == len(found) or found[at] - station > NEAREST):
            found.insert(at, station)
    return found


def _place_ends(found: RunOutcome) -> list[float]:
    """Where the places that a run keeps dry begin and end along it."""
    return [s for part in found.serving if part.lie is not None for s in (part.lie.low, part.lie.high) if 0.0 <= s <= found.run.length]


def outlet_least(outcome: Outcome, run: LaidRun, ground: float, needed: float) -> float | None:
    """The lowest invert at an outlet: out of the ground where the pipe ends in the open, and above the water it falls into.

    Where the water rises to get out, the pipe stays in the ground; it is then kept as high as its cover (``needed``, m under the ground) lets it.
    """
    if not outcome.site.network.ends_in_the_open(run):
        return None
    kind, level = (run.outlet.kind, run.outlet.water_level) if run.outlet is not None else (OPEN_PIPE, None)
    levels = [ground] if kind in IN_THE_OPEN else [ground - max(outcome.rules.deepest_outlet, needed)]
    if level is not None and kind not in (*RISES, PUMPED_ON):
        levels.append(level + outcome.rules.freeboard)
    return max(levels)


def _cover_starts(run: LaidRun, stations: Array, ground: Array, outlet: float | None, needed: float, least: float) -> float:
    """Station from which on cover is demanded: everywhere, but for an outlet in the open only from where the ground has risen enough for any
    pipe to have it.
    """
    within = run.outlet is not None and run.outlet.kind not in IN_THE_OPEN
    if outlet is None or within or run.solid_length <= 0:  # a collecting run keeps its cover all along
        return 0.0
    lowest = max([outlet, *(h.level for h in run.held if h.station == 0.0)])
    covered = np.nonzero(ground - needed >= lowest + least * stations)[0]
    beyond = np.nonzero(stations > run.solid_length - 1e-9)[0]
    return min((float(stations[found[0]]) for found in (covered, beyond) if len(found)), default=math.inf)


def _beside(part: Collecting, stations: Array) -> NDArray[np.bool_]:
    """Where what collects has to lie deep enough: beside the place that it keeps dry; where it keeps none, all along."""
    lie = part.lie
    if lie is None or lie.high - lie.low < 0.1:
        return np.ones(len(stations), dtype=bool)
    return np.asarray((stations >= lie.low - 1e-6) & (stations <= lie.high + 1e-6))


def _collect_levels(found: RunOutcome, stations: Array, diameter: Array, room: float, ground: Array, collecting: NDArray[np.bool_]) -> Array:
    """The highest invert at which the run still collects what it should; infinity where nothing is asked."""
    levels, least = np.full(len(ground), np.inf), found.run.run.least_depth
    for part in found.serving or found.collects:
        dry = part.place.dry_depth if part.place is not None else None
        depth = least if least is not None else None if dry is None else dry + room * diameter
        if depth is not None:
            levels = np.where(collecting & _beside(part, stations), np.minimum(levels, ground - depth), levels)
    return levels


def _cap_levels(found: RunOutcome, stations: Array, ground: Array, least: float) -> Array | None:
    """The highest invert that leaves soil enough over the stone, where a stretch that collects is closed by soil."""
    levels = np.full(len(stations), np.inf)
    for stretch in found.stretches:
        if not stretch.is_solid and stretch.make.section.top == SOIL_CAP:
            here = stretch.holds(stations)
            levels[here] = np.minimum(levels[here], ground[here] - (stretch.make.natural_stone - stretch.make.below + stretch.make.least_cap(least)))
    return levels if np.isfinite(levels).any() else None


def _crossing_demands(outcome: Outcome, found: RunOutcome) -> tuple[CrossingDemand, ...]:
    job, demands = outcome.job, []
    for crossing in found.crossings:
        if crossing.top is None or crossing.bottom is None:
            continue
        way = next((c.way for c in job.crossings if (c.run, c.thing) == (found.id, crossing.feature.id)), BEST)
        clear = job.limits.clearance
        demands.append(CrossingDemand(crossing.station, crossing.feature.id, crossing.top + clear, crossing.bottom - clear, way))
    return tuple(demands)
