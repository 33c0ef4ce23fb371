"""What a job takes, row by row with its origin: earth, stone, cloth and pipe of every stretch, and the parts that the layout asks for."""

from __future__ import annotations

import math
from collections.abc import Iterator
from itertools import pairwise

import numpy as np

from weirant.design.laid_parts import Wanted, wanted_parts
from weirant.ground.stretches import LaidStretch
from weirant.job import Job
from weirant.library.parts import parts
from weirant.outcome.amounts import BOXES, DRESSING, FABRIC, HARD, PAVING, PERFORATED, PLOUGHED, SOLID
from weirant.outcome.amounts import STONE as OF_STONE
from weirant.outcome.bill import CLOTH, DIG, PART, PIPE, STONE, TOP, Bill, BillRow, Origin
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome, Site
from weirant.units import display as k

PLOUGHED_IN = "ploughed"
DUG, IN_HARD, BACKFILL, SPOIL, TURF, DRESSES, LETS_NONE_IN = "dug", "hard", "backfill", "spoil", "turf", "dressing", "solid"
MADE_OF = {"wye": "wye", "tee": "tee", "cross": "tee", "coupler": "coupler", "end-cap": "cap", "adaptor": "reducer"}  # the word of the library for what a pipe comes with


def bill_of(outcome: Outcome) -> Bill:
    """Every row of a job; of a run whose ground is not known there is none but what does not hang on it."""
    return Bill((*_earth_and_goods(outcome), *(row for wanted in wanted_parts(outcome) for row in _parts(wanted))))


def _earth_and_goods(outcome: Outcome) -> Iterator[BillRow]:
    """Dig, what goes back and what is left, stone, cloth, pipe of every stretch."""
    swell, put_back = 1 + outcome.job.limits.swell, _put_back(outcome.site)
    for found in outcome.site.runs:
        for stretch, amounts in zip(found.stretches, found.amounts_of, strict=False):
            here = Origin(found.id, stretch.id)
            stone = amounts.of(OF_STONE)
            back = put_back.get(here, 0.0)
            for key, volume in ((DUG, amounts.dug), (IN_HARD, amounts.all_of(HARD)), (BACKFILL, back), (SPOIL, (amounts.dug - back) * swell)):
                if volume > 0:
                    yield BillRow(DIG, key, "", volume, k.VOLUME, here, dig_time=dig_time(outcome, found, stretch) if key == DUG else 1.0)
            if amounts.all_of(PLOUGHED) > 0:
                yield BillRow(DIG, PLOUGHED_IN, "", amounts.all_of(PLOUGHED), k.DISTANCE, here)
            goods = ((STONE, "", stone, k.VOLUME), (CLOTH, "", amounts.of(FABRIC), k.AREA),
                     (PIPE, LETS_NONE_IN, amounts.of(SOLID), k.DISTANCE), (PIPE, "", amounts.of(PERFORATED), k.DISTANCE))  # fmt: skip
            for what, size, of, kind in goods:
                yield from (BillRow(what, key, size, amount, kind, here) for key, amount in of.items())
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
    swell, put_back = 1 + job.limits.swell, _put_back(site)
    return {found.id: swell * sum(amounts.dug - put_back.get(Origin(found.id, stretch.id), 0.0) for stretch, amounts in zip(found.stretches, found.amounts_of, strict=False))
            for found in site.runs}  # fmt: skip


def _put_back(site: Site) -> dict[Origin, float]:
    """Dug soil m³ that is put back over each stretch: what stone, pipe and pavement leave. A pipe in another's trench takes its room there, where most is put back."""
    found: dict[Origin, float] = {}
    taken: dict[str, float] = {}
    for run in site.runs:
        for stretch, amounts in zip(run.stretches, run.amounts_of, strict=False):
            paved = sum(float(thick) * area for thick, area in amounts.of(PAVING).items())
            back = amounts.dug - amounts.all_of(OF_STONE) - amounts.pipe_volume - amounts.all_of(BOXES) - amounts.all_of(DRESSING) - paved
            if back < 0 and run.run.run.trench_of:
                taken[run.run.run.trench_of] = taken.get(run.run.run.trench_of, 0.0) - back
            else:
                found[Origin(run.id, stretch.id)] = back
    for host, volume in taken.items():
        most = max((origin for origin in found if origin.run == host), key=lambda origin: found[origin], default=None)
        if most is not None:
            found[most] -= volume
    return {origin: max(back, 0.0) for origin, back in found.items()}


def _parts(wanted: Wanted) -> Iterator[BillRow]:
    if wanted.amount <= 0:
        return
    if wanted.code == "turf":  # cut and laid again, not bought
        yield BillRow(DIG, TURF, "", wanted.amount, k.AREA, wanted.origin)
    for part in parts():
        if part.wanted == wanted.code:
            pipe = wanted.pipe if part.is_sized else None
            lacks = pipe is not None and pipe.source != "user" and part.key in MADE_OF and MADE_OF[part.key] not in pipe.fittings
            yield BillRow(PART, part.key, pipe.key if pipe is not None else "", part.each * wanted.amount, part.kind, wanted.origin, lacks)
