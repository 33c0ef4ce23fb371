"""Where the water leaves: does what is there take it, does it stand over the ground before, and what rests in the pipe when it no longer runs?"""

from __future__ import annotations

import dataclasses
from functools import partial

import numpy as np

from weirant.checks.judge import judge
from weirant.ground.inverts import least_slope
from weirant.job.network import DRY_CREEK, DRY_WELL, LAWN, MAIN, OPEN_PIPE, RISES, Outlet
from weirant.job.water import ROOF, SURFACE
from weirant.language import tr
from weirant.methods.aprons import erosion_stone
from weirant.outcome.commands import Set
from weirant.outcome.facts import Amount, Facts, Lasting
from weirant.outcome.figure import Figure
from weirant.outcome.finding import WAITS, Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.outcome.standing import room_under_rims
from weirant.units import display as k

HAIR = 1e-3  # m
MUCH = 0.1  # of roof water that may soak out of a pipe unnoticed (common practice, no source)
TRICKLE, LEAST_STONE = 1e-4, 0.05  # m³/s that grass stands by itself; m of stone that stays where it is laid (both common practice, no source)
WIDTHS = (0.1016, 0.1524, 0.2032, 0.254, 0.3048, 0.4572)  # m across: emitters and grates over risers that are sold (common practice, no source)
UNMEASURED, FILLS = "not measured", "fills"  # of what is at the end of a run
NEAR_RIM = 0.0508  # m under the ground at which water in the pipe is called tight (common practice, no source)


def takes_it(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """What leads the water on within the ground takes it: a main beside what it carries of its own, a dry well by its soil in the design storm."""
    outlet = found.run.outlet
    if outlet is None or outlet.kind not in (MAIN, DRY_WELL):
        return None
    return (_main if outlet.kind == MAIN else _well)(outcome, found, outlet)


def _main(outcome: Outcome, found: RunOutcome, outlet: Outlet) -> Finding:
    node, way = found.run.nodes[0][0].id, outcome.site.outlets.get(found.run.nodes[0][0].id)
    path = f"nodes.{node}.outlet.main"
    said = partial(Finding, source="chow1959 cp", station=0.0, piece=node, caution="others-main", elements=tuple(f"{path}.{name}" for name in ("diameter", "slope", "own_storm")))
    if outlet.main is None or way is None or way.main is None:
        return said(State.UNKNOWN, "main")
    leaves, main = outcome.site.exits.get(node), way.main
    if leaves is None or leaves.missing or leaves.shared:
        return said(State.UNKNOWN, "missing", facts={"missing": leaves.missing or leaves.shared if leaves is not None else None})
    own = outlet.main.own_storm if outlet.main.own_storm is not None else main.own
    through, capacity = max(own, main.own) + leaves.discharge, main.capacity
    over = main._replace(own=max(own, main.own)).level(leaves.discharge) - found.run.invert
    state = judge(through, capacity, at_most=True)
    figure = Figure(tr("What the main carries full"), capacity, k.DISCHARGE, "pipe-full-flow", {"diameter": main.across, "roughness_n": main.roughness, "slope": main.slope},
                    "discharge")  # fmt: skip
    if outlet.main.own_storm is None and state != State.FAILS:
        return said(State.UNKNOWN, "main-storm", facts={"comes": Amount(leaves.discharge, k.DISCHARGE), "spare": Amount(capacity - main.own, k.DISCHARGE)})
    if state == State.HOLDS and over > HAIR:
        state = State.TIGHT
    return said(state, "main", value=through, limit=capacity, kind=k.DISCHARGE, figure=figure,
                facts={"comes": Amount(leaves.discharge, k.DISCHARGE), "own": Amount(max(own, main.own), k.DISCHARGE), "over": Amount(over, k.SECTION) if over > HAIR else None})  # fmt: skip


def _well(outcome: Outcome, found: RunOutcome, outlet: Outlet) -> Finding:
    node, limit = found.run.nodes[0][0].id, outcome.rules.empties_within
    path = f"nodes.{node}.outlet.soaks"
    if outlet.soaks is None or outlet.soaks.percolation is None:
        return Finding(State.UNKNOWN, "well", source="cp", station=0.0, piece=node, elements=(f"{path}.percolation",))
    said = partial(Finding, source="ilri16 cp", station=0.0, piece=node, elements=tuple(f"{path}.{name}" for name in ("area", "depth", "percolation")), caution="soaks-beside")
    leaves, filled = outcome.site.exits.get(node), outcome.site.filled.get(node)
    if leaves is None or leaves.missing or leaves.shared:
        return said(State.UNKNOWN, "missing", facts={"missing": leaves.missing or leaves.shared if leaves is not None else None})
    if filled is None:
        return said(State.UNKNOWN, WAITS)
    crown, ground = found.run.invert + found.make(0.0).pipe.inner_diameter, float(found.grade.ground[0]) if found.grade is not None else np.inf
    stands = Amount(abs(filled.highest - found.run.invert), k.DEPTH)
    if filled.highest >= ground - HAIR:
        return said(State.FAILS, "well-over", facts={"stands": stands})
    empties = Lasting(filled.empties, np.inf)
    if filled.highest > crown:
        return said(State.TIGHT, "well-backs", facts={"stands": stands, "empties": empties}, value=filled.highest - found.run.invert, limit=ground - found.run.invert, kind=k.DEPTH)
    state = State.HOLDS if filled.empties <= limit else State.TIGHT
    return said(state, "well-long" if state == State.TIGHT else "well-holds", value=filled.empties, limit=limit, kind=k.DURATION,
                facts={"stands": stands, "under": filled.highest < found.run.invert, "empties": empties})  # fmt: skip


def over_ground(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Water in the pipe stays under the ground and under the rims along it, with what its outlet and what it joins ask of it; of a run that falls everywhere."""
    flow, storm, grade = found.flow_high, found.storm, found.grade
    if flow is None or grade is None or flow.missing or flow.shared or least_slope(found.run)[0] <= 0 or not outcome.site.carries[found.id]:
        return None  # its size tells of it
    asked, is_followed = [(flow.surface, flow.full_fraction)], storm is not None and storm.is_simulated and storm.surface is not None
    ends = {_holds_back(outcome, node) for node in leaves_by(outcome, found)}
    if UNMEASURED in ends:
        return None  # first what is there must be known to take it
    if storm is not None and storm.surface is not None and is_followed:
        asked.append((storm.surface, storm.full_fraction))
    if FILLS not in ends and any(float(share.max()) > 1 for _, share in asked):
        return None
    room = [room_under_rims(found, grade, surface) for surface, _ in asked]
    at = min(range(len(room)), key=lambda i: float(room[i][0].min()))
    worst = int(room[at][0].argmin())
    left, over_stone, station = float(room[at][0][worst]), float(room[at][1][worst]), float(grade.stations[worst])
    if not np.isfinite(left):
        return None  # nothing is open along it
    if FILLS in ends and not is_followed:
        return Finding(State.UNKNOWN, WAITS, source="chow1959 cp")
    said = partial(Finding, source="chow1959 cp", station=station, facts={"storm": at == 1, "off": Amount(abs(left), k.DEPTH)}, value=left, limit=0.0, kind=k.DEPTH, at_most=False)
    if left < -HAIR:
        return said(State.FAILS, fixes=_opened(outcome, found))
    return said(State.TIGHT if left < NEAR_RIM and over_stone > HAIR else State.HOLDS)


def leaves_by(outcome: Outcome, found: RunOutcome) -> set[str]:
    """The nodes at the low ends that the water of a run comes to."""
    ends, waiting, seen = set[str](), [found.run], {found.id}
    while waiting:
        run = waiting.pop()
        onward = [other for other, _ in outcome.site.network.drains_to(run)]
        if run.outlet is not None or not onward:
            ends.add(run.nodes[0][0].id)
        waiting += [other for other in onward if other.id not in seen]
        seen |= {other.id for other in onward}
    return ends


def _holds_back(outcome: Outcome, node: str) -> str:
    """What is at a node that may hold water back by so much that nobody knows: a main or a well that was not measured, or a well that fills in a storm."""
    outlet, relation = next((n.outlet for n in outcome.job.nodes if n.id == node), None), outcome.site.outlets.get(node)
    if outlet is None or relation is None or outlet.kind not in (MAIN, DRY_WELL):
        return ""
    is_known = relation.main is not None if outlet.kind == MAIN else relation.soaks is not None
    return UNMEASURED if not is_known else FILLS if outlet.kind == DRY_WELL else ""


def _opened(outcome: Outcome, found: RunOutcome) -> tuple[Fix, ...]:
    """Its outlet opened: a hole as wide as the pipe, a riser through the next wider opening."""
    node, outlet = found.run.nodes[0][0].id, found.run.outlet
    relation = outcome.site.outlets.get(node)
    if outlet is None or relation is None or relation.passage is None:
        return ()
    path, mouth = f"nodes.{node}.outlet.mouth", outlet.mouth
    if outlet.kind not in RISES:
        narrow = mouth.across is not None and mouth.across < found.make(0.0).pipe.inner_diameter
        return (Fix("open-mouth", Set(path, dataclasses.replace(mouth, across=None, clear=1.0))),) if narrow or mouth.clear < 1 else ()
    across = mouth.across if mouth.across is not None else found.make(0.0).pipe.inner_diameter
    wider = next((size for size in WIDTHS if size > across + HAIR), None)
    return (Fix("wider-mouth", Set(path, dataclasses.replace(mouth, across=wider)), {"across": Amount(wider, k.SECTION)}),) if wider is not None else ()


def rests(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """What stands in the pipe up to the rim of its outlet when it no longer runs, and how long until it has soaked away under it."""
    node, grade = found.run.nodes[0][0].id, found.grade
    way = outcome.site.outlets.get(node)
    if way is None or way.passage is None or grade is None or way.crest <= found.run.invert + HAIR or found.run.outlet is None:
        return None
    deep = np.clip(way.crest - grade.invert, 0.0, None)
    length = float(np.sum(np.diff(grade.stations) * (deep[1:] > 0)))
    if length <= 0:
        return None
    diameter, path = found.make(0.0).pipe.inner_diameter, f"nodes.{node}.outlet.soaks"
    volume = float(np.trapezoid(np.minimum(deep / diameter, 1.0), grade.stations)) * np.pi * diameter**2 / 4 * found.run.run.pipes
    facts = {"length": Amount(length, k.DISTANCE), "volume": Amount(volume, k.WATER_VOLUME)}
    said = partial(Finding, source="cp", station=0.0, piece=node, elements=(f"{path}.percolation",))
    if way.soaks is None:
        return said(State.TIGHT, "stays", facts={**facts, "hole": found.run.outlet.soaks is not None})
    if way.soaks.since >= found.run.invert:
        return said(State.TIGHT, "table", facts={**facts, "off": Amount(way.soaks.since - found.run.invert, k.SECTION)})
    middle = (way.crest + found.run.invert) / 2
    time = (volume + way.soaks.holds * (way.crest - found.run.invert)) / way.soaks.takes(middle)
    limit = outcome.rules.empties_within
    return said(State.HOLDS if time <= limit else State.TIGHT, "soaks", facts={**facts, "time": Lasting(time, np.inf)}, value=time, limit=limit, kind=k.DURATION)


def gives_back(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Roof or surface water in a pipe that collects soaks out again where the ground is dry: how much at the most, by its own weight (a gradient of one),
    while the trench stands full to the crown.
    """
    waters = set(outcome.site.carries[found.id]) & {ROOF, SURFACE}
    flow = found.flow_high
    if not waters or found.run.collecting_length < 0.1 or flow is None or flow.missing or flow.shared:
        return None
    lost = 0.0
    for part in found.collects:
        make = found.make(part.station)
        deep = make.below + make.pipe.inner_diameter
        lost += outcome.soil(part.soil).conductivity.high * (make.section.width + 2 * deep) * part.length
    comes = float(np.abs(flow.discharge).max())
    facts: Facts = {"lost": Amount(lost, k.DISCHARGE), "length": Amount(found.run.collecting_length, k.DISTANCE), "comes": Amount(comes, k.DISCHARGE), "all": lost >= comes}
    limit = MUCH * comes
    return Finding(State.TIGHT if lost > limit else State.HOLDS, source="cp", facts=facts, value=lost, limit=limit, kind=k.DISCHARGE)


def erosion(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """The stone that keeps the water from digging where a pipe ends in the open, for the most that leaves there; information for the order."""
    run, leaves = found.run, outcome.site.exits.get(found.run.nodes[0][0].id)
    if run.outlet is None or run.outlet.kind not in (OPEN_PIPE, DRY_CREEK, LAWN) or leaves is None or leaves.missing or leaves.shared or leaves.discharge < TRICKLE:
        return None
    diameter, node = found.make(0.0).pipe.inner_diameter, run.nodes[0][0].id
    arguments = {"discharge": leaves.discharge, "diameter": diameter, "tailwater": 0.4 * diameter}
    apron = erosion_stone(**arguments)
    figure = Figure(tr("Stone at the outlet"), apron.stone, k.SECTION, "erosion-stone", arguments, "stone")
    facts: Facts = {"comes": Amount(leaves.discharge, k.DISCHARGE), "stone": Amount(max(apron.stone, LEAST_STONE), k.SECTION), "length": Amount(apron.length, k.DISTANCE),
                    "width": Amount(apron.width, k.DISTANCE)}  # fmt: skip
    state = State.TIGHT if apron.stone > LEAST_STONE else State.HOLDS  # larger stone than comes by the bag
    return Finding(state, source="hec14 cp", facts=facts, figure=figure, station=0.0, piece=node, value=apron.stone, limit=LEAST_STONE, kind=k.SECTION)


RUN = {"takes-it": takes_it, "over-ground": over_ground, "rest-water": rests, "gives-back": gives_back, "erosion": erosion}
