"""What a job takes, row by row with its origin: earth, stone, cloth and pipe of every stretch, and the parts that the layout asks for."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterator, Sequence
from itertools import pairwise

import numpy as np

from weirant.design.laid_parts import Wanted, wanted_parts
from weirant.design.takeoff import put_back
from weirant.ground.stretches import LaidStretch
from weirant.job import Job
from weirant.job.soil import HARDPAN, ROCK
from weirant.library.drilled import drilled
from weirant.library.parts import Part, parts_by
from weirant.outcome.amounts import DRESSING, FABRIC, HARD, PERFORATED, PLOUGHED, SOLID
from weirant.outcome.amounts import STONE as OF_STONE
from weirant.outcome.bill import CLOTH, DIG, PART, PIPE, STONE, TOP, Bill, BillRow, Origin
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome, Site
from weirant.units import display as k

PLOUGHED_IN = "ploughed"
DUG, IN_HARD, IN_ROCK, BACKFILL, SPOIL, TURF, HOLES, DRESSES, LETS_NONE_IN = "dug", "hard", "rock", "backfill", "spoil", "turf", "holes", "dressing", "solid"
MADE_OF = {"wye": "wye", "tee": "tee", "cross": "tee", "coupler": "coupler", "end-cap": "cap", "adaptor": "reducer"}  # the word of the library for what a pipe comes with


def bill_of(outcome: Outcome) -> Bill:
    """Every row of a job; of a run whose ground is not known there is none but what does not hang on it."""
    by_code: dict[str, list[Part]] = defaultdict(list)
    for part in parts_by(outcome.job.parts):
        by_code[part.wanted].append(part)
    return Bill((*_earth_and_goods(outcome), *(row for wanted in wanted_parts(outcome) for row in _parts(wanted, by_code[wanted.code]))))


def _earth_and_goods(outcome: Outcome) -> Iterator[BillRow]:
    """Dig, what goes back and what is left, stone, cloth, pipe of every stretch."""
    swell, returned = 1 + outcome.job.limits.swell, put_back(outcome.site)
    by_hand = {pipe.key: drilled(pipe.rows).holes for pipe in outcome.job.products.pipes if pipe.rows}
    for found in outcome.site.runs:
        for stretch, amounts in zip(found.stretches, found.amounts_of, strict=False):
            here = Origin(found.id, stretch.id)
            stone, hard = amounts.of(OF_STONE), amounts.of(HARD)
            back = returned.get(here, 0.0)
            for key, volume in ((DUG, amounts.dug), (IN_HARD, hard.get(HARDPAN, 0.0)), (IN_ROCK, hard.get(ROCK, 0.0)), (BACKFILL, back), (SPOIL, (amounts.dug - back) * swell)):
                if volume > 0:
                    yield BillRow(DIG, key, "", volume, k.VOLUME, here, dig_time=dig_time(outcome, found, stretch) if key == DUG else 1.0)
            if amounts.all_of(PLOUGHED) > 0:
                yield BillRow(DIG, PLOUGHED_IN, "", amounts.all_of(PLOUGHED), k.DISTANCE, here)
            goods = ((STONE, "", stone, k.VOLUME), (CLOTH, "", amounts.of(FABRIC), k.AREA),
                     (PIPE, LETS_NONE_IN, amounts.of(SOLID), k.DISTANCE), (PIPE, "", amounts.of(PERFORATED), k.DISTANCE))  # fmt: skip
            for what, size, of, kind in goods:
                yield from (BillRow(what, key, size, amount, kind, here) for key, amount in of.items())
            for key, metres in amounts.of(PERFORATED).items():
                if key in by_hand:
                    yield BillRow(DIG, HOLES, key, metres * by_hand[key], k.COUNT, here)
            if amounts.all_of(DRESSING) > 0:
                yield BillRow(TOP, DRESSES, "", amounts.all_of(DRESSING), k.VOLUME, here)


def dig_time(outcome: Outcome, found: RunOutcome, stretch: LaidStretch) -> float:
    """How many times as long as in loam it takes to dig a stretch: of the layers that are cut, by how thick they are there in the mean; of layers under the hard one none."""
    grade = found.grade
    if grade is None:
        return 1.0
    inside = (grade.stations >= stretch.low) & (grade.stations <= stretch.high)
    cut = float(np.maximum(grade.cut[inside], 0.0).mean()) if inside.any() else 0.0
    soil = found.soil((stretch.low + stretch.high) / 2)
    begins = [depth for depth in soil.boundaries if depth is not None]  # below a layer of unknown thickness it goes on as it is
    thick = [max(min(low, cut) - high, 0.0) for high, low in pairwise([*begins, math.inf])]
    total = sum(thick)
    return sum(each * outcome.library.texture(layer.texture).dig_time for each, layer in zip(thick, soil.layers, strict=False)) / total if total > 0 else 1.0


def spoil_of(job: Job, site: Site) -> dict[str, float]:
    """Loose earth m³ that is left over of each run, by its identity."""
    swell, returned = 1 + job.limits.swell, put_back(site)
    return {found.id: swell * sum(amounts.dug - returned.get(Origin(found.id, stretch.id), 0.0) for stretch, amounts in zip(found.stretches, found.amounts_of, strict=False))
            for found in site.runs}  # fmt: skip


def _parts(wanted: Wanted, parts: Sequence[Part]) -> Iterator[BillRow]:
    if wanted.amount <= 0:
        return
    if wanted.code == "turf":  # cut and laid again, not bought
        yield BillRow(DIG, TURF, "", wanted.amount, k.AREA, wanted.origin)
    for part in parts:
        if part.each > 0:
            pipe = wanted.pipe if part.is_sized else None
            lacks = pipe is not None and pipe.source != "user" and part.key in MADE_OF and MADE_OF[part.key] not in pipe.fittings
            yield BillRow(PART, part.key, pipe.key if pipe is not None else "", part.each * wanted.amount, part.kind, wanted.origin, lacks)
