"""Graded sand round the stone: the stone holds it out of its voids, and the trench has room for it."""

from __future__ import annotations

from functools import partial

from weirant.checks.judge import judge
from weirant.errors import InputError
from weirant.ground.stretches import Make
from weirant.job.section import SOIL_CAP
from weirant.language import tr
from weirant.methods.granular_filter import granular_filter_limits
from weirant.outcome.commands import Set
from weirant.outcome.facts import Facts
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome, SoilFigures
from weirant.units import display as k

BESIDE = 0.05  # m of stone that is left at each side of the pipes (common practice, no source)


def sand_to_stone(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """The stone holds the finest sand that may be delivered, as a filter of its own."""
    if not make.section.is_in_sand:
        return None
    path, stone = f"sections.{make.section.id}", make.aggregate.coarse_side.size_at(15)
    said = partial(Finding, source="neh633_26", elements=(f"{path}.aggregate", f"{path}.sand"), facts={"sand": make.sand.name})
    try:
        limits = granular_filter_limits(make.sand.fine_side)
    except InputError as fault:
        return said(State.UNKNOWN, facts={"why": str(fault)})
    if stone is None:
        return said(State.UNKNOWN, facts={"why": make.aggregate.name})
    state = judge(stone, limits.d15_max, at_most=True)
    finer = [a for a in outcome.library.aggregates.values() if a.washed and a.key != make.sand.key and (d15 := a.coarse_side.size_at(15)) is not None and d15 <= limits.d15_max * 0.95]
    coarsest = max(finer, key=lambda a: a.coarse_side.need(15), default=None) if state == State.FAILS else None
    figure = Figure(tr("Largest D15 of the stone"), limits.d15_max, k.OPENING, "granular-filter-limits", {"gradation": make.sand.fine_side}, "d15_max")
    return said(state, value=stone, limit=limits.d15_max, kind=k.OPENING, figure=figure,
                fixes=() if coarsest is None else (Fix("take-product", Set(f"{path}.aggregate", coarsest.key), {"product": coarsest.name}),))  # fmt: skip


def room_for_sand(outcome: Outcome, make: Make, soil: SoilFigures) -> Finding | None:
    """Sand lies under the bedding stone, beside the pipes and over them, and none of it against a pipe, into which it would run."""
    section = make.section
    if not section.is_in_sand:
        return None
    rooms = {"width": (section.width - room_for(make, 0.0)) / 2, "bedding": section.bedding} | ({"stone_cover": section.stone_cover} if section.top == SOIL_CAP else {})
    short = min(rooms, key=lambda field: rooms[field])
    path, thick = f"sections.{section.id}", section.sand_thickness
    wanted = {"width": room_for(make, thick), "bedding": thick, "stone_cover": thick}[short]
    state = judge(rooms[short], thick, at_most=False, near=0.0)
    facts: Facts = {field: field == short for field in ("width", "bedding", "stone_cover")}
    return Finding(state, source="cp", value=max(rooms[short], 0.0), limit=thick, kind=k.SECTION, at_most=False, facts=facts,
                   fixes=(Fix("room-for-sand", Set(f"{path}.{short}", wanted)),) if state == State.FAILS else (), elements=(f"{path}.{short}", f"{path}.sand_thickness"))  # fmt: skip


def room_for(make: Make, thick: float) -> float:
    """Width m of a trench in which sand of a thickness m lies beside the stone that the pipes want."""
    return 2 * (max(abs(bore.across) for bore in make.section.bores) + make.pipe.outer_diameter / 2 + BESIDE + thick)


STRETCH = {"sand-stone": sand_to_stone, "sand-room": room_for_sand}
