"""How many of a part for each thing of the layout, as it is said: by the piece, or by so much of what is counted in feet or metres."""

from __future__ import annotations

from weirant.job.part_rules import AREA, LENGTH, PIECE, VOLUME, WANTED
from weirant.language import tr
from weirant.units.display import System

FOOT, YARD3 = 0.3048, 0.764554857984
IN: dict[System, dict[str, tuple[float, str]]] = {  # in what parts are told: SI of one, and its sign
    System.IMPERIAL: {PIECE: (1.0, ""), LENGTH: (FOOT, "ft"), AREA: (FOOT**2, "ft²"), VOLUME: (YARD3, "yd³")},
    System.METRIC: {PIECE: (1.0, ""), LENGTH: (1.0, "m"), AREA: (1.0, "m²"), VOLUME: (1.0, "m³")}}  # fmt: skip
HUNDRED = {LENGTH: 100, AREA: 100}  # of these it is told for a hundred


def factor(unit: str, wanted: str, system: System) -> float:
    """What a figure as told is to be multiplied by to have it in SI; ``unit`` is that in which the part is sold, ``wanted`` what it is counted for."""
    of = WANTED[wanted][1]
    return IN[system][unit][0] / (IN[system][of][0] * HUNDRED.get(of, 1))


def unit_words(unit: str, system: System) -> str:
    """What a part is counted in."""
    return IN[system][unit][1] or tr("pieces")


def for_each(wanted: str, system: System) -> str:
    """What the figure is for: a thing of the layout, or so much of it."""
    words, of = WANTED[wanted]
    return tr("{count} {unit} of {what}", count=HUNDRED.get(of, 1), unit=IN[system][of][1], what=words) if of != PIECE else words


def each_words(each: float, unit: str, wanted: str, system: System) -> str:
    """A whole rule in words."""
    told = f"{tr('{each:.4g}', each=each / factor(unit, wanted, system))} {IN[system][unit][1]}".rstrip()
    return tr("{told} for each {what}", told=told, what=for_each(wanted, system))
