"""Boxes and rims: whether water gets into what is set into a run, and pipes have room in its sides."""

from __future__ import annotations

from functools import partial

from weirant.checks.judge import judge
from weirant.job.network import BASINS, EXISTING, INLET, Node
from weirant.outcome.commands import Set
from weirant.outcome.facts import Amount, Fact, Named
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k


def rim(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Every rim that is set lies over the pipes there, and that of an inlet at the ground or little under it; told of the worst."""
    return _worst([_rim(outcome, found, node, station) for node, station in found.run.nodes if node.rim is not None])


def _rim(outcome: Outcome, found: RunOutcome, node: Node, station: float) -> Finding | None:
    here, rules, path = outcome.site.node(node), outcome.rules, f"nodes.{node.id}.rim"
    assert node.rim is not None
    crown = max(level + outcome.run(run).make(at).above for run, at, level in ((j.run, j.station, here.inverts[j.run]) for j in here.joints))
    facts: dict[str, Fact] = {"what": node.kind, "name": node.name or None, "off": Amount(abs(node.rim - crown), k.DEPTH)}
    said = partial(Finding, source="cp", kind=k.DEPTH, station=station, piece=node.id, elements=(path,))
    if node.rim < crown:
        return said(State.FAILS, "pipe", facts=facts, value=crown - node.rim, limit=0.0)
    if found.grade is None or node.kind != INLET:
        return None
    ground = found.grade.at(found.grade.ground, station)
    over = node.rim - ground
    facts["off"] = Amount(abs(over), k.DEPTH)
    to_ground = (Fix("rim-to-ground", Set(path, ground)),)
    if over > rules.rim_over_ground:
        return said(State.FAILS, "over", facts=facts, value=over, limit=rules.rim_over_ground, fixes=to_ground)
    state = State.TIGHT if -over > rules.rim_under_ground else State.HOLDS  # it takes water, and a wheel, and is filled by what is washed in
    return said(state, "under" if state == State.TIGHT else "", facts=facts, value=max(-over, 0.0), limit=rules.rim_under_ground, fixes=to_ground if state == State.TIGHT else ())


def basin(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Every pipe has room in the side of the box it comes into, and silt in its sump; told of the worst."""
    return _worst([_basin(outcome, node, station) for node, station in found.run.nodes if node.kind in BASINS and node.basin is not None])


def _basin(outcome: Outcome, node: Node, station: float) -> Finding | None:
    assert node.basin is not None
    path = f"nodes.{node.id}.basin"
    facts: dict[str, Fact] = {"what": node.kind, "name": node.name or None}
    said = partial(Finding, source="cp", facts=facts, kind=k.SECTION, station=station, piece=node.id)
    sized: Finding | None = None
    if node.basin.size is not None:
        largest, run = max((outcome.run(j.run).make(j.station).pipe.outer_diameter, j.run) for j in outcome.site.network.at_node[node.id])
        facts["run"] = Named(run)
        sized = said(judge(largest, node.basin.size, at_most=True, near=2 * outcome.rules.basin_wall), value=largest, limit=node.basin.size, elements=(f"{path}.size",))
        if sized.state != State.HOLDS:
            return sized
    if node.basin.sump is not None and node.basin.sump < outcome.rules.least_sump and node.kind == INLET and node.status != EXISTING:
        return said(State.TIGHT, "sump", value=node.basin.sump, limit=outcome.rules.least_sump, at_most=False, elements=(f"{path}.sump",))
    return sized


def _worst(findings: list[Finding | None]) -> Finding | None:
    told = [finding for finding in findings if finding is not None]
    return min(told, key=lambda f: (f.state.rank, f.margin if f.margin is not None else 0.0), default=None)


RUN = {"rim": rim, "basin": basin}
