"""Grain-size curves: what share of a soil or stone is finer than a size."""

from __future__ import annotations

import math

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.sieves import sieve_opening
from weirant.records import dataclass
from weirant.units.dimension import LENGTH, NUMBER
from weirant.units.parse import parse

NO_4, NO_200 = 4.75e-3, 75e-6  # sieve openings, m (ASTM E11)


@dataclass(frozen=True)
class Gradation:
    """A grain-size curve: sizes m and percent finer, both falling from coarse to fine.

    Between two points it is straight on a log size axis; beyond its ends nothing is guessed.
    """

    sizes: tuple[float, ...]
    percents: tuple[float, ...]

    def __post_init__(self) -> None:
        if not self.sizes or len(self.sizes) != len(self.percents):
            raise InputError("gradation", tr("needs at least one size with its percent passing"))
        for size, percent in zip(self.sizes, self.percents, strict=True):
            if not (math.isfinite(size) and size > 0):
                raise InputError("gradation", tr("has a size that is not more than 0"), size)
            if not 0 <= percent <= 100:
                raise InputError("gradation", tr("has a percent passing outside 0 to 100"), percent)
        if list(self.sizes) != sorted(set(self.sizes), reverse=True):
            raise InputError("gradation", tr("names a size twice"))
        if list(self.percents) != sorted(self.percents, reverse=True):
            raise InputError("gradation", tr("lets more through a finer sieve than through a coarser one"))

    def percent_finer(self, size: float) -> float | None:
        """Percent finer than a size in m; None where the curve does not reach."""
        if size > self.sizes[0]:
            return 100.0 if self.percents[0] == 100 else None
        if size < self.sizes[-1]:
            return 0.0 if self.percents[-1] == 0 else None
        return self._between(math.log(size), [math.log(s) for s in self.sizes], list(self.percents))

    def size_at(self, percent: float) -> float | None:
        """Size in m at a percent finer (d10 at 10); None where the curve does not reach it."""
        if not self.percents[-1] <= percent <= self.percents[0]:
            return None
        return math.exp(self._between(percent, list(self.percents), [math.log(s) for s in self.sizes]))

    @staticmethod
    def _between(x: float, xs: list[float], ys: list[float]) -> float:
        """Straight line between falling points; on a flat stretch the coarser end counts."""
        if x == xs[0]:
            return ys[0]
        for i in range(1, len(xs)):
            if x >= xs[i]:
                share = 0.0 if xs[i - 1] == xs[i] else (x - xs[i]) / (xs[i - 1] - xs[i])
                return ys[i] + share * (ys[i - 1] - ys[i])
        return ys[-1]

    def need(self, percent: float) -> float:
        """Like size_at, but refuses with what is missing."""
        size = self.size_at(percent)
        if size is None:
            raise InputError("gradation", tr("does not reach d{percent:g}: it runs from {percents:g} % to {percents_2:g} % passing", percent=percent,
                                             percents=self.percents[0], percents_2=self.percents[-1]))  # fmt: skip
        return size

    def need_percent(self, size: float) -> float:
        """Like percent_finer, but refuses with what is missing."""
        percent = self.percent_finer(size)
        if percent is None:
            raise InputError("gradation", tr("must reach {size:g} mm; add the percent passing that sieve", size=size * 1000))
        return percent

    def regraded_on(self, size: float) -> Gradation:
        """The curve of the part finer than a size, made 100 % at that size; the same where nothing is coarser."""
        passing = self.percent_finer(size)
        if passing is None or passing >= 100:
            return self
        if passing <= 0:
            raise InputError("gradation", tr("has nothing finer than {size:g} mm", size=size * 1000))
        kept = [(s, 100 * p / passing) for s, p in zip(self.sizes, self.percents, strict=True) if s < size]
        return gradation_of([(size, 100.0), *kept])

    @property
    def uniformity(self) -> float | None:
        """Coefficient of uniformity d60/d10; None where the curve does not reach."""
        d60, d10 = self.size_at(60), self.size_at(10)
        return d60 / d10 if d60 and d10 else None

    @property
    def curvature(self) -> float | None:
        """Coefficient of curvature d30²/(d10 d60); None where the curve does not reach."""
        d60, d30, d10 = self.size_at(60), self.size_at(30), self.size_at(10)
        return d30**2 / (d10 * d60) if d60 and d30 and d10 else None


def gradation_of(points: list[tuple[float, float]]) -> Gradation:
    """A gradation from (size m, percent finer) in any order."""
    ordered = sorted(points, reverse=True)
    return Gradation(tuple(s for s, _ in ordered), tuple(p for _, p in ordered))


def read_gradation(text: object, key: str = "gradation") -> Gradation:
    """Read ``4.75 mm:92, No. 200:18``; a size without a unit is in metres. Raises InputError naming the key."""
    if not isinstance(text, str):
        raise InputError(key, tr('must be text such as "4.75 mm:92, 0.075 mm:18"'), text)
    points = []
    for part in filter(str.strip, text.replace(";", ",").split(",")):
        size, colon, percent = part.rpartition(":")
        if not colon:
            raise InputError(key, tr('must read "size:percent, size:percent"'), part.strip())
        opening = sieve_opening(size)
        points.append((parse(size, LENGTH, key, strict=True) if opening is None else opening, parse(percent.replace("%", ""), NUMBER, key, strict=True)))
    return gradation_of(points)
