"""Each exit and each inlet of a job plugged in turn, and what a storm then comes to."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from weirant.design.hydrographs import Known, Told
from weirant.design.through_pipes import through_pipes
from weirant.errors import InputError
from weirant.job.network import INLET, ROOF_ENTRY
from weirant.job.rain import Storm
from weirant.outcome.outcome import Outcome
from weirant.outcome.routed import StormThrough


class Plugged(NamedTuple):
    """A node that lets no water through, and the storm with it so; or why that cannot be told."""

    node: str
    through: StormThrough | None
    fault: str = ""


def can_be_plugged(outcome: Outcome) -> tuple[str, ...]:
    """The nodes that may be plugged: exits but for the pits of pumps, then inlets and roof entries, in the order of the job."""
    exits = [node.id for node in outcome.job.nodes if node.id in outcome.site.exits and node.id not in outcome.site.pumps]
    return *exits, *(node.id for node in outcome.job.nodes if node.kind in (INLET, ROOF_ENTRY) and node.id not in exits and node.id in outcome.site.network.at_node)


def in_turn(outcome: Outcome, storm: Storm, hours: float, told: Told | None = None, known: Known | None = None) -> tuple[Plugged, ...] | None:
    """The storm with each of them plugged alone. ``told`` is given the share done and answers whether to go on; None where not."""
    nodes, found, known = can_be_plugged(outcome), [], {} if known is None else known
    for number, node in enumerate(nodes):
        try:
            through = through_pipes(outcome, storm, hours, _of(told, number, len(nodes)), known, (node,))
        except InputError as fault:
            found.append(Plugged(node, None, str(fault)))
            continue
        if through is None:
            return None
        found.append(Plugged(node, through))
    return tuple(found)


def _of(told: Told | None, number: int, count: int) -> Callable[[float], bool] | None:
    return None if told is None else lambda share: told((number + share) / count)
