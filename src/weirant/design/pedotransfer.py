"""Conductivity and curve of a soil from its sand, silt and clay, by a pedotransfer library (Rosetta 3)."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from weirant.job.soil import SievePoint
from weirant.kept import kept
from weirant.records import dataclass

SAND, SILT, CLAY = 2e-3, 5e-5, 2e-6  # m: upper sizes of the USDA's sand, silt and clay
TENTH = 1.2816  # standard deviations


@dataclass(frozen=True)
class Shares:
    """Sand, silt and clay in percent of the soil finer than 2 mm; they add up to 100."""

    sand: float
    silt: float
    clay: float


@dataclass(frozen=True)
class Predicted:
    """Conductivity m/s with the factor from the middle to the tenth or ninetieth of a hundred; residual and saturated water content,
    alpha 1/m and n.
    """

    conductivity: float
    factor: float
    curve: tuple[float, float, float, float]


@lru_cache(maxsize=32)
def shares_of(gradation: tuple[SievePoint, ...]) -> Shares | None:
    """Sand, silt and clay of a sieve and hydrometer result; None where it does not reach down to clay."""
    points = sorted((p.size, p.percent) for p in gradation)
    if len(points) < 3 or points[0][0] > CLAY * 1.01 or points[-1][0] < SAND * 0.99:
        return None

    def finer(size: float) -> float:
        for (low, a), (high, b) in zip(points, points[1:], strict=False):
            if low <= size <= high:
                return a + (b - a) * math.log(size / low) / math.log(high / low) if high > low else b
        return points[-1][1] if size > points[-1][0] else points[0][1]

    whole = finer(SAND)
    if whole <= 0:
        return None
    clay, silt = 100 * finer(CLAY) / whole, 100 * (finer(SILT) - finer(CLAY)) / whole
    return Shares(100 - silt - clay, silt, clay)


@lru_cache(maxsize=32)
def predicted(shares: Shares) -> Predicted | None:
    """What the library predicts; None where it gives no number. The factor is that of its bootstrap, and twice at the least.

    Source: Zhang and Schaap 2017, Weighted recalibration of the Rosetta pedotransfer model (Rosetta 3), Journal of Hydrology 547.
    """
    given = (shares.sand, shares.silt, shares.clay)
    if min(given) < 0 or abs(sum(given) - 100) > 1:
        return None
    found = kept("soils", "rosetta", given, lambda: _asked(given), _may_be)
    if not _may_be(found):
        return None
    *values, spread = found
    # the bootstrap tells how sure the mean of like soils is; one soil strays much farther from it
    factor = max(10 ** (TENTH * spread), 4.0)
    return Predicted(10 ** values[4] / 100 / 86400, factor, (values[0], values[1], 100 * 10 ** values[2], 10 ** values[3]))


def _may_be(found: tuple[float, ...]) -> bool:
    """Whether figures may be those of a soil."""
    return len(found) == 6 and 0 <= found[0] < found[1] < 1 and -5 < found[2] < 1 and 0 < found[3] < 2 and -4 < found[4] < 6 and 0 <= found[5] < 3


def _asked(given: tuple[float, float, float]) -> list[float]:
    """The library's own figures: residual and saturated water content, the logarithms of alpha in 1/cm, n and conductivity in cm/day, and the spread of the last."""
    from rosetta import Rosetta  # costs as much to load as all the checks of a job

    curve, conductivity = Rosetta(3, 2).predict(np.array([given]))
    return [*(float(value) for value in curve[:, 0].mean(axis=0)), float(conductivity[:, 0, 0].mean()), float(conductivity[:, 0, 0].std(ddof=1))]
