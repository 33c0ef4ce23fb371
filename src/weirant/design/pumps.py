"""Pumps in pits: where each works on its curve and its pipe up, and what that comes to."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from weirant.ground.inverts import invert_at
from weirant.ground.network import Network
from weirant.job.network import Node, Pump
from weirant.methods.pumps import pump_head
from weirant.outcome.boxes import box
from weirant.outcome.pump import FITTINGS, PLASTIC, PumpOutcome
from weirant.outcome.site import RunOutcome

TURNS = 200


def pumps_of(network: Network, runs: Sequence[RunOutcome]) -> dict[str, PumpOutcome]:
    """Every pump of a network, by its node."""
    nodes = {node.id: node for run in network.runs for node, _ in run.nodes if node.outlet is not None and node.outlet.pump is not None}
    leads = {identity: node.outlet.pump.leads for identity, node in nodes.items() if node.outlet is not None and node.outlet.pump is not None}
    grounds = {joint.run: found.grade for joints in map(network.at_node.get, nodes) for joint in joints or () for found in runs if found.id == joint.run}
    found = {}
    for identity, node in nodes.items():
        over = {joint.run: grade.at(grade.ground, joint.station) for joint in network.at_node[identity] if (grade := grounds.get(joint.run)) is not None}
        found[identity] = _found(network, node, leads, over)
    return found


def _found(network: Network, node: Node, leads: Mapping[str, str], grounds: dict[str, float]) -> PumpOutcome:
    assert node.outlet is not None
    pump = node.outlet.pump
    assert pump is not None
    invert = _lowest(network, node.id)
    assert invert is not None
    floor, area = invert - (node.basin.sump or 0.0 if node.basin is not None else 0.0), box(node.basin)[0]
    led_to = _lowest(network, pump.leads) if pump.leads else None
    lets_go = pump.lets_go_at if pump.lets_go_at is not None else led_to if led_to is not None else next(iter(grounds.values()), None)
    most = pump.curve[0].head
    lift = None if lets_go is None else lets_go - floor - (pump.starts + pump.stops) / 2
    discharge, head = (None, None) if lift is None else works_at(pump, max(lift, 0.0))
    return PumpOutcome(node.id, pump, floor, invert, lets_go, area, most, discharge, head, bool(pump.leads) and _comes_down(network, leads, pump.leads, node.id))


def _lowest(network: Network, node: str) -> float | None:
    levels = [float(invert_at(network.run(joint.run), np.array(joint.station))) for joint in network.at_node.get(node, ())]
    return min(levels, default=None)


def works_at(pump: Pump, lift: float) -> tuple[float | None, float | None]:
    """Discharge m³/s and head m at which the pumps and their pipe up agree for a lift m (0 or more); None where they do not lift so high.

    Straight between the points of the curve, and on as at its end. Hazen–Williams; the interval is halved.
    """
    if pump.curve[0].head <= lift:
        return None, None
    low, high = 0.0, reaches(pump, lift)
    for _ in range(TURNS):
        middle = (low + high) / 2
        if middle in (low, high):
            break
        low, high = (middle, high) if gives(pump, middle) > wanted(pump, middle, lift) else (low, middle)
    return low, gives(pump, low)


def gives(pump: Pump, discharge: float) -> float:
    """Head m of all pumps together at a discharge m³/s; below nought beyond what they can."""
    flows = [point.discharge * pump.pumps for point in pump.curve]
    heads = [point.head for point in pump.curve]
    k = min(max(int(np.searchsorted(flows, discharge)), 1), len(flows) - 1)
    return heads[k - 1] + (heads[k] - heads[k - 1]) * (discharge - flows[k - 1]) / (flows[k] - flows[k - 1])


def wanted(pump: Pump, discharge: float, lift: float) -> float:
    """Head m that the pipe up asks for at a discharge m³/s."""
    return lift if discharge <= 0 else pump_head(discharge, lift, pump.main_diameter, pump.main_length, PLASTIC, FITTINGS).total_head


def reaches(pump: Pump, head: float) -> float:
    """The discharge m³/s at which the pumps come down to a head m."""
    flows, heads = [point.discharge * pump.pumps for point in pump.curve], [point.head for point in pump.curve]
    k = next((i for i in range(1, len(heads)) if heads[i] <= head), len(heads) - 1)
    return flows[k - 1] + (heads[k - 1] - head) * (flows[k] - flows[k - 1]) / (heads[k - 1] - heads[k])


def _comes_down(network: Network, leads: Mapping[str, str], start: str, to: str) -> bool:
    """Whether water led to a node comes down to another, also where a pump on its way lifts it; ``leads`` tells where each does."""
    seen, waiting = {start}, [start]
    while waiting:
        node = waiting.pop()
        if node == to:
            return True
        if (onward := leads.get(node, "")) and onward not in seen:
            seen.add(onward)
            waiting.append(onward)
        for joint in network.at_node.get(node, ()):
            run = network.run(joint.run)
            index = next(i for i, (at_it, _) in enumerate(run.nodes) if at_it.id == node)
            if index > 0 and run.nodes[index - 1][0].id not in seen:
                seen.add(run.nodes[index - 1][0].id)
                waiting.append(run.nodes[index - 1][0].id)
    return False
