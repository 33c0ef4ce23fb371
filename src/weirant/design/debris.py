"""What inlets and roofs bring into a drain that collects: the areas they are led from, less what their entries hold back."""

from __future__ import annotations

from weirant.design.sources import area_of
from weirant.ground.passed import collects_below, passed_from
from weirant.job.identity import by_id
from weirant.job.network import AIR_GAP, INLET, LEAF_BASKET, OVER_A_GRATE, ROOF_ENTRY, STRAIGHT_IN, Node
from weirant.job.water import AWAY, ROOF_WATER, SHEDS
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome

# share of leaves and grit that gets past each entry, and past a sump at the least (common practice, no source)
PAST = {STRAIGHT_IN: 1.0, LEAF_BASKET: 0.3, OVER_A_GRATE: 0.7, AIR_GAP: 0.5}
PAST_SUMP = 0.5


def shed_into(outcome: Outcome, found: RunOutcome) -> tuple[float, float]:
    """Areas m² of roofs and of ground whose leaves and grit come into the pipe of a run that collects, each by what its entry lets past."""
    network, roofs, ground = outcome.site.network, 0.0, 0.0
    for source in outcome.job.sources:
        if source.kind not in SHEDS or source.node in ("", AWAY):
            continue
        if any(run.id == found.id and collects_below(run, station) for run, station in passed_from(network, source.node)):
            area = (area_of(outcome.job, source, outcome.rules) or 0.0) * _gets_past(by_id(outcome.job.nodes, source.node))
            roofs, ground = (roofs + area, ground) if source.kind == ROOF_WATER else (roofs, ground + area)
    return roofs, ground


def _gets_past(node: Node | None) -> float:
    if node is None:
        return 1.0
    past = PAST.get(node.entry, 1.0) if node.kind == ROOF_ENTRY else 1.0
    has_sump = node.kind in (INLET, ROOF_ENTRY) and node.basin is not None and (node.basin.sump or 0.0) > 0
    return past * (PAST_SUMP if has_sump else 1.0)
