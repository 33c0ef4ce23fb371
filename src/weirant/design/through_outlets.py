"""What of outlets changes in the course of a storm: the water outside them, what mains carry of their own, and what soaks away."""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping

import numpy as np

from weirant.design.hydrographs import Hydrograph
from weirant.hydraulics.mesh_sketch import MeshSketch
from weirant.hydraulics.outlet_relation import SOAKS_WITHIN, OutletRelation, Soaking
from weirant.hydraulics.parting import PipeMesh
from weirant.hydraulics.routing import Brings, Lift, Routed, Stands
from weirant.outcome.outcome import Outcome
from weirant.seepage.rain import Rain


def stands_outside(ways: Mapping[str, OutletRelation], sketch: MeshSketch, mesh: PipeMesh, rain: Rain) -> dict[int, Stands]:
    """What stands outside the exits where that changes with the storm: it rises to its highest at the end of the rain, and falls back in as long a time."""
    ends, found = float(rain.times[-1]), {}
    for node, way in ways.items():
        out = sketch.outs[node]
        if way.in_storm is not None and not np.isnan(mesh.held[out]):
            before = float(mesh.held[out])
            found[out] = Stands(np.array([0.0, ends, 2 * ends]), np.array([before, max(way.in_storm, before), before]))
    return found


def own_flows(outcome: Outcome, ways: Mapping[str, OutletRelation], sketch: MeshSketch, rain: Rain, brings: list[Brings]) -> dict[int, Hydrograph]:
    """What mains carry of their own through the storm, by the sections that they are followed to; it is added to what is brought. In a storm it rises and
    falls as what stands outside other exits does.
    """
    found, ends = dict[int, Hydrograph](), float(rain.times[-1])
    for node, way in ways.items():
        if way.main is not None:
            outlet = next(n.outlet for n in outcome.job.nodes if n.id == node)
            more = max((outlet.main.own_storm or 0.0) - way.main.own, 0.0) if outlet is not None and outlet.main is not None else 0.0
            moments = np.linspace(0.0, 2 * ends, 41)
            share = np.where(moments <= ends, moments**2 / (2 * ends), ends - (2 * ends - moments) ** 2 / (2 * ends))
            found[sketch.outs[node]] = own = Hydrograph(moments, more * share, way.main.own)
            brings.append(Brings(own.moments, own.volumes, ((sketch.numbers[node], 1.0),)))
    return found


def without(routed: Routed, own: Mapping[int, Hydrograph]) -> Routed:
    """What was routed without what mains carry of their own."""
    leaves, ends, volume = routed.leaves.copy(), routed.times, 0.0
    for section, flow in own.items():
        column = int(np.nonzero(routed.exits == section)[0][0])
        came = np.interp(ends, flow.moments, flow.volumes) - np.interp(ends - routed.lengths, flow.moments, flow.volumes) + flow.before * routed.lengths
        leaves[:, column] -= came / routed.lengths
        volume += float(came.sum())
    return dataclasses.replace(routed, leaves=leaves, came=routed.came - volume, left=routed.left - volume) if own else routed


def soaks_away(soaks: Soaking, number: int) -> Lift:
    """What soaks away as the routing takes it: over the first centimetre it comes on evenly."""
    return Lift(number, -1, soaks.since, soaks.since + SOAKS_WITHIN, soaks.at_once, soaks.at_once + soaks.more * SOAKS_WITHIN)
