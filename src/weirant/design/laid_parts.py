"""What the layout asks small parts for: joints, turns, ends, boxes, outlets, edges of cloth; by code, with how many and where."""

from __future__ import annotations

import math
from collections.abc import Iterator
from itertools import pairwise

import numpy as np

from weirant.design.sheets import LEAST_RISER, RISER_STEP
from weirant.design.takeoff import benches, joints_in
from weirant.ground.inverts import invert_at
from weirant.ground.network import AT_END
from weirant.ground.set_in import BEND, COUPLER, CROSS, END_CAP, SET, TEE, TOP_WYE, WYE, SetIn, set_in
from weirant.ground.stretches import LaidStretch
from weirant.job.network import (
    AIR_GAP,
    CLEAN_OUT,
    DRY_CREEK,
    EXISTING,
    IN_THE_OPEN,
    INLET,
    LAWN,
    LEAF_BASKET,
    OPEN_PIPE,
    OVER_A_GRATE,
    PUMP_PIT,
    RISER,
    RISES,
    ROOF_ENTRY,
    VENT,
    Node,
)
from weirant.job.section import AT_JOINTS, OPEN_TOP, SOIL_CAP, TURF_TOP
from weirant.library import Pipe
from weirant.methods.aprons import erosion_stone
from weirant.outcome.amounts import PAVED, PLOUGHED
from weirant.outcome.bill import Origin
from weirant.outcome.boxes import rim_of
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass

HAND = 0.1  # m of turf beside the trench at each side that is cut with it (common practice, no source)
BY_HAND = 45.0  # degrees by which pipe off a coil is turned without a fitting (common practice, no source)
BENDS = ((11.25, 33.75, "22"), (33.75, 56.25, "45"), (78.75, 101.25, "90"))  # degrees of turn that a bend of so many is set for
TRICKLE = 1e-5  # m³/s that grass stands by itself
LEAST_APRON = 0.05  # m of stone that is laid at the least


@dataclass(frozen=True)
class Wanted:
    """So much of what a part is wanted for, where, and the pipe it is to fit."""

    code: str
    amount: float
    origin: Origin
    pipe: Pipe | None = None


def wanted_parts(outcome: Outcome) -> Iterator[Wanted]:
    """Everything that the layout asks for, run by run, from the low ends up. What is there already asks for nothing; where a new run meets it, the joint is asked for."""
    for found in outcome.site.runs:
        is_there = found.run.run.status == EXISTING
        for one in set_in(outcome.site.network, found.run):
            if one.code in (WYE, TEE, CROSS, TOP_WYE, COUPLER):
                if not is_there or any(other.run.status != EXISTING for other in one.others):
                    yield from _joint(outcome, found, one)
            elif not is_there and one.code == SET:
                yield from _set(outcome, found, one.node, one.station)
            elif not is_there:
                yield from _turned(found, one)
        if not is_there:
            yield from _let_out(outcome, found)
            yield from _along(outcome, found)


def _at(found: RunOutcome, station: float) -> Pipe:
    return found.make(min(max(station, 0.0), found.run.length)).pipe


def _joint(outcome: Outcome, found: RunOutcome, one: SetIn) -> Iterator[Wanted]:
    """A joint, the reducers into it, and none where a box is set there, which takes the pipes itself."""
    here, pipe = Origin(found.id, one.node.id), _at(found, one.station)
    if one.node.kind in (INLET, PUMP_PIT):
        return
    if found.run.run.status == EXISTING and one.code in (WYE, TEE):
        yield Wanted("joint onto old", 1, here, pipe)  # what lies in the ground is not cut apart
    else:
        yield Wanted({WYE: "joint wye", TEE: "joint tee", CROSS: "joint cross", TOP_WYE: "joint top wye", COUPLER: "joint top"}[one.code], 1, here, pipe)
    for other in one.others:
        station = next(s for node, s in other.nodes if node.id == one.node.id)
        meets = outcome.site.run(other.id)
        if meets is not None and abs(_at(meets, station).inner_diameter - pipe.inner_diameter) > 1e-3:
            yield Wanted("branch size", 1, here, _at(meets, station))


def _turned(found: RunOutcome, one: SetIn) -> Iterator[Wanted]:
    here, pipe, turn = Origin(found.id, one.node.id), _at(found, one.station), abs(one.turn)
    if one.code == END_CAP and one.node.kind not in (INLET, PUMP_PIT, ROOF_ENTRY):  # those close the pipe themselves
        yield Wanted("end", 1, here, pipe)
    if one.code == BEND and one.node.kind not in (INLET, PUMP_PIT) and turn >= (BY_HAND if pipe.supply == "coil" else BENDS[0][0]):
        bend = next((name for low, high, name in BENDS if low <= turn < high), "odd")
        yield Wanted(f"bend {bend}", 1, here, pipe)


def _set(outcome: Outcome, found: RunOutcome, node: Node, station: float) -> Iterator[Wanted]:
    """What is set at a node, with what leads up from the pipe to it."""
    if node.status == EXISTING:
        return
    here, pipe, rim = Origin(found.id, node.id), _at(found, station), rim_of(outcome, node)
    up = max(rim - float(invert_at(found.run, np.array(station))) - found.make(station).above, 0.0) if rim is not None else 0.0
    if node.kind in (CLEAN_OUT, VENT, RISER):
        yield Wanted(node.kind, 1, here, pipe)
        yield Wanted("upright", up, here, pipe)
    if node.kind == INLET or (node.kind == ROOF_ENTRY and node.entry == OVER_A_GRATE):
        yield Wanted("box", 1, here)
        if up > LEAST_RISER:
            yield Wanted("riser step", math.ceil(up / RISER_STEP[outcome.job.units] - LEAST_RISER / RISER_STEP[outcome.job.units]), here)
    if node.kind == ROOF_ENTRY:
        yield Wanted("roof entry", 1, here)
        if node.entry in (LEAF_BASKET, AIR_GAP):
            yield Wanted("leaf basket" if node.entry == LEAF_BASKET else "air gap", 1, here)
    if node.kind == PUMP_PIT:
        yield Wanted("pump pit", 1, here)


def _let_out(outcome: Outcome, found: RunOutcome) -> Iterator[Wanted]:
    """What is set where the run lets its water out."""
    node, outlet = found.run.nodes[0][0], found.run.outlet
    if outlet is None or node.status == EXISTING:
        return
    here, pipe = Origin(found.id, node.id), _at(found, 0.0)
    yield Wanted("open end" if outlet.kind == OPEN_PIPE else outlet.kind, 1, here, pipe)
    if outlet.kind in RISES:
        yield Wanted("rises", 1, here, pipe)
    if outlet.mouth.flap:
        yield Wanted("flap", 1, here)
    if outlet.soaks is not None and outlet.soaks.voids < 1:
        yield Wanted("soak pit", outlet.soaks.area * outlet.soaks.depth, here)
    if outlet.pump is not None:
        yield Wanted("pump", outlet.pump.pumps, here)
        yield Wanted("check valve", outlet.pump.pumps * outlet.pump.check_valve, here)
        yield Wanted("freeze relief", float(outlet.pump.freeze_relief), here)
        yield Wanted("rising main", outlet.pump.main_length, here)
    leaves = outcome.site.exits.get(node.id)
    if outlet.kind in IN_THE_OPEN and outlet.kind in (OPEN_PIPE, DRY_CREEK, LAWN) and leaves is not None and leaves.discharge >= TRICKLE:
        apron = erosion_stone(leaves.discharge, pipe.inner_diameter, 0.4 * pipe.inner_diameter)
        area = apron.length * (3 * pipe.inner_diameter + apron.width) / 2
        yield Wanted("erosion stone", area * 2 * max(apron.stone, LEAST_APRON), here)


def _along(outcome: Outcome, found: RunOutcome) -> Iterator[Wanted]:
    """What is asked for by length: joints of pipe, edges of cloth, turf, pavement."""
    for stretch, amounts in zip(found.stretches, found.amounts_of, strict=False):
        here, make, length, pipes = Origin(found.id, stretch.id), stretch.make, stretch.high - stretch.low, found.run.run.pipes
        joints = sum(joints_in(high - low, make.pipe.supply_length) for low, high in _pieces(outcome, found, stretch)) * pipes
        if make.pipe.supply == "coil":
            yield Wanted("pipe joint", joints, here, make.pipe)
        if not stretch.is_solid and make.section.is_socked:
            yield Wanted("sock end", pipes * len(_pieces(outcome, found, stretch)), here)
        if not stretch.is_solid and make.section.wrap == AT_JOINTS:
            yield Wanted("wrapped joint", joints, here)
        edges = (2 if make.section.is_lined else 0) + make.section.is_covered
        if not stretch.is_solid and edges:
            yield Wanted("cloth edge", edges * length, here)
        yield Wanted("pavement", amounts.all_of(PAVED), here)
        is_opened = found.grade is not None and not amounts.all_of(PLOUGHED) and not found.run.run.trench_of
        if make.section.pavement == 0 and is_opened and (stretch.is_solid or make.section.top in (SOIL_CAP, TURF_TOP)):
            yield Wanted("turf", _turf(found, stretch), here)
        if is_opened and not stretch.is_solid and make.section.top == OPEN_TOP and not make.section.is_lined:
            yield Wanted("open side", 2 * _side(found, stretch), here)
    for band in outcome.site.spoil:
        if band.run == found.id and band.rings and band.depth > 0:  # feathered to nothing: as wide as it is, it is half as thick in the mean
            yield Wanted("spread earth", 2 * band.volume / band.depth, Origin(found.id, found.stretches[0].id))
    for below, above in pairwise(found.stretches):
        one, other = below.make.pipe, above.make.pipe
        if one.key != other.key and (abs(one.inner_diameter - other.inner_diameter) > 1e-3 or one.supply != other.supply):
            yield Wanted("change", 1, Origin(found.id, above.id), other)


def _pieces(outcome: Outcome, found: RunOutcome, stretch: LaidStretch) -> list[tuple[float, float]]:
    """From and to station m of each length of pipe that is laid in one, between what cuts it: joints, boxes, and what is set on a tee."""
    cuts = [one.station for one in set_in(outcome.site.network, found.run) if one.code in (WYE, TEE, CROSS) or (one.code == SET and one.node.kind in (INLET, PUMP_PIT, CLEAN_OUT, VENT))]
    ends = [stretch.low, *sorted(s for s in set(cuts) if stretch.low + AT_END < s < stretch.high - AT_END), stretch.high]
    return list(pairwise(ends))


def _turf(found: RunOutcome, stretch: LaidStretch) -> float:
    """Turf m² over a stretch and a hand beside it, where there is a trench."""
    assert found.grade is not None
    grade, section = found.grade, stretch.make.section
    here = stretch.holds(grade.stations)
    cut = grade.cut[here]
    wide = np.where(cut > 0, section.width + 2 * section.side_slope * np.maximum(cut, 0.0) + 2 * HAND, 0.0)
    if len(cut) < 2:
        return 0.0
    return float(np.sum(np.diff(grade.stations[here]) * (wide[1:] + wide[:-1]) / 2)) + benches(stretch.make, grade.stations[here], cut)


def _side(found: RunOutcome, stretch: LaidStretch) -> float:
    """One side of the trench of a stretch, m²."""
    assert found.grade is not None
    here = stretch.holds(found.grade.stations)
    return float(np.trapezoid(np.maximum(found.grade.cut[here], 0.0), found.grade.stations[here])) if here.any() else 0.0


def pieces_of_pipe(outcome: Outcome) -> Iterator[tuple[Origin, LaidStretch, float]]:
    """Every length m of pipe that is laid in one, with the stretch it lies in, of all pipes side by side."""
    for found in outcome.site.runs:
        if found.run.run.status != EXISTING:
            for stretch in found.stretches:
                for low, high in _pieces(outcome, found, stretch):
                    for _ in range(found.run.run.pipes):
                        yield Origin(found.id, stretch.id), stretch, high - low
