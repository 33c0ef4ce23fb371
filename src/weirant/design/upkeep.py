"""What a drain wants every year, by what was built into it."""

from __future__ import annotations

from collections.abc import Iterator

from weirant.job.network import CLEAN_OUT, INLET, LEAF_BASKET, POP_UP, PUMPED_ON, RISER, ROOF_ENTRY, VENT
from weirant.language import tr
from weirant.outcome.bill import Origin
from weirant.outcome.outcome import Outcome
from weirant.records import dataclass

SPRING, AUTUMN = 4, 11  # months (common practice, no source)


@dataclass(frozen=True)
class Upkeep:
    """Something to be done every year in a month, with the places it is about."""

    key: str
    words: str
    month: int
    places: tuple[Origin, ...]


def upkeep_of(outcome: Outcome) -> tuple[Upkeep, ...]:
    """Everything, in the order of the year; each kind once with all of its places."""
    found: dict[tuple[str, str, int], list[Origin]] = {}
    for run in outcome.site.runs:
        for node, station in run.run.nodes:
            if station > 1e-6 or not outcome.site.network.others_at(run.run, node.id):
                for key, words, month in _at(node.kind, node.entry, node.outlet.kind if node.outlet is not None else ""):
                    found.setdefault((key, words, month), []).append(Origin(run.id, node.id))
    if any(run.run.collecting_length > 0.1 for run in outcome.site.runs):
        found["look", tr("Walk the lines after a long rain: does each outlet run, does the ground sink, is any place wet?"), SPRING] = []
    return tuple(Upkeep(key, words, month, tuple(places)) for (key, words, month), places in sorted(found.items(), key=lambda one: (one[0][2], one[0][0])))


def _at(kind: str, entry: str, outlet: str) -> Iterator[tuple[str, str, int]]:
    if kind in (CLEAN_OUT, RISER, VENT):
        yield "flush", tr("Flush from the clean-outs down, and look at what comes"), SPRING
    if kind == INLET:
        yield "grates", tr("Clear the grates, and scoop out the boxes"), AUTUMN
    if kind == ROOF_ENTRY:
        yield "roof", tr("Empty the leaf baskets and clear the gutters") if entry == LEAF_BASKET else tr("Clear the gutters and what leads from them"), AUTUMN
    if outlet:
        yield "outlet", tr("Clear the outlets and their guards; cut the grass back"), SPRING
    if outlet == POP_UP:
        yield "pop-up", tr("Lift the pop-up lids and rinse them"), SPRING
    if outlet == PUMPED_ON:
        yield "pump", tr("Pour water into the pit: does the float start the pump, does the valve hold?"), SPRING
