"""Conductivity from the readings of a field test: every pair of readings, and one fit through all of them."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.domain import not_negative, positive
from weirant.methods.registry import method
from weirant.methods.soil_tests import auger_hole
from weirant.units.dimension import LENGTH, SPEED, TIME
from weirant.units.display import in_both

QUARTER = 0.25  # share of the first drawdown up to which the rise counts (van Beers 1958)


class Fitted(NamedTuple):
    """Conductivity by one fit, the least and most of the pairs of readings, m/s, and how many readings were used."""

    best: float
    low: float
    high: float
    used: int


@method("hvorslev", keys={"pipe_radius": LENGTH, "open_radius": LENGTH, "open_length": LENGTH, "start_head": LENGTH, "end_head": LENGTH, "time": TIME},
        results={"conductivity": SPEED}, formula="K = r² ln(L/R)/(2 L t) · ln(h₀/h)", sources="hvorslev1951",
        valid=tr("pipe open over a length L more than 8 R, in one soil below the water table"))  # fmt: skip
def hvorslev(pipe_radius: float, open_radius: float, open_length: float, start_head: float, end_head: float, time: float) -> float:
    """Conductivity from the rise of water in a bailed pipe with an open end.

    pipe_radius m where the water rises, open_radius m and open_length m of the open end, start_head m and end_head m of drawdown
    (start more than end), time s; all > 0, open_length more than open_radius; gives m/s. Source: Hvorslev 1951, case of a
    well point (recalled).
    """
    positive(pipe_radius=pipe_radius, open_radius=open_radius, open_length=open_length, end_head=end_head, time=time)
    if open_length <= open_radius:
        raise InputError("open_length", tr("must be more than open_radius"), in_both(open_length))
    if not (math.isfinite(start_head) and start_head > end_head):
        raise InputError("start_head", tr("must be more than end_head: the water comes back"), in_both(start_head))
    return pipe_radius**2 * math.log(open_length / open_radius) / (2 * open_length * time) * math.log(start_head / end_head)


@method("percolation-rate", keys={"drop": LENGTH, "time": TIME}, results={"time_per_length": TIME}, formula="rate = t/drop  (time for the water to fall by one metre)",
        sources="geometry", valid=tr("last interval of a soaked percolation hole; divide by 39.37 for the time per inch"))  # fmt: skip
def percolation_rate(drop: float, time: float) -> float:
    """Percolation rate as a time per length: drop m of the water in a time s (both > 0); gives s per m."""
    positive(drop=drop, time=time)
    return time / drop


def fit_auger_hole(times: Sequence[float], depths: Sequence[float], radius: float, hole: float, water: float, on_hard_layer: bool) -> Fitted:
    """Conductivity from the rise in a bailed auger hole, by readings of depth to water.

    times s and depths m below ground, in order; radius m, hole m deep, undisturbed water at depth m. Only the first quarter of the
    rise counts. Source: van Beers 1958, ILRI Bulletin 1. Raises InputError where fewer than two readings serve.
    """
    t, y = _series(times, depths, lambda d: d - water)
    if y[0] <= 0:
        raise InputError(tr("first reading"), tr("must lie deeper than the water before the test: bail the hole first"), in_both(depths[0]))
    use = y >= (1 - QUARTER) * y[0] - 1e-9
    t, y = t[use], y[use]
    if len(t) < 2:
        raise InputError("readings", tr("rise too fast: at least two must lie in the first quarter of the rise; read more often"))
    depth = hole - water

    def k(first: int, last: int) -> float:
        return auger_hole(radius, depth, float((y[first] + y[last]) / 2), float(y[first] - y[last]), float(t[last] - t[first]), on_hard_layer)

    pairs = [k(i, i + 1) for i in range(len(t) - 1) if y[i] > y[i + 1]]
    if not pairs or y[0] <= y[-1]:
        raise InputError("readings", tr("must rise: depths to water grow less"))
    best = k(0, len(t) - 1)
    return Fitted(best, min(best, *pairs), max(best, *pairs), len(t))


def fit_falling_water(times: Sequence[float], depths: Sequence[float], radius: float, hole: float) -> Fitted:
    """Conductivity from the fall of water in a soaked hole above the water table, by least squares on ln(h + r/2).

    times s and depths to water m below ground, in order; radius m, hole m deep. Source: inverse auger-hole method, ILRI Publication
    16 §12. Raises InputError where fewer than two readings serve or the water does not fall.
    """
    t, h = _series(times, depths, lambda d: hole - d)
    if np.any(h < 0):
        raise InputError("readings", tr("must not lie deeper than the hole: {hole}", hole=in_both(hole)))
    logs = np.log(h + radius / 2)
    return _straight(t, logs, radius / 2, tr("fall: depths to water grow"))


def fit_bail(times: Sequence[float], depths: Sequence[float], radius: float, open_length: float, water: float) -> Fitted:
    """Conductivity from the rise in a bailed pipe, by least squares on the logarithm of the drawdown.

    times s and depths to water m below ground, in order; radius m of pipe and open end, open_length m, undisturbed water at depth m.
    Source: Hvorslev 1951 (recalled). Raises InputError where fewer than two readings serve or the water does not rise.
    """
    t, y = _series(times, depths, lambda d: d - water)
    use = y > 0
    if np.count_nonzero(use) < 2:
        raise InputError("readings", tr("must lie deeper than the water before the test, at least two of them"))
    if open_length <= radius:
        raise InputError(tr("open length of the pipe"), tr("must be more than its radius"), in_both(open_length))
    return _straight(t[use], np.log(y[use]), radius**2 * math.log(open_length / radius) / (2 * open_length), tr("rise: depths to water grow less"))


def _straight(t: np.ndarray, logs: np.ndarray, factor: float, rule: str) -> Fitted:
    """One slope through all, and the least and most of the pairs that go the right way; a tenth either way at the least."""
    slope = -float(np.polyfit(t - t[0], logs, 1)[0])
    pairs = -np.diff(logs) / np.diff(t)
    pairs = pairs[pairs > 0]
    if slope <= 0 or not len(pairs):
        raise InputError("readings", tr("must {rule}", rule=rule))
    return Fitted(factor * slope, factor * float(pairs.min()), factor * float(pairs.max()), len(t))


def _series(times: Sequence[float], depths: Sequence[float], turn: object) -> tuple[np.ndarray, np.ndarray]:
    if len(times) < 2:
        raise InputError("readings", tr("are too few: at least two are needed"))
    for depth in depths:
        not_negative(depth_to_water=depth)
    return np.array(times, dtype=float), np.array([turn(d) for d in depths], dtype=float)  # type: ignore[operator]
