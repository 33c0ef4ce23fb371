"""Water in every run of a job: what comes from the ground, from storm and roof, and what flows where."""

from __future__ import annotations

import dataclasses
from collections import defaultdict
from collections.abc import Callable, Collection, Mapping, Sequence
from functools import cached_property, partial
from operator import attrgetter
from typing import TYPE_CHECKING

import numpy as np

from weirant.design.outlets import outlets_of
from weirant.design.pumps import pumps_of
from weirant.design.runs_on import let_out
from weirant.design.session import Session
from weirant.design.sources import brought
from weirant.design.stone_shares import stone_shares
from weirant.design.water import collected, roughly_collected, storm_release
from weirant.errors import InputError
from weirant.ground.collecting import Collecting
from weirant.ground.grade_line import GradeLine
from weirant.ground.inverts import least_slope
from weirant.ground.network import LaidRun, from_below
from weirant.ground.stretches import pipes_key
from weirant.hydraulics.accumulate import NOTHING, Accumulated, Drop, Inflow, Piece, accumulate, ways_of
from weirant.hydraulics.losses import losses_along
from weirant.hydraulics.mesh_sketch import Undecided
from weirant.hydraulics.parting import Parted, PipeMesh, part
from weirant.hydraulics.pipes_along import PipesAlong, pipes_along
from weirant.hydraulics.run_flow import RunFlow, StormFlow, run_flow
from weirant.hydraulics.settling import settled
from weirant.job import Job
from weirant.job.doubt import Doubt
from weirant.job.network import INLET
from weirant.job.soil import Band
from weirant.job.water import SHEDS
from weirant.language import tr
from weirant.library import Library
from weirant.outcome.outcome import Outcome, SoilFigures
from weirant.outcome.site import RunOutcome, Site
from weirant.outcome.stone_share import StoneShare
from weirant.outcome.water import Brought, CollectedWater, RunWater
from weirant.records import dataclass
from weirant.rules import Rules

if TYPE_CHECKING:  # what a storm needs beside is loaded where one is followed
    from weirant.outcome.routed import StormThrough

Waters = dict[str, RunWater]
# decimals of a metre to which the water in the pipe sets the water table beside it, and the surface at a joint the water in the pipe above it: a hair
# of it would work out a whole network anew
TO, TO_HAIR = 3, 4
ONE_WATER = ("rough", "best", "high")  # turns in which pipes in one trench share what comes; in a storm each is bound by all of it until it was simulated
TURNS: Mapping[str, Callable[[RunWater], Inflow]] = {
    "rough": attrgetter("inflow_high"), "best": attrgetter("inflow"), "high": attrgetter("inflow_high"), "storm": attrgetter("inflow_storm")}  # fmt: skip


def with_flows(job: Job, site: Site, soils: Mapping[str, SoilFigures], library: Library, rules: Rules, session: Session) -> Site:
    """The site with the water of every run that has ground under it.

    The drain's level sets the inflow and the inflow sets the level: from about what comes, once round is enough, the pipe being small beside the depth
    of the water table.
    """
    sources = session.once("sources", (job.sources, job.rainfall, job.features, rules), lambda: tuple(brought(job, source, rules) for source in job.sources))
    site = dataclasses.replace(site, pumps=pumps_of(site.network, site.runs))
    site = dataclasses.replace(site, outlets=outlets_of(site.network, site.runs, site.pumps))
    flows = _Flows(job, site, soils, sources, library, session)
    graded = [(f, f.grade) for f in site.runs if f.grade is not None]
    rough, _ = flows.along({f.id: flows.roughly(f, grade) for f, grade in graded}, "rough")
    waters = {f.id: flows.water(f, grade, [round(rough[f.id].at_station(grade, part.station), TO) for part in f.collects]) for f, grade in graded}
    (best, _), (high, total), storm = flows.along(waters, "best"), flows.along(waters, "high"), flows.in_storm(waters)
    runs = tuple(dataclasses.replace(f, water=waters.get(f.id), flow=best.get(f.id), flow_high=high.get(f.id), storm=storm.get(f.id)) for f in site.runs)
    return dataclasses.replace(site, runs=runs, passes=total.nodes, exits=total.exits, brought=sources, trails=let_out(job, site, session), stone_shares=flows.shares)


def with_storm(outcome: Outcome, peaks: Mapping[tuple[str, float], float], runs: Collection[str], through: StormThrough) -> Outcome:
    """The outcome with the most flow of some runs in the design storm as it was simulated: as it was followed ``through`` the pipes; of runs that were not,
    no more than all peaks at once, ``peaks`` m²/s by run and station of what collects above and along them.
    """
    site = outcome.site
    flows = _Flows(outcome.job, site, outcome.soils, site.brought, outcome.library, Session())
    waters = {f.id: dataclasses.replace(f.water, parts=tuple(dataclasses.replace(p, in_storm=peaks.get((f.id, p.of.station), p.in_storm)) for p in f.water.parts))
              for f in site.runs if f.water is not None}  # fmt: skip
    storm = flows.in_storm(waters)

    def most(of: RunOutcome) -> StormFlow:
        part = through.part_of(of.id)
        if part is None or of.grade is None:
            return dataclasses.replace(storm[of.id], is_simulated=True)
        stands = part.standing(of)
        assert stands is not None
        return StormFlow(stands.flow, stands.share, stands.surface, is_simulated=True)

    found = tuple(dataclasses.replace(f, water=waters.get(f.id), storm=most(f)) if f.id in runs else f for f in site.runs)
    filled = {node: part.filled(node, soaks, through.ends) for part in through.parts for node in part.soaked if (soaks := site.outlets[node].soaks) is not None}
    return dataclasses.replace(outcome, site=dataclasses.replace(site, runs=found, filled=filled))


def with_plugged(outcome: Outcome, nodes: Collection[str]) -> Outcome:
    """The outcome with the flow for the high end of the soil's band as it is where some nodes let no water out.

    Raises InputError where a node lets no water out anyway, where what comes in is not known, and where the water has no other way out.
    """
    site, plugged = outcome.site, frozenset(nodes)
    _lets_out(outcome, plugged)
    flows = _Flows(outcome.job, site, outcome.soils, site.brought, outcome.library, Session())
    waters = {f.id: f.water for f in site.runs if f.water is not None}
    found, total = flows.along(waters, "high", plugged)
    for node in sorted(plugged - total.levels.keys()):
        runs = [joint.run for joint in site.network.at_node.get(node, ())]
        missing = next((doubt for run in runs if (doubt := total.doubt(site.network.run(run))[0])), None)
        raise InputError(_called(outcome.job, node), tr("cannot be plugged: what comes to it is not known") if missing else
                         tr("is the only way out of its part of the network: plugged, water rises in it until it comes to the surface"))  # fmt: skip
    again = tuple(dataclasses.replace(f, flow_high=found.get(f.id)) for f in site.runs)
    return dataclasses.replace(outcome, site=dataclasses.replace(site, runs=again, passes=total.nodes, exits=total.exits))


def drawn_on(outcome: Outcome, plugged: Collection[str] = ()) -> Undecided:
    """What a mesh of an outcome's network is drawn on that has nothing in it yet but what springs and pumps bring; what is added up, and so what is not
    known, is of the wet season. Raises InputError where a node that is to be plugged lets no water out anyway.
    """
    site = outcome.site
    _lets_out(outcome, plugged)
    flows = _Flows(outcome.job, site, outcome.soils, site.brought, outcome.library, Session())
    waters = {f.id: f.water for f in site.runs if f.water is not None}
    inflows = {run.id: _inflow(run, waters.get(run.id), TURNS["high"]) for run in site.network.runs}
    steady = defaultdict[str, Drop](Drop)
    for water in site.brought:
        if water.source.kind not in SHEDS and water.figure is not None:
            steady[water.source.node] += Drop(water.figure.value)
    total = accumulate(site.network, inflows, {node: _in_storm(drop) for node, drop in flows.drops.items()})
    return Undecided(site.network, total, {}, steady, {f.id: f.stretches for f in site.runs}, site.outlets.get, frozenset(plugged), fills=True)


def _in_storm(drop: Drop) -> Drop:
    """What comes in at a node as far as it must be known where a storm is followed, whose rain is known."""
    return dataclasses.replace(drop, missing=None) if drop.missing is not None and drop.missing.code == "short-rain" else drop


def _lets_out(outcome: Outcome, nodes: Collection[str]) -> None:
    exits = outcome.site.exits
    for node in sorted(set(nodes) - exits.keys()):
        raise InputError(_called(outcome.job, node), tr("lets no water out; these do: {nodes}", nodes=", ".join(sorted(_called(outcome.job, e) for e in exits))))


def _called(job: Job, node: str) -> str:
    """A node by its name, where it has one."""
    return next((n.name for n in job.nodes if n.id == node and n.name), node)


@dataclass(frozen=True, eq=False)
class _Flows:
    """What the flows of one assessment rest on; the session has what did not change since the last."""

    job: Job
    site: Site
    soils: Mapping[str, SoilFigures]
    sources: tuple[Brought, ...]
    library: Library
    session: Session

    @cached_property
    def pipes(self) -> dict[str, str]:
        """What flow hangs on of the pipes of each run."""
        return {f.id: self.session.once(f"pipes {f.id}", (f.stretches,), partial(pipes_key, f.stretches)) for f in self.site.runs}

    def water(self, found: RunOutcome, grade: GradeLine, water_in_pipe: list[float]) -> RunWater:
        """Water to a run for a depth of water in the pipe at each part of what collects, m."""

        def made() -> tuple[CollectedWater, ...]:
            return tuple(collected(self.job, self.library, found, part, self._band(part), depth) for part, depth in zip(found.collects, water_in_pipe, strict=True))

        return self._water(found, grade, "water", tuple(water_in_pipe), made)

    def roughly(self, found: RunOutcome, grade: GradeLine) -> RunWater:
        """About what comes to a run."""
        return self._water(found, grade, "rough", (), lambda: tuple(roughly_collected(self.job, self.library, found, part, self._band(part)) for part in found.collects))

    def _band(self, part: Collecting) -> Band:
        return self.soils[part.soil.id].conductivity

    def _water(self, found: RunOutcome, grade: GradeLine, turn: str, depths: tuple[float, ...], parts: Callable[[], tuple[CollectedWater, ...]]) -> RunWater:
        job, run = self.job, found.run
        if run.collecting_length < 1e-6:
            return RunWater()
        on = (grade, run, *depths, *(self.soils[part.soil.id] for part in found.collects), self.pipes[found.id], *found.collects, job.water, self.library,
              *(figure for part in found.collects for figure in _line_hangs_on(found, grade, part.station)))  # fmt: skip
        return self.session.once(f"{turn} water {run.id}", on, lambda: RunWater(parts(), storm_release(run.run, job.water), run.collecting_length))

    def along(self, waters: Waters, turn: str, plugged: frozenset[str] = frozenset()) -> tuple[dict[str, RunFlow], Accumulated]:
        """Flow along every run, for the best figure of the soil, or else for the high end of its band; and what passes the nodes."""
        site, network = self.site, self.site.network
        inflows, total, order = self._total(waters, turn, plugged)
        found: dict[str, RunFlow] = {}
        for identity in order:
            outcome, laid = site.run(identity), network.run(identity)
            grade = outcome.grade if outcome is not None else None
            if outcome is not None and grade is not None:
                found[laid.id] = self._run(outcome, grade, total, inflows[laid.id], _tailwater(site, total, laid, found), turn)
        return found, total

    def _total(self, waters: dict[str, RunWater], turn: str, plugged: frozenset[str] = frozenset()) -> tuple[dict[str, Inflow], Accumulated, tuple[str, ...]]:
        network, session = self.site.network, self.session
        ways, order = session.once("ways", tuple(run.lead for run in network.runs), lambda: (ways_of(network), from_below(network)))
        inflows = {run.id: _inflow(run, waters.get(run.id), TURNS[turn]) for run in network.runs}
        if turn in ONE_WATER and any(run.run.trench_of for run in network.runs):
            taken, shares = session.once(f"{turn} stone", self._shared_on(inflows), lambda: stone_shares(self.job, self.site, inflows))
            inflows |= taken
            if turn == "high":
                self.shares.update(shares)
        total = session.again(f"{turn} total", lambda before: accumulate(network, inflows, self.drops, ways, before))
        stretches = {f.id: f.stretches for f in self.site.runs}
        return inflows, settled(Undecided(network, total, inflows, self.drops, stretches, self.site.outlets.get, plugged), partial(self._parted, turn)), order

    def _parted(self, turn: str, mesh: PipeMesh, of: Piece) -> Parted:
        """What each way takes; as it was found before where nothing of it has changed."""
        return self.session.once(f"{turn} parted {of}", (mesh.key,), lambda: part(mesh))

    def in_storm(self, waters: dict[str, RunWater]) -> dict[str, StormFlow]:
        """The most that flows along every run in the design storm."""
        inflows, total, _ = self._total(waters, "storm")

        def made(of: RunOutcome, grade: GradeLine) -> StormFlow:
            discharge = total.discharge(of.run, inflows[of.id], grade.stations)
            lies = self._lies(of, grade)
            if least_slope(of.run)[0] > 0:
                return StormFlow(discharge, lies.full_fraction(discharge))
            flow = run_flow(lies, discharge, _stands(self.site, total, of.run.nodes[0][0].id), levels=_levels(total, of.run))
            return StormFlow(discharge, flow.full_fraction, flow.surface)

        def all_made(before: dict[str, tuple[tuple[object, ...], StormFlow]] | None) -> dict[str, tuple[tuple[object, ...], StormFlow]]:
            found = {}
            for f in self.site.runs:  # all at once, and not each by its name: this is asked of every run with every step of a drag
                if f.grade is not None:
                    on, last = (f.grade, f.run, self.pipes[f.id], total.runs[f.id], inflows[f.id]), (before or {}).get(f.id)
                    found[f.id] = last if last is not None and all(a is b for a, b in zip(last[0], on, strict=True)) else (on, made(f, f.grade))
            return found

        return {identity: flow for identity, (_, flow) in self.session.again("storm flows", all_made).items()}

    @cached_property
    def drops(self) -> dict[str, Drop]:
        """What comes in at nodes: what the sources bring, and what nobody has measured yet."""
        found: dict[str, Drop] = {}
        network = self.site.network

        def add(node: str, drop: Drop) -> None:  # the tops of several runs may be one node, and several sources led to it
            found[node] = found.get(node, Drop()) + drop

        for water in self.sources:
            if water.source.node in network.at_node:
                add(water.source.node, Drop(water.figure.value) if water.figure is not None else Drop(0.0, water.missing))
        for pump in self.site.pumps.values():  # what it lifts while it runs, however seldom
            if pump.pump.leads in network.at_node:
                add(pump.pump.leads, Drop(pump.discharge or 0.0, None if pump.lets_go_at is not None else Doubt("lift", pump.node)))
        for run in network.runs:
            for node, _ in run.nodes:
                if node.kind == INLET and node.id not in found:
                    found[node.id] = Drop(0.0, Doubt("inlet", run.id))
        return found

    def _run(self, of: RunOutcome, grade: GradeLine, total: Accumulated, inflow: Inflow, tail: float | None, turn: str) -> RunFlow:
        laid, levels, lies = of.run, _levels(total, of.run), self._lies(of, grade)

        def made() -> RunFlow:
            return run_flow(lies, total.discharge(laid, inflow, grade.stations), tail, total.doubt(laid), levels)

        return self.session.once(f"{turn} flow {laid.id}", (lies, total.runs[laid.id], inflow, tail, *levels), made)

    def _lies(self, of: RunOutcome, grade: GradeLine) -> PipesAlong:
        """The pipes of a run along its grade line, the same to every turn."""
        found = self._laid.get(of.id)
        if found is None:
            losses = self._lost[of.id]
            found = self._laid[of.id] = self.session.once(f"lies {of.id}", (grade, of.run, self.pipes[of.id], losses), lambda: pipes_along(grade, of.run, of.stretches, losses))
        return found

    def _shared_on(self, inflows: Mapping[str, Inflow]) -> tuple[object, ...]:
        """What the share of runs in one trench hangs on."""
        of = [f for f in self.site.runs if f.run.run.trench_of or self.site.in_trench_of(f.id)]
        return (self.job.products, *(part for f in of for part in (f.grade, f.run, f.stretches, inflows[f.id])))

    @cached_property
    def shares(self) -> dict[str, StoneShare]:
        """What runs take of the water in a trench that they share, for the high end of the soil's band; known once their flow is."""
        return {}

    @cached_property
    def _laid(self) -> dict[str, PipesAlong]:
        return {}

    @cached_property
    def _lost(self) -> dict[str, tuple[float, ...]]:
        """Velocity heads lost at the low end of each piece of every run. Water turns where nodes lie, whatever their levels: while an invert is dragged all of it is as it was."""
        runs = self.site.network.runs
        return self.session.once("losses", _by_nodes(runs), lambda: {run.id: self._lost_along(run) for run in runs})

    def _lost_along(self, laid: LaidRun) -> tuple[float, ...]:
        network = self.site.network
        met = [network.run(joint.run) for node, _ in laid.nodes if len(joints := network.at_node[node.id]) > 1 for joint in joints]
        return self.session.once(f"losses {laid.id}", _by_nodes((laid, *met)), lambda: losses_along(network, laid))


def _by_nodes(runs: Sequence[LaidRun]) -> tuple[object, ...]:
    """Runs by the nodes that they go through."""
    return tuple(part for run in runs for part in (run.id, *(node for node, _ in run.nodes)))


def _line_hangs_on(found: RunOutcome, grade: GradeLine, station: float) -> tuple[float | str | bool, ...]:
    """All of a trench that the water table beside it hangs on: more stone over the pipe leaves it as it is, unless it comes up to the ground."""
    make, cut = found.make(station), grade.at(grade.cut, station)
    return make.section.width, make.section.bedding, make.bore.height, make.pipe.openings, make.is_solid, make.section.has_stone, bool(make.stone(np.array(cut)) >= cut)


def _inflow(run: LaidRun, water: RunWater | None, inflow: Callable[[RunWater], Inflow]) -> Inflow:
    """What a run takes in along what collects; that of one without ground under it is not known."""
    if water is not None:
        return inflow(water)
    return NOTHING if run.collecting_length < 1e-6 else Inflow(0.0, Doubt("ground", run.id))


def _levels(total: Accumulated, run: LaidRun) -> tuple[float | None, ...]:
    """Levels m at the nodes of a run where they were worked out all at once, None at those that follow from what lies below; nothing where all do."""
    found = tuple(round(total.levels[node.id], TO_HAIR) if node.id in total.levels else None for node, _ in run.nodes)
    return found if any(level is not None for level in found) else ()


def _tailwater(site: Site, total: Accumulated, run: LaidRun, found: dict[str, RunFlow]) -> float | None:
    """Level m that water stands at over the low end of a run: of what it falls into, of the rim it must rise to, of the run it joins."""
    levels = [_stands(site, total, run.nodes[0][0].id)]
    for other, station in site.network.drains_to(run):
        below = site.run(other.id)
        if other.id in found and below is not None and below.grade is not None:
            levels.append(round(below.grade.at(found[other.id].surface, station), TO_HAIR))
    return max((level for level in levels if level is not None), default=None)


def _stands(site: Site, total: Accumulated, node: str) -> float | None:
    """Level m that water stands at over an outlet with what leaves there: in what it leads into, over the rim it must rise to; None where it falls free."""
    way = site.outlets.get(node)
    level = way.level(total.exits[node].discharge if node in total.exits else 0.0) if way is not None else None
    return level if level is None else round(level, TO_HAIR)
