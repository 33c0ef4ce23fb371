"""Where the water goes that was let out over the ground: it comes back by an inlet, runs to what stands there, over the boundary, or stands in a hollow."""

from __future__ import annotations

import math
from functools import partial

from weirant.checks.outlets import leaves_by
from weirant.job.network import LAWN
from weirant.outcome import trails
from weirant.outcome.facts import Amount, Fact, Facts, Named
from weirant.outcome.finding import Finding, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

SHOT_SO_FAR = 3.0  # m below an outlet that must have been shot before it can be said where its water goes (common practice, no source)


def runs_on(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Where the water of an outlet over land goes on by the ground as it was shot, and how much lawn would soak it away."""
    node = found.run.nodes[0][0]
    trail = outcome.site.trails.get(node.id)
    if trail is None or node.outlet is None:
        return None
    leaves, top = outcome.site.exits.get(node.id), found.soil(0.0).layers[0]
    soaks = (top.conductivity or outcome.library.texture(top.texture).conductivity).best
    is_known = leaves is not None and not leaves.missing and not leaves.shared and leaves.discharge > 0
    far = math.dist((node.x, node.y), trail.at)
    facts: dict[str, Fact | None] = {"far": Amount(far, k.DISTANCE)}
    if node.outlet.kind == LAWN and is_known and leaves is not None:
        facts |= {"comes": Amount(leaves.discharge, k.DISCHARGE), "area": Amount(leaves.discharge / soaks, k.AREA)}
    said = partial(_said, facts, node.id)
    if trail.ends in (trails.INLET, trails.DRAIN):
        run = trail.what if trail.ends == trails.DRAIN else outcome.site.network.at_node[trail.what][0].run
        back = _comes_back(outcome, run, node.id)
        return said(State.FAILS if back else State.HOLDS, "back" if back else "taken", what=Named(run))
    if trail.ends == trails.THING:
        kept = next((thing for thing in outcome.job.features if thing.id == trail.what and thing.dry_depth is not None), None)
        return said(State.FAILS if kept is not None else State.TIGHT, "thing", what=Named(trail.what))
    if trail.ends == trails.BOUNDARY:
        return said(State.TIGHT, "boundary", caution="neighbour")
    if trail.ends == trails.HOLLOW:
        return said(State.TIGHT, "hollow")
    if trail.ends == trails.LOST or far < SHOT_SO_FAR:
        return said(State.UNKNOWN, "flat" if trail.ends == trails.LOST else "edge")
    return said(State.HOLDS)


def _said(facts: Facts, node: str, state: State, case: str = "", what: Named | None = None, caution: str = "") -> Finding:
    return Finding(state, case, source="geometry", station=0.0, piece=node, caution=caution, facts={**facts, "what": what}, elements=(f"nodes.{node}.outlet.kind",))


def _comes_back(outcome: Outcome, run: str, node: str) -> bool:
    """Whether the water of a run leaves by a node."""
    found = outcome.site.run(run)
    return found is not None and node in leaves_by(outcome, found)


RUN = {"runs-on": runs_on}
