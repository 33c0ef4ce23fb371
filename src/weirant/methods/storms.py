"""Storms: how rain is spread over time, how much of it runs off and how much soaks in."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

from weirant.errors import InputError, SolverError
from weirant.language import tr
from weirant.methods.domain import between, not_negative, positive
from weirant.methods.registry import method
from weirant.units.dimension import LENGTH, NUMBER, SPEED, TIME


class Infiltration(NamedTuple):
    """Depth that soaked in, m, and the time from which water stands on the ground, s."""

    depth: float
    time_to_ponding: float


@method("curve-number-runoff", keys={"curve_number": NUMBER, "rain_depth": LENGTH}, results={"runoff": LENGTH},
        formula="S = 25.4 mm (1000/CN − 10),  Q = (P − 0.2 S)²/(P + 0.8 S) where P > 0.2 S", sources="tr55",
        valid=tr("one storm on a small catchment; curve number 30 to 100"))  # fmt: skip
def curve_number_runoff(curve_number: float, rain_depth: float) -> float:
    """Depth of rain that runs off a catchment of a curve number.

    curve_number 30 to 100, rain_depth m (0 or more); gives m. Source: USDA NRCS TR-55 (1986) eq. 2-3 and 2-4.
    """
    between(30, 100, curve_number=curve_number)
    not_negative(rain_depth=rain_depth)
    retention = 0.0254 * (1000 / curve_number - 10)
    left = rain_depth - 0.2 * retention
    return left**2 / (left + retention) if left > 0 else 0.0


@method("green-ampt", keys={"conductivity": SPEED, "suction": LENGTH, "moisture_deficit": NUMBER, "rain_rate": SPEED, "time": TIME},
        results={"depth": LENGTH, "time_to_ponding": TIME},
        formula="F − ψΔθ ln((F + ψΔθ)/(F_p + ψΔθ)) = F_p + K (t − t_p),  F_p = Kψ Δθ/(i − K)", sources="green_ampt1911 mein_larson1973",
        valid=tr("deep even soil, steady rain, level ground; ponding only where rain is faster than the soil's conductivity"))  # fmt: skip
def green_ampt(conductivity: float, suction: float, moisture_deficit: float, rain_rate: float, time: float) -> Infiltration:
    """Depth that soaks in under steady rain, and when water begins to stand.

    conductivity m/s, suction m at the wetting front, moisture_deficit above 0 to 1, rain_rate m/s, time s (all > 0); without
    ponding in that time all the rain soaks in and the time to ponding is the whole time. Sources: Green and Ampt 1911, Mein and
    Larson 1973.
    """
    positive(conductivity=conductivity, suction=suction, moisture_deficit=moisture_deficit, rain_rate=rain_rate, time=time)
    between(0, 1, moisture_deficit=moisture_deficit)
    pull = suction * moisture_deficit
    if rain_rate <= conductivity:
        return Infiltration(rain_rate * time, time)
    before = conductivity * pull / (rain_rate - conductivity)
    starts = before / rain_rate
    if starts >= time:
        return Infiltration(rain_rate * time, time)
    depth = before + conductivity * (time - starts)
    for _ in range(200):
        after = before + conductivity * (time - starts) + pull * math.log((depth + pull) / (before + pull))
        if abs(after - depth) <= 1e-12 * (after + pull):
            return Infiltration(after, starts)
        depth = after
    raise SolverError("infiltration", after - depth)


def depth_in(durations: Sequence[float], depths: Sequence[float], duration: float) -> float:
    """Depth that falls in a duration, s, read off a table of depths, m, straight on log scales; beyond its ends by their slope.

    durations grow; at least one entry; of two for one duration the larger depth counts. Between entries common practice, no source.
    """
    largest = dict(sorted(zip(durations, depths, strict=True)))
    durations, depths = list(largest), list(largest.values())
    if not durations:
        raise InputError(tr("rainfall table"), tr("is empty: type a duration and its depth"))
    if len(durations) == 1:
        return depths[0] * min(1.0, duration / durations[0])
    x, y, at = [math.log(d) for d in durations], [math.log(d) for d in depths], math.log(duration)
    upper = min(max(next((i for i, value in enumerate(x) if value >= at), len(x) - 1), 1), len(x) - 1)
    slope = (y[upper] - y[upper - 1]) / (x[upper] - x[upper - 1])
    return math.exp(y[upper - 1] + slope * (at - x[upper - 1]))


def alternating_blocks(durations: Sequence[float], depths: Sequence[float], duration: float, step: float) -> list[float]:
    """Depths, m, in steps of a storm whose every inner stretch holds what the rainfall table gives for its length.

    The largest block stands in the middle, the others right and left of it in turn. durations s (growing) and depths m of the
    table; duration and step s. Source: Chow, Maidment and Mays 1988 §14.4, alternating block method.
    """
    count = max(1, round(duration / step))
    sums = [depth_in(durations, depths, (i + 1) * step) for i in range(count)]
    blocks = sorted((max(0.0, b - a) for a, b in zip([0.0, *sums], sums, strict=False)), reverse=True)
    return _middle_out(blocks)


def _middle_out(blocks: list[float]) -> list[float]:
    before: list[float] = []
    after: list[float] = []
    for index, block in enumerate(blocks[1:]):
        (after if index % 2 == 0 else before).append(block)
    return [*reversed(before), blocks[0], *after]


def unit_shape(hours: Sequence[float], shares: Sequence[float], depth: float, duration: float, step: float) -> list[float]:
    """Depths, m, in steps of a storm of a shape: shares of the depth fallen by hours of the shape's own day, drawn out or pressed
    together to the duration, s. Source of the shapes: USDA NRCS TR-55 app. B.
    """
    count, day = max(1, round(duration / step)), hours[-1]
    fallen = [_straight(hours, shares, (i + 1) / count * day) for i in range(count)]
    return [depth * (b - a) for a, b in zip([0.0, *fallen], fallen, strict=False)]


def _straight(x: Sequence[float], y: Sequence[float], at: float) -> float:
    upper = next((i for i, value in enumerate(x) if value >= at), len(x) - 1)
    if upper == 0:
        return y[0]
    return y[upper - 1] + (y[upper] - y[upper - 1]) * (min(at, x[upper]) - x[upper - 1]) / (x[upper] - x[upper - 1])
