"""Does the water that is led to an inlet get in through its grate, with leaves on it and as deep as its bowl lets it stand? And how does that of a roof?"""

from __future__ import annotations

import dataclasses
from functools import partial

from weirant.checks.judge import judge
from weirant.job.network import AIR_GAP, ENTRIES, INLET, LEAF_BASKET, ROOF_ENTRY, STRAIGHT_IN, Basin, Grate, Node
from weirant.language import tr
from weirant.methods.inlets import grate_capacity
from weirant.outcome.boxes import USUAL_BOX, box, passage_of
from weirant.outcome.commands import Set
from weirant.outcome.facts import Amount, Fact
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

SIZES = (0.2032, 0.2286, 0.3048, 0.4572, 0.6096)  # m: boxes that are sold (common practice, no source)
DEEPEST_BOWL = 0.15  # m that somebody may walk into


def grate(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Each inlet takes what is led to it before water runs past it; told of the worst. Where runs meet at one, it is asked of the first."""
    asked = [_grate(outcome, node, station) for node, station in found.run.nodes if node.kind == INLET and outcome.site.network.at_node[node.id][0].run == found.id]
    told = [finding for finding in asked if finding is not None]
    return min(told, key=lambda f: (f.state.rank, f.margin if f.margin is not None else 0.0), default=None)


def _grate(outcome: Outcome, node: Node, station: float) -> Finding | None:
    led = [water for water in outcome.site.brought if water.source.node == node.id]
    if not led:
        return None
    of, blocked, path = node.grate or Grate(), outcome.job.limits.grate_blocked, f"nodes.{node.id}"
    facts: dict[str, Fact] = {"name": node.name or None, "blocked": Amount(blocked, k.SHARE), "deep": Amount(of.bowl_depth, k.SECTION)}
    said = partial(Finding, source="hec22", kind=k.DISCHARGE, station=station, piece=node.id, elements=(f"{path}.basin.size", f"{path}.grate.bowl_depth"))
    missing = next((water.missing for water in led if water.missing), None)
    if missing is not None:
        return said(State.UNKNOWN, "missing", facts={**facts, "missing": missing})
    comes = sum(water.figure.value for water in led if water.figure is not None)
    if of.bowl_depth <= 0:
        return said(State.FAILS, "flat", facts={**facts, "comes": Amount(comes, k.DISCHARGE)}, fixes=_deeper(node, comes, blocked))
    takes = passage_of(node, blocked).discharge(of.bowl_depth)
    facts["comes"] = Amount(comes, k.DISCHARGE)
    state = judge(comes, takes, at_most=True)
    area, edge = box(node.basin)
    arguments = {"perimeter": edge, "open_area": area * of.clear, "depth": of.bowl_depth, "blocked_fraction": blocked}
    facts["weir"] = grate_capacity(edge, area * of.clear, of.bowl_depth, blocked).regime == "weir"
    figure = Figure(tr("What the grate takes"), takes, k.DISCHARGE, "grate-capacity", arguments, "discharge")
    if node.basin is None or node.basin.size is None:
        return said(State.UNKNOWN, "size", facts={**facts, "usual": Amount(USUAL_BOX, k.SECTION)}, value=comes, limit=takes)
    return said(state, facts=facts, value=comes, limit=takes, figure=figure, fixes=(*_larger(node, comes, blocked), *_deeper(node, comes, blocked)) if state == State.FAILS else ())


def _larger(node: Node, comes: float, blocked: float) -> tuple[Fix, ...]:
    """The smallest box whose grate takes it."""
    assert node.basin is not None and node.basin.size is not None
    depth = (node.grate or Grate()).bowl_depth
    for size in SIZES:
        if size > node.basin.size and passage_of(dataclasses.replace(node, basin=Basin(node.basin.shape, size)), blocked).discharge(depth) >= comes:
            return (Fix("take-box", Set(f"nodes.{node.id}.basin.size", size), {"size": Amount(size, k.SECTION)}),)
    return ()


def _deeper(node: Node, comes: float, blocked: float) -> tuple[Fix, ...]:
    """As deep a bowl as takes it, with a berm where need be."""
    depth = passage_of(node, blocked).head(comes) + 1e-4
    if depth > DEEPEST_BOWL:
        return ()
    return (Fix("deepen-bowl", Set(f"nodes.{node.id}.grate", dataclasses.replace(node.grate or Grate(), bowl_depth=depth)), {"depth": Amount(depth, k.SECTION)}),)


def entry(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """How roof water gets in at each downspout: what keeps leaves out, and where it goes when the pipe is blocked; told of the worst."""
    entries = [(node, station) for node, station in found.run.nodes if node.kind == ROOF_ENTRY and outcome.site.network.at_node[node.id][0].run == found.id]
    if not entries:
        return None
    node, station = min(entries, key=lambda at: ENTRIES.index(at[0].entry))  # the worst come first
    path = f"nodes.{node.id}.entry"
    said = partial(Finding, source="cp", station=station, piece=node.id, elements=(path,), facts={"name": node.name or None, "many": len(entries) > 1})
    if node.entry == STRAIGHT_IN:
        return said(State.TIGHT, "straight", fixes=(Fix("air-gap", Set(path, AIR_GAP)),))
    return said(State.TIGHT if node.entry == LEAF_BASKET else State.HOLDS, "basket" if node.entry == LEAF_BASKET else "")


RUN = {"grate": grate, "entry": entry}
