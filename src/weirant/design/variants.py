"""Ways to build a drain in the trench of a run: what lies between soil and stone, the stone, the pipe with its holes, its bed and its top."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from typing import Any

from weirant.checks.sand import room_for
from weirant.ground.stretches import Make
from weirant.job.section import (
    AT_JOINTS,
    AT_SIDES,
    FULL_WRAP,
    IN_SAND,
    IN_SOIL,
    LINING,
    NO_WRAP,
    OPEN_TOP,
    SOCK,
    SOIL_CAP,
    TO_WALL,
    TOP_SHEET,
)
from weirant.language import tr
from weirant.library import Library
from weirant.records import dataclass

AS_DRAWN, BARE, BARE_COARSE, SOCKED, WRAPPED, HEAVY, OPEN, WEED, SAND = USUAL = (
    "as-drawn", "bare", "bare-coarse", "sock", "wrap", "wrap-heavy", "wrap-open", "weed-cloth", "sand")  # fmt: skip
BEDDED, MORE_STONE = 0.1016, 1.5  # m of bedding of a bedded pipe; how many times as wide a trench with more stone is


@dataclass(frozen=True)
class Variant:
    """A way to build, by its key, with what it is called and what it makes of a make."""

    key: str
    name: str
    of: Callable[[Make, Library], Make]


def _section(stone: str = "", cloth: str = "", **fields: Any) -> Callable[[Make, Library], Make]:
    """Another section, with a stone and a cloth of the library where they are named."""

    def of(make: Make, library: Library) -> Make:
        aggregate = library.aggregate(stone) if stone else make.aggregate
        geotextile = library.geotextile(cloth) if cloth else make.geotextile
        section = dataclasses.replace(make.section, aggregate=aggregate.key, geotextile=geotextile.key, **fields)
        return dataclasses.replace(make, section=section, aggregate=aggregate, geotextile=geotextile)

    return of


def _holes(openings: str) -> Callable[[Make, Library], Make]:
    return lambda make, _: dataclasses.replace(make, pipe=dataclasses.replace(make.pipe, openings=openings))


def _wider(make: Make, _: Library) -> Make:
    return dataclasses.replace(make, section=dataclasses.replace(make.section, width=make.section.width * MORE_STONE))


def _larger(make: Make, library: Library) -> Make:
    """The next larger pipe of its kind that collects; as it is where there is none."""
    larger = [p for p in library.pipes.values() if p.inner_diameter > make.pipe.inner_diameter + 1e-3 and p.open_area_per_length > 0]
    alike = [p for p in larger if p.supply == make.pipe.supply] or larger
    pipe = min(alike, key=lambda p: p.inner_diameter, default=make.pipe)
    return dataclasses.replace(make, pipe=pipe, crown=max(make.crown, make.bore.height + pipe.outer_diameter))


def _in_sand(make: Make, library: Library) -> Make:
    """Fine pea gravel within concrete sand, in a trench that has room for both."""
    section, stone = make.section, library.aggregate("no-89")
    thick = section.sand_thickness
    section = dataclasses.replace(section, wrap=IN_SAND, aggregate=stone.key, bedding=max(section.bedding, thick), stone_cover=max(section.stone_cover, thick),
                                  width=max(section.width, room_for(make, thick)))  # fmt: skip
    return dataclasses.replace(make, section=section, aggregate=stone)


THREE_QUARTER = "stone-19"
VARIANTS = {variant.key: variant for variant in (
    Variant(AS_DRAWN, tr("as drawn"), lambda make, _: make),
    Variant(BARE, tr("bare 3/4 in stone"), _section(THREE_QUARTER, wrap=NO_WRAP)), Variant(BARE_COARSE, tr("bare 1 1/2 in stone"), _section("round-38", wrap=NO_WRAP)),
    Variant(SOCKED, tr("sock on the pipe"), _section(THREE_QUARTER, "knitted-sock", wrap=SOCK)),
    Variant(WRAPPED, tr("light nonwoven round the stone"), _section(THREE_QUARTER, "nonwoven-light", wrap=FULL_WRAP)),
    Variant(HEAVY, tr("heavy nonwoven round the stone"), _section(THREE_QUARTER, "nonwoven-heavy", wrap=FULL_WRAP)),
    Variant(OPEN, tr("open weave round the stone"), _section(THREE_QUARTER, "open-weave", wrap=FULL_WRAP)),
    Variant(WEED, tr("weed cloth round the stone"), _section(THREE_QUARTER, "slit-film", wrap=FULL_WRAP)),
    Variant(SAND, tr("graded sand round the stone"), _in_sand),
    Variant("sand-sock", tr("sand to the pipe, sock on it"), _section("c33-sand", "knitted-sock", wrap=SOCK)),
    Variant("sock-in-soil", tr("sock in the soil, no stone"), _section("", "knitted-sock", wrap=IN_SOIL, stone_cover=0.0, bedding=0.0, top=SOIL_CAP)),
    Variant("lining", tr("lining cut at the top of the stone"), _section(wrap=LINING)), Variant("sheet-on-top", tr("sheet on top only"), _section(wrap=TOP_SHEET, layers=1)),
    Variant("sheet-in-three", tr("sheet on top in three layers"), _section(wrap=TOP_SHEET, layers=3)),
    Variant("cloth-at-sides", tr("weed barrier at the sides, open top"), _section("", "slit-film", wrap=AT_SIDES, top=OPEN_TOP)),
    Variant("wrap-to-wall", tr("wrap to a wall"), _section(wrap=TO_WALL)), Variant("cloth-at-joints", tr("cloth at the joints only"), _section(wrap=AT_JOINTS)),
    Variant("overlap-twice", tr("overlap as wide as the trench"), lambda make, _: dataclasses.replace(make, section=dataclasses.replace(make.section, overlap=make.section.width))),
    Variant("holes-down", tr("holes down"), _holes("down")), Variant("holes-round", tr("holes all round"), _holes("all round")),
    Variant("no-bedding", tr("pipe on the bottom"), _section(bedding=0.0)), Variant("bedded", tr("4 in of bedding"), _section(bedding=BEDDED)),
    Variant("bedded-bare", tr("4 in of bedding, no cloth"), _section(bedding=BEDDED, wrap=NO_WRAP)),
    Variant("three-quarter", tr("3/4 in stone"), _section(THREE_QUARTER)), Variant("inch-and-half", tr("1 1/2 in stone"), _section("round-38")),
    Variant("open-top", tr("stone to the ground"), _section(top=OPEN_TOP)), Variant("covered", tr("soil over the stone"), _section(top=SOIL_CAP)),
    Variant("more-pipe", tr("the next larger pipe"), _larger), Variant("more-stone", tr("half as much stone again"), _wider),
)}  # fmt: skip
