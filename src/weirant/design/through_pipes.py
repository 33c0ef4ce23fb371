"""A storm of a job through its pipes: every source as a hydrograph, every part of the network with what it stores."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping, Sequence, Set
from functools import partial
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from weirant.design.across import Stand
from weirant.design.flows import drawn_on
from weirant.design.hydrographs import Hydrograph, Known, Told, gives_off, runs_off
from weirant.design.pumps import works_at
from weirant.design.shared_stone import share_stone, with_one_stone
from weirant.design.sources import area_of
from weirant.design.stores import lead_over_land, stores_of
from weirant.design.storms import rain_of
from weirant.design.through_outlets import own_flows, soaks_away, stands_outside, without
from weirant.errors import InputError, WeirantError
from weirant.hydraulics.accumulate import Piece
from weirant.hydraulics.mesh_sketch import MeshReach, MeshSketch, Undecided
from weirant.hydraulics.pit_cycles import PitCycles, pit_cycles
from weirant.hydraulics.routing import Brings, Lift, Routed, route
from weirant.hydraulics.settling import hanging_together
from weirant.job.doubt import Doubt
from weirant.job.network import INLET, ROOF_ENTRY
from weirant.job.rain import Storm
from weirant.job.water import SHEDS
from weirant.language import tr
from weirant.outcome.boxes import box, passage_of, rim_of
from weirant.outcome.outcome import Outcome
from weirant.outcome.pump import PumpOutcome
from weirant.outcome.routed import Along, Bowl, RoutedPart, StormThrough
from weirant.outcome.site import RunOutcome
from weirant.seepage.rain import Rain

Array = NDArray[np.float64]
HOURS, HAIR = 72.0, 1e-3
Ground = Mapping[tuple[str, float], Hydrograph]  # by run and the station of what collects


def through_pipes(outcome: Outcome, storm: Storm, hours: float = HOURS, told: Told | None = None, known: Known | None = None,
                  plugged: Sequence[str] = (), ground: Ground | None = None, power_cut: tuple[float, float] = (0.0, 0.0)) -> StormThrough | None:  # fmt: skip
    """Follow a storm for so many hours after it began, with exits and inlets that are ``plugged`` and without power between the times ``power_cut``, s: each pump then
    stands still as soon as its battery is empty, and that of a pit that is plugged altogether. ``told`` is given the share done now and then and answers
    whether to go on; None where not. ``known`` keeps what the ground gave off from one asking to the next; where it is given as ``ground``, what hangs
    together with some that is not there is not followed.
    """
    known, rain, until = {} if known is None else known, rain_of(outcome.job, storm), hours * 3600.0
    shut = {node.id for node in outcome.job.nodes if node.id in plugged and node.kind in (INLET, ROOF_ENTRY) and node.id not in outcome.site.exits}
    given = drawn_on(outcome, [node for node in plugged if node not in shut])

    def of_ground(number: int, stand: Stand) -> Hydrograph | None:
        if ground is None:
            return gives_off(outcome, stand, rain, until, _within(told, number, len(groups)), known)
        if (stand.found.id, stand.part.station) not in ground:
            raise InputError(stand.found.run.name, tr("what its ground gives off in the storm is not worked out"))
        return ground[stand.found.id, stand.part.station]

    parts, missing = [], dict[str, Doubt]()
    groups = with_one_stone(outcome, _with_what_is_pumped(outcome, hanging_together(given.network, list(given.total.sums.tops))))
    for number, pieces in enumerate(groups):
        runs = list(dict.fromkeys(run for run, _ in pieces))
        doubt = next((doubt for piece in pieces for doubt in (given.total.sums.tops[piece].missing, given.total.sums.gained[piece].missing) if doubt), None)
        if doubt is None:
            try:
                found = _part(outcome, given, pieces, rain, until, partial(of_ground, number), power_cut, shut)
            except WeirantError as fault:
                doubt = Doubt("figures", runs[0], str(fault))
            else:
                if found is None:
                    return None
                parts.append(found)
        if doubt is not None:
            missing |= dict.fromkeys(runs, doubt)
    return StormThrough(storm, rain.times[-1], until, tuple(parts), missing)


def _within(told: Told | None, number: int, of: int) -> Told | None:
    return None if told is None else lambda share: told((number + share) / of)


def _part(outcome: Outcome, given: Undecided, pieces: Sequence[Piece], rain: Rain, until: float,
          of_ground: Callable[[Stand], Hydrograph | None], power_cut: tuple[float, float], shut: Set[str]) -> RoutedPart | None:  # fmt: skip
    sketch = MeshSketch(given)
    for piece in pieces:
        sketch.draw(piece)
    bowls, shared = _bowls(outcome, sketch, shut), share_stone(outcome, sketch)
    mesh, grounds = sketch.mesh(pieces), list[_Ground]()
    for run in dict.fromkeys(run for run, _ in pieces):
        found = outcome.site.run(run)
        for part in found.water.parts if found is not None and found.water is not None else ():
            assert found is not None
            hydrograph = of_ground(Stand(found, part.of, part.of.station))
            if hydrograph is None:
                return None
            lengths = defaultdict[int, float](float)
            for reach in sketch.reaches:
                if reach.run.id == run:
                    above = part.of.above(np.array([reach.low, reach.high]))
                    for section in (reach.below, reach.above):
                        lengths[section] += float(above[0] - above[1]) / 2
            grounds.append(_Ground(found, hydrograph, lengths))
    brings = list[Brings]()
    for hydrograph, into_stone in _into_stone(grounds, shared):
        brings.append(_over(hydrograph, into_stone))
        for section, length in into_stone.items():
            mesh.inflow[section] += hydrograph.before * length
    into = dict(sketch.numbers) | {node: bowl.section for node, bowl in bowls.items()}
    brings += [_over(runs_off(rain, area, source.share, outcome.rules.sized_by, source.curve_number), {into[source.node]: 1.0}) for source in outcome.job.sources
               if source.kind in SHEDS and source.node in sketch.numbers and (area := area_of(outcome.job, source, outcome.rules)) is not None]  # fmt: skip
    stores, pits = stores_of(outcome, sketch, mesh.length, bowls), [pump for pump in outcome.site.pumps.values() if pump.node in sketch.numbers]
    for pit in pits:  # water gets out of it by its pump alone
        number = sketch.numbers[pit.node]
        sketch.outs.pop(pit.node, None)
        mesh.held[number], mesh.low[number], stores.plan[number] = np.nan, pit.floor, pit.area
        if not np.isfinite(stores.rim[number]) and (ground := outcome.site.node(sketch.node(pit.node)).ground) is not None:
            stores.rim[number], stores.edge[number] = max(ground, pit.invert), box(sketch.node(pit.node).basin)[1]
    leads = lead_over_land(outcome, sketch, stores, bowls)
    working = [(pit, _lift(pit, sketch, power_cut)) for pit in pits if pit.node not in given.plugged]
    ways = {node: outcome.site.outlets[node] for node in sketch.outs if node in outcome.site.outlets}
    soaking = {node: soaks_away(way.soaks, sketch.numbers[node]) for node, way in ways.items() if way.soaks is not None}
    outside, own = stands_outside(ways, sketch, mesh, rain), own_flows(outcome, ways, sketch, rain, brings)
    routed = route(mesh, stores, brings, until, lifts=[*(lift for _, lift in working), *soaking.values()], outside=outside)
    runs = {pit.node: _cycles(pit, routed, number, lift.idle) for number, (pit, lift) in enumerate(working)}
    soaked = {node: len(working) + number for number, node in enumerate(soaking)}
    return RoutedPart(without(routed, own), _along(sketch), dict(sketch.numbers), runs, leads, dict(sketch.outs), bowls, soaked)


class _Ground(NamedTuple):
    """What the ground brings to a part of what collects of a run, by the metre, and the lengths m of it at its sections."""

    found: RunOutcome
    brings: Hydrograph
    lengths: Mapping[int, float]


def _into_stone(grounds: Sequence[_Ground], shared: Mapping[int, int]) -> Iterator[tuple[Hydrograph, dict[int, float]]]:
    """What comes into the stone, from which pipes take it as it stands. Where several share it, it is one water: what the one would draw that draws most."""
    own: dict[str, set[int]] = {ground.found.id: set() for ground in grounds}
    for ground in grounds:
        own[ground.found.id] |= set(ground.lengths)
    met = {ground.found.run.run.trench_of: set[int]() for ground in grounds}  # sections of the run whose trench it is at which others take water in
    for ground in grounds:
        host = ground.found.run.run.trench_of
        met[host] |= {shared.get(section, section) for section in ground.lengths} & own.get(host, set())

    def trench(ground: _Ground, section: int) -> str:
        host = ground.found.run.run.trench_of
        return host if shared.get(section, section) in met[host] else ground.found.id if section in met.get(ground.found.id, ()) else ""

    most: dict[str, tuple[float, str]] = {}
    for ground in grounds:
        for name in {trench(ground, section) for section in ground.lengths} - {""}:
            most[name] = max(most.get(name, (-1.0, "")), (float(ground.brings.volumes[-1]), ground.found.id), key=lambda one: one[0])
    for ground in grounds:
        lengths = defaultdict[int, float](float)
        for section, length in ground.lengths.items():
            name = trench(ground, section)
            if not name or most[name][1] == ground.found.id:
                lengths[shared.get(section, section)] += length
        yield ground.brings, lengths


def _bowls(outcome: Outcome, sketch: MeshSketch, shut: Set[str]) -> dict[str, Bowl]:
    """The bowls round the grates of inlets, by node, from which water gets into the box below, and out of it; not where it is ``shut``."""
    found = {}
    for name in list(sketch.numbers):
        node = sketch.node(name)
        if (node.kind == INLET or name in shut) and (rim := rim_of(outcome, node)) is not None:
            level = max(rim, sketch.low[sketch.numbers[name]])
            found[name] = Bowl(sketch.bowl(name, level, None if name in shut else passage_of(node, outcome.job.limits.grate_blocked)), level)
    return found


def _lift(pit: PumpOutcome, sketch: MeshSketch, power_cut: tuple[float, float]) -> Lift:
    """A pump as the routing takes it: what it can lift where it stops and where it starts, the lift being less the higher the water; idle from when its
    battery is empty.
    """
    if pit.lets_go_at is None:
        node, network = sketch.node(pit.node), sketch.given.network
        raise InputError(node.name or network.run(network.at_node[pit.node][0].run).name, tr("up to what level its pump lifts is not known: give the level where it lets go"))
    stops, starts = pit.floor + pit.pump.stops, pit.floor + pit.pump.starts
    least, most = (works_at(pit.pump, max(pit.lets_go_at - level, 0.0))[0] or 0.0 for level in (stops, starts))
    return Lift(sketch.numbers[pit.node], sketch.numbers.get(pit.pump.leads, -1), stops, starts, least, most, (power_cut[0] + pit.pump.battery, power_cut[1]))


def _cycles(pit: PumpOutcome, routed: Routed, number: int, idle: tuple[float, float]) -> PitCycles | None:
    if not pit.discharge or pit.between_floats <= 0:
        return None
    # of what it lifts in the mean: what comes over the rim is not pumped, and no more than it can
    return pit_cycles(routed.times, np.clip(routed.lifts[:, number], 0.0, pit.discharge), pit.between_floats, pit.discharge, idle)


def _with_what_is_pumped(outcome: Outcome, groups: list[list[Piece]]) -> list[list[Piece]]:
    """Parts of a network, those taken together of which one is pumped into another."""
    network = outcome.site.network

    def holds(pieces: list[Piece], node: str) -> bool:
        return any(node in (network.run(run).nodes[index][0].id, network.run(run).nodes[index + 1][0].id) for run, index in pieces)

    for pump in outcome.site.pumps.values():
        met = [pieces for pieces in groups if holds(pieces, pump.node) or (pump.pump.leads and holds(pieces, pump.pump.leads))]
        groups = [*(pieces for pieces in groups if pieces not in met), [piece for pieces in met for piece in pieces]] if len(met) > 1 else groups
    return groups


def _over(hydrograph: Hydrograph, into: Mapping[int, float]) -> Brings:
    """What comes over that before the storm."""
    return Brings(hydrograph.moments, hydrograph.volumes - hydrograph.before * hydrograph.moments, tuple((k, share) for k, share in into.items() if share > 0))


def _along(sketch: MeshSketch) -> dict[str, Along]:
    by_run = defaultdict[str, list[tuple[int, MeshReach]]](list)
    for number, reach in enumerate(sketch.reaches):
        by_run[reach.run.id].append((number, reach))
    found = {}
    for run, reaches in by_run.items():
        reaches.sort(key=lambda item: item[1].low)
        stations = [reaches[0][1].low, *(reach.high for _, reach in reaches)]
        sections = [reaches[0][1].below, *(reach.above for _, reach in reaches)]
        found[run] = Along(np.array(stations), np.array(sections, dtype=np.intp), np.array([number for number, _ in reaches], dtype=np.intp))
    return found
