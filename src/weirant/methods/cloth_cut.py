"""Cloth for a trench cut off rolls: lengthways where the roll is wide enough, else across it."""

from __future__ import annotations

import math
from typing import NamedTuple

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.domain import not_negative, positive
from weirant.methods.registry import method
from weirant.units.dimension import AREA, LENGTH, NUMBER


class ClothCut(NamedTuple):
    """Whether it is laid across (1) or lengthways (0), strips side by side off one roll, pieces, m of roll used, and m² of it."""

    across: float
    strips: float
    pieces: float
    roll_used: float
    area: float


@method("cloth-cut", keys={"girth": LENGTH, "length": LENGTH, "roll_width": LENGTH, "roll_length": LENGTH, "lap": LENGTH},
        results={"across": NUMBER, "strips": NUMBER, "pieces": NUMBER, "roll_used": LENGTH, "area": AREA},
        formula="lengthways: strips = floor(W / girth), roll = (L + laps) / strips;  across: pieces = ceil((L − lap) / (W − lap)), roll = pieces · girth;  the one that uses less",
        sources="geometry", valid=tr("one girth all along; no seams"))  # fmt: skip
def cloth_cut(girth: float, length: float, roll_width: float, roll_length: float, lap: float) -> ClothCut:
    """How cloth of a girth m round the stone is cut for a length m of trench, out of rolls of a width and a length m, with a lap m where two pieces meet.

    girth, length, roll_width and roll_length > 0; lap from 0 to less than the roll's width. Geometry. Raises InputError where the girth is more than the roll is wide and long.
    """
    positive(girth=girth, length=length, roll_width=roll_width, roll_length=roll_length)
    not_negative(lap=lap)
    if lap >= roll_width:
        raise InputError("lap", tr("must be less than the roll is wide"), lap)
    if girth > min(roll_width, roll_length) and girth > roll_length:
        raise InputError("girth", tr("is more than the roll is long: no piece goes round"), girth)
    across = max(math.ceil((length - lap) / (roll_width - lap) - 1e-9), 1)
    by_across = ClothCut(1.0, 1.0, float(across), across * girth, across * girth * roll_width)
    strips = math.floor(roll_width / girth + 1e-9)
    if not strips:
        return by_across
    laps = max(math.ceil((length - lap) / (roll_length - lap) - 1e-9) - 1, 0) if roll_length > lap else 0
    used = (length + laps * lap) / strips
    lengthways = ClothCut(0.0, float(strips), float(laps + 1), used, used * roll_width)
    return lengthways if lengthways.area <= by_across.area + 1e-9 else by_across
