"""What a price list has in the place of a pipe, a stone or a cloth that it lacks: what holds as well beside every soil that it lies in."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator

from weirant.design.order import pattern_words
from weirant.design.suited import CLOTH as CLOTHS
from weirant.design.suited import STONE as STONES
from weirant.design.suited import suited
from weirant.errors import InputError
from weirant.job.drilling import USUAL
from weirant.job.products import OWN
from weirant.language import tr
from weirant.library import Pipe
from weirant.library.drilled import drilled
from weirant.library.rates import rates
from weirant.outcome.bill import CLOTH, PIPE, STONE
from weirant.outcome.outcome import Outcome
from weirant.outcome.prices import OrderLine, PricedLine, PriceList, Quote
from weirant.units.display import System

MOST, WIDER = 3, 1.35  # told; how much wider a pipe in the place of another may be
KIND = {CLOTH: CLOTHS, STONE: STONES}


def with_substitutes(outcome: Outcome, quote: Quote) -> Quote:
    """The same quote; where a pipe, a stone or a cloth has no price, what of the list could be taken is named in why."""
    return dataclasses.replace(quote, lines=tuple(_with_them(outcome, line, quote.prices) for line in quote.lines))


def _with_them(outcome: Outcome, priced: PricedLine, prices: PriceList) -> PricedLine:
    if priced.cost is not None or priced.price is not None or priced.line.what not in (PIPE, STONE, CLOTH):
        return priced
    names = list(_in_place_of(outcome, priced.line, prices))[:MOST]
    lacks = tr("{lacks}; it has what holds as well: {names}", lacks=priced.lacks, names=" / ".join(names)) if names else priced.lacks
    return dataclasses.replace(priced, lacks=lacks + _drilled(outcome, priced.line, prices))


def _drilled(outcome: Outcome, line: OrderLine, prices: PriceList) -> str:
    """Of pipe that is to let water in: which of the list may be drilled on the job, how, and how long that takes; nothing where there is none."""
    own = outcome.library.pipe(line.key) if line.what == PIPE and not line.size else None
    if own is None:
        return ""
    sticks = [pipe for pipe in _as_wide(outcome, own) if pipe.key in prices.prices and pipe.supply == "stick" and not pipe.key.startswith(OWN)]
    if not sticks:
        return ""
    holes, rate = drilled(USUAL).holes * line.needed, next(rate for rate in rates() if rate.key == "drill")
    return tr("; or drill solid {pipe}: {rows}; {holes:.0f} holes, some {hours:.0f} h of one person", pipe=sticks[0].kind, rows=pattern_words(USUAL, System(outcome.job.units)),
              holes=holes, hours=math.ceil(holes / prices.rates.get("drill", rate.usual)))  # fmt: skip


def _as_wide(outcome: Outcome, own: Pipe) -> Iterator[Pipe]:
    """Other pipes that carry as much, the narrowest first."""
    for pipe in sorted(outcome.library.pipes.values(), key=lambda p: p.inner_diameter):
        if pipe.key != own.key and own.inner_diameter - 1e-3 <= pipe.inner_diameter <= WIDER * own.inner_diameter and pipe.roughness_n <= own.roughness_n:
            yield pipe


def _in_place_of(outcome: Outcome, line: OrderLine, prices: PriceList) -> Iterator[str]:
    if line.what == PIPE:
        own = outcome.library.pipe(line.key)
        for pipe in _as_wide(outcome, own):
            if pipe.key in prices.prices and (line.size or pipe.open_area_per_length > 0 or own.open_area_per_length == 0):
                yield pipe.name
        return
    good: dict[str, str] | None = None
    for run in dict.fromkeys(origin.run for origin in line.origins):
        try:
            products = suited(outcome, outcome.run(run)).of(KIND[line.what])
        except InputError:  # it does not collect: nothing is asked of what lies round it
            continue
        rank = next((product.worst.rank for product in products if product.key == line.key), 0)
        here = {product.key: product.name for product in products if product.key != line.key and product.worst.rank >= rank and product.key in prices.prices}
        good = here if good is None else {key: name for key, name in good.items() if key in here}
    if good:
        yield from (good[key] for key in sorted(good, key=lambda key: _apart(outcome, line, key)))


def _apart(outcome: Outcome, line: OrderLine, key: str) -> float:
    """How many times one product is as large in its grain or its openings as another, as a logarithm: the nearest is told first."""
    if line.what == CLOTH:
        one, other = (outcome.library.geotextile(k).o95 for k in (line.key, key))
    else:
        one, other = (stone.coarse_side.size_at(50) or stone.coarse_side.sizes[-1] for stone in map(outcome.library.aggregate, (line.key, key)))
    return abs(math.log(one / other))
