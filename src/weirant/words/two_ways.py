"""Two ways to build told beside each other, row by row, in the units of the job."""

from __future__ import annotations

import math
from collections.abc import Callable

from weirant.design.two_ways import WayBuilt
from weirant.design.variants import VARIANTS
from weirant.language import capital, tr
from weirant.outcome.finding import State
from weirant.outcome.outcome import Outcome
from weirant.records import dataclass
from weirant.units.display import AREA, OPENING, SECTION, SHARE, VOLUME, Kind, System, shown
from weirant.words.findings import titles
from weirant.words.products import wrap_words
from weirant.words.schools import years_words

BY = 10.0  # m of drain that what it takes is told by
SAME = 0.02  # share by which figures may differ and still be told as the same


@dataclass(frozen=True)
class Line:
    """What a row is about, the two figures, and in words by how much they differ; empty where they do not."""

    label: str
    one: str
    other: str
    differs: str


def lines(ways: tuple[WayBuilt, WayBuilt], outcome: Outcome, years: int) -> list[Line]:
    """Every row: what is built, its contacts, its water, what it takes, its years."""
    system = System(outcome.job.units)

    def figure(label: str, of: Callable[[WayBuilt], float | None], kind: Kind) -> Line:
        one, other = (of(way) for way in ways)
        told = [tr("none") if value is None else shown(value, kind, system) for value in (one, other)]
        return Line(label, told[0], told[1], _times(one, other) if told[0] != told[1] else "")

    def text(label: str, of: Callable[[WayBuilt], str]) -> Line:
        one, other = (of(way) for way in ways)
        return Line(label, one, other, tr("other") if one != other else "")

    by = tr(" in {length:g} m ({feet:.0f} ft)", length=BY, feet=BY / 0.3048)
    return [
        text(tr("Separation"), lambda way: wrap_words(way.make)), text(tr("Stone"), lambda way: way.make.aggregate.name if way.make.section.has_stone else tr("none")),
        text(tr("Pipe"), lambda way: way.make.pipe.name), text(tr("Holes"), lambda way: tr(way.make.pipe.openings)), text(tr("Top"), lambda way: tr(way.make.section.top)),
        figure(tr("Trench width"), lambda way: way.make.section.width, SECTION), figure(tr("Bedding"), lambda way: way.make.section.bedding, SECTION),
        text(tr("Contacts"), _contacts),
        figure(tr("Water passes an area of, by the metre"), lambda way: way.passes, AREA),
        figure(tr("Height that the cloth costs, new"), lambda way: way.head[0] if way.head else None, OPENING),
        figure(tr("Height that it costs, mostly clogged"), lambda way: way.head[1] if way.head else None, OPENING),
        figure(tr("Takes water in from, over the bottom"), lambda way: way.starts, SECTION),
        figure(tr("Dig") + by, lambda way: way.dug * BY, VOLUME), figure(tr("Stone") + by, lambda way: way.stone * BY, VOLUME), figure(tr("Sand") + by, lambda way: way.sand * BY, VOLUME),
        figure(tr("Cloth") + by, lambda way: way.cloth * BY, AREA), figure(tr("Water that it stores") + by, lambda way: way.stores * BY, VOLUME),
        figure(tr("Of this soil its way in lets pass"), lambda way: way.passing, SHARE),
        text(tr("One soil in ten shuts it by"), lambda way: _years(way, years, 0)), text(tr("Half of the soils by"), lambda way: _years(way, years, 1)),
        figure(tr("Voids full after {years} years", years=years), lambda way: way.years.silted if way.years else None, SHARE),
        figure(tr("Lies in the pipe then"), lambda way: way.years.in_pipe if way.years else None, SECTION),
    ]  # fmt: skip


def name_of(way: WayBuilt) -> str:
    """What a way is called."""
    return capital(VARIANTS[way.key].name)


def _times(one: float | None, other: float | None) -> str:
    """By how much two figures differ."""
    if one is None or other is None or min(one, other) <= 0:
        return tr("other")
    ratio = other / one
    return "" if abs(math.log(ratio)) < SAME else tr("× {ratio:.2g}", ratio=ratio)


def _contacts(way: WayBuilt) -> str:
    """Which contacts fail, are tight or not known; that all hold."""
    bad = [(state, [titles()[f.code] for f in way.contacts if f.state == state]) for state in (State.FAILS, State.UNKNOWN, State.TIGHT)]
    return "; ".join(f"{tr(state)}: {', '.join(names)}" for state, names in bad if names) or tr("all hold")


def _years(way: WayBuilt, years: int, of: int) -> str:
    return years_words(way.years.lasts[of], years) if way.years is not None else tr("not known")
