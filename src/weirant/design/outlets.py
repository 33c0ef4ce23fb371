"""How water gets out at each outlet of a job, as relations of flow and level."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

import numpy as np

from weirant.ground.inverts import invert_at
from weirant.ground.network import AT_END, Network
from weirant.hydraulics.outlet_relation import Main, OutletRelation, Passage, Soaking, over_an_edge, through_a_hole
from weirant.job.network import FALLS_INTO_WATER, RISES, MainPipe, Outlet, Soakaway
from weirant.outcome.pump import PumpOutcome
from weirant.outcome.site import RunOutcome


def outlets_of(network: Network, runs: Sequence[RunOutcome], pumps: Mapping[str, PumpOutcome]) -> dict[str, OutletRelation]:
    """How water gets out at every node with an outlet."""
    found: dict[str, OutletRelation] = {}
    for run in runs:
        node, outlet = run.run.nodes[0][0], run.run.outlet
        if outlet is None or node.id in found:
            continue
        if node.id in pumps:
            found[node.id] = OutletRelation(pumps[node.id].invert, stands=pumps[node.id].floor + pumps[node.id].pump.starts)
            continue
        invert = min(float(invert_at(network.run(joint.run), np.array(joint.station))) for joint in network.at_node[node.id] if joint.station < AT_END)
        found[node.id] = _of(outlet, invert, _rim(run, outlet), run.make(0.0).pipe.inner_diameter)
    return found


def _rim(run: RunOutcome, outlet: Outlet) -> float | None:
    """The level m that water rises to; None where it does not, or the ground is not known."""
    return run.rim if outlet.kind in RISES and run.grade is not None else None


def _of(outlet: Outlet, invert: float, rim: float | None, pipe: float) -> OutletRelation:
    mouth, stands = outlet.mouth, outlet.water_level
    across = mouth.across if mouth.across is not None else pipe
    soaks = soaking(outlet.soaks, invert) if outlet.soaks is not None else None
    if rim is not None:
        return OutletRelation(max(rim, invert) + mouth.opens_at, over_an_edge(math.pi * across, mouth.clear * math.pi / 4 * across**2), mouth.flap, stands, outlet.storm_level, soaks)
    if outlet.main is not None:
        return OutletRelation(invert, main=main_of(outlet.main, invert), stands=stands)
    if outlet.kind not in FALLS_INTO_WATER:
        return OutletRelation(invert, stands=stands, soaks=soaks)
    passage: Passage | None = through_a_hole(across, mouth.clear) if mouth.across is not None or mouth.clear < 1 or mouth.flap else None
    return OutletRelation(invert, passage, mouth.flap, stands, outlet.storm_level)


def soaking(pit: Soakaway, invert: float) -> Soaking | None:
    """The ground under an outlet as it takes water, by its floor and, as deep as it stands in it, its sides; None where that was not tested. With a water table
    over its floor it takes water from there on.
    """
    if pit.percolation is None:
        return None
    floor, around = invert - pit.depth, 2 * math.sqrt(math.pi * pit.area)
    since = floor if pit.water_table is None else max(floor, pit.water_table)
    return Soaking(since, pit.percolation * pit.area, pit.percolation * around, pit.area * pit.voids, floor)


def main_of(main: MainPipe, invert: float) -> Main | None:
    """A main by its figures; None where one that counts is not known."""
    if main.diameter is None or main.slope is None or main.own_flow is None:
        return None
    silt = main.filled * main.diameter
    return Main((invert if main.invert is None else main.invert) + silt, main.diameter - silt, main.slope, main.roughness, main.own_flow)
