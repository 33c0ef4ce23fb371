"""Fittings and small parts as a job counts them: what its layout asks parts for, and rules of the user's own in the place of the library's or beside them."""

from __future__ import annotations

from weirant.job.fields import choice, plain, quantity, several
from weirant.language import tr
from weirant.records import dataclass
from weirant.units import display as k

PIECE, LENGTH, AREA, VOLUME = UNITS = ("piece", "m", "m2", "m3")
MOST_EACH = 100  # of a part for each thing, or for each m of it
WANTED: dict[str, tuple[str, str]] = {  # by its code what a layout has, of which parts are counted, and in what it is counted itself
    "joint wye": (tr("place where a run comes in slanting"), PIECE), "joint tee": (tr("place where a run comes in square"), PIECE),
    "joint onto old": (tr("place where a run joins pipe that is there"), PIECE),
    "joint cross": (tr("place where two runs come in"), PIECE),
    "joint top wye": (tr("top where several runs meet"), PIECE), "joint top": (tr("top from which a run goes on"), PIECE), "pipe joint": (tr("joint between two pieces off a coil"), PIECE),
    "end": (tr("top that nothing joins"), PIECE), "bend 22": (tr("turn of 11 to 34 degrees"), PIECE), "bend 45": (tr("turn of 34 to 56 degrees"), PIECE),
    "bend 90": (tr("turn of 79 to 101 degrees"), PIECE), "bend odd": (tr("turn that no bend has"), PIECE), "change": (tr("place where the pipe changes"), PIECE),
    "branch size": (tr("branch of another size"), PIECE), "box": (tr("box with a grate"), PIECE), "riser step": (tr("height step of a box"), PIECE), "clean-out": (tr("clean-out"), PIECE),
    "upright": (tr("pipe up to the ground"), LENGTH), "vent": (tr("vent"), PIECE), "riser": (tr("riser with a grate"), PIECE), "roof entry": (tr("roof entry"), PIECE),
    "leaf basket": (tr("leaf basket"), PIECE), "air gap": (tr("air gap"), PIECE), "pump pit": (tr("pump pit"), PIECE), "pump": (tr("pump"), PIECE),
    "check valve": (tr("check valve"), PIECE), "freeze relief": (tr("freeze relief"), PIECE), "rising main": (tr("pipe up from a pump"), LENGTH), "open end": (tr("open end"), PIECE),
    "pop-up emitter": (tr("pop-up emitter"), PIECE), "rises": (tr("outlet that rises"), PIECE), "curb core": (tr("curb core"), PIECE), "curb cut": (tr("curb cut"), PIECE),
    "grate riser": (tr("grate riser"), PIECE), "bubbler in gravel": (tr("bubbler in gravel"), PIECE), "wall of a storm basin": (tr("way through the wall of a storm basin"), PIECE),
    "existing main": (tr("tap into an existing main"), PIECE), "flap": (tr("flap"), PIECE), "spread over a lawn": (tr("outlet over a lawn"), PIECE), "dry creek": (tr("dry creek"), PIECE),
    "dry well": (tr("dry well"), PIECE), "pump in a pit": (tr("outlet by a pump"), PIECE), "soak pit": (tr("stone in a pit that soaks"), VOLUME),
    "erosion stone": (tr("stone where the water leaves"), VOLUME), "cloth edge": (tr("cloth edge"), LENGTH), "sock end": (tr("piece of pipe in a sock"), PIECE),
    "wrapped joint": (tr("wrapped joint"), PIECE), "pavement": (tr("pavement to make good"), VOLUME), "turf": (tr("turf cut and laid again"), AREA),
    "spread earth": (tr("earth spread beside the trench"), AREA), "open side": (tr("side of open stone without cloth"), AREA)}  # fmt: skip


@dataclass(frozen=True)
class PartRule:
    """How many of a part of the library are counted for each thing it is ``wanted`` for, in the place of the library's own figure; pieces, m, m² or m³ for each piece, m, m² or m³."""

    part: str = plain("part")
    wanted: str = choice("for each", *WANTED)
    each: float = quantity("how many for each", k.COUNT, at_least=0, at_most=MOST_EACH)


@dataclass(frozen=True)
class OwnPart:
    """A part that the library has not, counted like its own; ``unit`` is that in which it is sold."""

    key: str = plain("key")
    name: str = plain("name of the part")
    wanted: str = choice("for each", *WANTED)
    each: float = quantity("how many for each", k.COUNT, at_least=0, at_most=MOST_EACH, default=1.0)
    unit: str = choice("sold by", *UNITS, default=PIECE)


@dataclass(frozen=True)
class PartRules:
    """The rules of a job: figures in the place of the library's, and parts of its own."""

    counts: tuple[PartRule, ...] = several("rules of parts", (), most=200)
    own: tuple[OwnPart, ...] = several("own parts", (), most=200)
