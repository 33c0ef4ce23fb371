"""A drain beside a wall and a drain under a slab: what brings water down the wall to its stone, and what soil gas may come up by it."""

from __future__ import annotations

from functools import partial

from weirant.ground.crossings import distance_to, stretches_within
from weirant.job.network import VENT
from weirant.job.section import FULL_WRAP, IN_SAND, TO_WALL
from weirant.job.site import FOUNDED, Feature
from weirant.outcome.commands import Set
from weirant.outcome.facts import Amount, Named
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

BESIDE = 0.6  # m from the trench's edge within which a wall's water is to come to its stone (common practice, no source)
FAR = 20.0  # m


def drain_board(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Water that a board brings down the wall gets to the stone with no cloth between; told of walls that somebody has looked at."""
    if found.grade is None or found.run.collecting_length < 0.1:
        return None
    make = found.collecting.make
    here = found.collecting.holds(found.grade.stations)
    for thing in outcome.site.things.near(found.run, FAR):
        if thing.kind not in FOUNDED or thing.has_board is None or len(thing.points) < 2:
            continue
        away = distance_to(found.run.alignment, thing, found.grade.stations)[here] - make.section.width / 2
        if not len(away) or away.min() > BESIDE:
            continue
        path = f"sections.{make.section.id}.wrap"
        said = partial(Finding, source="cp", station=float(found.grade.stations[here][int(away.argmin())]), elements=(f"features.{thing.id}.has_board", path),
                       facts={"thing": Named(thing.id)})  # fmt: skip
        if not thing.has_board:
            return said(State.TIGHT, "none")
        if make.section.wrap in (FULL_WRAP, IN_SAND):
            return said(State.TIGHT, "between", fixes=(Fix("wrap-to-wall", Set(path, TO_WALL)),))
        return said(State.HOLDS)
    return None


def under_slab(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """A drain that collects under a building or slab is a way for soil gas: it has a riser that lets it out over the roof. Where that is needed, and how it is sealed, is
    for licensed practice.
    """
    lies = [(thing, low, high) for thing, low, high in _under(outcome, found)]
    if not lies:
        return None
    thing, low, high = max(lies, key=lambda each: each[2] - each[1])
    vents = [node for node, _ in found.run.nodes if node.kind == VENT]
    said = partial(Finding, source="cp", station=low, facts={"thing": Named(thing.id), "length": Amount(high - low, k.DISTANCE)}, caution="soil-gas")
    return said(State.HOLDS if vents else State.TIGHT)


def _under(outcome: Outcome, found: RunOutcome) -> list[tuple[Feature, float, float]]:
    """What it collects under, from and to a station m."""
    told = []
    for thing in outcome.site.things.near(found.run, FAR):
        if (thing.kind == "building" or thing.footing_depth is not None) and thing.is_outline:  # a slab in the open has no room over it
            for low, high in stretches_within(found.run.alignment, thing, 0.0, is_closed=True):
                for stretch in found.stretches:
                    inside = max(low, stretch.low), min(high, stretch.high)
                    if not stretch.is_solid and inside[1] - inside[0] > 0.3:
                        told.append((thing, *inside))
    return told


RUN = {"drain-board": drain_board, "under-slab": under_slab}
